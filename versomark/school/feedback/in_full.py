"""Every mark of a sitting and what was said of it, student by student: what goes into a report with the feedback."""

from collections.abc import Collection, Mapping, Sequence

from pydantic import BaseModel

from versomark.core.items.by_rubric import ByRubric
from versomark.core.items.marks_only import MarksOnly
from versomark.core.items.rubric import AcrossQuestions, Rubric, across_questions, same_name
from versomark.core.language import _
from versomark.core.scoring import score
from versomark.school.delivery.public import SeatState, Sitting
from versomark.school.errors import DomainError
from versomark.school.grading.public import (
    OverallComment,
    current_mark,
    marks_by_pass,
    names_hidden,
    overrides_in,
    with_rubrics_of_now,
)
from versomark.school.responses.public import responses_of
from versomark.school.room.public import not_asked


class FullQuestion(BaseModel):
    number: int
    label: str
    of: float


class FullCriterion(BaseModel):
    """What several questions are marked for, as one sum."""

    name: str
    of: float


class FullStudent(BaseModel):
    seat: int
    marks: list[float | None]
    """By question; None for one that waits, was not to be taken, or was marked elsewhere and never entered: that counts
    as nothing, and is not a nought that somebody gave."""
    criteria: list[float | None]
    """By criterion that several questions share; None until every one of them has its mark."""
    said: list[str]
    """By question, what its marker said."""
    comment: str
    """Of the whole."""


class InFull(BaseModel):
    questions: list[FullQuestion]
    criteria: list[FullCriterion]
    students: list[FullStudent]
    """Those who handed in, in desk order."""


def in_full(sitting: Sitting) -> InFull:
    """A student at a time: a colleague's answer that waits takes no mark of anybody else away."""
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden for marking. Show them under Marking first."))
    edition, judged = sitting.edition.read(), overrides_in(sitting)
    unasked = not_asked([sitting]).get(sitting.pk, frozenset())
    asked = [
        (number, item)
        for number, item in enumerate(edition.items(), start=1)
        if item.ref not in unasked and item.ref not in judged.waived
    ]
    rubrics = {
        item.ref: item.content.rubric
        for item in with_rubrics_of_now(sitting).values()
        if isinstance(item.content, ByRubric) and item.ref in {asked_item.ref for _, asked_item in asked}
    }
    shared = across_questions([(rubric, _full(rubric)) for rubric in rubrics.values()])
    typed_in = {item.ref for _, item in asked if isinstance(item.content, MarksOnly)}
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).order_by("desk"))
    responses, turns = responses_of([seat.pk for seat in seats]), marks_by_pass(sitting)
    overall: dict[int, str] = {}
    for overall_comment in OverallComment.objects.filter(seat__in=seats):  # the last one first
        overall.setdefault(overall_comment.seat_id, overall_comment.text)
    students = []
    for seat in seats:
        given = responses[str(seat.pk)]
        table = score(edition, {str(seat.pk): given}, unasked, judged)
        earned = {
            column.id: float(table.points[0, j])
            for j, column in enumerate(table.items)
            if table.taken[0, j] and (column.id in given or column.id not in typed_in)
        }
        current_marks = [current_mark(turns, seat.pk, item.ref) for _, item in asked]
        students.append(
            FullStudent(
                seat=seat.pk,
                marks=[earned.get(item.ref) for _, item in asked],
                criteria=_sums(shared, rubrics, {mark.item: mark.points for mark in current_marks if mark}, earned),
                said=[mark.comment if mark else "" for mark in current_marks],
                comment=overall.get(seat.pk, ""),
            )
        )
    return InFull(
        questions=[
            FullQuestion(number=number, label=item.content.own_label or str(number), of=item.content.marks)
            for number, item in asked
        ],
        criteria=[FullCriterion(name=entry.name, of=entry.of) for entry in shared],
        students=students,
    )


def _full(rubric: Rubric) -> dict[str, float]:
    return {criterion.id: criterion.max for criterion in rubric.criteria}


def _sums(
    shared: Sequence[AcrossQuestions],
    rubrics: Mapping[str, Rubric],
    points: Mapping[str, Mapping[str, float]],
    counted: Collection[str],
) -> list[float | None]:
    """Of one student, what each shared criterion has earned."""
    marked = [(rubric, points[ref]) for ref, rubric in rubrics.items() if ref in points and ref in counted]
    own = {same_name(entry.name): entry for entry in across_questions(marked)}
    sums = []
    for entry in shared:
        earned = own.get(same_name(entry.name))
        sums.append(earned.points if earned is not None and earned.questions == entry.questions else None)
    return sums
