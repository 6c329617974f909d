"""Placing the students of a sitting by their scores: the table, the results, groups of the class, letters."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from django.db import transaction
from django.template.loader import render_to_string
from pydantic import ValidationError

from versomark.core.giving.placement import PlacementTable
from versomark.core.language import _, in_language
from versomark.core.scoring import corrected_totals, score
from versomark.school.classes.public import Group, keep_group, places_of
from versomark.school.delivery.public import Seat, SeatState, Sitting
from versomark.school.editions.public import Edition, html_to_pdf
from versomark.school.errors import DomainError
from versomark.school.grading.public import by_hand, overrides_in, waived_in
from versomark.school.responses.public import responses_of

from .models import Placement


class PlacedStudent(NamedTuple):
    """One student who has handed in."""

    seat: Seat
    total: float
    band: int


class Results(NamedTuple):
    placed: Sequence[PlacedStudent]
    of: float
    """The marks that a key gives; what a person has to mark is not counted before it is marked."""
    waiting: int
    """Questions that a person has to mark."""


def refused(error: ValueError) -> DomainError:
    """What is wrong with a table, as the teacher reads it."""
    problems = error.errors() if isinstance(error, ValidationError) else []
    return DomainError(str(problems[0]["msg"]).removeprefix("Value error, ") if problems else str(error), status=422)


@transaction.atomic
def set_table(sitting: Sitting, table: PlacementTable, goes_on: Mapping[int, Edition]) -> Placement:
    """`goes_on`: by band, the test that whoever falls in it goes on with at once."""
    if goes_on and not all_by_key(sitting):
        raise DomainError(
            _("A second part can follow at once only where all questions have a key: somebody has to mark this test.")
        )
    placement, _made = Placement.objects.update_or_create(
        sitting=sitting, defaults={"table": table.model_dump(mode="json")}
    )
    for part in placement.second_parts.all():
        if part.band not in goes_on or goes_on[part.band].pk != part.edition_id:
            if part.sitting is not None and part.sitting.seats.exclude(started_at=None).exists():
                raise DomainError(
                    _("Students are at work on {title} already; it stays.", title=part.edition.read().title)
                )
            part.delete()
    for band, edition in goes_on.items():
        placement.second_parts.get_or_create(band=band, defaults={"edition": edition})
    return placement


def all_by_key(sitting: Sitting) -> bool:
    """Whether the score is known as soon as somebody hands in."""
    return set(by_hand(sitting)) <= waived_in([sitting])[sitting.pk]


def results_of(sitting: Sitting, table: PlacementTable) -> Results:
    """Everybody who has handed in, best first."""
    edition = sitting.edition.read()
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).select_related("student"))
    waived = waived_in([sitting])[sitting.pk]
    scored = score(edition, responses_of([seat.pk for seat in seats]), judged=overrides_in(sitting))
    # Before anybody has handed in, what a person marks is still to come.
    counted = {column.id for column in scored.items if seats or column.id not in by_hand(sitting)}
    missing = [item for item in edition.items() if item.ref not in counted]
    of = edition.marks_without({item.ref for item in missing})
    waiting = sum(item.ref not in waived for item in missing)
    if of <= 0:
        return Results([], 0.0, waiting)
    totals = {
        int(seat): float(marks) for seat, marks in zip(scored.students, corrected_totals(edition, scored), strict=True)
    }
    placed = [PlacedStudent(seat, totals[seat.pk], table.place(totals[seat.pk], of)) for seat in seats]
    return Results(
        sorted(placed, key=lambda placed_student: (-placed_student.total, placed_student.seat.desk)), of, waiting
    )


@transaction.atomic
def make_groups(placement: Placement) -> list[Group]:
    """A group of the class for each band that somebody is in; one of that name from here before is brought in line."""
    sitting, table = placement.sitting, placement.read()
    here = set(places_of(sitting.school_class).values_list("student_id", flat=True))
    made_from = _("placement by {title}", title=sitting.edition.read().title)[:200]
    groups = []
    for at, band in enumerate(table.bands):
        students = [entry.seat.student_id for entry in results_of(sitting, table).placed if entry.band == at]
        students = [student for student in students if student in here]
        before = sitting.school_class.groups.filter(name=band.recommends, made_from=made_from).first()
        if students or before:
            groups.append(keep_group(sitting.school_class, band.recommends, students, before, made_from))
    return groups


def letters_pdf(placement: Placement) -> bytes:
    """A letter a student, each on a page of its own."""
    sitting, table = placement.sitting, placement.read()
    results = results_of(sitting, table)
    if not results.placed:
        raise DomainError(_("Nobody has handed in yet, so there is no letter to print."))
    context = {
        "title": sitting.edition.read().title,
        "school": sitting.owner.school.name,
        "teacher": sitting.owner.name,
        "class_name": sitting.school_class.name,
        "of": results.of,
        "waiting": results.waiting,
        "letters": [
            {"student": entry.seat.student, "total": entry.total, "band": table.bands[entry.band]}
            for entry in results.placed
        ],
    }
    with in_language(sitting.edition.read().language):
        page = render_to_string("placement/letters.html", context)
    return html_to_pdf(page)
