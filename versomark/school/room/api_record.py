"""A lesson afterwards: its record, and its answers brought into an earlier sitting."""

from django.http import HttpRequest
from ninja import Router

from versomark.school.delivery.public import seat_counts, sitting_of
from versomark.school.http import teacher_of

from . import response_transfer, services
from .models import Room
from .record import Record, record
from .schemas import BroughtOverLine, Earlier, Effect, Places, ResponseTransferRequest

router = Router(tags=["lessons afterwards"])


@router.get("/sittings/{int:sitting_id}/room/record", response=Record)
def lesson_record(request: HttpRequest, sitting_id: int) -> Record:
    return record(teacher_of(request), services.room_of(teacher_of(request), sitting_id))


@router.get("/sittings/{int:sitting_id}/room/brought", response=Places)
def places(request: HttpRequest, sitting_id: int) -> Places:
    return _places(request, services.room_of(teacher_of(request), sitting_id))


@router.post("/sittings/{int:sitting_id}/room/brought/look", response=Effect)
def look(request: HttpRequest, sitting_id: int, body: ResponseTransferRequest) -> Effect:
    """What would change, before anything does."""
    teacher = teacher_of(request)
    room = services.room_of(teacher, sitting_id, "run")
    into = sitting_of(teacher, body.into)
    changes = response_transfer.changes(room, into, body.how, body.which)
    return Effect(
        filled=sum(change.before is None for change in changes),
        replaced=sum(change.before is not None and change.after is not None for change in changes),
        taken_away=sum(change.after is None for change in changes),
        students=list(dict.fromkeys(change.seat.student.short_name for change in changes)),
        without_a_seat=response_transfer.without_a_seat(room, into),
    )


@router.post("/sittings/{int:sitting_id}/room/brought", response=Places)
def bring_over(request: HttpRequest, sitting_id: int, body: ResponseTransferRequest) -> Places:
    teacher = teacher_of(request)
    room = services.room_of(teacher, sitting_id, "run")
    response_transfer.bring_over(teacher, room, body.into, body.how, body.which)
    return _places(request, room)


@router.post("/sittings/{int:sitting_id}/room/brought/{int:number}/back", response=Places)
def take_back(request: HttpRequest, sitting_id: int, number: int) -> Places:
    teacher = teacher_of(request)
    room = services.room_of(teacher, sitting_id, "run")
    response_transfer.take_back(teacher, room, number)
    return _places(request, room)


def _places(request: HttpRequest, room: Room) -> Places:
    return Places(
        earlier=[
            Earlier(
                sitting=earlier_sitting.pk,
                held=earlier_sitting.opened_at,
                in_the_room=earlier_sitting.way != "online",
                handed_in=seat_counts(earlier_sitting).handed_in,
                seats=seat_counts(earlier_sitting).seats,
            )
            for earlier_sitting in response_transfer.earlier_sittings(teacher_of(request), room)
        ],
        brought=[
            BroughtOverLine(
                number=entry.pk,
                into=entry.into_id,
                held=entry.into.opened_at,
                how=entry.how,  # type: ignore[arg-type]
                by=entry.by.name,
                at=entry.at,
                answers=sum(len(seat["answers"]) for seat in entry.changes),
                students=len(entry.changes),
                taken_back_at=entry.taken_back_at,
            )
            for entry in room.brought_over.select_related("into", "by")
        ],
    )
