"""Which devices hold their connection: told by the sockets. In this process's memory, since one process serves them all
and it says nothing about answers."""

from time import time

_open: dict[int, int] = {}
_lost: dict[int, float] = {}


def came(seat_id: int) -> None:
    _open[seat_id] = _open.get(seat_id, 0) + 1
    _lost.pop(seat_id, None)


def went(seat_id: int) -> None:
    """One of the seat's sockets closed; the device is lost when it was the last."""
    left = _open.get(seat_id, 1) - 1
    if left > 0:
        _open[seat_id] = left
    else:
        _open.pop(seat_id, None)
        _lost[seat_id] = time()


def holds(seat_id: int) -> bool:
    """Whether a device of the seat has a connection now."""
    return seat_id in _open


def lost_since(seat_id: int) -> float | None:
    """When a seat lost its last connection, in seconds of the epoch; None while it has one, or never had."""
    return _lost.get(seat_id)
