"""Answers in students' own words beside the nearest ones that have a mark."""

from typing import NamedTuple

from versomark.core.scoring import NearestAgree, nearest, nearest_agree
from versomark.school.accounts.public import Teacher

from .answers_alike import ComparedAnswers, compared
from .door import AtWork
from .models import Mark, MarkingPass, MarkState
from .queries import current_marks, rubric_item, scaled


class LikeAnswer(NamedTuple):
    seat: int
    text: str
    mark: Mark
    alike: float


def nearest_marked(by: Teacher, at: AtWork, ref: str) -> list[LikeAnswer]:
    """The nearest answers of the sitting that have a mark of this reading. Where a pile is marked, one's own marks
    alone: those of others would tell which answers were agreed on; so does a second reader see only their own."""
    known = _beside(at, ref)
    if at.seat.pk not in known.seats:
        return []
    marks = _marks(by, at, ref)
    among = [place for place, seat in enumerate(known.seats) if seat in marks]
    return [
        LikeAnswer(known.seats[place], known.texts[place], marks[known.seats[place]], alike)
        for place, alike in nearest(known.alike, known.seats.index(at.seat.pk), among)
    ]


def how_often_they_agree(by: Teacher, at: AtWork, ref: str) -> NearestAgree | None:
    """Of the answers that these marks are of, how often the nearest has the same."""
    known = _beside(at, ref)
    content = rubric_item(at.sitting, ref)[1]
    marks = _marks(by, at, ref)
    return nearest_agree(
        known.alike, [scaled(content, marks.get(seat)) for seat in known.seats], content.marks / content.rubric.total
    )


def _beside(at: AtWork, ref: str) -> ComparedAnswers:
    return compared(ref, list(at.sitting.seats.values_list("pk", flat=True)))


def _marks(by: Teacher, at: AtWork, ref: str) -> dict[int, Mark]:
    """By seat, the marks that a marker may be shown beside this answer."""
    turn = MarkingPass.FIRST if at.checks else at.turn
    marks = {
        seat: mark
        for (seat, item), mark in current_marks(at.sitting, turn=turn).items()
        if item == ref and mark.state == MarkState.KEPT and seat != at.seat.pk
    }
    if at.marker is not None or turn == MarkingPass.SECOND:
        marks = {seat: mark for seat, mark in marks.items() if mark.by_id == by.pk}
    return marks
