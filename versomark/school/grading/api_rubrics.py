"""Rubrics that grow while answers are marked."""

from collections import Counter

from django.http import HttpRequest
from ninja import Router

from versomark.school.delivery.public import Sitting, sitting_of
from versomark.school.http import Done, teacher_of

from . import rubrics
from .queries import rubric_item
from .schemas_rubrics import (
    RevisionLine,
    RubricBody,
    RubricChange,
    RubricChanged,
    RubricEffect,
    RubricPage,
    TouchedLine,
)

router = Router(tags=["marking"])


def _sitting(request: HttpRequest, sitting_id: int) -> Sitting:
    return sitting_of(teacher_of(request), sitting_id, "mark")


@router.get("/sittings/{int:sitting_id}/marking/{item}/rubric", response=RubricPage)
def rubric(request: HttpRequest, sitting_id: int, item: str) -> RubricPage:
    sitting = _sitting(request, sitting_id)
    return RubricPage(
        criteria=rubric_item(sitting, item)[1].rubric.criteria,
        revisions=[
            RevisionLine(reason=row.reason, by=row.by.name, at=row.at) for row in rubrics.revisions_of(sitting, item)
        ],
        sittings=len(rubrics.sittings_of(teacher_of(request), sitting)),
    )


@router.post("/sittings/{int:sitting_id}/marking/{item}/rubric/effect", response=RubricEffect)
def rubric_effect(request: HttpRequest, sitting_id: int, item: str, body: RubricBody) -> RubricEffect:
    """Which marks would be looked at again; nothing is changed."""
    sitting = _sitting(request, sitting_id)
    touched = [
        entry
        for each in rubrics.sittings_of(teacher_of(request), sitting)
        for entry in rubrics.touched(each, item, body.levels)
    ]
    counts = Counter((name, entry.mark.by.name) for entry in touched for name in entry.criteria)
    return RubricEffect(
        marks=len(touched),
        lines=[TouchedLine(criterion=name, marker=by, marks=marks) for (name, by), marks in sorted(counts.items())],
    )


@router.put("/sittings/{int:sitting_id}/marking/{item}/rubric", response=RubricChanged)
def change_rubric(request: HttpRequest, sitting_id: int, item: str, body: RubricChange) -> RubricChanged:
    """Split, merge or reword levels; marks count as they stand."""
    sitting = _sitting(request, sitting_id)
    asked = rubrics.revise(teacher_of(request), sitting, item, body.levels, body.reason, body.look_again)
    return RubricChanged(asked=asked)


@router.delete("/sittings/{int:sitting_id}/marking/{item}/rubric", response=Done)
def rubric_as_before(request: HttpRequest, sitting_id: int, item: str) -> Done:
    """The levels as they were before they were changed last."""
    rubrics.take_back(teacher_of(request), _sitting(request, sitting_id), item)
    return Done()
