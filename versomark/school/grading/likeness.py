"""Answers in students' own words beside like ones: an order in which those follow one another, and the nearest that
have a mark."""

from functools import lru_cache
from typing import NamedTuple

import numpy as np
from django.conf import settings
from django.utils.module_loading import import_string
from numpy.typing import NDArray

from versomark.core.items.by_rubric import WrittenResponse
from versomark.core.scoring import NearestAgree, like_order, likeness, nearest, nearest_agree
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat, Sitting
from versomark.school.responses.public import CurrentAnswer, responses_of

from .door import AtWork
from .models import Mark, MarkingPass, MarkState
from .queries import current_marks, rubric_item, scaled

MOST = 600
"""Answers that are compared; of more the first ones by seat, so that nobody waits for thousands times thousands."""


class _Answers(NamedTuple):
    seats: tuple[int, ...]
    texts: tuple[str, ...]
    alike: NDArray[np.float64]


class LikeAnswer(NamedTuple):
    seat: int
    text: str
    mark: Mark
    alike: float


def order_of(sitting: Sitting, ref: str, seats: list[Seat]) -> list[int]:
    """Seats in an order in which like answers follow one another, the largest groups first; whose answer has no words,
    such as a picture of what was written, follow at the end."""
    known = _answers(sitting, ref, [seat.pk for seat in seats])
    groups = sorted(like_order(known.alike).groups, key=lambda group: -len(group))
    ordered = [known.seats[at] for group in groups for at in group]
    return [*ordered, *(seat.pk for seat in seats if seat.pk not in set(ordered))]


def _answers(sitting: Sitting, ref: str, seats: list[int]) -> _Answers:
    rows = CurrentAnswer.objects.filter(seat__in=seats, item=ref, answer__response__isnull=False).order_by("seat")
    places = tuple(rows.values_list("seat", "answer")[:MOST])
    return _compared(ref, places)


@lru_cache(maxsize=16)
def _compared(ref: str, places: tuple[tuple[int, int], ...]) -> _Answers:
    """Kept while the answers stand: an answer that changes has another place in the log."""
    responses = responses_of([seat for seat, _answer in places])
    written = [(seat, responses[str(seat)].get(ref)) for seat, _answer in places]
    texts = {seat: plain(given.text) for seat, given in written if isinstance(given, WrittenResponse) and given.text}
    embedding = import_string(settings.LIKENESS) if settings.LIKENESS else None
    return _Answers(tuple(texts), tuple(texts.values()), likeness(list(texts.values()), embedding))


def nearest_marked(by: Teacher, at: AtWork, ref: str) -> list[LikeAnswer]:
    """The nearest answers of the sitting that have a mark of this reading. Where a pile is marked, one's own marks
    alone: those of others would tell which answers were agreed on; so does a second reader see only their own."""
    known = _answers(at.sitting, ref, [seat.pk for seat in at.sitting.seats.all()])
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
    known = _answers(at.sitting, ref, [seat.pk for seat in at.sitting.seats.all()])
    content = rubric_item(at.sitting, ref)[1]
    marks = _marks(by, at, ref)
    return nearest_agree(
        known.alike, [scaled(content, marks.get(seat)) for seat in known.seats], content.marks / content.rubric.total
    )


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
