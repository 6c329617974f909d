"""One seat with its sitting, edition and student: what every request of a student's device begins with."""

from versomark.school.compiled_query import CompiledQuery
from versomark.school.errors import NotFound

from .models import Seat

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
        raise NotFound("seat")
    return seat
