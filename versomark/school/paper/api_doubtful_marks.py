"""Doubtful places, settled; and a student's sheet, corrected."""

from typing import Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Router

from versomark.core.items import EditionContent
from versomark.core.items.by_rubric import ByRubric
from versomark.core.language import _
from versomark.core.sheets.of_edition import labels_in
from versomark.core.sheets.spec import NUMBER, sheet_mm
from versomark.core.text import plain
from versomark.school.delivery.public import Seat, sitting_of
from versomark.school.errors import NotFound
from versomark.school.http import teacher_of

from . import doubtful_marks
from .models import Page, Reading, ReviewDecision
from .outcome import counting_beside, pages_with_readings, value_of
from .scan_summary import WORDS
from .schemas import (
    Answered,
    Circle,
    DoubtfulMarksPage,
    PageAct,
    Place,
    Query,
    Said,
    SeatChoice,
    SeatSheet,
    SeatSheetPage,
    SettledBody,
    SheetOnScreen,
    WrittenBox,
)

router = Router(tags=["paper"])


def _on_screen(page: Page) -> SheetOnScreen:
    batch = page.sheet.batch if page.sheet else None
    spec = batch.spec if batch else {}
    width, height = sheet_mm("Letter" if spec.get("paper") == "Letter" else "A4", spec.get("halves", False))
    sitting = batch.sitting if batch else None
    return SheetOnScreen(
        page=page.pk,
        picture=f"/api/v1/paper/pages/{page.pk}/picture.jpg",
        width_mm=width,
        height_mm=height,
        straight=page.problem not in ("no marks", "foreign", "blank page") and not _typed_in(page),
        scan=page.scan.name,
        number=page.number,
        sheet_page=page.sheet_page,
        seat=page.seat_id,
        desk=page.seat.desk if page.seat else None,
        student=page.seat.student.full_name if page.seat else "",
        sitting=sitting.pk if sitting else None,
        sitting_name=f"{sitting.school_class.name}, {sitting.edition.content['title']}" if sitting else "",
    )


def _typed_in(page: Page) -> bool:
    """Whether a person says what it holds, since its circles could not be found."""
    return any(settling.act == "type" and settling.taken_back_at is None for settling in page.settlings.all())


class _Questions:
    """The questions of a page, read once."""

    def __init__(self, page: Page) -> None:
        assert page.sheet is not None
        sitting = page.sheet.batch.sitting
        self.labels = labels_in(sitting.edition.read(), page.form)
        self.contents: dict[str, EditionContent] = {
            item.ref: item.content for item in sitting.edition.read().in_form(page.form).items()
        }

    def place(self, reading: Reading) -> Place:
        content = self.contents.get(reading.item)
        value = value_of(reading)
        entry, circles = _entry(content, reading.item)
        return Place(
            id=reading.pk,
            item=reading.item,
            label=self.labels.get(reading.item, "number" if reading.item == NUMBER else ""),
            question=plain(content.stem)[:160] if content else "",
            answer=value or "",
            read=reading.answer,
            state=reading.state,
            note=reading.note,
            waiting=value is None,
            entry=entry,
            circles=circles,
            x_mm=reading.x_mm,
            y_mm=reading.y_mm,
            w_mm=reading.w_mm,
            h_mm=reading.h_mm,
            said=[
                Said(id=settling.pk, answer=settling.answer, by=settling.by.name, at=settling.at)
                for settling in reading.settlings.all()
                if settling.taken_back_at is None
            ],
        )

    def boxes(self, page: Page) -> list[WrittenBox]:
        readings = {reading.item: reading for reading in page.readings.all()}
        written_boxes = []
        for box in page.boxes:
            content = self.contents.get(box["item"])
            if isinstance(content, ByRubric):
                value = value_of(readings[box["item"]]) if box["item"] in readings else ""
                draft = _points_in_words(content, value or "")
                written_boxes.append(WrittenBox(label=self.labels[box["item"]], draft=draft, **box))
        return written_boxes


def _points_in_words(content: ByRubric, circles: str) -> str:
    points = doubtful_marks.points_of(content, circles)
    names = {criterion.id: criterion.name for criterion in content.rubric.criteria}
    return ", ".join(f"{names.get(id) or 'points'} {value:g}" for id, value in points.items())


Entry = Literal["one", "several", "text", "points"]


def _entry(content: EditionContent | None, item: str) -> tuple[Entry, list[Circle]]:
    """How a person says what a place means, and the choices where there are some."""
    if item == NUMBER or content is None:
        return "text", []
    if isinstance(content, ByRubric):
        return "points", []
    place = content.on_sheet()
    if place is None or place.kind not in ("choice", "multiple", "true-false"):
        return "text", []
    circles = [Circle(option=answer.letter, text=plain(answer.text)) for answer in content.answers()]
    return ("several" if place.kind == "multiple" else "one"), circles


