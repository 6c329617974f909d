"""What goes in and comes out as JSON."""

from datetime import datetime
from typing import Literal

from ninja import Field, Schema

from versomark.core.formats.tables import MOST_BYTES
from versomark.school.delivery.schemas import SeatStateName, SittingLine


class AttemptLine(Schema):
    number: int
    handed_in_at: datetime | None
    total: float
    of: float


class MarkColumn(Schema):
    ref: str
    label: str
    marks: float
    half_marks: bool
    about: str
    skills: list[str]


class EnteredMark(Schema):
    points: float
    by_student: bool


class MarkRow(Schema):
    seat: int
    desk: int
    name: str
    full_name: str
    family_name: str
    given_name: str
    number: str
    state: SeatStateName
    here: bool
    """Whether the student's device is at work on their own marks."""
    last_seen: datetime | None
    marks: dict[str, EnteredMark]
    total: float


class NotSeated(Schema):
    student: int
    name: str


class MarksPage(Schema):
    sitting: SittingLine
    columns: list[MarkColumn]
    rows: list[MarkRow]
    max_total: float
    not_seated: list[NotSeated]
    newer_description: bool


class MarkIn(Schema):
    seat: int
    item: str = Field(max_length=36)
    points: float | None = Field(ge=0, le=1000)


class PresenceIn(Schema):
    seat: int
    how: Literal["here", "absent", "excused"]


class MarksIn(Schema):
    marks: list[MarkIn] = Field([], max_length=20_000)
    presence: list[PresenceIn] = Field([], max_length=400)


class EntryByStudents(Schema):
    by_students: bool


class SeatToAdd(Schema):
    student: int | None = None
    name: str = Field("", max_length=130)


class TableIn(Schema):
    """A file, its data in base64, or pasted text."""

    name: str = Field("", max_length=255)
    data: str = Field("", max_length=MOST_BYTES * 4 // 3 + 8)
    text: str = Field("", max_length=2_000_000)


class TableLooked(Schema):
    students: int
    fresh: int
    other: int
    same: int
    away: int
    refused: list[str]
    unknown: list[str]
    missing: list[str]
