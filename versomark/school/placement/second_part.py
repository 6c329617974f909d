"""Where a first part decides the second: who has handed in the first goes on with the test that their band names."""

from django.db import transaction

from versomark.core.language import _
from versomark.school.delivery.public import (
    AFTER,
    BEFORE,
    Plan,
    Seat,
    SeatState,
    Sitting,
    nudges,
    open_sitting,
    plan_ahead,
)

from .models import Placement, SecondPart
from .services import results_of


def part_for(seat: Seat) -> SecondPart | None:
    """What this student goes on with; None where nothing follows, or they have been there, or it is closed."""
    placement = Placement.objects.filter(sitting=seat.sitting_id).select_related("sitting__edition").first()
    if placement is None or seat.state != SeatState.HANDED_IN or not placement.second_parts.exists():
        return None
    results = results_of(placement.sitting, placement.read())
    # Where everything is left out there are no marks to be had, and nobody is placed.
    band = next((entry.band for entry in results.placed if entry.seat.pk == seat.pk), None)
    if band is None:
        return None
    part = placement.second_parts.filter(band=band).select_related("edition", "sitting").first()
    if part is None or part.sitting is None:
        return part
    been = part.sitting.seats.filter(student=seat.student_id, state=SeatState.HANDED_IN).exists()
    return None if been or part.sitting.state in AFTER else part


@transaction.atomic
def seat_in(part: SecondPart, seat: Seat) -> Seat:
    """The seat of this student in the second part. The first to come opens it; doing it twice is the same as once."""
    sitting = part.sitting or _planned(part, seat)
    second, created = Seat.objects.get_or_create(
        sitting=sitting, student_id=seat.student_id, defaults={"desk": seat.desk, "form": "A"}
    )
    if sitting.state in BEFORE:
        open_sitting(sitting)
    if created:
        nudges.sitting_changed(sitting.pk)
    return Seat.objects.select_related("sitting__edition", "student").get(pk=second.pk)


def _planned(part: SecondPart, seat: Seat) -> Sitting:
    """The rules of the first part hold for the second; who was let into the first need not wait again."""
    first = part.placement.sitting
    rules = first.read_rules().model_copy(update={"let_in": False, "tell": False})
    band = part.placement.read().bands[part.band].recommends
    name = _(
        "{part}, after {first}: {band}", part=part.edition.read().title, first=first.edition.read().title, band=band
    )[:120]
    closes_at = None if first.state in AFTER else first.closes_at
    wanted = Plan(name=name, closes_at=closes_at, rules=rules)
    part.sitting = plan_ahead(first.owner, part.edition, first.school_class, wanted, [seat.student_id])
    part.save(update_fields=["sitting"])
    return part.sitting
