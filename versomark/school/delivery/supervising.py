"""What a teacher does with those who sit: the door, pauses, time, work taken in and given back. All of it on record."""

from collections.abc import Iterable
from datetime import timedelta
from math import ceil

from django.db import transaction

from versomark.core.giving import ends_at
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError, NotFound

from . import breaks, nudges, steady, timekeeping
from .events import record
from .models import AFTER, BEFORE, EventKind, Seat, SeatState, Sitting, SittingState
from .signals import student_moved

MOST_EXTRA = 600


def seat_in(sitting: Sitting, seat_id: int) -> Seat:
    seat = sitting.seats.select_related("student", "sitting").filter(pk=seat_id).first()
    if seat is None:
        raise NotFound(_("seat"))
    return seat


@transaction.atomic
def let_in(by: Teacher, sitting: Sitting, seats: Iterable[Seat]) -> None:
    """Those of these seats who stand at the door begin."""
    if sitting.state != SittingState.OPEN:
        raise DomainError(_("Open the sitting first; then students can be let in."))
    for seat in seats:
        if seat.state == SeatState.AT_THE_DOOR:
            _begins(seat)
            record(sitting, by, EventKind.LET_IN, seat)


def _begins(seat: Seat) -> None:
    seat.state, seat.started_at = SeatState.WORKING, seat.started_at or steady.now()
    seat.save(update_fields=["state", "started_at"])


@transaction.atomic
def turn_away(by: Teacher, seat: Seat) -> None:
    """Whoever stands at the door is sent back; the seat is free for its student."""
    if seat.state != SeatState.AT_THE_DOOR:
        raise DomainError(_("{short_name} is not at the door.", short_name=seat.student.short_name))
    seat.state, seat.device, seat.last_seen = SeatState.EXPECTED, None, None
    seat.save(update_fields=["state", "device", "last_seen"])
    record(seat.sitting, by, EventKind.SENT_BACK, seat)


@transaction.atomic
def move_device(by: Teacher, seat: Seat, to: Seat) -> None:
    """Who sits here belongs to another seat: their device goes there, with everything they have answered."""
    if to.pk == seat.pk or to.state not in (SeatState.EXPECTED, SeatState.ABSENT, SeatState.AT_THE_DOOR):
        raise DomainError(
            _("{short_name} has begun; nobody else can be moved there.", short_name=to.student.short_name)
        )
    if seat.device is None or seat.state not in (SeatState.AT_THE_DOOR, SeatState.WORKING):
        raise DomainError(_("Nobody sits at {short_name}’s place with a device.", short_name=seat.student.short_name))
    student_moved.send(sender=Seat, seat=seat, to=to)
    for name in ("state", "device", "device_since", "started_at", "last_seen", "at_item", "furthest"):
        setattr(to, name, getattr(seat, name))
    seat.state, seat.device, seat.started_at, seat.last_seen = SeatState.EXPECTED, None, None, None
    seat.at_item, seat.furthest = "", 0
    for entry in (seat, to):
        entry.save()
    record(seat.sitting, by, EventKind.SEAT_MOVED, seat, to=to.student.short_name)
    nudges.seat_told(seat.sitting_id, to.pk)


@transaction.atomic
def pause(by: Teacher, seat: Seat) -> None:
    """Their time stands still until they go on, today or another day."""
    if seat.break_since is not None:
        breaks.leave(seat)
        record(seat.sitting, by, EventKind.PAUSED, seat)
        return
    if seat.state != SeatState.WORKING:
        raise DomainError(_("{short_name} is not at work.", short_name=seat.student.short_name))
    # Where all stand still already, their pause is the same one.
    seat.state, seat.paused_at = SeatState.PAUSED, seat.sitting.paused_at or steady.now()
    seat.save(update_fields=["state", "paused_at"])
    record(seat.sitting, by, EventKind.PAUSED, seat)


@transaction.atomic
def resume(by: Teacher, seat: Seat) -> None:
    """They go on where they were; where the sitting is over by then, by themselves."""
    if seat.state != SeatState.PAUSED:
        raise DomainError(_("{short_name} is not paused.", short_name=seat.student.short_name))
    if seat.break_since is not None:
        breaks.leave(seat)
    if seat.paused_at is not None:
        # From there on the pause of all is theirs again, and is counted when it ends.
        timekeeping.end_pause(Seat.objects.filter(pk=seat.pk), seat.paused_at, until=seat.sitting.paused_at)
    Seat.objects.filter(pk=seat.pk).update(state=SeatState.WORKING, paused_at=None, sits_later=_is_over(seat.sitting))
    record(seat.sitting, by, EventKind.GOES_ON, seat)


