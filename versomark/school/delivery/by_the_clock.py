"""What happens in sittings without anybody's hand: they open, work whose time is over is handed in, they close."""

from datetime import timedelta

from django.db import transaction
from django.db.models import F

from versomark.school.turns import Area, working_on

from . import breaks, nudges, steady, timekeeping
from .events import record
from .models import EventKind, Seat, SeatState, Sitting, SittingState
from .services import close_sitting, open_sitting


def tick() -> None:
    """Called again and again while the service runs; doing it twice is the same as once."""
    make_good()
    open_due()
    breaks.end_used_up()
    hand_in_overdue()
    close_overdue()


def make_good() -> timedelta | None:
    """Where this machine's clock has moved by itself, move what runs along with it, and tell the teacher.

    Everybody has as much time left as before, and a sitting that is open ends as much later, or earlier, as the clock
    has moved; what is planned for a time of day stays there. Returns by how much the clock moved.
    """
    moved = steady.clock.jump()
    if moved is None:
        return None
    with transaction.atomic():
        running = Sitting.objects.filter(state__in=(SittingState.OPEN, SittingState.PAUSED))
        seats = Seat.objects.filter(state__in=(SeatState.WORKING, SeatState.PAUSED)).exclude(started_at=None)
        for sitting in running:
            ends = sitting.closes_at is not None
            record(sitting, None, EventKind.CLOCK_JUMPED, seconds=moved.total_seconds(), end_moved=ends)
        for name in ("opened_at", "paused_at", "closes_at"):
            running.exclude(**{name: None}).update(**{name: F(name) + moved})
        for name in ("started_at", "paused_at", "break_since", "last_seen"):
            seats.exclude(**{name: None}).update(**{name: F(name) + moved})
        steady.clock.take_wall()
    return moved


def open_due() -> list[Sitting]:
    opened = []
    for sitting in timekeeping.due_sittings():
        with working_on(Area(sitting.owner.school_id)), transaction.atomic():
            opened.append(open_sitting(sitting))
            record(sitting, None, EventKind.OPENED_AS_PLANNED)
    return opened


def hand_in_overdue() -> list[Seat]:
    """Work whose time is over counts as it stands."""
    late = [seat for seat in timekeeping.timed_seats() if timekeeping.is_over(seat)]
    handed_in = []
    for seat in late:
        with working_on(Area(seat.student.school_id, seat.pk)), transaction.atomic():
            seat.refresh_from_db(fields=["state", "extra_minutes", "paused_seconds", "sits_later"])
            if seat.state != SeatState.WORKING or not timekeeping.is_over(seat):
                continue
            seat.state, seat.handed_in_at, seat.ended_by_time, seat.sits_later = (
                SeatState.HANDED_IN,
                steady.now(),
                True,
                False,
            )
            seat.save(update_fields=["state", "handed_in_at", "ended_by_time", "sits_later"])
            nudges.sitting_changed(seat.sitting_id)
            handed_in.append(seat)
    return handed_in


def close_overdue() -> list[Sitting]:
    closed = []
    for sitting in timekeeping.overdue_sittings():
        with working_on(Area(sitting.owner.school_id)):
            closed.append(close_sitting(sitting, paused_go_on=True))
    return closed
