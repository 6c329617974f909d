"""Sheets of a sitting, and the scan inbox."""

from uuid import UUID

from django.http import FileResponse, HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile

from versomark.core.language import _
from versomark.school.delivery.public import settled_sitting_of, sitting_of
from versomark.school.errors import DomainError, NotFound
from versomark.school.http import Done, file_out, teacher_of

from . import doubtful_marks, inbox, printing, scanning
from .models import Batch, Page, Scan, Source
from .rehearsal import rehearse
from .scan_summary import Returned, returned, told
from .schemas import (
    BatchLine,
    Elsewhere,
    Inbox,
    NewBatch,
    PaperPage,
    Rehearsal,
    ScanLine,
    ScanPage,
    SeatOnPaper,
    ToldBody,
    UnprintableLine,
)

router = Router(tags=["paper"])

NEW_SCANS = 10
"""Of the inbox, what became of them is said in the list; of older ones when they are chosen."""


def _batch_line(batch: Batch) -> BatchLine:
    sheets = list(batch.sheets.all())
    spare = sum(sheet.seat_id is None for sheet in sheets)
    return BatchLine(
        id=batch.pk,
        code=batch.code,
        made_at=batch.made_at,
        paper=batch.spec["paper"],
        sheets=len(sheets) - spare,
        spare=spare,
        pages=sum(sheet.pages for sheet in sheets),
        whole_class=batch.spec["cover"],
    )


def _scan_line(scan: Scan, whole: bool = True) -> ScanLine:
    """`whole` works out what became of it; without, an old scan says how many pages it had."""
    pages = f"{scan.page_count} {'page' if scan.page_count == 1 else 'pages'}"
    return ScanLine(
        id=scan.pk,
        name=scan.name,
        source=scan.source,  # type: ignore[arg-type]
        arrived_at=scan.arrived_at,
        state=scan.state,  # type: ignore[arg-type]
        refusal=scan.refusal,
        page_count=scan.page_count,
        pages_read=scan.pages_read,
        line=(told(scan).line if whole else pages) if scan.state == "read" else "",
    )


def _scan_page(scan: Scan) -> ScanPage:
    answer = told(scan)
    sittings = Page.objects.filter(scan=scan).exclude(sheet=None).values_list("sheet__batch__sitting", flat=True)
    return ScanPage(
        **_scan_line(scan).model_dump(),
        told=ToldBody(line=answer.line, **vars(answer)),
        sittings=sorted(set(sittings)),
    )


def _seat_on_paper(returned: Returned) -> SeatOnPaper:
    return SeatOnPaper(
        seat=returned.seat.pk,
        desk=returned.seat.desk,
        name=returned.seat.student.short_name,
        state=returned.seat.state,  # type: ignore[arg-type]
        printed=returned.printed,
        lost=returned.lost,
        places=returned.places,
        on_sheet=returned.on_sheet,
    )


def batch_of(request: HttpRequest, batch_id: int) -> Batch:
    batch = Batch.objects.filter(pk=batch_id).first()
    if batch is None:
        raise NotFound(_("batch"))
    sitting_of(teacher_of(request), batch.sitting_id)
    return batch


@router.get("/sittings/{int:sitting_id}/paper", response=PaperPage)
def paper_page(request: HttpRequest, sitting_id: int) -> PaperPage:
    """What was printed for a sitting, and what has come back."""
    teacher = teacher_of(request)
    sitting = settled_sitting_of(teacher, sitting_id)
    plan = printing.plan_of(sitting)
    back = returned(sitting.pk)
    return PaperPage(
        sitting=sitting.pk,
        title=sitting.edition.content["title"],
        class_name=sitting.school_class.name,
        batches=[_batch_line(batch) for batch in sitting.batches.prefetch_related("sheets")],
        elsewhere=Elsewhere(questions=plan.elsewhere, can_print=bool(plan.items)),
        waiting=doubtful_marks.waiting_in([sitting.pk]).get(sitting.pk, 0),
        missing=[entry.missing for entry in back if entry.missing],
        seats=[_seat_on_paper(entry) for entry in back],
        may_rehearse=teacher.school.is_demo,
        unprintable=[
            UnprintableLine(name=entry.name, letters=entry.letters) for entry in printing.unprintable(sitting)
        ],
    )


