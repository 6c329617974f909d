"""Who is at which answer of a sitting now, so that two who share a pile see each other. It says nothing about marks."""

from time import time
from typing import NamedTuple

from versomark.school.shared import shared

GONE_AFTER_SECONDS = 25.0
"""A desk tells where it is every ten seconds; one that has missed two is closed, or without a connection."""


class MarkerPlace(NamedTuple):
    name: str
    turn: str
    item: str
    number: int
    since: float
    """Seconds of the epoch."""


def is_at(sitting_id: int, teacher_id: int, place: MarkerPlace) -> tuple[list[MarkerPlace], bool]:
    """Note where a marker is; the others at the same sitting, and whether this one has moved."""
    area = f"markers {sitting_id}"
    markers = {int(marker): MarkerPlace(*entry) for marker, entry in shared().all(area).items()}
    shared().put(area, {str(teacher_id): list(place)}, GONE_AFTER_SECONDS)
    before = markers.get(teacher_id)
    others = [
        other
        for marker, other in sorted(markers.items())
        if marker != teacher_id and place.since - other.since <= GONE_AFTER_SECONDS
    ]
    return others, before is None or before[:4] != place[:4]


def now() -> float:
    return time()
