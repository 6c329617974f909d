"""How long students had each question before them, as their devices tell it."""

from collections.abc import Collection, Mapping, Sequence
from typing import NamedTuple
from uuid import UUID

from django.db.models import F, Sum

from versomark.school.delivery.public import Seat, SeatState, steady

from .models import TimeOnItem


class TimeSpentOnItem(NamedTuple):
    """One stretch of time with a question."""

    client_id: UUID
    item: str
    seconds: float


def note_time(seat: Seat, spent: Sequence[TimeSpentOnItem]) -> None:
    """Add what a device tells; the same stretch again changes nothing. The last ones come when it is handed in."""
    if not spent or seat.started_at is None or seat.state not in (SeatState.WORKING, SeatState.HANDED_IN):
        return
    refs = {item.ref for item in seat.sitting.edition.read().items()}
    # No device's clock makes a stretch longer than the time since they began.
    most = max(0.0, (steady.now() - seat.started_at).total_seconds())
    TimeOnItem.objects.bulk_create(
        (
            TimeOnItem(seat=seat, client_id=entry.client_id, item=entry.item, seconds=min(entry.seconds, most))
            for entry in spent
            if entry.item in refs
        ),
        ignore_conflicts=True,
    )


def seconds_on_items(seats: Collection[int]) -> Mapping[int, Mapping[str, float]]:
    """seat -> ref -> seconds; of those who tried again, the last time only."""
    rows = TimeOnItem.objects.filter(seat__in=seats, kept_at__gte=F("seat__started_at"))
    seconds_by_seat: dict[int, dict[str, float]] = {}
    for seat, item, seconds in rows.values_list("seat", "item").annotate(seconds=Sum("seconds")).order_by():
        seconds_by_seat.setdefault(seat, {})[item] = seconds
    return seconds_by_seat
