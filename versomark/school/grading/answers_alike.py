"""Answers in students' own words that are compared with one another, and an order in which like ones follow."""

from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from django.conf import settings
from django.utils.module_loading import import_string
from numpy.typing import NDArray

from versomark.core.items.by_rubric import WrittenResponse
from versomark.core.scoring import like_order, likeness
from versomark.core.text import plain
from versomark.school.responses.public import CurrentAnswer, responses_of

MOST = 600
"""Answers that are compared; of more the first ones by seat, so that nobody waits for thousands times thousands."""


class ComparedAnswers(NamedTuple):
    """Answers to one item. `alike` has a row and a column for each, from 0 for nothing in common to 1."""

    seats: tuple[int, ...]
    texts: tuple[str, ...]
    alike: NDArray[np.float64]
    ordered: tuple[int, ...]
    """Their seats in an order in which like answers follow one another, the largest groups first."""


def compared(ref: str, seats: Sequence[int]) -> ComparedAnswers:
    """The answers of these seats to an item, those that have words."""
    rows = CurrentAnswer.objects.filter(seat__in=seats, item=ref, answer__response__isnull=False).order_by("seat")
    return _compared(ref, tuple(rows.values_list("seat", "answer")[:MOST]))


@lru_cache(maxsize=48)
def _compared(ref: str, places: tuple[tuple[int, int], ...]) -> ComparedAnswers:
    """Kept while the answers stand: an answer that changes has another place in the log."""
    responses = responses_of([seat for seat, _answer in places])
    written = [(seat, responses[str(seat)].get(ref)) for seat, _answer in places]
    texts = {seat: plain(given.text) for seat, given in written if isinstance(given, WrittenResponse) and given.text}
    embedding = import_string(settings.LIKENESS) if settings.LIKENESS else None
    alike, seats = likeness(list(texts.values()), embedding), tuple(texts)
    groups = sorted(like_order(alike).groups, key=lambda group: -len(group))
    return ComparedAnswers(seats, tuple(texts.values()), alike, tuple(seats[at] for group in groups for at in group))


def like_together(ref: str, seats: Sequence[int]) -> list[int]:
    """Seats in an order in which like answers follow one another; whose answer has no words, such as a picture of what
    was written, follow at the end as they came."""
    ordered = compared(ref, seats).ordered
    known = set(ordered)
    return [*ordered, *(seat for seat in seats if seat not in known)]