@router.post("/sittings/{int:sitting_id}/paper/batches", response=BatchLine)
def print_sheets(request: HttpRequest, sitting_id: int, body: NewBatch) -> BatchLine:
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "run")
    return _batch_line(
        printing.print_batch(teacher, sitting, body.paper, body.spare, body.date, body.large, body.seats, body.halves)
    )


@router.get("/paper/batches/{int:batch_id}/sheets.pdf")
def sheets_pdf(request: HttpRequest, batch_id: int) -> HttpResponse:
    response = HttpResponse(printing.sheets_pdf(batch_of(request, batch_id)), content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="answer-sheets-{batch_id}.pdf"'
    return response


@router.get("/paper/batches/{int:batch_id}/map.json")
def sheets_map(request: HttpRequest, batch_id: int) -> HttpResponse:
    return file_out(batch_of(request, batch_id).map_json(), "application/json", f"map-{batch_id}.json")


@router.post("/paper/batches/{int:batch_id}/rehearsal", response=ScanLine)
def rehearsal(request: HttpRequest, batch_id: int, body: Rehearsal) -> ScanLine:
    """Fill and scan these sheets without a printer; in the demo school only."""
    batch = batch_of(request, batch_id)
    sitting_of(teacher_of(request), batch.sitting_id, "run")
    done = batch.sheets.filter(read_pages__isnull=False).distinct().count()
    return _scan_line(rehearse(teacher_of(request), batch, body.wear, seed=batch.pk * 1000 + done))


@router.get("/scans", response=Inbox)
def scan_inbox(request: HttpRequest) -> Inbox:
    teacher = teacher_of(request)
    scans = scanning.scans_of(teacher)[:60]
    lines = [_scan_line(scan, whole=at < NEW_SCANS) for at, scan in enumerate(scans)]
    return Inbox(scans=lines, folder=inbox.folder_in_words(teacher), mail=teacher.email)


@router.post("/scans", response=list[ScanLine])
def take(request: HttpRequest, files: File[list[UploadedFile]]) -> list[ScanLine]:
    """Take in scans. What each holds is found out while it is read."""
    if len(files) > 50:
        raise DomainError(_("At most 50 files at once. Put the rest in after these."), status=422)
    teacher = teacher_of(request)
    return [
        _scan_line(scanning.take_scan(teacher, file.name or "scan", file.chunks(), Source.UPLOAD)) for file in files
    ]


@router.get("/scans/{uuid:scan_id}", response=ScanPage)
def scan_page(request: HttpRequest, scan_id: UUID) -> ScanPage:
    return _scan_page(scanning.scan_of(teacher_of(request), scan_id))


@router.delete("/scans/{uuid:scan_id}", response=Done)
def remove_scan(request: HttpRequest, scan_id: UUID) -> Done:
    scanning.remove(scanning.scan_of(teacher_of(request), scan_id))
    return Done()


@router.post("/scans/{uuid:scan_id}/cancel", response=ScanPage)
def cancel(request: HttpRequest, scan_id: UUID) -> ScanPage:
    return _scan_page(scanning.cancel(scanning.scan_of(teacher_of(request), scan_id)))


@router.post("/scans/{uuid:scan_id}/again", response=ScanPage)
def again(request: HttpRequest, scan_id: UUID) -> ScanPage:
    return _scan_page(scanning.again(scanning.scan_of(teacher_of(request), scan_id)))


@router.get("/paper/pages/{uuid:page_id}/picture.jpg")
def page_picture(request: HttpRequest, page_id: UUID) -> FileResponse:
    """A page of a scan, straightened: its width and height are those of the paper."""
    page = doubtful_marks.page_of(teacher_of(request), page_id)
    path = scanning.picture_of(page)
    if not path.exists():
        raise NotFound(_("picture"))
    response = FileResponse(path.open("rb"), content_type="image/jpeg")
    # What was scanned does not change, and only this teacher's browser may keep it.
    response["Cache-Control"] = "private, max-age=86400"
    return response
