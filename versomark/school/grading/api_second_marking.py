"""The second marker: what is marked twice, and how far two markers agree."""

from django.http import HttpRequest
from ninja import Router

from versomark.core.language import _
from versomark.core.stats import Agreement, Estimate
from versomark.school.delivery.public import sitting_of
from versomark.school.http import Done, teacher_of

from . import second_marking as second
from . import services
from .queries import procedure_of, rubric_item
from .schemas import AgreementLine, EstimateLine, MarkerLine, QuestionCompared, SecondBody, SecondPage

router = Router(tags=["marking"])


@router.get("/sittings/{int:sitting_id}/marking/second", response=SecondPage)
def second_marks(request: HttpRequest, sitting_id: int) -> SecondPage:
    """What is marked twice, what of it is left, and how far first and second marks agree."""
    sitting = sitting_of(teacher_of(request), sitting_id, "mark")
    plan = procedure_of(sitting)
    second_left, agree_left = second.left_in(sitting)
    return SecondPage(
        plan=SecondBody(**{name: getattr(plan, name) for name in SecondBody.model_fields}) if plan else None,
        says=second.in_words(plan) if plan else "",
        second_left=second_left,
        agree_left=agree_left,
        questions=[
            QuestionCompared(
                ref=entry.ref,
                number=services.number_of(sitting, entry.ref),
                whole=_line(_("The whole mark"), entry.whole),
                criteria=[
                    _line(criterion.name, figures)
                    for criterion, figures in zip(
                        rubric_item(sitting, entry.ref)[1].rubric.criteria, entry.criteria, strict=True
                    )
                ],
                markers=[MarkerLine(name=who.name, marks=who.marks, severity=who.points) for who in entry.markers],
            )
            for entry in (second.compared(sitting) if plan else [])
        ],
    )


@router.put("/sittings/{int:sitting_id}/marking/second", response=SecondPage)
def plan_second(request: HttpRequest, sitting_id: int, body: SecondBody) -> SecondPage:
    """Have answers marked a second time, or change which."""
    teacher = teacher_of(request)
    second.plan_second(teacher, sitting_of(teacher, sitting_id, "mark"), second.Plan(**body.model_dump()))
    return second_marks(request, sitting_id)


@router.delete("/sittings/{int:sitting_id}/marking/second", response=Done)
def end_second(request: HttpRequest, sitting_id: int) -> Done:
    """The first marks count alone again."""
    teacher = teacher_of(request)
    second.end_second(teacher, sitting_of(teacher, sitting_id, "mark"))
    return Done()


def _line(name: str, agreement: Agreement) -> AgreementLine:
    def estimate(figure: Estimate | None) -> EstimateLine | None:
        return EstimateLine(value=figure.value, low=figure.low, high=figure.high) if figure else None

    return AgreementLine(
        name=name,
        answers=agreement.answers,
        exact=agreement.exact,
        adjacent=agreement.adjacent,
        difference=agreement.difference,
        kappa=estimate(agreement.kappa),
        icc=estimate(agreement.icc),
        alpha=agreement.alpha,
        reasons=agreement.reasons,
    )
