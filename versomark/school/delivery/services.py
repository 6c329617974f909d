"""Sittings, from the teacher's side: plan, open, watch, close."""

from collections.abc import Collection, Iterable
from datetime import datetime
from typing import NamedTuple

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass, places_of, word_and_digits
from versomark.school.editions.public import Edition
from versomark.school.errors import DomainError, NotFound

from . import nudges, steady, timekeeping
from .models import AFTER, BEFORE, RUNNING, Seat, SeatState, Sitting, SittingState, Way
from .queries import (
    form_names,
    is_marks_only,
    many_sittings_of,
    sitting_of,
)
from .signals import sitting_closed


def missing(sitting: Sitting) -> list[str]:
    """What keeps a sitting from being ready, in words."""
    if sitting.for_some:
        return [] if sitting.seats.exists() else [_("Nobody who was chosen is in the class any more.")]
    if places_of(sitting.school_class).exists():
        return []
    return [_("{name} has no students yet.", name=sitting.school_class.name)]


@transaction.atomic
def plan(
    teacher: Teacher,
    edition: Edition,
    school_class: SchoolClass,
    planned_for: datetime | None,
    way: Way = Way.ONLINE,
    closes_at: datetime | None = None,
    students: Collection[int] | None = None,
) -> Sitting:
    """A sitting of this edition for this class, or for these students of it; ready when nothing is missing."""
    in_time(closes_at, planned_for)
    sitting = Sitting.objects.create(
        owner=teacher,
        edition=edition,
        school_class=school_class,
        planned_for=planned_for,
        closes_at=closes_at,
        way=way,
        code=_unused_code(),
    )
    settle_readiness(sitting)
    if students is not None:
        sitting.for_some = True
        sitting.save(update_fields=["for_some"])
        sitting.seats.exclude(student__in=students).delete()
        settle_readiness(sitting)
    return sitting_of(teacher, sitting.pk)


def in_time(closes_at: datetime | None, planned_for: datetime | None) -> None:
    """Refuses an end that is over, or before the beginning."""
    if closes_at is not None and closes_at <= max(steady.now(), planned_for or steady.now()):
        raise DomainError(_("The end must be later than the beginning, and later than now."), status=422)


class PaperNeeded(NamedTuple):
    """One printed paper of a sitting, and who sits it."""

    form: str
    large: bool
    names: list[str]


def papers_needed(seats: Iterable[Seat]) -> list[PaperNeeded]:
    """What to print for a sitting: each form, in large print for those who need it. Forms in order, large ones last."""
    results: dict[tuple[bool, str], list[str]] = {}
    for seat in seats:
        results.setdefault((seat.student.large_print, seat.form), []).append(seat.student.short_name)
    return [PaperNeeded(form, large, names) for (large, form), names in sorted(results.items())]


def settle_readiness(sitting: Sitting) -> bool:
    """Bring the seats in line with the class list, and the state with what is missing, before a sitting opens.

    The class list comes earlier in the job and knows nothing of sittings, so whoever shows a sitting, opens it or
    stands at its door settles it first. Says whether anything changed; doing it again changes nothing.
    """
    return sitting.state in BEFORE and _settle(sitting)


@transaction.atomic
def _settle(sitting: Sitting) -> bool:
    places = list(places_of(sitting.school_class))
    students = {place.student_id for place in places}
    seated = set(sitting.seats.values_list("student_id", flat=True))
    if sitting.for_some:
        students &= seated
    state = SittingState.READY if students else SittingState.PLANNED
    if seated == students and state == sitting.state:
        return False
    sitting.seats.filter(student__in=seated - students).delete()
    forms = form_names(sitting)
    Seat.objects.bulk_create(
        # By desk number, so that neighbours have different forms.
        Seat(sitting=sitting, student_id=place.student_id, desk=place.desk, form=forms[(place.desk - 1) % len(forms)])
        for place in places
        if place.student_id in students - seated
    )
    sitting.state = state
    sitting.save(update_fields=["state"])
    return True


@transaction.atomic
def remove(sitting: Sitting) -> None:
    if sitting.state not in BEFORE:
        raise DomainError(_("This sitting has been opened; its answers are kept. It cannot be removed."))
    sitting.delete()


@transaction.atomic
def begin_without_devices(sitting: Sitting) -> None:
    """The first mark of what is marked while it is done, or of a paper that is not here, begins the sitting and lets
    nobody in."""
    if sitting.state not in BEFORE:
        return
    open_sitting(sitting)
    now = timezone.now()
    # Given elsewhere, on the day that was said.
    planned_for = sitting.planned_for if sitting.planned_for and sitting.planned_for < now else now
    sitting.state, sitting.opened_at = SittingState.PAUSED, planned_for
    sitting.save(update_fields=["state", "opened_at"])


