"""What goes in and comes out as JSON."""

from typing import Literal

from ninja import Schema

from versomark.school.delivery.schemas import SittingLine
from versomark.school.findings.public import FlagNote


class NewsLine(Schema):
    sitting: int
    title: str
    class_name: str
    students: int
    too_few: bool
    first: FlagNote | None
    flagged: int


class UnfinishedTest(Schema):
    id: int
    title: str
    questions: int


class ToSettle(Schema):
    sitting: SittingLine
    places: int


class ToMark(Schema):
    sitting: SittingLine
    answers: int


class SharedWork(Schema):
    """A shared pile or a comparison in which the teacher has work."""

    kind: Literal["pile", "pairs"]
    id: int
    title: str
    head: str
    left: int


class FirstPath(Schema):
    """How far somebody is who has not come to a finding yet; what was invented for practice does not count."""

    classes: int
    questions: int
    tests: int
    frozen: int
    """Of the tests, those that can be given."""
    sittings: int


class Desk(Schema):
    open: list[SittingLine]
    waiting: list[SittingLine]
    """Planned or ready, soonest first."""
    absent: list[SittingLine]
    """Closed lately with students who have not sat it."""
    to_settle: list[ToSettle]
    """Sittings with places on scanned sheets that wait."""
    to_mark: list[ToMark]
    """Closed sittings with answers that wait for a person."""
    shared: list[SharedWork]
    """What colleagues, or oneself, have shared out."""
    unfinished: list[UnfinishedTest]
    news: list[NewsLine]
    first_path: FirstPath | None
    """None once a class has sat a test to its end."""
    empty: bool


class FoundLine(Schema):
    kind: str
    title: str
    detail: str
    path: str
