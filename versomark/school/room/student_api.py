"""A student's device in a lesson: what is on, and what it gives."""

from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema

from versomark.core.items import ItemResponse
from versomark.school.problems import NotFound
from versomark.school.sittings.models import Seat

from . import answers
from .device import StudentRoom
from .device import student_room as room_of_device
from .models import Room

router = Router(tags=["student in the room"])


class RoundChange(Schema):
    """A change a student made in a round; the id is the device's own, so that sending again changes nothing."""

    client_id: UUID
    round: int
    response: ItemResponse | None = None


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
