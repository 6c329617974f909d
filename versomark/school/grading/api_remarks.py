"""What a marker sees and says on the work itself: previews of files, highlights, notes."""

from pathlib import Path

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.school.http import teacher_of

from . import door, previews, remarks, services, work
from .models import READINGS, MarkingPass, Remark
from .schemas import FilePreview, RemarkBody, RemarkLine, TurnName

router = Router(tags=["marking"])


def remark_line(remark: Remark, request: HttpRequest) -> RemarkLine:
    return RemarkLine(
        id=remark.pk,
        place=remark.place,
        text=remark.text,
        by=remark.by.name,
        mine=remark.by_id == teacher_of(request).pk,
        at=remark.at,
    )


def turns_seen(turn: MarkingPass) -> list[MarkingPass]:
    """Whose remarks a reader sees: each reads blind to the other, until two marks are to be agreed on."""
    return list(READINGS) if turn == MarkingPass.AGREED else [turn]


def _seen_by(request: HttpRequest, at: door.AtWork, item: str) -> list[RemarkLine]:
    seen = remarks.remarks_on(at.seat, item, turns_seen(at.turn))
    own = teacher_of(request).pk
    return [remark_line(remark, request) for remark in seen if not at.checks or remark.by_id == own]


@router.post("/sittings/{int:sitting_id}/marking/{item}/{int:number}/remarks", response=list[RemarkLine])
def make_remark(request: HttpRequest, sitting_id: int, item: str, number: int, body: RemarkBody) -> list[RemarkLine]:
    """Highlight a stretch or an area, with a note or without."""
    at = door.at_work(teacher_of(request), sitting_id, number, body.turn, item)
    remarks.make_remark(teacher_of(request), at.seat, item, body.place, body.text, at.turn)
    return _seen_by(request, at, item)


@router.delete(
    "/sittings/{int:sitting_id}/marking/{item}/{int:number}/remarks/{int:remark_id}", response=list[RemarkLine]
)
def take_remark_back(
    request: HttpRequest, sitting_id: int, item: str, number: int, remark_id: int, turn: TurnName = "first"
) -> list[RemarkLine]:
    at = door.at_work(teacher_of(request), sitting_id, number, turn, item)
    remarks.take_back(teacher_of(request), at.seat, remark_id)
    return _seen_by(request, at, item)


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
