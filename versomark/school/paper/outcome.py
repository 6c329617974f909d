"""From what was read and settled to each student's answers."""

from collections.abc import Collection, Sequence
from dataclasses import replace

from django.db import transaction
from django.db.models import Prefetch, Q, QuerySet
from django.utils import timezone

from versomark.core.items import EditionContent, ItemResponse
from versomark.core.items.by_rubric import ByRubric, WrittenResponse
from versomark.core.language import N_, _
from versomark.core.sheets import PageReading, Read
from versomark.core.sheets.of_edition import response_from
from versomark.school.delivery.public import BEFORE, Seat, Sitting, open_sitting
from versomark.school.responses.public import keep_for, seat_is_in

from .models import Page, Reading, ReviewDecision, Scan, ScanState

BY_HAND = N_("written by hand: type what stands there")
CLEAR = ("answer", "blank")
ASKED = ("again", "answered", "which student", "which sheet", "no marks", "not in place")
"""Problems of a page that a person can settle."""


def contents_of(sitting: Sitting, form: str) -> dict[str, EditionContent]:
    """ref -> question, its parts in the order of a form."""
    return {item.ref: item.content for item in sitting.edition.read().in_form(form).items()}


def checked(sitting: Sitting, reading: PageReading) -> list[Read]:
    """What was read, with an answer that the item cannot take turned into a doubtful one, and with the boxes in which
    something is to be typed in by a person."""
    contents = contents_of(sitting, reading.form)
    reads = [
        Read(box.item, "", "by hand" if box.written else "blank", 0.0, box.place, _(BY_HAND) if box.written else "")
        for box in reading.boxes
        if box.item in contents and not isinstance(contents[box.item], ByRubric)
    ]
    for read in reading.reads:
        content = contents.get(read.item)
        if read.state == "answer" and content is not None and not isinstance(content, ByRubric):
            try:
                response_from(content, read.answer)
            except ValueError as error:
                read = replace(read, state="unreadable", note=str(error))
        reads.append(read)
    return reads


@transaction.atomic
def conclude(scan: Scan) -> None:
    """Once all pages are read: sheets met before are told apart, and everything clear becomes the students' answers."""
    pages = list(scan.pages.filter(problem="").exclude(sheet=None).select_related("seat", "sheet"))
    for page in pages:
        _met_before(page)
    scan.state, scan.done_at = ScanState.READ, timezone.now()
    scan.save(update_fields=["state", "done_at"])
    apply({page.seat_id for page in pages if page.seat_id})


def _met_before(page: Page) -> None:
    """A sheet that was read before: laid aside when it says the same, since something may have been settled on the
    earlier one; asked about when it does not."""
    earlier = _before(page).prefetch_related("readings").first()
    if earlier is None:
        if page.seat is not None and _answered_on_a_device(page.seat):
            page.problem = "answered"
            page.save(update_fields=["problem"])
        return
    if _says(earlier) == _says(page):
        page.aside = True
        page.save(update_fields=["aside"])
        return
    page.problem = "again"
    page.save(update_fields=["problem"])


def counting_beside(page: Page) -> QuerySet[Page]:
    """Other pages that count for the same page of the same student's work in this sitting, earliest first."""
    assert page.sheet is not None
    same = Page.objects.filter(problem="", aside=False, sheet_page=page.sheet_page).exclude(pk=page.pk)
    if page.seat_id:
        same = same.filter(seat=page.seat_id, sheet__batch__sitting=page.sheet.batch.sitting_id)
    else:
        same = same.filter(sheet=page.sheet)
    return same.order_by("read_at")


def _before(page: Page) -> QuerySet[Page]:
    """Those of them that were there first: of scans read before, or earlier in the same one."""
    read = Q(scan__state=ScanState.READ) & ~Q(scan=page.scan_id)
    return counting_beside(page).filter(read | Q(scan=page.scan_id, number__lt=page.number))


def _says(page: Page) -> dict[str, tuple[str, str]]:
    return {reading.item: (reading.answer, reading.state) for reading in page.readings.all()}


def _answered_on_a_device(seat: Seat) -> bool:
    return seat.answers.filter(source="device", response__isnull=False).exists()


def value_of(reading: Reading) -> str | None:
    """What a place on a sheet says by now; None while nobody has settled it."""
    settlings = [settling for settling in reading.settlings.all() if settling.taken_back_at is None]
    if settlings:
        return settlings[-1].answer
    return reading.answer if reading.state in CLEAR else None


def pages_with_readings(seat_ids: Collection[int]) -> list[Page]:
    """The pages that count for these seats, with their readings and what people said of them."""
    readings = Reading.objects.prefetch_related(Prefetch("settlings", ReviewDecision.objects.order_by("pk")))
    return list(
        Page.objects.filter(seat__in=seat_ids, aside=False, problem="", scan__state=ScanState.READ)
        .select_related("sheet", "scan")
        .prefetch_related(Prefetch("readings", readings))
        .order_by("sheet_page", "read_at")
    )


@transaction.atomic
def apply(seat_ids: Collection[int]) -> None:
    """Bring the answers of seats in line with their sheets. Doing it again changes nothing."""
    by_seat: dict[int, list[Page]] = {seat: [] for seat in seat_ids}
    for page in pages_with_readings(seat_ids):
        by_seat[page.seat_id or 0].append(page)
    for seat in Seat.objects.filter(pk__in=seat_ids).select_related("sitting__edition", "student"):
        if seat.sitting.state in BEFORE:
            open_sitting(seat.sitting)
        _apply_seat(seat, by_seat[seat.pk])


def _apply_seat(seat: Seat, pages: Sequence[Page]) -> None:
    given: dict[str, ItemResponse | None] = {}
    waiting = 0
    for page in pages:
        contents = contents_of(seat.sitting, page.form)
        for box in page.boxes:
            if isinstance(contents.get(box["item"]), ByRubric):
                given[box["item"]] = WrittenResponse(picture=str(page.pk))
        for reading in page.readings.all():
            value, content = value_of(reading), contents.get(reading.item)
            waiting += value is None
            if content is not None and not isinstance(content, ByRubric):
                given[reading.item] = response_from(content, value or "")
    keep_for(seat, given, source="sheet")
    seat_is_in(seat, done=whole(pages) and not waiting, begun=bool(pages))


def whole(pages: Sequence[Page]) -> bool:
    """Whether all pages of each sheet are among these."""
    sheets = {page.sheet for page in pages if page.sheet}
    return bool(sheets) and all(
        {page.sheet_page for page in pages if page.sheet == sheet} == set(range(1, sheet.pages + 1)) for sheet in sheets
    )
