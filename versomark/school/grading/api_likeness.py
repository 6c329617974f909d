"""Like answers at the marking desk."""

from django.http import HttpRequest
from ninja import Router, Schema

from versomark.school.delivery.public import sitting_of
from versomark.school.http import teacher_of

from . import door, likeness, numbers
from .answers_alike import like_together
from .models import PileNumber
from .queries import rubric_item, scaled
from .schemas import TurnName

router = Router(tags=["marking"])
LONGEST = 280


class LikeAnswerLine(Schema):
    number: int
    text: str
    marks: float
    comment: str
    alike: float


class NearestAgreeLine(Schema):
    """How often the nearest answer has the same mark, of marked answers that were held out."""

    answers: int
    same: float
    within: float
    by_chance: float


class LikeAnswers(Schema):
    nearest: list[LikeAnswerLine]
    agree: NearestAgreeLine | None


@router.get("/sittings/{int:sitting_id}/marking/{item}/order", response=list[int])
def like_order(request: HttpRequest, sitting_id: int, item: str) -> list[int]:
    """Numbers in an order in which like answers follow one another."""
    sitting = sitting_of(teacher_of(request), sitting_id, "mark")
    rubric_item(sitting, item)
    numbered = {seat.pk: number for number, seat in numbers.numbered(sitting).items()}
    return [numbered[seat] for seat in like_together(item, list(numbered))]


@router.get("/sittings/{int:sitting_id}/marking/{item}/{int:number}/like", response=LikeAnswers)
def like(request: HttpRequest, sitting_id: int, item: str, number: int, turn: TurnName = "first") -> LikeAnswers:
    """The nearest answers that have a mark, and how far the nearest can be relied on."""
    teacher = teacher_of(request)
    at = door.at_work(teacher, sitting_id, number, turn, item)
    content = rubric_item(at.sitting, item)[1]
    if at.marker is not None:
        numbered = dict(PileNumber.objects.filter(pile=at.marker.pile_id).values_list("seat", "number"))
    else:
        numbered = {seat.pk: known for known, seat in numbers.numbered(at.sitting).items()}
    agree = likeness.how_often_they_agree(teacher, at, item)
    return LikeAnswers(
        nearest=[
            LikeAnswerLine(
                number=numbered[entry.seat],
                text=entry.text if len(entry.text) <= LONGEST else entry.text[:LONGEST] + "…",
                marks=scaled(content, entry.mark) or 0.0,
                comment=entry.mark.comment,
                alike=entry.alike,
            )
            for entry in likeness.nearest_marked(teacher, at, item)
            if entry.seat in numbered
        ],
        agree=NearestAgreeLine(answers=agree.answers, same=agree.same, within=agree.within, by_chance=agree.by_chance)
        if agree
        else None,
    )
