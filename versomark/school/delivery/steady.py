"""The time of sittings, which no change of this machine's clock moves.

While the process lives, time goes on by the monotonic clock from where the wall clock stood when it was read last. A
wall clock that is set, corrected over the network, or stands still while a laptop sleeps, is noticed by `jump`; until
that has been made good (`by_the_clock.make_good`) `now` goes on as if nothing had happened, so that no work is handed
in and no hours are given.
"""

from datetime import datetime, timedelta
from time import monotonic

from django.utils import timezone

NOTICED = timedelta(seconds=5)
"""A smaller difference is a clock that is kept right bit by bit, and followed."""


class SteadyClock:
    def __init__(self) -> None:
        self.take_wall()

    def take_wall(self) -> None:
        """Go on from the wall clock as it is now."""
        self._wall, self._since = timezone.now(), monotonic()

    def _expected(self) -> datetime:
        return self._wall + timedelta(seconds=monotonic() - self._since)

    def jump(self) -> timedelta | None:
        """How far the wall clock has moved by itself; None where it has not."""
        off = timezone.now() - self._expected()
        if abs(off) < NOTICED:
            self.take_wall()
            return None
        return off

    def now(self) -> datetime:
        wall, expected = timezone.now(), self._expected()
        return wall if abs(wall - expected) < NOTICED else expected


clock = SteadyClock()


def now() -> datetime:
    """What the time is, for everything about a sitting."""
    return clock.now()
