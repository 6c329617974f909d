"""What a marker sees and says on the work itself: previews of files, highlights, notes."""

from pathlib import Path

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.core.drafts import changed
from versomark.core.items.by_rubric import WrittenResponse
from versomark.core.language import _
from versomark.core.text import plain
from versomark.school.errors import NotFound
from versomark.school.http import teacher_of

from . import door, numbers, previews, remarks, services, stamps, work
from .models import READINGS, Mark, MarkingPass, Remark
from .queries import draft_before
from .schemas import DraftBefore, DraftPassage, FilePreview, MarkLine, RemarkLine, TurnName
from .schemas_remarks import RemarkChanges, RemarksChanged, StampBody, StampLine

router = Router(tags=["marking"])


def mark_line(mark: Mark, request: HttpRequest) -> MarkLine:
    return MarkLine(
        id=mark.pk,
        points=mark.points,
        comment=mark.comment,
        state=mark.state,  # type: ignore[arg-type]
        by=mark.by.name,
        mine=mark.by_id == teacher_of(request).pk,
        at=mark.at,
    )


def before_of(request: HttpRequest, at: door.AtWork, item: str, response: object) -> DraftBefore | None:
    mark = draft_before(at.seat, item, at.turn)
    if mark is None or not isinstance(response, WrittenResponse) or (text := work.written_then(mark)) is None:
        return None
    passages = changed(plain(text), plain(response.text))
    return DraftBefore(
        passages=[DraftPassage(fate=passage.fate, words=passage.words) for passage in passages],
        mark=mark_line(mark, request),
    )


def remark_line(remark: Remark, request: HttpRequest) -> RemarkLine:
    return RemarkLine(
        key=remark.key,
        place=remark.place,
        text=remark.text,
        criterion=remark.criterion,
        by=remark.by.name,
        mine=remark.by_id == teacher_of(request).pk,
        at=remark.at,
    )


def turns_seen(turn: MarkingPass) -> list[MarkingPass]:
    """Whose remarks a reader sees: each reads blind to the other, until two marks are to be agreed on."""
    return list(READINGS) if turn == MarkingPass.AGREED else [turn]


@router.patch("/sittings/{int:sitting_id}/marking/{item}/{int:number}/remarks", response=RemarksChanged)
def change_remarks(
    request: HttpRequest, sitting_id: int, item: str, number: int, body: RemarkChanges
) -> RemarksChanged:
    """Put remarks on an answer, and take own ones back."""
    teacher = teacher_of(request)
    at = door.at_work(teacher, sitting_id, number, body.turn, item)
    numbers.refuse_other_work(at.seat, item, body.work)
    added = [
        remarks.NewRemark(entry.key, entry.place, entry.text, entry.criterion, entry.replaces) for entry in body.added
    ]
    changed = remarks.change(teacher, at.seat, item, at.turn, added, body.gone)
    return RemarksChanged(added=[remark_line(remark, request) for remark in changed.added], gone=changed.gone)


@router.get("/sittings/{int:sitting_id}/marking/{item}/{int:number}/remarks", response=list[RemarkLine])
def remarks_then(
    request: HttpRequest, sitting_id: int, item: str, number: int, mark: int, turn: TurnName = "first"
) -> list[RemarkLine]:
    """What stood on the answer when a mark was given that somebody may see."""
    teacher = teacher_of(request)
    at = door.at_work(teacher, sitting_id, number, turn, item)
    given = at.seat.marks.filter(item=item, pk=mark, turn__in=turns_seen(at.turn)).first()
    if given is None or (at.checks and given.by_id != teacher.pk):
        raise NotFound(_("mark"))
    seen = remarks.remarks_when(at.seat, item, turns_seen(at.turn), given)
    return [remark_line(remark, request) for remark in seen if not at.checks or remark.by_id == teacher.pk]


@router.get("/marking/stamps", response=list[StampLine])
def own_stamps(request: HttpRequest) -> list[StampLine]:
    """Words that one stamps on answers."""
    return [StampLine(id=stamp.pk, words=stamp.words) for stamp in stamps.stamps_of(teacher_of(request))]


@router.post("/marking/stamps", response=list[StampLine])
def add_stamp(request: HttpRequest, body: StampBody) -> list[StampLine]:
    stamps.add(teacher_of(request), body.words)
    return own_stamps(request)


@router.delete("/marking/stamps/{int:stamp_id}", response=list[StampLine])
def remove_stamp(request: HttpRequest, stamp_id: int) -> list[StampLine]:
    """What was stamped with it stays."""
    stamps.remove(teacher_of(request), stamp_id)
    return own_stamps(request)


def _file(
    request: HttpRequest, sitting_id: int, item: str, number: int, place: int, turn: TurnName
) -> tuple[Path, str]:
    at = door.at_work(teacher_of(request), sitting_id, number, turn, item)
    response = services.responses_in(at.sitting, [at.seat])[at.seat.pk].get(item)
    return work.file_of(at.seat, response, place), work.work_of(response, True).files[place - 1].name


@router.get("/sittings/{int:sitting_id}/marking/{item}/{int:number}/files/{int:place}/preview", response=FilePreview)
def preview(
    request: HttpRequest, sitting_id: int, item: str, number: int, place: int, turn: TurnName = "first"
) -> FilePreview:
    """What of a file can be looked at here."""
    return FilePreview(**previews.preview_of(*_file(request, sitting_id, item, number, place, turn))._asdict())


@router.get(
    "/sittings/{int:sitting_id}/marking/{item}/{int:number}/files/{int:place}/pages/{int:page}.jpg",
    response={200: None},
)
def preview_page(
    request: HttpRequest, sitting_id: int, item: str, number: int, place: int, page: int, turn: TurnName = "first"
) -> HttpResponse:
    """A page of it as a picture, drawn anew by the server."""
    path, _ = _file(request, sitting_id, item, number, place, turn)
    return HttpResponse(previews.page_of(path, page), content_type="image/jpeg")