@transaction.atomic
def open_sitting(sitting: Sitting) -> Sitting:
    """Let students in: a first time, after a pause, or again after it was closed."""
    if sitting.state == SittingState.OPEN:
        return sitting
    if sitting.state in BEFORE:
        settle_readiness(sitting)
        if absent := missing(sitting):
            raise DomainError(_("This sitting is not ready."), problems=absent)
        sitting.opened_at = steady.now()
    if sitting.state in AFTER:
        # Only what closing did is taken back; what students and the teacher decided stays.
        sitting.seats.filter(ended_by_closing=True, state=SeatState.HANDED_IN).update(
            state=SeatState.WORKING, handed_in_at=None, ended_by_closing=False
        )
        sitting.seats.filter(ended_by_closing=True, state=SeatState.ABSENT).update(
            state=SeatState.EXPECTED, ended_by_closing=False
        )
    if sitting.paused_at is not None:
        timekeeping.end_pause(sitting.seats.filter(state=SeatState.WORKING), sitting.paused_at)
    if _code_in_use(sitting.code, sitting.pk):
        sitting.code = _unused_code()
    if sitting.closes_at is not None and sitting.closes_at <= steady.now():
        sitting.closes_at = None  # opened after its end, it is open until the teacher closes it
    sitting.state, sitting.closed_at, sitting.paused_at = SittingState.OPEN, None, None
    sitting.save(update_fields=["state", "opened_at", "closed_at", "closes_at", "paused_at", "code"])
    nudges.sitting_changed(sitting.pk)
    return sitting


@transaction.atomic
def pause_sitting(sitting: Sitting) -> Sitting:
    if sitting.state != SittingState.OPEN:
        raise DomainError(_("Only an open sitting can be paused."))
    sitting.state, sitting.paused_at = SittingState.PAUSED, steady.now()
    sitting.save(update_fields=["state", "paused_at"])
    nudges.sitting_changed(sitting.pk)
    return sitting


@transaction.atomic
def close_sitting(sitting: Sitting, paused_go_on: bool = False) -> Sitting:
    """End a sitting: unfinished work counts as it stands, and who never came is absent.

    paused_go_on: those whose own seat is paused go on another day, where they were; they are not counted until then.
    """
    if sitting.state not in RUNNING:
        raise DomainError(_("This sitting is not open."))
    now = steady.now()
    if is_marks_only(sitting):
        # Of a test given elsewhere, who has no mark was not there.
        without = sitting.seats.exclude(current__answer__response__isnull=False)
        without.filter(state__in=(SeatState.WORKING, SeatState.PAUSED, SeatState.HANDED_IN)).update(
            state=SeatState.ABSENT, handed_in_at=None, ended_by_closing=True
        )
    at_work = Q(state=SeatState.WORKING) | Q(state=SeatState.PAUSED, break_since__isnull=False)
    if not paused_go_on:
        at_work |= Q(state=SeatState.PAUSED)
    sitting.seats.filter(at_work, sits_later=False).update(
        state=SeatState.HANDED_IN, handed_in_at=now, ended_by_closing=True, break_since=None
    )
    sitting.seats.filter(state__in=(SeatState.EXPECTED, SeatState.AT_THE_DOOR), sits_later=False).update(
        state=SeatState.ABSENT, ended_by_closing=True
    )
    if sitting.paused_at is not None:
        timekeeping.end_pause(sitting.seats.filter(state=SeatState.WORKING), sitting.paused_at)
    sitting.state, sitting.closed_at, sitting.paused_at = SittingState.CLOSED, now, None
    sitting.save(update_fields=["state", "closed_at", "paused_at"])
    nudges.sitting_changed(sitting.pk)
    transaction.on_commit(lambda: sitting_closed.send(sender=Sitting, sitting=sitting))
    return sitting


@transaction.atomic
def mark_absence(sitting: Sitting, seat_id: int, state: SeatState) -> Seat:
    """Absent or excused, or expected again; only for a seat whose student has not begun."""
    seat = sitting.seats.select_related("student").filter(pk=seat_id).first()
    if seat is None:
        raise NotFound(_("seat"))
    here = (SeatState.EXPECTED, SeatState.ABSENT, SeatState.EXCUSED)
    if seat.state not in here:
        raise DomainError(_("{short_name} has begun; the answers are kept.", short_name=seat.student.short_name))
    if state == SeatState.EXPECTED and sitting.state in AFTER:
        raise DomainError(_("The sitting is closed. Open it again to let someone sit it."))
    seat.state, seat.ended_by_closing = state, False
    seat.save(update_fields=["state", "ended_by_closing"])
    nudges.sitting_changed(sitting.pk)
    return seat


def _code_in_use(code: str, besides: int = 0) -> bool:
    """Whether a sitting that is not over has this code; `besides` is the sitting that may have it itself."""
    return Sitting.objects.filter(code=code).exclude(state__in=AFTER).exclude(pk=besides).exists()


def _unused_code() -> str:
    for digits in (2, 2, 2, 2, 3, 3, 4, 4):
        code = word_and_digits(digits)
        if not _code_in_use(code):
            return code
    raise DomainError(_("No unused code was found. Try again."))


def settled_sitting_of(teacher: Teacher, sitting_id: int) -> Sitting:
    """A sitting as it is to be shown: before it opens, with the class list as it is now."""
    sitting = sitting_of(teacher, sitting_id)
    return sitting_of(teacher, sitting_id) if settle_readiness(sitting) else sitting


def settled_sittings_of(teacher: Teacher) -> list[Sitting]:
    sittings = list(many_sittings_of(teacher))
    changed = [settle_readiness(sitting) for sitting in sittings if sitting.state in BEFORE]
    return list(many_sittings_of(teacher)) if any(changed) else sittings
