"""What goes in and comes out as JSON."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field, StringConstraints

from versomark.school.delivery.schemas import SeatStateName


class BatchLine(Schema):
    id: int
    code: str
    made_at: datetime
    paper: str
    sheets: int
    spare: int
    pages: int
    whole_class: bool


class Elsewhere(Schema):
    """What a sheet cannot take."""

    questions: list[int]
    can_print: bool


class SeatOnPaper(Schema):
    seat: int
    desk: int
    name: str
    state: SeatStateName
    printed: int
    lost: list[int]
    places: int
    on_sheet: bool


class UnprintableLine(Schema):
    name: str
    """Of a student, a class or a test."""
    letters: str
    """Of it, what no shipped typeface has."""


class PaperPage(Schema):
    sitting: int
    title: str
    class_name: str
    batches: list[BatchLine]
    elsewhere: Elsewhere
    waiting: int
    missing: list[str]
    seats: list[SeatOnPaper]
    may_rehearse: bool
    unprintable: list[UnprintableLine]


class NewBatch(Schema):
    paper: Literal["A4", "Letter"] = "A4"
    halves: bool = False
    """Two sheets on a page, to be cut."""
    spare: Annotated[int, Field(ge=0, le=100)] = 0
    date: Annotated[str, StringConstraints(max_length=60)] = ""
    large: Literal[18, 24] = 18
    seats: Annotated[list[int], Field(max_length=500)] | None = None


class ScanLine(Schema):
    id: UUID
    name: str
    source: Literal["upload", "folder", "mail", "rehearsal"]
    arrived_at: datetime
    state: Literal["waiting", "reading", "read", "refused", "cancelled"]
    refusal: str
    page_count: int
    pages_read: int
    line: str


class ToldBody(Schema):
    line: str
    sheets: int
    places: int
    by_hand: int
    by_sitting: list[str]
    doubtful: list[str]
    asked: list[str]
    missing: list[str]
    empty: list[str]
    foreign: list[int]
    blank: list[int]
    damaged: list[str]
    replaced: int


class ScanPage(ScanLine):
    told: ToldBody
    sittings: list[int]


class Inbox(Schema):
    scans: list[ScanLine]
    folder: str
    mail: str
    """The address scans are taken from; empty where the teacher has given none."""


class Rehearsal(Schema):
    wear: Annotated[float, Field(ge=0, le=1)] = 0.5


class Circle(Schema):
    """A choice for a place; its letter is its key."""

    option: str
    text: str


class Said(Schema):
    id: int
    answer: str
    by: str
    at: datetime


class Place(Schema):
    """One place on a sheet: what was read, and what a person said."""

    id: int
    item: str
    label: str
    question: str
    answer: str
    """What stands now; empty for nothing."""
    read: str
    state: str
    note: str
    waiting: bool
    entry: Literal["one", "several", "text", "points"]
    circles: list[Circle]
    x_mm: float
    y_mm: float
    w_mm: float
    h_mm: float
    said: list[Said]


class SheetOnScreen(Schema):
    """A page as it was scanned."""

    page: UUID
    picture: str
    width_mm: float
    height_mm: float
    straight: bool
    """Whether the picture is the page itself, so that places can be lit on it."""
    scan: str
    number: int
    sheet_page: int
    seat: int | None
    desk: int | None
    student: str
    sitting: int | None
    sitting_name: str


class Query(Schema):
    """A place, or a whole page where `place` is missing, about which a person has to say something."""

    key: str
    sheet: SheetOnScreen
    place: Place | None
    problem: str
    words: str
    acts: list[Literal["use", "aside", "seat", "type"]]
    other: str | None
    """The picture of what counted before, where the same sheet came again."""
    differing: list[Place]
    """The places where it says something else than what counted before."""


class SeatChoice(Schema):
    id: int
    desk: int
    name: str
    pages: int
    """Of the sheet printed last for this student; 0 where there is none."""


class DoubtfulMarksPage(Schema):
    queries: list[Query]
    seats: list[SeatChoice]
    """Whose a page can be, where the queries are of one sitting."""


class Answered(Schema):
    answer: Annotated[str, StringConstraints(max_length=200)]


class PageAct(Schema):
    act: Literal["use", "aside", "seat", "type"]
    seat: int | None = None
    sheet_page: Annotated[int, Field(ge=1, le=50)] = 1


class SettledBody(Schema):
    id: int


class WrittenBox(Schema):
    item: str
    label: str
    x_mm: float
    y_mm: float
    w_mm: float
    h_mm: float
    draft: str
    """Points a teacher filled in on paper, in words; empty where none are."""


class SeatSheetPage(Schema):
    sheet: SheetOnScreen
    places: list[Place]
    boxes: list[WrittenBox]


class SeatSheet(Schema):
    seat: int
    desk: int
    student: str
    state: str
    sitting: int
    title: str
    class_name: str
    pages: list[SeatSheetPage]
