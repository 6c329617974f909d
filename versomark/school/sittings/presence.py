"""Which devices hold their connection: told by the sockets, kept in memory, since it says nothing about answers."""

from time import time

from django.core.cache import cache

KEEP = 6 * 3600


def came(seat_id: int) -> None:
    cache.set(f"sockets:{seat_id}", cache.get(f"sockets:{seat_id}", 0) + 1, KEEP)
    cache.delete(f"lost:{seat_id}")


def went(seat_id: int) -> None:
    """One of the seat's sockets closed; the device is lost when it was the last."""
    left = max(0, cache.get(f"sockets:{seat_id}", 1) - 1)
    cache.set(f"sockets:{seat_id}", left, KEEP)
    if left == 0:
        cache.set(f"lost:{seat_id}", time(), KEEP)


def lost_since(seat_id: int) -> float | None:
    """When a seat lost its last connection, in seconds of the epoch; None while it has one, or never had."""
    found: float | None = cache.get(f"lost:{seat_id}")
    return found
