"""Shared piles: making one, leading it, and marking in it. The answers themselves are asked for and marked where all
others are, in the reading `pile`."""

from django.http import HttpRequest
from ninja import Router

from versomark.core.language import _
from versomark.school.delivery.public import sitting_of
from versomark.school.errors import NotFound
from versomark.school.http import Done, teacher_of

from . import numbers, pile_checks, pile_desk, piles
from .schemas_piles import (
    AdjustBody,
    AdjustmentEffect,
    AgreeBody,
    HandedOver,
    PileBody,
    PileChoices,
    PileDesk,
    PileLine,
    PilePage,
    SendBackBody,
)

router = Router(tags=["shared piles"])


def _plan(body: PileBody) -> piles.PilePlan:
    fields = {name: getattr(body, name) for name in PileBody.model_fields if name != "markers"}
    return piles.PilePlan(markers=[piles.MarkerPlan(**marker.model_dump()) for marker in body.markers], **fields)


@router.get("/piles", response=list[PileLine])
def all_piles(request: HttpRequest) -> list[PileLine]:
    """Those that one leads or marks in."""
    return pile_desk.waiting_piles(teacher_of(request))


@router.get("/sittings/{int:sitting_id}/marking/pile", response=PileChoices)
def choices(request: HttpRequest, sitting_id: int) -> PileChoices:
    """What could be shared out, from this sitting on, and to whom."""
    teacher = teacher_of(request)
    return pile_desk.choices_for(teacher, sitting_of(teacher, sitting_id, "mark"))


@router.post("/piles", response=PilePage)
def make(request: HttpRequest, body: PileBody) -> PilePage:
    """Share the answers of one or several sittings out."""
    teacher = teacher_of(request)
    return pile_desk.pile_page(teacher, piles.make_pile(teacher, _plan(body)))


@router.get("/piles/{int:pile_id}", response=PilePage)
def pile(request: HttpRequest, pile_id: int) -> PilePage:
    """For its head."""
    teacher = teacher_of(request)
    return pile_desk.pile_page(teacher, piles.led_by(teacher, pile_id))


@router.put("/piles/{int:pile_id}", response=PilePage)
def change(request: HttpRequest, pile_id: int, body: PileBody) -> PilePage:
    """What is marked stays with whoever marked it; the rest is dealt anew."""
    teacher = teacher_of(request)
    return pile_desk.pile_page(teacher, piles.change_pile(teacher, pile_id, _plan(body)))


@router.delete("/piles/{int:pile_id}", response=Done)
def end(request: HttpRequest, pile_id: int) -> Done:
    """No more is handed out; every mark stays."""
    piles.end_pile(teacher_of(request), pile_id)
    return Done()


@router.delete("/piles/{int:pile_id}/markers/{int:marker_id}", response=PilePage)
def hand_over(request: HttpRequest, pile_id: int, marker_id: int) -> PilePage:
    """What this marker has not marked goes to the others."""
    teacher = teacher_of(request)
    piles.hand_over(teacher, pile_id, marker_id)
    return pile_desk.pile_page(teacher, piles.led_by(teacher, pile_id))


@router.post("/piles/{int:pile_id}/agreed", response=PilePage)
def agree(request: HttpRequest, pile_id: int, body: AgreeBody) -> PilePage:
    """Use an answer that has its mark to see how close the markers are."""
    teacher = teacher_of(request)
    led = piles.led_by(teacher, pile_id)
    sitting = next((entry for entry in piles.sittings_in(led) if entry.pk == body.sitting), None)
    if sitting is None:
        raise NotFound(_("sitting"))
    pile_checks.agree_on(teacher, pile_id, numbers.seat_at(sitting, body.number), body.item, body.reason)
    return pile_desk.pile_page(teacher, led)


@router.delete("/piles/{int:pile_id}/agreed/{int:agreed_id}", response=PilePage)
def agree_no_more(request: HttpRequest, pile_id: int, agreed_id: int) -> PilePage:
    teacher = teacher_of(request)
    pile_checks.agree_no_more(teacher, pile_id, agreed_id)
    return pile_desk.pile_page(teacher, piles.led_by(teacher, pile_id))


@router.post("/piles/{int:pile_id}/again", response=HandedOver)
def again(request: HttpRequest, pile_id: int, body: SendBackBody) -> HandedOver:
    """Ask a marker to look again at what they marked."""
    answers = pile_checks.send_back(teacher_of(request), pile_id, body.marker, body.items, body.reason)
    return HandedOver(answers=answers)


@router.post("/piles/{int:pile_id}/adjustments/effect", response=AdjustmentEffect)
def effect(request: HttpRequest, pile_id: int, body: AdjustBody) -> AdjustmentEffect:
    """What an adjustment would do; nothing is changed."""
    led = piles.led_by(teacher_of(request), pile_id)
    line = next(
        (line for line in pile_checks.close_in(led) if (line.marker.pk, line.item) == (body.marker, body.item)), None
    )
    if line is None or line.proposed is None:
        raise NotFound(_("adjustment"))
    effects = pile_checks.effect_of(led, line.marker, body.item, line.proposed)
    theirs = [mark for place, mark in piles.marked_in(led).items() if place[1] == body.item]
    changes = [entry.after - entry.before for entry in effects]
    return AdjustmentEffect(
        points=line.proposed,
        answers=len(effects),
        of=sum(mark.by_id == line.marker.teacher_id for mark in theirs),
        mean_change=sum(changes) / len(changes) if changes else 0.0,
        largest_change=max(changes, key=abs, default=0.0),
    )


@router.post("/piles/{int:pile_id}/adjustments", response=PilePage)
def adjust(request: HttpRequest, pile_id: int, body: AdjustBody) -> PilePage:
    """Take a marker's measured severity out of their marks of a question."""
    teacher = teacher_of(request)
    pile_checks.adjust(teacher, pile_id, body.marker, body.item)
    return pile_desk.pile_page(teacher, piles.led_by(teacher, pile_id))


@router.post("/piles/{int:pile_id}/adjustments/end", response=PilePage)
def adjust_no_more(request: HttpRequest, pile_id: int, body: AdjustBody) -> PilePage:
    """Their marks count as they were given."""
    teacher = teacher_of(request)
    pile_checks.adjust_no_more(teacher, pile_id, body.marker, body.item)
    return pile_desk.pile_page(teacher, piles.led_by(teacher, pile_id))


@router.get("/piles/{int:pile_id}/desk", response=PileDesk)
def desk(request: HttpRequest, pile_id: int) -> PileDesk:
    """What is in one's hands."""
    return pile_desk.pile_desk(piles.marker_in(teacher_of(request), pile_id))


@router.post("/piles/{int:pile_id}/desk", response=PileDesk)
def take(request: HttpRequest, pile_id: int) -> PileDesk:
    """Have the next answers handed out that nobody has, and keep what one has a while longer."""
    marker = piles.marker_in(teacher_of(request), pile_id)
    piles.take(marker)
    return pile_desk.pile_desk(marker)


@router.post("/piles/{int:pile_id}/practised", response=PileDesk)
def practised(request: HttpRequest, pile_id: int) -> PileDesk:
    """The sample answers are marked; the first answers are handed out."""
    teacher = teacher_of(request)
    pile_checks.practised(piles.marker_in(teacher, pile_id))
    marker = piles.marker_in(teacher, pile_id)
    piles.take(marker)
    return pile_desk.pile_desk(marker)
