from django.http import HttpRequest
from ninja import Router

from versomark.core.items.by_rubric import ByRubric
from versomark.core.language import _
from versomark.core.text import plain
from versomark.school.delivery.public import sitting_of
from versomark.school.errors import NotFound
from versomark.school.http import Done, teacher_of

from . import key_decisions as settling
from .models import WaivedItem
from .queries import key_decisions_in
from .schemas_key_decisions import (
    AnswerToDecide,
    CriterionToDecide,
    DecisionBody,
    EffectPage,
    KeyDecisionPage,
    KeyDecisionRequest,
    MovedLine,
    OtherSittingToDecide,
)

router = Router(tags=["settling"])


def _decision(item: str, body: DecisionBody) -> settling.Decision:
    return settling.Decision(item, frozenset(body.accepted), body.everybody, body.left_out, body.weights)


@router.get("/sittings/{int:sitting_id}/settling/{item}", response=KeyDecisionPage)
def to_settle(request: HttpRequest, sitting_id: int, item: str) -> KeyDecisionPage:
    sitting = sitting_of(teacher_of(request), sitting_id)
    placed = next((entry for entry in sitting.edition.read().items() if entry.ref == item), None)
    if placed is None:
        raise NotFound(_("question"))
    content = placed.content
    holds = key_decisions_in([sitting])[sitting.pk].get(item)
    left_out = WaivedItem.objects.filter(sitting=sitting, item=item).select_related("by").first()
    standing_decision = left_out or holds
    listed = content.answers() if content.exclusive and content.marked_by == "key" else []
    accepted = set(holds.accepted) if holds and not holds.everybody else {entry.id for entry in listed if entry.key}
    return KeyDecisionPage(
        answers=[
            AnswerToDecide(id=entry.id, letter=entry.letter, text=plain(entry.text), right=entry.id in accepted)
            for entry in listed
        ],
        criteria=[
            CriterionToDecide(
                id=criterion.id,
                name=criterion.name,
                max=criterion.max,
                weight=(holds.weights if holds else {}).get(criterion.id, criterion.max),
            )
            for criterion in (content.rubric.criteria if isinstance(content, ByRubric) else [])
        ],
        others=[
            OtherSittingToDecide(sitting=entry.pk, class_name=entry.school_class.name, held_on=settling.held_on(entry))
            for entry in settling.same_paper(teacher_of(request), sitting)
        ],
        in_bank=content.in_bank and teacher_of(request).items.filter(pk=item).exists(),
        bank_follows=settling.bank_item_that_follows(teacher_of(request), placed) is not None,
        everybody=bool(holds and holds.everybody),
        left_out=left_out is not None,
        by_key=standing_decision is None,
        reason=standing_decision.reason if standing_decision else "",
        by=standing_decision.by.name if standing_decision else "",
        at=standing_decision.at if standing_decision else None,
    )


@router.post("/sittings/{int:sitting_id}/settling/{item}/effect", response=EffectPage)
def effect(request: HttpRequest, sitting_id: int, item: str, body: DecisionBody) -> EffectPage:
    """Whose total would change, the mean and the reliability; nothing is changed."""
    results = settling.effect_of(sitting_of(teacher_of(request), sitting_id, "mark"), _decision(item, body))
    return EffectPage(
        moved=[
            MovedLine(
                desk=entry.seat.desk,
                name=entry.seat.student.short_name,
                before=entry.before,
                after=entry.after,
                band_before=entry.band_before,
                band_after=entry.band_after,
            )
            for entry in results.moved
        ],
        students=results.students,
        mean_before=results.mean[0],
        mean_after=results.mean[1],
        alpha_before=results.alpha[0],
        alpha_after=results.alpha[1],
        of_before=results.of[0],
        of_after=results.of[1],
    )


@router.post("/sittings/{int:sitting_id}/settling/{item}", response=Done)
def settle(request: HttpRequest, sitting_id: int, item: str, body: KeyDecisionRequest) -> Done:
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "mark")
    settling.settle_all(teacher, sitting, body.also, _decision(item, body), body.reason, body.bank)
    return Done()


@router.delete("/sittings/{int:sitting_id}/settling/{item}", response=Done)
def take_back(request: HttpRequest, sitting_id: int, item: str) -> Done:
    """The key holds again."""
    teacher = teacher_of(request)
    settling.take_back(teacher, sitting_of(teacher, sitting_id, "mark"), item)
    return Done()
