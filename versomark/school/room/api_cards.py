"""Folded cards: printing a class set, and the pictures of a camera."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.school.classes.public import class_of
from versomark.school.http import teacher_of

from . import cards, practice, services
from .schemas import CardDoubt, Look, Missing, SeenCard
from .wall import standing_now

router = Router(tags=["folded cards"])


@router.get("/cards/classes/{int:class_id}/print")
def print_cards(request: HttpRequest, class_id: int, paper: Literal["A4", "Letter"] = "A4") -> HttpResponse:
    """A class set to print on one side and fold."""
    school_class = class_of(teacher_of(request), class_id)
    response = HttpResponse(cards.print_cards(school_class, paper), content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="cards-{school_class.pk}.pdf"'
    return response


@router.post("/cards/{int:sitting_id}/pictures", response=Look)
def look(request: HttpRequest, sitting_id: int, still: bool = False) -> Look:
    """Read a JPEG or PNG, the body of the request. It is kept nowhere."""
    room = services.room_of(teacher_of(request), sitting_id, "run")
    result = cards.look(room, request.body, still)
    now = standing_now(room)
    by_desk = {seat.desk: seat for seat in now.seats}
    names = {desk: seat.student.short_name for desk, seat in by_desk.items()}
    # What the teacher has said for someone is no question any more.
    settled = {seat.desk for seat in now.seats if seat.pk in now.given and now.given[seat.pk].source == "teacher"}
    doubts = {desk: why for desk, why in result.doubts.items() if desk not in settled}

    def state(desk: int) -> Literal["in", "seen", "doubt"]:
        if desk in doubts or desk not in names:
            return "doubt"
        return "in" if desk in settled or desk in result.counted else "seen"

    return Look(
        width=result.size[0],
        height=result.size[1],
        seen=[
            SeenCard(
                desk=card.desk,
                name=names.get(card.desk, ""),
                letter=card.letter,
                corners=list(card.corners),
                state=state(card.desk),
            )
            for card in result.seen
        ],
        doubts=[
            CardDoubt(seat=by_desk[d].pk if d in by_desk else None, desk=d, name=names.get(d, ""), why=why)
            for d, why in sorted(doubts.items())
        ],
        missing=[
            Missing(seat=seat.pk, desk=seat.desk, name=names[seat.desk])
            for seat in now.seats
            if seat.pk not in now.given and seat.state not in cards.AWAY
        ],
        inside=len(now.given),
        new=len(result.new),
        note=result.note,
    )


@router.get("/cards/{int:sitting_id}/practice")
def practice_picture(request: HttpRequest, sitting_id: int, at: int = 0) -> HttpResponse:
    """In the demo school: what a camera before the practice class would see now, as JPEG."""
    room = services.room_of(teacher_of(request), sitting_id)
    return HttpResponse(practice.picture_of_class(room, at), content_type="image/jpeg")
