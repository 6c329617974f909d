"""A sitting as it is watched: a line a student, those first who need the teacher."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from time import time

from django.db.models import Count, Sum

from versomark.core.language import _

from . import presence, steady, timekeeping
from .models import Seat, SeatState, Sitting, SittingState
from .queries import seats_with_progress

OFFLINE_AFTER = timedelta(seconds=15)
"""Without a connection, from which a student at work is said to be offline: a page that is loaded anew takes less."""
QUIET_AFTER = timedelta(minutes=5)
"""Without any sign from a student at work."""


@dataclass(frozen=True)
class WatchedSeat:
    """One student. `trouble` is what wants the teacher, in words; empty where nothing does."""

    seat: Seat
    trouble: str
    at_number: int | None
    """The number of the question before them, as the test was built."""
    seconds_left: int | None
    earlier_attempts: int
    times_away: int
    seconds_away: int


def watched(sitting: Sitting) -> list[WatchedSeat]:
    """Every seat, most in need of attention first, then by desk number."""
    seats = seats_with_progress(sitting)
    away = {
        seat: (times, seconds or 0)
        for seat, times, seconds in sitting.seats.annotate(
            times=Count("times_away"), seconds=Sum("times_away__seconds")
        )
        .filter(times__gt=0)
        .values_list("pk", "times", "seconds")
    }
    tried = dict(sitting.seats.annotate(count=Count("earlier_attempts")).filter(count__gt=0).values_list("pk", "count"))
    numbers = {item.ref: number for number, item in enumerate(sitting.edition.read().items(), start=1)}
    lines = [
        _watched(seat, sitting, numbers.get(seat.at_item), away.get(seat.pk, (0, 0)), tried.get(seat.pk, 0))
        for seat in seats
    ]
    return sorted(lines, key=lambda line: (rank(line), line.seat.desk))


def _watched(seat: Seat, sitting: Sitting, at_number: int | None, away: Sequence[int], tried: int) -> WatchedSeat:
    left = timekeeping.left(seat) if seat.state in (SeatState.WORKING, SeatState.PAUSED) else None
    return WatchedSeat(
        seat=seat,
        trouble=_trouble(seat, sitting, steady.now()),
        at_number=at_number if seat.state in (SeatState.WORKING, SeatState.PAUSED) else None,
        seconds_left=None if left is None else round(left),
        earlier_attempts=tried,
        times_away=away[0],
        seconds_away=away[1],
    )


def _trouble(seat: Seat, sitting: Sitting, now: datetime) -> str:
    running = sitting.state == SittingState.OPEN or seat.sits_later
    if seat.state != SeatState.WORKING or not running:
        return ""
    gone = presence.lost_since(seat.pk)
    if gone is not None and time() - gone > OFFLINE_AFTER.total_seconds():
        return _("offline {since}", since=_since(timedelta(seconds=time() - gone)))
    if seat.second_device:
        return _("went on with a second device")
    if seat.last_seen is not None and now - seat.last_seen > QUIET_AFTER:
        return _("no sign for {since}", since=_since(now - seat.last_seen))
    return ""


def _since(time: timedelta) -> str:
    minutes = int(time.total_seconds() // 60)
    if minutes < 2:
        return f"{int(time.total_seconds())} s"
    return _("{minutes} min", minutes=minutes) if minutes < 100 else _("{hours} h", hours=round(minutes / 60))


_BY_STATE = (
    SeatState.AT_THE_DOOR,
    SeatState.PAUSED,
    SeatState.WORKING,
    SeatState.EXPECTED,
    SeatState.HANDED_IN,
    SeatState.ABSENT,
    SeatState.EXCUSED,
)


def rank(line: WatchedSeat) -> int:
    """Who needs the teacher most comes first: trouble, who waits at the door, who is paused, who is at work. Who is not
    here stands after them, since the page beside names them on top."""
    return 0 if line.trouble else 1 + _BY_STATE.index(SeatState(line.seat.state))
