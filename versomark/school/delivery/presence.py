"""Which devices hold their connection, told by the sockets. It says nothing about answers.

Each process counts the sockets that are its own and tells the others (`versomark.school.shared`), again and again: the
devices of a process that has said nothing for a while were lost with it.
"""

from collections.abc import Iterable
from time import monotonic, time
from uuid import uuid4

from versomark.school.shared import shared

PROCESS = uuid4().hex[:12]
RENEWED_EVERY, GONE_AFTER = 10.0, 25.0
REMEMBERED = 12 * 3600.0
"""Seconds for which it is remembered when a device was lost: a school day."""
LOOKED_AT_EVERY = 1.0

_open: dict[int, int] = {}
_elsewhere: tuple[float, frozenset[int], dict[int, float]] = (0.0, frozenset(), {})


def came(seat_id: int) -> None:
    _open[seat_id] = _open.get(seat_id, 0) + 1
    if _open[seat_id] == 1:
        _tell([seat_id])
        shared().take_out("lost", str(seat_id))
        _look_again()


def went(seat_id: int) -> None:
    """One of the seat's sockets closed; the device is lost when it was the last."""
    left = _open.get(seat_id, 1) - 1
    if left > 0:
        _open[seat_id] = left
        return
    _open.pop(seat_id, None)
    shared().take_out("present", f"{seat_id} {PROCESS}")
    shared().put("lost", {str(seat_id): time()}, REMEMBERED)
    _look_again()


def renew() -> None:
    """Every now and then, while this process lives."""
    _tell(list(_open))


def holds(seat_id: int) -> bool:
    """Whether a device of the seat has a connection now."""
    return seat_id in _open or seat_id in _seen()[1]


def lost_since(seat_id: int) -> float | None:
    """When a seat lost its last connection, in seconds of the epoch; None while it has one, or never had."""
    return None if holds(seat_id) else _seen()[2].get(seat_id)


def _tell(seat_ids: Iterable[int]) -> None:
    shared().put("present", {f"{seat_id} {PROCESS}": time() for seat_id in seat_ids}, REMEMBERED)


def _look_again() -> None:
    global _elsewhere
    _elsewhere = (0.0, frozenset(), {})


def _seen() -> tuple[float, frozenset[int], dict[int, float]]:
    """What all processes have told, as of a second ago at most: a page asks it for every seat of a sitting."""
    global _elsewhere
    if monotonic() - _elsewhere[0] > LOOKED_AT_EVERY:
        now, present = time(), set[int]()
        lost = {int(seat): float(at) for seat, at in shared().all("lost").items()}
        for name, told_at in shared().all("present").items():
            seat = int(name.partition(" ")[0])
            if now - told_at <= GONE_AFTER:
                present.add(seat)
            else:
                lost[seat] = max(lost.get(seat, 0.0), told_at)
        _elsewhere = (monotonic(), frozenset(present), lost)
    return _elsewhere