@transaction.atomic
def give_minutes(by: Teacher, sitting: Sitting, seats: Iterable[Seat], minutes: int) -> None:
    """More time on top of what each needs; taken from it where `minutes` is below 0."""
    if minutes == 0 or not -MOST_EXTRA <= minutes <= MOST_EXTRA:
        raise DomainError(_("Give 1 to {most_extra} minutes.", most_extra=MOST_EXTRA), status=422)
    for seat in seats:
        if seat.state == SeatState.HANDED_IN:
            continue
        seat.extra_minutes = min(MOST_EXTRA, max(0, seat.extra_minutes + minutes))
        seat.save(update_fields=["extra_minutes"])
        record(sitting, by, EventKind.TIME_GIVEN, seat, minutes=minutes)


@transaction.atomic
def reopen(by: Teacher, seat: Seat, minutes: int = 0, comment: str = "") -> None:
    """Work that was handed in goes back to its student; with so many minutes from now, where its time was over, and
    with what they are to revise, which they read above their questions."""
    if seat.state != SeatState.HANDED_IN:
        raise DomainError(_("{short_name} has not handed in.", short_name=seat.student.short_name))
    seat.state, seat.handed_in_at = SeatState.WORKING, None
    seat.ended_by_closing = seat.ended_by_time = seat.locked = False
    seat.returned_with = " ".join(comment.split())[:500]
    seat.sits_later = _is_over(seat.sitting)
    end = ends_at(timekeeping.clock_of(seat))
    if end is not None and minutes:
        late = max(timedelta(0), steady.now() - end)
        seat.extra_minutes = min(MOST_EXTRA, seat.extra_minutes + ceil(late / timedelta(minutes=1)) + minutes)
    if timekeeping.is_over(seat):
        raise DomainError(
            _("The time of {short_name} is over. Say how many minutes they get.", short_name=seat.student.short_name)
        )
    seat.save()
    record(seat.sitting, by, EventKind.GIVEN_BACK, seat, minutes=minutes, comment=seat.returned_with)


@transaction.atomic
def lock(by: Teacher, sitting: Sitting, seats: Iterable[Seat], locked: bool) -> None:
    """Their students can do nothing more with these seats by themselves, or can again. What they gave is kept."""
    for seat in seats:
        if seat.locked != locked:
            seat.locked = locked
            seat.save(update_fields=["locked"])
            record(sitting, by, EventKind.LOCKED if locked else EventKind.UNLOCKED, seat)


@transaction.atomic
def hand_in_for(by: Teacher, seat: Seat) -> None:
    """What they have answered is taken in as it stands."""
    if seat.state not in (SeatState.WORKING, SeatState.PAUSED):
        raise DomainError(_("{short_name} is not at work.", short_name=seat.student.short_name))
    seat.state, seat.handed_in_at, seat.sits_later, seat.paused_at = SeatState.HANDED_IN, steady.now(), False, None
    seat.break_since = None
    seat.save(update_fields=["state", "handed_in_at", "sits_later", "paused_at", "break_since"])
    record(seat.sitting, by, EventKind.HANDED_IN_BY_TEACHER, seat)


@transaction.atomic
def sit_now(by: Teacher, seat: Seat, form: str = "") -> None:
    """Who has not sat it may, by themselves, with the code and their pass; the others are not touched. `form`: another
    one than was planned, since classmates may know the answers of that by now."""
    if form and form not in seat.sitting.edition.read().form_names:
        raise DomainError(_("This test has no form {form}.", form=form), status=422)
    if seat.state not in (SeatState.ABSENT, SeatState.EXCUSED, SeatState.EXPECTED):
        raise DomainError(_("{short_name} has begun already.", short_name=seat.student.short_name))
    if seat.sitting.state in BEFORE:
        raise DomainError(_("The sitting has not been opened yet."))
    seat.state, seat.sits_later, seat.ended_by_closing = SeatState.EXPECTED, True, False
    seat.form = form or seat.form
    seat.save(update_fields=["state", "sits_later", "ended_by_closing", "form"])
    record(seat.sitting, by, EventKind.MAY_SIT_NOW, seat, form=form)


def _is_over(sitting: Sitting) -> bool:
    return sitting.state in AFTER
