"""A card at a time, with a student beside the teacher."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.school.delivery.public import sitting_of
from versomark.school.http import json_out, teacher_of

from . import services
from .schemas import AnotherTry, CardSaid

router = Router(tags=["one to one"])


@router.get("/sittings/{int:sitting_id}/one-to-one", response=services.CardsPage)
def cards(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """The cards, how far each student is, and whom to call next."""
    return json_out(services.cards_page(sitting_of(teacher_of(request), sitting_id)))


@router.put("/sittings/{int:sitting_id}/one-to-one/{int:seat_id}", response=services.CardsPage)
def say(request: HttpRequest, sitting_id: int, seat_id: int, body: CardSaid) -> HttpResponse:
    """What came of one card."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "mark")
    services.say(teacher, sitting, seat_id, body.item, body.known, body.note)
    return json_out(services.cards_page(sitting_of(teacher, sitting_id)))


@router.post("/sittings/{int:sitting_id}/one-to-one/again", response=AnotherTry)
def again(request: HttpRequest, sitting_id: int) -> AnotherTry:
    """Another try with the same cards."""
    teacher = teacher_of(request)
    return AnotherTry(sitting=services.again(teacher, sitting_of(teacher, sitting_id, "run")).pk)
