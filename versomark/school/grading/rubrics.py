"""Rubrics that grow: levels that are split, merged or reworded while answers are marked. No mark is changed by it."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from versomark.core.items.rubric import Criterion, Level, Rubric
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import EventKind, Sitting, record, seat_changed
from versomark.school.errors import DomainError, NotFound

from . import piles
from .models import READINGS, LookAgain, Mark, MarkState, RubricRevision
from .queries import marks_by_pass, rubric_item
from .services import number_of

Levels = Mapping[str, Sequence[Level]]


class Touched(NamedTuple):
    """A mark that was given by what a rubric said before."""

    mark: Mark
    criteria: list[str]
    """Names of those whose words are others now for the points it has."""


def sittings_of(by: Teacher, sitting: Sitting) -> list[Sitting]:
    """Those whose rubric changes with this one: all of a shared pile, by its head alone."""
    pile = piles.open_pile(sitting)
    if pile is None:
        return [sitting]
    if pile.head_id != by.pk:
        raise DomainError(
            _("{name} has shared these answers out as a pile, and changes its rubric.", name=pile.head.name), 403
        )
    return piles.sittings_in(pile)


def touched(sitting: Sitting, ref: str, levels: Levels) -> list[Touched]:
    """The marks to look at again if the levels became these; nothing is changed."""
    _item, content = rubric_item(sitting, ref)
    after = _checked(content.rubric, levels)
    pairs = list(zip(content.rubric.criteria, after.criteria, strict=True))
    marks = marks_by_pass(sitting)
    return [
        Touched(mark, names)
        for turn in READINGS
        for (_seat, item), mark in sorted(marks[turn].items())
        if item == ref and mark.state == MarkState.KEPT and (names := _others(pairs, mark.points))
    ]


def _others(pairs: Sequence[tuple[Criterion, Criterion]], points: Mapping[str, float]) -> list[str]:
    return [
        after.name for before, after in pairs if after.id in points and after.says_other_of(points[after.id], before)
    ]


def _checked(rubric: Rubric, levels: Levels) -> Rubric:
    if set(levels) - {criterion.id for criterion in rubric.criteria}:
        raise NotFound(_("criterion"))
    after = rubric.with_levels(levels)
    if problems := after.problems():
        raise DomainError(problems[0], status=422)
    return after


@transaction.atomic
def revise(by: Teacher, sitting: Sitting, ref: str, levels: Levels, reason: str, look_again: bool = True) -> int:
    """Change the levels of a rubric. Marks count as they stand; how many their markers are asked to look at again."""
    if not reason.strip():
        raise DomainError(_("Say why the levels are changed."), status=422)
    asked = 0
    for each in sittings_of(by, sitting):
        _item, content = rubric_item(each, ref)
        after = _checked(content.rubric, levels)
        marks = touched(each, ref, levels) if look_again else []
        RubricRevision.objects.create(
            sitting=each,
            item=ref,
            levels={criterion.id: [level.model_dump() for level in criterion.levels] for criterion in after.criteria},
            reason=reason.strip(),
            by=by,
        )
        asked += _ask_again(by, each, ref, marks, reason)
        record(each, by, EventKind.RUBRIC_CHANGED, number=number_of(each, ref), reason=reason.strip())
        seat_changed(each.pk)
    return asked


def _ask_again(by: Teacher, sitting: Sitting, ref: str, marks: Sequence[Touched], reason: str) -> int:
    waiting = LookAgain.objects.filter(seat__sitting=sitting, item=ref, done_at=None)
    known = set(waiting.values_list("seat", "marker"))
    wanted = {(entry.mark.seat_id, entry.mark.by_id): entry for entry in marks}
    rows = [
        LookAgain(
            seat_id=seat,
            item=ref,
            marker_id=marker,
            by=by,
            reason=_("{criteria}: {reason}", criteria=", ".join(entry.criteria), reason=reason.strip())[:300],
        )
        for (seat, marker), entry in wanted.items()
        if (seat, marker) not in known
    ]
    LookAgain.objects.bulk_create(rows)
    return len(rows)


@transaction.atomic
def take_back(by: Teacher, sitting: Sitting, ref: str) -> None:
    """The levels as they were before they were changed last."""
    for each in sittings_of(by, sitting):
        last = RubricRevision.objects.filter(sitting=each, item=ref, taken_back_at=None).first()
        if last is None:
            raise NotFound(_("changed level"))
        last.taken_back_at = timezone.now()
        last.save(update_fields=["taken_back_at"])
        record(each, by, EventKind.RUBRIC_AS_BEFORE, number=number_of(each, ref))
        seat_changed(each.pk)


def revisions_of(sitting: Sitting, ref: str) -> list[RubricRevision]:
    """That hold, the latest first."""
    return list(RubricRevision.objects.filter(sitting=sitting, item=ref, taken_back_at=None).select_related("by"))
