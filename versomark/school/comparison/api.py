"""Comparing answers in pairs: for its head, and for its judges, who know pieces by numbers of chance."""

from pathlib import Path

from django.http import FileResponse, HttpRequest, HttpResponse
from ninja import Router

from versomark.core.items.by_rubric import ByRubric
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher, colleagues_of
from versomark.school.delivery.public import sitting_of
from versomark.school.grading.public import (
    by_hand,
    could_join,
    file_of,
    handwriting_of,
    names_hidden,
    number_of,
    page_of,
    preview_of,
    work_of,
)
from versomark.school.grading.schemas import FilePreview
from versomark.school.http import Done, attachment, played, teacher_of
from versomark.school.responses.public import responses_of

from . import services
from .models import Comparison, Judge, Piece
from .schemas import (
    AnchorBody,
    ComparedQuestion,
    ComparisonBody,
    ComparisonChange,
    ComparisonChoices,
    ComparisonClass,
    ComparisonColleague,
    ComparisonLine,
    ComparisonPage,
    CriterionChoice,
    JudgeLine,
    JudgementBody,
    MarksFromScale,
    MarksGiven,
    PairPage,
    PieceFile,
    PieceLine,
    PieceShown,
)

router = Router(tags=["comparing"])
SURPRISING = 2.6
"""Standard deviations; of a hundred judges who judge as all do, one is beyond it."""


def _colleagues(teacher: Teacher) -> list[ComparisonColleague]:
    return [ComparisonColleague(id=entry.pk, name=entry.name) for entry in (teacher, *colleagues_of(teacher))]


@router.get("/comparisons", response=list[ComparisonLine])
def all_comparisons(request: HttpRequest) -> list[ComparisonLine]:
    """Those that one leads or judges in, the open ones first."""
    teacher = teacher_of(request)
    lines = []
    for comparison in services.comparisons_of(teacher)[:60]:
        done = services.judged(comparison)
        lines.append(
            ComparisonLine(
                id=comparison.pk,
                title=comparison.edition.read().title,
                question=comparison.question,
                classes=_classes(comparison),
                head=comparison.head.name,
                leads=comparison.head_id == teacher.pk,
                judges=comparison.judges.filter(teacher=teacher, left_at=None).exists(),
                done=done.count(),
                wanted=services.wanted_in(comparison),
                mine=done.filter(judge__teacher=teacher).count(),
                ended=comparison.ended_at is not None,
            )
        )
    return sorted(lines, key=lambda line: line.ended)


def _classes(comparison: Comparison) -> list[str]:
    return list(comparison.sittings.order_by("pk").values_list("school_class__name", flat=True))


