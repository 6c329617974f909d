"""Reading sittings and seats."""

from collections.abc import Iterable
from typing import NamedTuple

from django.db.models import Count, Q, QuerySet

from versomark.core.editions import is_described
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import Right, may
from versomark.school.compiled_query import CompiledQuery
from versomark.school.errors import DomainError, NotFound

from .models import Seat, SeatState, Sitting


class SeatCounts(NamedTuple):
    """Of one sitting."""

    seats: int
    handed_in: int
    working: int
    expected: int


def _counts(path: str = "") -> dict[str, Count]:
    """What `SeatCounts` holds, of the seats that a path leads to."""

    def in_state(*states: SeatState) -> Count:
        return Count(path or "pk", filter=Q(**{f"{path}{'__' if path else ''}state__in": states}))

    return {
        "seat_count": Count(path or "pk"),
        "handed_in": in_state(SeatState.HANDED_IN),
        "working": in_state(SeatState.WORKING, SeatState.PAUSED),
        "expected": in_state(SeatState.EXPECTED, SeatState.AT_THE_DOOR),
    }


def sittings_of(teacher: Teacher) -> QuerySet[Sitting]:
    """The teacher's sittings, and those of classes shared with them, with counts of their seats, newest first."""
    return (
        Sitting.objects.filter(Q(owner=teacher) | may(teacher, "see", "school_class__"))
        .select_related("edition", "edition__test", "school_class")
        .annotate(**_counts("seats"))
        .order_by("-made_at", "-pk")
    )


def seat_counts(sitting: Sitting) -> SeatCounts:
    """As they were when `sittings_of` read the sitting; of one that was read otherwise, as they are now."""
    if "seat_count" in sitting.__dict__:
        read = sitting.__dict__
        return SeatCounts(read["seat_count"], read["handed_in"], read["working"], read["expected"])
    return SeatCounts(*Seat.objects.filter(sitting=sitting).aggregate(**_counts()).values())


def many_sittings_of(teacher: Teacher) -> QuerySet[Sitting]:
    """The same, for a page that shows all of them: sittings of one edition share it, so that its content is read once,
    and is no part of what the counts are grouped by."""
    return sittings_of(teacher).select_related(None).select_related("school_class").prefetch_related("edition__test")


def markable(teacher: Teacher, sittings: Iterable[int]) -> set[int]:
    """Those among some sittings that the teacher may mark, rather than only look at."""
    own = Sitting.objects.filter(Q(owner=teacher) | may(teacher, "mark", "school_class__"), pk__in=list(sittings))
    return set(own.values_list("pk", flat=True))


# Nearly every request of a teacher asks this. Counting seats with it would group by all there is in an edition.
_seen_by = CompiledQuery(
    lambda teacher, sitting: (
        Sitting.objects.filter(Q(owner=teacher) | may(teacher, "see", "school_class__"), pk=sitting)
        .select_related("edition__test", "school_class")
        .order_by()
    ),
    (int, int),
)


def sitting_of(teacher: Teacher, sitting_id: int, right: Right = "see") -> Sitting:
    """A sitting in which the teacher has a right; NotPossible, in words, where they may only see it."""
    sitting = _seen_by.first(teacher.pk, sitting_id)
    if sitting is None:
        raise NotFound(_("sitting"))
    if right != "see" and sitting.owner_id != teacher.pk:
        allowed = Sitting.objects.filter(may(teacher, right, "school_class__"), pk=sitting_id)
        if not allowed.exists():
            raise DomainError(
                _(
                    "{name} has not given you leave to {right} sittings of this class.",
                    name=sitting.owner.name,
                    right=right,
                ),
                403,
            )
    return sitting


_seats_of = CompiledQuery(
    lambda sitting: Seat.objects.filter(sitting=sitting).select_related("student").order_by("desk")
)


def seats_with_progress(sitting: Sitting) -> list[Seat]:
    """The seats in desk order, each with `answered`: how many questions have an answer that stands."""
    given = Seat.objects.filter(sitting=sitting, current__answer__response__isnull=False).order_by()
    answered = dict(given.annotate(count=Count("current")).values_list("pk", "count"))
    seats = _seats_of.all(sitting.pk)
    for seat in seats:
        seat.answered, seat.sitting = answered.get(seat.pk, 0), sitting  # type: ignore[attr-defined]
    return seats


def form_names(sitting: Sitting) -> list[str]:
    return ["A", *(form["name"] for form in sitting.edition.content.get("forms", []))]


def is_marks_only(sitting: Sitting) -> bool:
    """Whether the test was given elsewhere."""
    return is_described(sitting.edition.read())


# Most requests need the edition only as a model that is read already.
WITH_ALL = Seat.objects.select_related("sitting__edition", "student").defer("sitting__edition__content")


_by_id = CompiledQuery(lambda seat_id: WITH_ALL.filter(pk=seat_id).order_by())


def seat_with_all(seat_id: int) -> Seat | None:
    """Fresh from the database; within a transaction, as it stands until that ends."""
    return _by_id.first(seat_id)


def seat_now(seat_id: int) -> Seat:
    """The same for a seat that is known to be there."""
    seat = seat_with_all(seat_id)
    if seat is None:
        raise NotFound(_("seat"))
    return seat
