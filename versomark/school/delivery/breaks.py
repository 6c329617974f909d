"""Breaks that a student may take by themselves, as their needs say: the time stands still, and no question is shown."""

from datetime import timedelta

from django.db import transaction

from versomark.core.language import _
from versomark.school.errors import DomainError
from versomark.school.turns import Area, working_on

from . import nudges, steady, timekeeping
from .events import record
from .models import EventKind, Seat, SeatState
from .queries import seat_now
from .seats import may_answer


def seconds_left(seat: Seat) -> int:
    """What is left to them of their breaks in this sitting, while one runs too."""
    allowed = 60 * seat.student.break_minutes - seat.break_seconds
    if seat.break_since is not None:
        allowed -= round((steady.now() - seat.break_since).total_seconds())
    return max(0, allowed)


@transaction.atomic
def begin(seat_id: int) -> Seat:
    """Their paper is put away and their time stands still. Doing it twice is the same as once."""
    seat = seat_now(seat_id)
    if seat.break_since is not None:
        return seat
    may_answer(seat)
    if seconds_left(seat) == 0:
        raise DomainError(_("You have no break left. Ask your teacher."))
    now = steady.now()
    seat.state, seat.paused_at, seat.break_since, seat.last_seen = SeatState.PAUSED, now, now, now
    seat.save(update_fields=["state", "paused_at", "break_since", "last_seen"])
    record(seat.sitting, None, EventKind.BREAK_BEGAN, seat)
    return seat


@transaction.atomic
def end(seat_id: int) -> Seat:
    """They go on where they were; from when their breaks were used up, if that is earlier."""
    seat = seat_now(seat_id)
    if seat.break_since is None or seat.state != SeatState.PAUSED:
        return seat
    _go_on(seat)
    return seat


def _go_on(seat: Seat) -> None:
    if seat.break_since is None:
        return
    allowed = timedelta(minutes=seat.student.break_minutes) - timedelta(seconds=seat.break_seconds)
    over = min(steady.now(), seat.break_since + max(timedelta(0), allowed))
    taken = over - seat.break_since
    # Where all stand still by now, their break ran into that pause, which is counted when it ends.
    timekeeping.end_pause(
        Seat.objects.filter(pk=seat.pk), seat.break_since, until=min(over, seat.sitting.paused_at or over)
    )
    seat.refresh_from_db(fields=["paused_seconds"])
    seat.break_seconds += round(taken.total_seconds())
    seat.state, seat.paused_at, seat.break_since = SeatState.WORKING, None, None
    seat.save(update_fields=["break_seconds", "state", "paused_at", "break_since"])
    record(seat.sitting, None, EventKind.BREAK_ENDED, seat, seconds=round(taken.total_seconds()))
    nudges.seat_told(seat.sitting_id, seat.pk)


def leave(seat: Seat) -> None:
    """The teacher has the seat from here: what was taken counts as a break, the rest of the pause is the teacher's."""
    if seat.break_since is not None:
        seat.break_seconds += round((steady.now() - seat.break_since).total_seconds())
        seat.break_since = None
        seat.save(update_fields=["break_seconds", "break_since"])


def end_used_up() -> list[Seat]:
    """Whose breaks are used up go on by the clock."""
    ended = []
    resting = Seat.objects.filter(state=SeatState.PAUSED).exclude(break_since=None)
    for seat in resting.select_related("sitting", "student"):
        if seconds_left(seat) > 0:
            continue
        with working_on(Area(seat.student.school_id, seat.pk)), transaction.atomic():
            seat.refresh_from_db(fields=["state", "break_since", "break_seconds", "paused_seconds"])
            if seat.break_since is not None and seat.state == SeatState.PAUSED:
                _go_on(seat)
                ended.append(seat)
    return ended
