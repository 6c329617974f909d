"""By which number a marker knows a student: the desk, or, while names are hidden, one of chance.

Everything the marking desk sends and receives names students by these numbers and never by seat, so that nothing on
the screen or behind it leads back to a name.
"""

from random import Random, SystemRandom

from django.db import transaction
from django.utils import timezone
from django.utils.crypto import salted_hmac

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import EventKind, Seat, SeatState, Sitting, record
from versomark.school.errors import DomainError, NotFound

from .models import HiddenNames, HiddenNumber, Mark


def names_hidden(sitting: Sitting) -> bool:
    return HiddenNames.objects.filter(sitting=sitting, shown_at=None).exists()


def numbered(sitting: Sitting) -> dict[int, Seat]:
    """The seats whose work can be marked, by number in rising order."""
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).select_related("student", "sitting").order_by("desk"))
    hidden = HiddenNames.objects.filter(sitting=sitting, shown_at=None).first()
    if hidden is None:
        return {seat.desk: seat for seat in seats}
    drawn = _drawn(sitting, hidden.seed)
    return dict(sorted((drawn[seat.pk], seat) for seat in seats))


def _drawn(sitting: Sitting, seed: int) -> dict[int, int]:
    """By seat, its number of chance: for all seats at once, so that work handed in later changes none; a seat that is
    added later gets one that is free."""
    every = list(sitting.seats.order_by("pk").values_list("pk", flat=True))
    known = dict(HiddenNumber.objects.filter(seat__sitting=sitting).values_list("seat", "number"))
    while new := [seat for seat in every if seat not in known]:
        if known:
            free = sorted(set(range(1, 2 * len(every) + 1)) - set(known.values()))
            numbers = SystemRandom().sample(free, len(new))
        else:
            numbers = Random(seed).sample(range(1, len(every) + 1), len(every))
        HiddenNumber.objects.bulk_create(
            (HiddenNumber(seat_id=seat, number=number) for seat, number in zip(new, numbers, strict=True)),
            ignore_conflicts=True,
        )
        known = dict(HiddenNumber.objects.filter(seat__sitting=sitting).values_list("seat", "number"))
    return known


def seat_at(sitting: Sitting, number: int) -> Seat:
    seat = numbered(sitting).get(number)
    if seat is None:
        raise NotFound(_("answer"))
    return seat


@transaction.atomic
def hide_names(by: Teacher, sitting: Sitting) -> None:
    if HiddenNames.objects.filter(sitting=sitting).exclude(shown_at=None).exists():
        raise DomainError(_("The names of this sitting have been shown; they cannot be hidden again."))
    if names_hidden(sitting):
        return
    if Mark.objects.filter(seat__sitting=sitting).exists():
        raise DomainError(_("Marks have been given with the names in sight; hiding them now would hide nothing."))
    HiddenNames.objects.create(sitting=sitting, seed=SystemRandom().getrandbits(62))
    record(sitting, by, EventKind.NAMES_HIDDEN)


@transaction.atomic
def show_names(by: Teacher, sitting: Sitting) -> None:
    """Once and for all."""
    if HiddenNames.objects.filter(sitting=sitting, shown_at=None).update(shown_at=timezone.now()):
        record(sitting, by, EventKind.NAMES_SHOWN)


def work_token(seat: Seat, item: str) -> str:
    """Stands for one answer of one student, and leads nobody back to them."""
    return salted_hmac("work before a marker", f"{seat.pk} {item}").hexdigest()[:16]


def refuse_other_work(seat: Seat, item: str, work: str) -> None:
    """What was meant for somebody else's work, since a number stands for another student by now, is refused."""
    if work and work != work_token(seat, item):
        raise DomainError(_("The numbers of this sitting have changed. Open the answer again."), status=409)
