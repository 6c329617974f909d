"""A student's device in a lesson: what is on, and what it gives."""

from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from versomark.core.items import ItemResponse
from versomark.school.errors import NotFound
from versomark.school.sittings import tokens
from versomark.school.sittings.models import Seat
from versomark.school.sittings.student_api import SeatPage, page_of

from . import answers, names
from .device import StudentRoom
from .device import student_room as room_of_device
from .models import Room

router = Router(tags=["student in the room"])


class RoundChange(Schema):
    """A change a student made in a round; the id is the device's own, so that sending again changes nothing."""

    client_id: UUID
    round: int
    response: ItemResponse | None = None


class NameToPick(Schema):
    seat: int
    name: str
    taken: bool


class NamesToPick(Schema):
    names: list[NameToPick] | None
    """Null where one comes in with a pass."""


class Pick(Schema):
    code: str = Field(max_length=60)
    seat: int


def _seat(request: HttpRequest) -> Seat:
    seat: Seat = request.auth  # type: ignore[attr-defined]
    return seat


def _page(request: HttpRequest) -> StudentRoom:
    seat = _seat(request)
    room = Room.objects.filter(sitting=seat.sitting_id).first()
    if room is None:
        raise NotFound("lesson in the room")
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