@router.get("/queries", response=DoubtfulMarksPage)
def open_queries(request: HttpRequest, sitting: int | None = None) -> DoubtfulMarksPage:
    """Everything that waits for a person, of one sitting or of all; whole pages first."""
    teacher = teacher_of(request)
    about = sitting_of(teacher, sitting) if sitting is not None else None
    page_queries = [_page_query(page) for page in doubtful_marks.open_pages(teacher, about)]
    questions: dict[UUID, _Questions] = {}
    for reading in doubtful_marks.open_readings(teacher, about).prefetch_related("settlings__by"):
        page = reading.page
        known = questions.setdefault(page.pk, questions.get(page.pk) or _Questions(page))
        page_queries.append(
            Query(
                key=f"place-{reading.pk}",
                sheet=_on_screen(page),
                place=known.place(reading),
                problem=reading.state,
                words=reading.note,
                acts=[],
                other=None,
                differing=[],
            )
        )
    seats = [
        SeatChoice(id=seat.pk, desk=seat.desk, name=seat.student.full_name, pages=_pages_of(seat))
        for seat in (about.seats.select_related("student").prefetch_related("sheets") if about else [])
    ]
    return DoubtfulMarksPage(queries=page_queries, seats=seats)


def _pages_of(seat: Seat) -> int:
    return max((sheet.pages for sheet in seat.sheets.all()), default=0)


def _page_query(page: Page) -> Query:
    acts: dict[str, list[Literal["use", "aside", "seat", "type"]]] = {
        "again": ["use", "aside"],
        "answered": ["use", "aside"],
        "which student": ["seat", "aside"],
        "which sheet": ["seat", "aside"],
    }
    typed_in: list[Literal["use", "aside", "seat", "type"]] = ["type", "aside"]
    acts |= dict.fromkeys(doubtful_marks.TYPED_IN if page.sheet else (), typed_in)
    other, differing = None, list[Place]()
    if page.problem == "again" and page.sheet:
        questions, items = _Questions(page), doubtful_marks.differing(page)
        readings = {reading.item: reading for reading in page.readings.prefetch_related("settlings__by")}
        differing = sorted((questions.place(readings[item]) for item in items), key=_by_number)
        counted = counting_beside(page).first()
        other = f"/api/v1/paper/pages/{counted.pk}/picture.jpg" if counted else None
    return Query(
        key=f"page-{page.pk}",
        sheet=_on_screen(page),
        place=None,
        problem=page.problem,
        words=_(WORDS.get(page.problem, page.problem)),
        acts=acts.get(page.problem, ["aside"]),
        other=other,
        differing=differing,
    )


@router.put("/queries/places/{int:reading_id}", response=SettledBody)
def settle_place(request: HttpRequest, reading_id: int, body: Answered) -> SettledBody:
    """Say what a place means, in doubt or not."""
    teacher = teacher_of(request)
    return _settled(doubtful_marks.settle(teacher, doubtful_marks.reading_of(teacher, reading_id), body.answer))


@router.put("/queries/pages/{uuid:page_id}", response=SettledBody)
def settle_page(request: HttpRequest, page_id: UUID, body: PageAct) -> SettledBody:
    teacher = teacher_of(request)
    page = doubtful_marks.page_of(teacher, page_id)
    seat = Seat.objects.select_related("student").filter(pk=body.seat).first() if body.seat is not None else None
    if seat is not None:
        sitting_of(teacher, seat.sitting_id, "run")
    return _settled(doubtful_marks.settle_page(teacher, page, body.act, seat, body.sheet_page))


@router.delete("/queries/settled/{int:settling_id}", response=SettledBody)
def take_back(request: HttpRequest, settling_id: int) -> SettledBody:
    return _settled(doubtful_marks.take_back(teacher_of(request), settling_id))


def _settled(settling: ReviewDecision) -> SettledBody:
    return SettledBody(id=settling.pk)


@router.get("/sittings/{int:sitting_id}/sheets/{int:seat_id}", response=SeatSheet)
def seat_sheet(request: HttpRequest, sitting_id: int, seat_id: int) -> SeatSheet:
    """A student's sheet as it was scanned, with everything read from it."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    seat = sitting.seats.select_related("student").filter(pk=seat_id).first()
    if seat is None:
        raise NotFound(_("seat"))
    ids = [page.pk for page in pages_with_readings([seat.pk])]
    pages = doubtful_marks.with_settlings(
        Page.objects.filter(pk__in=ids).select_related("scan", "sheet__batch__sitting__edition", "seat__student")
    ).order_by("sheet_page", "read_at")
    return SeatSheet(
        seat=seat.pk,
        desk=seat.desk,
        student=seat.student.full_name,
        state=seat.state,
        sitting=sitting.pk,
        title=sitting.edition.content["title"],
        class_name=sitting.school_class.name,
        pages=[_seat_page(page) for page in pages],
    )


def _by_number(place: Place) -> int:
    return int(place.label) if place.label.isdigit() else 0


def _seat_page(page: Page) -> SeatSheetPage:
    questions = _Questions(page)
    return SeatSheetPage(
        sheet=_on_screen(page),
        places=sorted((questions.place(reading) for reading in page.readings.all()), key=_by_number),
        boxes=questions.boxes(page),
    )
