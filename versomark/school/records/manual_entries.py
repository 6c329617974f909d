"""Numbers of a record typed along its grid: totals, standings in terms, who was away; all of them or none, with one
reason that stays with each."""

from collections.abc import Sequence
from typing import Literal, NamedTuple

from django.db import transaction

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass
from versomark.school.delivery.public import Seat, SeatState, mark_absence
from versomark.school.errors import NotFound
from versomark.school.grading.public import set_total, take_total_back

from .rules import set_standing, take_standing_back

Away = Literal["absent", "excused"]


class TypedTotal(NamedTuple):
    seat: int
    total: float | None
    """None to work it out again."""


class TypedStanding(NamedTuple):
    student: int
    term: int
    share: float | None
    """None to work it out again."""


class TypedAway(NamedTuple):
    seat: int
    how: Away


class ManualEntries(NamedTuple):
    reason: str
    totals: Sequence[TypedTotal]
    standings: Sequence[TypedStanding]
    away: Sequence[TypedAway]


@transaction.atomic
def keep_typed(by: Teacher, school_class: SchoolClass, typed: ManualEntries) -> None:
    wanted = {total.seat for total in typed.totals} | {entry.seat for entry in typed.away}
    seats = {
        seat.pk: seat
        for seat in Seat.objects.filter(pk__in=wanted, sitting__school_class=school_class).select_related(
            "student", "sitting"
        )
    }
    if wanted - set(seats):
        raise NotFound(_("seat in this class"))
    for total in typed.totals:
        if total.total is None:
            take_total_back(by, seats[total.seat])
        else:
            set_total(by, seats[total.seat], total.total, typed.reason)
    for student, term, share in typed.standings:
        if share is None:
            take_standing_back(school_class, term, student)
        else:
            set_standing(by, school_class, term, student, share, typed.reason)
    for seat, how in typed.away:
        take_total_back(by, seats[seat])
        mark_absence(seats[seat].sitting, seat, SeatState(how))
