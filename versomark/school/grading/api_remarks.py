"""What a marker sees and says on the work itself: previews of files, highlights, notes."""

from pathlib import Path

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.school.delivery.public import Seat, sitting_of
from versomark.school.http import teacher_of

from . import numbers, previews, remarks, services, work
from .models import MarkingPass, Remark
from .schemas import FilePreview, RemarkBody, RemarkLine

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
    return list(MarkingPass) if turn == MarkingPass.AGREED else [turn]


def _seat(request: HttpRequest, sitting_id: int, number: int) -> Seat:
    return numbers.seat_at(sitting_of(teacher_of(request), sitting_id, "mark"), number)


@router.post("/sittings/{int:sitting_id}/marking/{item}/{int:number}/remarks", response=list[RemarkLine])
def make_remark(request: HttpRequest, sitting_id: int, item: str, number: int, body: RemarkBody) -> list[RemarkLine]:
    """Highlight a stretch or an area, with a note or without."""
    seat = _seat(request, sitting_id, number)
    remarks.make_remark(teacher_of(request), seat, item, body.place, body.text, body.turn)
    return [remark_line(remark, request) for remark in remarks.remarks_on(seat, item, turns_seen(body.turn))]


@router.delete(
    "/sittings/{int:sitting_id}/marking/{item}/{int:number}/remarks/{int:remark_id}", response=list[RemarkLine]
)
def take_remark_back(
    request: HttpRequest, sitting_id: int, item: str, number: int, remark_id: int, turn: MarkingPass = MarkingPass.FIRST
) -> list[RemarkLine]:
    seat = _seat(request, sitting_id, number)
    remarks.take_back(teacher_of(request), seat, remark_id)
    return [remark_line(remark, request) for remark in remarks.remarks_on(seat, item, turns_seen(turn))]


def _file(request: HttpRequest, sitting_id: int, item: str, number: int, place: int) -> tuple[Path, str]:
    seat = _seat(request, sitting_id, number)
    response = services.responses_in(seat.sitting, [seat])[seat.pk].get(item)
    return work.file_of(seat, response, place), work.work_of(response, True).files[place - 1].name


@router.get("/sittings/{int:sitting_id}/marking/{item}/{int:number}/files/{int:place}/preview", response=FilePreview)
def preview(request: HttpRequest, sitting_id: int, item: str, number: int, place: int) -> FilePreview:
    """What of a file can be looked at here."""
    return FilePreview(**previews.preview_of(*_file(request, sitting_id, item, number, place))._asdict())


@router.get(
    "/sittings/{int:sitting_id}/marking/{item}/{int:number}/files/{int:place}/pages/{int:page}.jpg",
    response={200: None},
)
def preview_page(request: HttpRequest, sitting_id: int, item: str, number: int, place: int, page: int) -> HttpResponse:
    """A page of it as a picture, drawn anew by the server."""
    path, _ = _file(request, sitting_id, item, number, place)
    return HttpResponse(previews.page_of(path, page), content_type="image/jpeg")