@router.get("/sittings/{int:sitting_id}/marking/comparing", response=ComparisonChoices)
def choices(request: HttpRequest, sitting_id: int) -> ComparisonChoices:
    """What could be compared, from this sitting on."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "mark")
    return ComparisonChoices(
        title=sitting.edition.read().title,
        questions=[
            ComparedQuestion(
                ref=ref,
                number=number_of(sitting, ref),
                words=plain(item.content.stem)[:80],
                criteria=[
                    CriterionChoice(id=criterion.id, name=criterion.name, max=criterion.max)
                    for criterion in item.content.rubric.criteria
                ],
            )
            for ref, item in by_hand(sitting).items()
            if isinstance(item.content, ByRubric)
        ],
        sittings=[
            ComparisonClass(sitting=other.pk, class_name=other.school_class.name)
            for other in could_join(teacher, sitting)
        ],
        colleagues=_colleagues(teacher),
    )


@router.post("/comparisons", response=ComparisonPage)
def begin(request: HttpRequest, body: ComparisonBody) -> ComparisonPage:
    """Put the answers to a question before judges."""
    teacher = teacher_of(request)
    return _page(teacher, services.begin(teacher, services.Plan(**body.model_dump())))


@router.get("/comparisons/{int:comparison_id}", response=ComparisonPage)
def comparison(request: HttpRequest, comparison_id: int) -> ComparisonPage:
    """The scale so far, for its head."""
    teacher = teacher_of(request)
    return _page(teacher, services.led_by(teacher, comparison_id))


@router.put("/comparisons/{int:comparison_id}", response=ComparisonPage)
def change(request: HttpRequest, comparison_id: int, body: ComparisonChange) -> ComparisonPage:
    """Who judges, and how often each piece is compared."""
    teacher = teacher_of(request)
    return _page(teacher, services.change(teacher, comparison_id, body.judges, body.each))


@router.delete("/comparisons/{int:comparison_id}", response=Done)
def end(request: HttpRequest, comparison_id: int) -> Done:
    """No more pairs; the scale stays."""
    services.end(teacher_of(request), comparison_id)
    return Done()


@router.put("/comparisons/{int:comparison_id}/pieces/{int:number}/anchor", response=ComparisonPage)
def anchor(request: HttpRequest, comparison_id: int, number: int, body: AnchorBody) -> ComparisonPage:
    """The mark that a piece is known to deserve, or none."""
    teacher = teacher_of(request)
    services.anchor(teacher, comparison_id, number, body.points)
    return _page(teacher, services.led_by(teacher, comparison_id))


@router.post("/comparisons/{int:comparison_id}/marks", response=MarksGiven)
def make_marks(request: HttpRequest, comparison_id: int, body: MarksFromScale) -> MarksGiven:
    """Give each piece the mark of its place on the scale, or only count what that would do."""
    return MarksGiven(**services.make_marks(teacher_of(request), comparison_id, body.really)._asdict())


def _page(teacher: Teacher, comparison: Comparison) -> ComparisonPage:
    scale = services.scale_of(comparison)
    sitting = comparison.sittings.select_related("edition").order_by("pk")[0]
    content = by_hand(sitting)[comparison.item].content
    rubric = content.rubric if isinstance(content, ByRubric) else None
    criterion = next(entry for entry in rubric.criteria if entry.id == comparison.criterion) if rubric else None
    # Whoever judges knows pieces by their numbers until the end.
    judges_now = comparison.ended_at is None and any(
        entry.judge.teacher_id == teacher.pk and entry.judge.left_at is None for entry in scale.judges
    )
    hidden = judges_now or any(names_hidden(other) for other in comparison.sittings.all())
    return ComparisonPage(
        id=comparison.pk,
        title=comparison.edition.read().title,
        question=comparison.question,
        number=number_of(sitting, comparison.item),
        criterion=criterion.name if criterion else "",
        most=criterion.max if criterion else 0,
        classes=_classes(comparison),
        each=comparison.each,
        not_own=comparison.not_own,
        ended_at=comparison.ended_at,
        done=scale.done,
        wanted=scale.wanted,
        separation=scale.separation,
        pieces=[
            PieceLine(
                number=entry.piece.number,
                name="" if hidden else entry.piece.seat.student.short_name,
                class_name=entry.piece.seat.sitting.school_class.name,
                measure=entry.measure,
                error=entry.error,
                comparisons=entry.fit.comparisons,
                divides=entry.fit.surprise is not None and entry.fit.surprise > SURPRISING,
                points=entry.piece.points,
                mark=entry.mark,
            )
            for entry in scale.pieces
        ],
        judges=[
            JudgeLine(
                teacher=entry.judge.teacher_id,
                name=entry.judge.teacher.name,
                left=entry.judge.left_at is not None,
                comparisons=entry.fit.comparisons,
                seconds=entry.seconds,
                differs=entry.fit.surprise is not None and entry.fit.surprise > SURPRISING,
            )
            for entry in scale.judges
        ],
        why_no_marks=scale.why_no_marks,
        colleagues=_colleagues(teacher),
    )


@router.post("/comparisons/{int:comparison_id}/pair", response=PairPage)
def pair(request: HttpRequest, comparison_id: int) -> PairPage:
    """The two that lie before one, or the next two."""
    return _pair(services.judge_in(teacher_of(request), comparison_id))


@router.put("/comparisons/{int:comparison_id}/pair", response=PairPage)
def judge(request: HttpRequest, comparison_id: int, body: JudgementBody) -> PairPage:
    """Say which is the better one; answers with the next two."""
    who = services.judge_in(teacher_of(request), comparison_id)
    services.judge_pair(who, body.better, body.worse)
    return _pair(who)


@router.delete("/comparisons/{int:comparison_id}/pair", response=PairPage)
def take_back(request: HttpRequest, comparison_id: int) -> PairPage:
    """One's last judgement; the two lie before one again."""
    who = services.judge_in(teacher_of(request), comparison_id)
    services.take_back(who)
    return _pair(who)


