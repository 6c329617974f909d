"""Response pads, as the teacher sees them: which are heard, at whose desk they are, and where receivers connect."""

from datetime import timedelta

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from versomark.core.language import _
from versomark.school.http import teacher_of

from . import pad_port, pads, services
from .models import Room
from .schemas import FreeDesk, PadDeskRequest, PadLine, PadsPage

router = Router(tags=["response pads"])
A_MONTH = timedelta(days=31)


@router.get("/sittings/{int:sitting_id}/room/pads", response=PadsPage)
def pads_page(request: HttpRequest, sitting_id: int) -> PadsPage:
    return _page(request, services.room_of(teacher_of(request), sitting_id))


@router.put("/sittings/{int:sitting_id}/room/pads/{int:pad}", response=PadsPage)
def tie(request: HttpRequest, sitting_id: int, pad: int, body: PadDeskRequest) -> PadsPage:
    """This pad is at this desk of the class from now on."""
    room = services.room_of(teacher_of(request), sitting_id, "run")
    pads.tie(room, pad, body.desk)
    return _page(request, room)


@router.post("/sittings/{int:sitting_id}/room/pads/key", response=PadsPage)
def change_key(request: HttpRequest, sitting_id: int) -> PadsPage:
    """Another key for this teacher's receivers."""
    room = services.room_of(teacher_of(request), sitting_id, "run")
    pads.change_key(teacher_of(request))
    return _page(request, room)


def _page(request: HttpRequest, room: Room) -> PadsPage:
    teacher = teacher_of(request)
    host, port = pad_port.address() or ("", None)
    seats = {seat.desk: seat for seat in room.sitting.seats.select_related("student")}
    desks = pads.desks_of(room)
    now = timezone.now()
    lines = [
        PadLine(
            pad=pad.number,
            desk=desk,
            name=seats[desk].student.short_name if desk in seats else "",
            battery=pad.battery,
            low=pad.battery is not None and pad.battery <= pads.LOW,
            heard=_ago(now - pad.last_heard),
            on=now - pad.last_heard < pads.SILENT,
            lost=desk in seats and pads.SILENT <= now - pad.last_heard < pads.TODAY,
        )
        for pad in pads.pads_heard(room)
        for desk in [desks(pad.number)]
        # The pads of this lesson, and a spare one that is on and may be given to a desk. Pads of other lessons of the
        # teacher, at nobody's desk here and silent, are no concern of this one.
        if (desk in seats and now - pad.last_heard < A_MONTH) or now - pad.last_heard < pads.SILENT
    ]
    own = room.sitting.owner_id == teacher.pk
    receiver = pads.receiver_of(teacher) if own else None
    here = pads.lesson_for(receiver) if receiver else None
    return PadsPage(
        sitting=room.sitting_id,
        class_name=room.sitting.school_class.name,
        connected=pad_port.connected(room.sitting.owner_id),
        host=host,
        port=port,
        key=receiver.key if receiver else "",
        pads=sorted(lines, key=lambda line: (not line.on, line.pad)),
        free_desks=[
            FreeDesk(desk=desk, name=seats[desk].student.short_name)
            for desk in sorted(set(seats) - {line.desk for line in lines if line.on})
        ],
        answers_here=here is not None and here.pk == room.pk,
    )


def _ago(time: timedelta) -> str:
    if time < pads.SILENT:
        return "now"
    if time < timedelta(hours=2):
        return _("{value} min ago", value=time // timedelta(minutes=1))
    return (
        _("{value} hours ago", value=time // timedelta(hours=1))
        if time < timedelta(days=2)
        else _("{days} days ago", days=time.days)
    )
