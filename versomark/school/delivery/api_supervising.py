"""What the teacher does with those who sit, one or all, and what has been done."""

from django.http import HttpRequest
from ninja import Router

from versomark.school.http import teacher_of

from . import supervising
from .events import event_words
from .models import SeatState, TimeAway
from .queries import sitting_of
from .schemas import ActForAll, AwayLine, EventLine, SeatAct, SittingPage, page_of

router = Router(tags=["supervising"])


@router.post("/sittings/{int:sitting_id}/seats/{int:seat_id}/acts", response=SittingPage)
def act(request: HttpRequest, sitting_id: int, seat_id: int, body: SeatAct) -> SittingPage:
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "run")
    seat = supervising.seat_in(sitting, seat_id)
    match body.act:
        case "let in":
            supervising.let_in(teacher, sitting, [seat])
        case "turn away":
            supervising.turn_away(teacher, seat)
        case "pause":
            supervising.pause(teacher, seat)
        case "resume":
            supervising.resume(teacher, seat)
        case "give time":
            supervising.give_minutes(teacher, sitting, [seat], body.minutes)
        case "reopen":
            supervising.reopen(teacher, seat, body.minutes, body.comment)
        case "hand in":
            supervising.hand_in_for(teacher, seat)
        case "sit now":
            supervising.sit_now(teacher, seat, body.form)
        case "lock" | "unlock":
            supervising.lock(teacher, sitting, [seat], body.act == "lock")
        case "move":
            supervising.move_device(teacher, seat, supervising.seat_in(sitting, body.to or 0))
    return page_of(sitting_of(teacher, sitting_id))


@router.post("/sittings/{int:sitting_id}/acts", response=SittingPage)
def act_for_all(request: HttpRequest, sitting_id: int, body: ActForAll) -> SittingPage:
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "run")
    seats = list(sitting.seats.select_related("student", "sitting"))
    if body.act == "let in":
        supervising.let_in(teacher, sitting, [seat for seat in seats if seat.state == SeatState.AT_THE_DOOR])
    elif body.act == "give time":
        supervising.give_minutes(teacher, sitting, seats, body.minutes)
    else:
        supervising.lock(teacher, sitting, seats, body.act == "lock")
    return page_of(sitting_of(teacher, sitting_id))


@router.get("/sittings/{int:sitting_id}/events", response=list[EventLine])
def events(request: HttpRequest, sitting_id: int) -> list[EventLine]:
    """What was done with the sitting, the latest first."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    return [
        EventLine(
            at=event.at,
            by=event.by.name if event.by else "",
            name=event.seat.student.short_name if event.seat else "",
            says=event_words(event),
        )
        for event in sitting.events.select_related("by", "seat__student")[:300]
    ]


@router.get("/sittings/{int:sitting_id}/seats/{int:seat_id}/away", response=list[AwayLine])
def times_away(request: HttpRequest, sitting_id: int, seat_id: int) -> list[AwayLine]:
    """When a student left the page, and for how long."""
    seat = supervising.seat_in(sitting_of(teacher_of(request), sitting_id), seat_id)
    return [
        AwayLine(left_at=time_away.left_at, seconds=time_away.seconds)
        for time_away in TimeAway.objects.filter(seat=seat)[:300]
    ]
