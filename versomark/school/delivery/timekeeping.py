"""The time of sittings and seats: how much is left, pauses, and what the clock does by itself."""

from datetime import datetime, timedelta

from django.db.models import Q, QuerySet

from versomark.core.giving import Clock, ends_at, seconds_left

from . import steady
from .models import Seat, SeatState, Sitting, SittingState, Way

GRACE = timedelta(seconds=2)
"""An answer given in time may arrive this much later: the way through a school's network."""


def clock_of(seat: Seat) -> Clock:
    """The seat's time, from its sitting's rules and end, its student's needs, and what the teacher gave."""
    sitting = seat.sitting
    # A lesson has no working time of its own, and who sits it later is not bound by the end of the others.
    timed = sitting.way == Way.ONLINE
    paused_at = seat.paused_at if seat.state == SeatState.PAUSED else None
    if sitting.paused_at is not None and seat.state == SeatState.WORKING:
        paused_at = max(sitting.paused_at, seat.started_at or sitting.paused_at)
    return Clock(
        started=seat.started_at,
        minutes=sitting.read_rules().minutes if timed else None,
        extra_percent=seat.student.extra_time,
        extra_minutes=seat.extra_minutes,
        paused=timedelta(seconds=seat.paused_seconds),
        paused_at=paused_at,
        closes_at=None if seat.sits_later else sitting.closes_at,
    )


def left(seat: Seat) -> float | None:
    """Seconds left; None where there is no end."""
    return seconds_left(clock_of(seat), steady.now())


def is_over(seat: Seat) -> bool:
    """Whether a seat's time has run out, with a moment for the network."""
    clock = clock_of(seat)
    end = ends_at(clock)
    return clock.paused_at is None and end is not None and steady.now() > end + GRACE


def end_pause(seats: QuerySet[Seat], since: datetime, until: datetime | None = None) -> None:
    """Add a pause to what these seats have been given back: from `since` to `until`, or to now. Who began while all
    stood still lost only what came after."""
    end = until or steady.now()
    for seat in seats:
        lost = end - max(since, seat.started_at or since)
        seat.paused_seconds += max(0, round(lost.total_seconds()))
        seat.save(update_fields=["paused_seconds"])


def timed_seats() -> list[Seat]:
    """Who is at work and may have run out of time: the rest of a class is not even fetched, every second of a test."""
    now, results = steady.now(), list[Seat]()
    running = Q(state=SittingState.OPEN) | Q(seats__sits_later=True, seats__state=SeatState.WORKING)
    for sitting in Sitting.objects.filter(running, way=Way.ONLINE).distinct():
        minutes = sitting.read_rules().minutes
        late = Q(pk__in=[])
        if minutes is not None:
            # Needs and gifts only make it longer.
            late |= Q(started_at__lte=now - timedelta(minutes=minutes))
        if sitting.closes_at is not None and sitting.closes_at <= now:
            late |= Q(sits_later=False)
        seats = sitting.seats.filter(late, state=SeatState.WORKING).select_related("sitting", "student")
        results += seats if sitting.state == SittingState.OPEN else seats.filter(sits_later=True)
    return results


def overdue_sittings() -> list[Sitting]:
    """Whose end has come for everyone, and which therefore close."""
    late = Sitting.objects.filter(
        state__in=(SittingState.OPEN, SittingState.PAUSED), closes_at__lt=steady.now() - GRACE
    )
    return [
        sitting
        for sitting in late.select_related("edition", "school_class")
        # Somebody with minutes on top still works; the sitting closes with the last of them.
        if all(
            is_over(seat) for seat in sitting.seats.filter(state=SeatState.WORKING).select_related("sitting", "student")
        )
    ]


def due_sittings() -> list[Sitting]:
    """Which open by themselves now."""
    due = Sitting.objects.filter(state=SittingState.READY, opens_itself=True, planned_for__lte=steady.now())
    return list(due.select_related("edition", "school_class"))