def _pair(who: Judge) -> PairPage:
    now, comparison = services.pair_for(who), who.comparison
    done = services.judged(comparison)
    sitting = comparison.sittings.select_related("edition").order_by("pk")[0]
    return PairPage(
        id=comparison.pk,
        title=comparison.edition.read().title,
        question=comparison.question,
        stem=by_hand(sitting)[comparison.item].content.stem,
        mine=done.filter(judge=who).count(),
        done=done.count(),
        wanted=services.wanted_in(comparison),
        ended=comparison.ended_at is not None,
        left=_shown(now.left) if now else None,
        right=_shown(now.right) if now else None,
    )


def _shown(piece: Piece) -> PieceShown:
    response = responses_of([piece.seat_id])[str(piece.seat_id)].get(piece.comparison.item)
    seen = work_of(response, True)
    return PieceShown(
        number=piece.number,
        text=seen.text,
        words=seen.words,
        by_hand=seen.by_hand,
        files=[PieceFile(**file._asdict()) for file in seen.files],
    )


def _piece(request: HttpRequest, comparison_id: int, number: int) -> Piece:
    return services.piece_before(teacher_of(request), comparison_id, number)


@router.get("/comparisons/{int:comparison_id}/pieces/{int:number}", response=PieceShown)
def piece(request: HttpRequest, comparison_id: int, number: int) -> PieceShown:
    return _shown(_piece(request, comparison_id, number))


@router.get("/comparisons/{int:comparison_id}/pieces/{int:number}/handwriting.jpg", response={200: None})
def handwriting(request: HttpRequest, comparison_id: int, number: int) -> HttpResponse:
    piece = _piece(request, comparison_id, number)
    item = piece.comparison.item
    response = responses_of([piece.seat_id])[str(piece.seat_id)].get(item)
    return HttpResponse(handwriting_of(piece.seat, item, response), content_type="image/jpeg")


def _file(request: HttpRequest, comparison_id: int, number: int, place: int) -> tuple[Path, str]:
    piece = _piece(request, comparison_id, number)
    response = responses_of([piece.seat_id])[str(piece.seat_id)].get(piece.comparison.item)
    return file_of(piece.seat, response, place), work_of(response, True).files[place - 1].name


@router.get("/comparisons/{int:comparison_id}/pieces/{int:number}/files/{int:place}", response={200: None})
def file(request: HttpRequest, comparison_id: int, number: int, place: int) -> FileResponse:
    """As an attachment only, whatever it is."""
    return attachment(_file(request, comparison_id, number, place))


@router.get("/comparisons/{int:comparison_id}/pieces/{int:number}/files/{int:place}/played", response={200: None})
def file_played(request: HttpRequest, comparison_id: int, number: int, place: int) -> HttpResponse | FileResponse:
    """Sound or a film, to hear or to look at."""
    return played(request, _file(request, comparison_id, number, place))


@router.get("/comparisons/{int:comparison_id}/pieces/{int:number}/files/{int:place}/preview", response=FilePreview)
def preview(request: HttpRequest, comparison_id: int, number: int, place: int) -> FilePreview:
    return FilePreview(**preview_of(*_file(request, comparison_id, number, place))._asdict())


@router.get(
    "/comparisons/{int:comparison_id}/pieces/{int:number}/files/{int:place}/pages/{int:page}.jpg", response={200: None}
)
def preview_page(request: HttpRequest, comparison_id: int, number: int, place: int, page: int) -> HttpResponse:
    path, _name = _file(request, comparison_id, number, place)
    return HttpResponse(page_of(path, page), content_type="image/jpeg")
