"""Whether a student may see their results, and how much of them. Before release nothing of them is sent."""

from collections.abc import Collection
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import AFTER, EventKind, Seat, SeatState, Sitting, SittingState, nudges, record
from versomark.school.errors import DomainError

from .models import Release
from .numbers import names_hidden


class Shown(NamedTuple):
    marks: bool
    """With marks, rather than in words only."""
    answers: bool
    """With the right answers, and why they are right."""


@transaction.atomic
def release(by: Teacher, sitting: Sitting, shown: Shown, seats: Collection[Seat] | None = None) -> None:
    """Let all students see their results, or these. Doing it again changes how much they see."""
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden. Show them first, under Marking; then release."))
    if sitting.state not in AFTER:
        raise DomainError(_("Close the sitting first; then results can be released."))
    for seat in [None] if seats is None else seats:
        Release.objects.create(sitting=sitting, seat=seat, by=by, **shown._asdict())
        record(sitting, by, EventKind.RELEASED, seat, **shown._asdict())
    if seats is None:
        _state(sitting, SittingState.RELEASED)


@transaction.atomic
def withdraw(by: Teacher, sitting: Sitting, seats: Collection[Seat] | None = None) -> None:
    """Nobody sees their results any more, or these students do not."""
    now = timezone.now()
    if seats is None:
        sitting.releases.filter(taken_back_at=None).update(taken_back_at=now)
        _state(sitting, SittingState.CLOSED)
        record(sitting, by, EventKind.RELEASE_TAKEN_BACK)
        return
    if sitting.state == SittingState.RELEASED:
        # What holds for all is put down for each of the others, so that it can end for one.
        for_all = sitting.releases.filter(taken_back_at=None, seat=None).order_by("-pk").first()
        others = sitting.seats.exclude(pk__in=[seat.pk for seat in seats])
        if for_all is not None:
            # Somebody for whom another release came later keeps that one.
            own = set(sitting.releases.filter(taken_back_at=None, pk__gt=for_all.pk).values_list("seat", flat=True))
            Release.objects.bulk_create(
                Release(sitting=sitting, seat=seat, by=by, marks=for_all.marks, answers=for_all.answers)
                for seat in others
                if seat.pk not in own
            )
        sitting.releases.filter(taken_back_at=None, seat=None).update(taken_back_at=now)
        _state(sitting, SittingState.CLOSED)
    sitting.releases.filter(taken_back_at=None, seat__in=[seat.pk for seat in seats]).update(taken_back_at=now)
    for seat in seats:
        record(sitting, by, EventKind.RELEASE_TAKEN_BACK, seat)


def _state(sitting: Sitting, state: SittingState) -> None:
    if sitting.state in AFTER:
        sitting.state = state
        sitting.save(update_fields=["state"])
        nudges.sitting_changed(sitting.pk)


def shown_in(sitting: Sitting) -> dict[int, Shown]:
    """By seat, what its student may see; who may see nothing is not in it."""
    if names_hidden(sitting):
        return {}
    handed_in = sitting.seats.filter(state=SeatState.HANDED_IN).values_list("pk", flat=True)
    rule, over = sitting.read_rules().results, sitting.state in AFTER
    shown: dict[int, Shown] = {}
    if rule == "handed in" or (rule == "closed" and over):
        shown = dict.fromkeys(handed_in, Shown(marks=True, answers=over))
    if over:
        # Who handed nothing in and has no total has no result: to them it is as if nothing was released.
        with_total = sitting.seats.filter(totals_set__taken_back_at=None, totals_set__isnull=False)
        has_result = {*handed_in, *with_total.values_list("pk", flat=True)}
        for release in sitting.releases.filter(taken_back_at=None).order_by("pk"):
            if release.seat_id is not None:
                if release.seat_id in has_result:
                    shown[release.seat_id] = Shown(release.marks, release.answers)
            elif sitting.state == SittingState.RELEASED:
                shown |= dict.fromkeys(has_result, Shown(release.marks, release.answers))
    return shown


def shown_to(seat: Seat) -> Shown | None:
    return shown_in(seat.sitting).get(seat.pk)
