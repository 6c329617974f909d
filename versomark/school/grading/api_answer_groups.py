"""Same answers together. Students are known by number here, never by seat: see `numbers`."""

from django.http import HttpRequest
from ninja import Router

from versomark.core.scoring import AnswerGroup
from versomark.school.delivery.public import Sitting, sitting_of
from versomark.school.http import teacher_of

from . import answer_groups, numbers, services
from .schemas_answer_groups import AddedToKey, AlikeLine, SameBody, SameLine, SamePage, TypedQuestion

router = Router(tags=["marking"])


def _page(sitting: Sitting, ref: str) -> SamePage:
    item = answer_groups.typed_item(sitting, ref)
    seats = numbers.numbered(sitting)
    number_of = {str(seat.pk): number for number, seat in seats.items()}
    hidden = numbers.names_hidden(sitting)

    def line(answer_group: AnswerGroup) -> SameLine:
        return SameLine(
            part=answer_group.part,
            compared=answer_group.compared,
            typed=list(answer_group.typed),
            numbers=sorted(number_of[name] for name in answer_group.names),
            share=answer_group.share,
            by_key=answer_group.by_key,
            judged=answer_group.judged,
        )

    return SamePage(
        sitting=sitting.pk,
        title=sitting.edition.read().title,
        class_name=sitting.school_class.name,
        names={} if hidden else {number: seat.student.short_name for number, seat in seats.items()},
        questions=[
            TypedQuestion(ref=typed_item, number=services.number_of(sitting, typed_item))
            for typed_item in answer_groups.typed_items(sitting)
        ],
        ref=ref,
        number=services.number_of(sitting, ref),
        stem=item.content.stem,
        text=getattr(item.content, "text", ""),
        marks=item.content.marks,
        key=item.content.key_words(),
        compares=item.content.compares(),
        groups=[
            AlikeLine(
                part=group.part,
                marks=group.answers[0].marks,
                students=group.students,
                answers=[line(answer) for answer in group.answers],
            )
            for group in answer_groups.groups_of(sitting, ref)
        ],
        for_the_key=len(answer_groups.for_the_key(sitting, ref)),
    )


@router.get("/sittings/{int:sitting_id}/marking/{item}/same", response=SamePage)
def same_answers(request: HttpRequest, sitting_id: int, item: str) -> SamePage:
    """What was typed to a question, equal and nearly equal answers together."""
    return _page(sitting_of(teacher_of(request), sitting_id, "mark"), item)


@router.put("/sittings/{int:sitting_id}/marking/{item}/same", response=SamePage)
def judge_same(request: HttpRequest, sitting_id: int, item: str, body: SameBody) -> SamePage:
    """Everybody who typed one of these answers gets this share of the marks."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "mark")
    answers = [answer_groups.Answer(answer.part, answer.compared) for answer in body.answers]
    answer_groups.judge(teacher, sitting, item, answers, body.share)
    return _page(sitting, item)


@router.post("/sittings/{int:sitting_id}/marking/{item}/same/to-key", response=AddedToKey)
def into_the_key(request: HttpRequest, sitting_id: int, item: str) -> AddedToKey:
    """Answers judged right become accepted ones of the question in the bank."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "mark")
    return AddedToKey(added=answer_groups.into_the_key(teacher, sitting, item))
