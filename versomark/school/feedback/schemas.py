"""What goes in and comes out as JSON."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from ninja import Field, Schema

from versomark.school.grading import public as grading

Percent = Field(ge=1, le=100)


class ResultLine(Schema):
    seat: int
    student: int
    desk: int
    name: str
    state: str
    handed_in_at: datetime | None
    late: bool
    earned: float | None
    lost: float
    total: float | None
    of: float
    waiting: int
    set_reason: str
    out_reason: str
    """Why they are left out of the figures; empty where they are not."""
    sees: Literal["", "words", "marks"]
    total_held: bool
    """Whether they see their marks, but no total while some of their answers wait."""


class ResultGroup(Schema):
    key: str
    name: str
    students: list[int]


class LatenessBody(Schema):
    due: datetime
    grace_minutes: int = Field(0, ge=0, le=60 * 24 * 7)
    per_day: float = Field(gt=0, le=100)
    most: float = Field(100, gt=0, le=100)


class ReleasedLine(Schema):
    marks: bool
    answers: bool
    at: datetime
    by: str


class ResultsPage(Schema):
    sitting: int
    title: str
    class_id: int
    class_name: str
    state: str
    rule: str
    """When students see them: on release, or by themselves."""
    own_pages: str
    """The link to students' own pages, where they read them: `/mine/…`."""
    names_hidden: bool
    released: ReleasedLine | None
    """For all of them."""
    lateness: LatenessBody | None
    ends: datetime | None
    """When it was to be handed in, for a rule about late work."""
    asked: int
    """Questions of students about their marks that nobody has answered."""
    waiting: int
    students: list[ResultLine]
    groups: list[ResultGroup]
    """Of the class, and the tags of whoever asks."""


class ReleaseBody(Schema):
    marks: bool = True
    answers: bool = False
    seats: list[int] | None = Field(None, max_length=2000)
    """None for all."""


class SeatsBody(Schema):
    seats: list[int] | None = Field(None, max_length=2000)


class TotalBody(Schema):
    total: float = Field(ge=0, le=grading.MOST_SET)
    reason: str = Field(max_length=300)


class ReasonBody(Schema):
    reason: str = Field(max_length=300)


class LateMove(Schema):
    name: str
    lost: float
    total: float


class EmptyQuestion(Schema):
    number: int
    answers: int


class EmptyPage(Schema):
    waiting: list[EmptyQuestion]
    missing: list[str]


class FillBody(Schema):
    waiting: float | None = Field(None, ge=0, le=1000)
    missing: grading.Missing
    total: float = Field(0, ge=0, le=grading.MOST_SET)
    reason: str = Field(max_length=300)


class BandGroup(Schema):
    skill: str = Field(max_length=200)
    bands: list[Literal["secure", "nearly", "not yet"]] = Field(min_length=1, max_length=3)
    name: str = Field(max_length=60)
    secure: int = Percent
    nearly: int = Percent


class QuestionChoice(Schema):
    item: UUID
    stem: str


class FollowUpLine(Schema):
    skill: str
    chosen: UUID | None
    choices: list[QuestionChoice]


class FeedbackBody(Schema):
    intro: str = Field("", max_length=2000)
    closing: str = Field("", max_length=2000)
    marks: bool = True
    work: bool = True
    """With the pages on which a pen wrote."""
    secure: int = Field(80, ge=1, le=100)
    nearly: int = Field(50, ge=1, le=100)
    follow_ups: dict[str, UUID | None] = Field(default={}, max_length=200)
    """By skill; None for no question."""


class FeedbackPage(FeedbackBody):
    lines: list[FollowUpLine]
