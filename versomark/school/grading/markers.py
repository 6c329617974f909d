"""Who is at which answer of a sitting now, so that two who share a pile see each other.

In this process's memory, like `sittings.presence`: one process serves them all, and it says nothing about marks.
"""

from threading import Lock
from time import monotonic
from typing import NamedTuple

GONE_AFTER_SECONDS = 25.0
"""A desk tells where it is every ten seconds; one that has missed two is closed, or without a connection."""


class MarkerPlace(NamedTuple):
    name: str
    turn: str
    item: str
    number: int
    since: float
    """On the monotonic clock."""


_places: dict[int, dict[int, MarkerPlace]] = {}
_guard = Lock()


def is_at(sitting_id: int, teacher_id: int, place: MarkerPlace) -> tuple[list[MarkerPlace], bool]:
    """Note where a marker is; the others at the same sitting, and whether this one has moved."""
    with _guard:
        markers = _places.setdefault(sitting_id, {})
        before = markers.get(teacher_id)
        markers[teacher_id] = place
        for marker, other in list(markers.items()):
            if place.since - other.since > GONE_AFTER_SECONDS:
                del markers[marker]
        others = [other for marker, other in sorted(markers.items()) if marker != teacher_id]
    return others, before is None or before[:4] != place[:4]


def now() -> float:
    return monotonic()
