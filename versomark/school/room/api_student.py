"""A student's device in a lesson: what is on, and what it gives."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.core.language import _
from versomark.school.delivery.public import Seat, tokens
from versomark.school.errors import NotFound
from versomark.school.responses.schemas_student import SeatPage, page_of

from . import answers, names
from .device import StudentRoom
from .device import student_room as room_of_device
from .models import Room
from .schemas_student import NamesToPick, NameToPick, Pick, RoundChange

router = Router(tags=["student in the room"])


def _seat(request: HttpRequest) -> Seat:
    seat: Seat = request.auth  # type: ignore[attr-defined]
    return seat


def _page(request: HttpRequest) -> StudentRoom:
    seat = _seat(request)
    room = Room.objects.filter(sitting=seat.sitting_id).first()
    if room is None:
        raise NotFound(_("lesson in the room"))
    room.sitting = seat.sitting
    return room_of_device(room, seat)


@router.get("/room", response=StudentRoom)
def student_room(request: HttpRequest) -> StudentRoom:
    return _page(request)


@router.post("/room/answers", response=StudentRoom)
def give(request: HttpRequest, body: RoundChange) -> StudentRoom:
    """Acknowledged once it is on disk."""
    answers.give(body.round, _seat(request).pk, body.response, body.client_id)
    return _page(request)


@router.get("/names", auth=None, response=NamesToPick)
def names_to_pick(request: HttpRequest, code: str) -> NamesToPick:
    """Who may be picked at the door of this code."""
    result = names.names_to_pick(code[:60], request.META.get("REMOTE_ADDR", ""))
    if result is None:
        return NamesToPick(names=None)
    return NamesToPick(
        names=[
            NameToPick(
                seat=seat.pk,
                # Two of the same short name are told apart by the whole one.
                name=seat.student.short_name,
                taken=names.is_taken(seat),
            )
            for seat in result
        ]
    )


@router.post("/pick", auth=None, response=SeatPage)
def pick(request: HttpRequest, response: HttpResponse, body: Pick) -> SeatPage:
    """Come in as this name."""
    seat = names.pick(body.code, body.seat, request.META.get("REMOTE_ADDR", ""))
    tokens.give(response, request, seat)
    return page_of(seat)
