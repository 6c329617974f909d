"""What the teacher does with those who sit, one or all, and what has been done."""

from datetime import datetime
from typing import Literal

from django.http import HttpRequest
from ninja import Field, Router, Schema

from versomark.school.http import teacher_of

from . import attempts, services, supervising
from .api import SittingPage, page_of
from .models import SeatState, TimeAway

router = Router(tags=["supervising"])

Act = Literal[
    "let in", "turn away", "pause", "resume", "give time", "reopen", "hand in", "sit now", "move", "lock", "unlock"
]


class SeatAct(Schema):
    act: Act
    minutes: int = Field(0, ge=-600, le=600)
    """More time, where that is what it is about."""
    comment: str = Field("", max_length=500)
    """What is to be revised, where work is given back."""
    to: int | None = None
    """The seat that somebody is moved to."""
    form: str = Field("", max_length=1)
    """Of the paper, where somebody sits it later than the others; empty for the one that was planned."""


class ActForAll(Schema):
    act: Literal["let in", "give time", "lock", "unlock"]
    minutes: int = Field(0, ge=-600, le=600)


class EventLine(Schema):
    at: datetime
    by: str
    """Empty where the clock did it."""
    name: str
    """Whom it was about; empty for all."""
    says: str


class AttemptLine(Schema):
    number: int
    handed_in_at: datetime | None
    total: float
    of: float


class AwayLine(Schema):
    left_at: datetime
    seconds: int


@router.post("/sittings/{int:sitting_id}/seats/{int:seat_id}/acts", response=SittingPage)
def act(request: HttpRequest, sitting_id: int, seat_id: int, body: SeatAct) -> SittingPage:
    teacher = teacher_of(request)
    sitting = services.sitting_of(teacher, sitting_id, "run")
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
    return page_of(services.sitting_of(teacher, sitting_id))


@router.post("/sittings/{int:sitting_id}/acts", response=SittingPage)
def act_for_all(request: HttpRequest, sitting_id: int, body: ActForAll) -> SittingPage:
    teacher = teacher_of(request)
    sitting = services.sitting_of(teacher, sitting_id, "run")
    seats = list(sitting.seats.select_related("student", "sitting"))
    if body.act == "let in":
        supervising.let_in(teacher, sitting, [seat for seat in seats if seat.state == SeatState.AT_THE_DOOR])
    elif body.act == "give time":
        supervising.give_minutes(teacher, sitting, seats, body.minutes)
    else:
        supervising.lock(teacher, sitting, seats, body.act == "lock")
    return page_of(services.sitting_of(teacher, sitting_id))


@router.get("/sittings/{int:sitting_id}/events", response=list[EventLine])
def events(request: HttpRequest, sitting_id: int) -> list[EventLine]:
    """What was done with the sitting, the latest first."""
    sitting = services.sitting_of(teacher_of(request), sitting_id)
    return [
        EventLine(
            at=event.at,
            by=event.by.name if event.by else "",
            name=event.seat.student.short_name if event.seat else "",
            says=event.says,
        )
        for event in sitting.events.select_related("by", "seat__student")[:300]
    ]


@router.get("/sittings/{int:sitting_id}/seats/{int:seat_id}/attempts", response=list[AttemptLine])
def earlier_attempts(request: HttpRequest, sitting_id: int, seat_id: int) -> list[AttemptLine]:
    """What a student handed in before the attempt that counts."""
    seat = supervising.seat_in(services.sitting_of(teacher_of(request), sitting_id), seat_id)
    return [
        AttemptLine(
            number=earlier_attempt.attempt.number,
            handed_in_at=earlier_attempt.attempt.handed_in_at,
            total=earlier_attempt.total,
            of=earlier_attempt.of,
        )
        for earlier_attempt in attempts.earlier_attempts(seat)
    ]


@router.get("/sittings/{int:sitting_id}/seats/{int:seat_id}/away", response=list[AwayLine])
def times_away(request: HttpRequest, sitting_id: int, seat_id: int) -> list[AwayLine]:
    """When a student left the page, and for how long."""
    seat = supervising.seat_in(services.sitting_of(teacher_of(request), sitting_id), seat_id)
    return [
        AwayLine(left_at=time_away.left_at, seconds=time_away.seconds)
        for time_away in TimeAway.objects.filter(seat=seat)[:300]
    ]
