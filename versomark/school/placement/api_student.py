"""What follows for a student who has handed in a first part."""

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.core.language import _
from versomark.school import turns
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import Seat, tokens
from versomark.school.errors import DomainError
from versomark.school.responses.schemas_student import SeatPage, page_of

from .schemas_student import NextPart
from .second_part import part_for, seat_in

router = Router(tags=["student"])


def _seat(request: HttpRequest) -> Seat:
    seat: Seat = request.auth  # type: ignore[attr-defined]
    return seat


@router.get("/next", response=NextPart)
def next_part(request: HttpRequest) -> NextPart:
    part = part_for(_seat(request))
    return NextPart(title=part.edition.read().title if part else "")


@router.post("/next", response=SeatPage)
def go_on(request: HttpRequest, response: HttpResponse) -> SeatPage:
    """This device goes on to the student's seat in the second part."""
    first = _seat(request)
    # The first to come opens the second part, which is no longer about one seat.
    with turns.working_on(turns.Area(first.student.school_id)), transaction.atomic():
        part = part_for(first)
        if part is None:
            raise DomainError(_("Nothing follows this part."))
        following = seat_in(part, first)
        delivery.begin(following)
        tokens.give(response, request, following)
    return page_of(following)
