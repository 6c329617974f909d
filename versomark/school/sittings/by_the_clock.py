"""What happens in sittings without anybody's hand: they open, work whose time is over is handed in, they close."""

from django.db import transaction
from django.utils import timezone

from . import nudges, timekeeping
from .models import Seat, SeatState, Sitting, SittingEvent
from .services import close_sitting, open_sitting


def tick() -> None:
    """Called again and again while the service runs; doing it twice is the same as once."""
    open_due()
    hand_in_overdue()
    close_overdue()


def open_due() -> list[Sitting]:
    opened = []
    for sitting in timekeeping.due_sittings():
        with transaction.atomic():
            opened.append(open_sitting(sitting))
            SittingEvent.objects.create(sitting=sitting, says="opened at the time that was planned")
    return opened


def hand_in_overdue() -> list[Seat]:
    """Work whose time is over counts as it stands."""
    late = [seat for seat in timekeeping.timed_seats() if timekeeping.is_over(seat)]
    handed_in = []
    for seat in late:
        with transaction.atomic():
            seat.refresh_from_db(fields=["state", "extra_minutes", "paused_seconds", "sits_later"])
            if seat.state != SeatState.WORKING or not timekeeping.is_over(seat):
                continue
            seat.state, seat.handed_in_at, seat.ended_by_time, seat.sits_later = (
                SeatState.HANDED_IN,
                timezone.now(),
                True,
                False,
            )
            seat.save(update_fields=["state", "handed_in_at", "ended_by_time", "sits_later"])
            nudges.sitting_changed(seat.sitting_id)
            handed_in.append(seat)
    return handed_in


def close_overdue() -> list[Sitting]:
    return [close_sitting(sitting, paused_go_on=True) for sitting in timekeeping.overdue_sittings()]
