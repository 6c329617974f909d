"""When something was done on a device that could not reach the school's server.

Every reply to a device carries a moment: the server's time, signed. What is done later without a connection names the
moment the device has and how many seconds it counted since. So a time is never earlier than the last reply that came
through, which is certain, and never later than its arrival; where it lies between the two is the device's word.
"""

from datetime import UTC, datetime, timedelta
from typing import NamedTuple

from django.core import signing

from versomark.core.giving import ends_at

from . import steady
from .models import AFTER, RUNNING, Seat, SeatState, SittingState, Way
from .timekeeping import GRACE, clock_of

_signer = signing.Signer(salt="versomark.moment")

DELAYED = timedelta(seconds=30)
"""What took longer to arrive was done without a connection; a slow network takes less."""


class DoneAt(NamedTuple):
    """at: by the device's count. not_before: the last time this server is certain of."""

    at: datetime
    not_before: datetime

    @property
    def is_delayed(self) -> bool:
        return steady.now() - self.at > DELAYED


def moment_for(seat: Seat) -> str:
    """What a reply to this seat's device carries."""
    return _signer.sign(f"{seat.pk}.{steady.now().timestamp():.3f}")


def done_at(seat: Seat, moment: str, seconds_since: float) -> DoneAt | None:
    """None where the moment is missing, altered or of another seat."""
    try:
        seat_id, _, timestamp = _signer.unsign(moment).partition(".")
    except signing.BadSignature:
        return None
    if int(seat_id) != seat.pk:
        return None
    now = steady.now()
    not_before = min(datetime.fromtimestamp(float(timestamp), UTC), now)
    # A device whose clock runs fast cannot have done anything after it arrived.
    return DoneAt(min(not_before + timedelta(seconds=seconds_since), now), not_before)


def ended_at(seat: Seat) -> datetime | None:
    """When work at this seat stopped, where neither its student nor a lock ended it: its time ran out, the sitting was
    closed, or it stands still. None where it goes on, or was ended for good."""
    sitting = seat.sitting
    if seat.locked or sitting.state == SittingState.RELEASED or sitting.way == Way.ROOM:
        return None
    if seat.state == SeatState.HANDED_IN:
        return seat.handed_in_at if seat.ended_by_closing or seat.ended_by_time else None
    if seat.state == SeatState.PAUSED:
        return seat.paused_at
    if seat.state != SeatState.WORKING:
        return None
    if not seat.sits_later and sitting.state == SittingState.PAUSED:
        return sitting.paused_at
    if not seat.sits_later and sitting.state not in (*RUNNING, *AFTER):
        return None
    return ends_at(clock_of(seat))


def in_time(seat: Seat, done: DoneAt | None) -> bool:
    """Whether something that arrives at a seat which has stopped was done before it stopped."""
    end = ended_at(seat)
    if done is None or end is None:
        return False
    if seat.ended_by_time:
        # Handed in by the clock a moment after the time was over.
        end = min(end, ends_at(clock_of(seat)) or end)
    return done.at <= end + GRACE
