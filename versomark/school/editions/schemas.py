"""What goes in and comes out as JSON."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from ninja import Field, Schema

from versomark.core.editions import (
    Check,
    ExternalAssessment,
    ExternalGroup,
    Layout,
    PredictedStatistics,
)
from versomark.core.text import RichText
from versomark.school.bank.schemas import ItemLine, StandingLine

from .equivalent import WhyKept


class EditionLine(Schema):
    id: int
    number: int
    title: str
    label: str
    questions: int
    marks: float
    forms: list[str]
    minutes: int
    """The working time it is planned for; 0 where none is set."""
    frozen_at: datetime


class TestLine(Schema):
    id: int
    title: str
    questions: int
    pages: int
    marks_only: bool
    changed_at: datetime
    shared: bool
    editions: list[EditionLine]


TestLanguage = Literal["", "en", "es", "ar"]
"""In which a test is written; empty for the school's."""


class TestPage(TestLine):
    instructions: str
    language: TestLanguage
    layout: Layout
    items: list[ItemLine]
    checks: list[Check]
    topic: str
    summary: str
    described: ExternalAssessment | None
    """Where the test is given and marked elsewhere: its lines."""


class ForetoldOf(Schema):
    """Of which class a test is foretold."""

    students: int | None = Field(None, ge=2, le=500)
    """As many as the teacher's classes have, where it is not said."""
    cut: int = Field(50, ge=0, le=100)
    """Where a decision is made, in percent of the marks."""


class UnsettledLine(Schema):
    """A question whose latest findings nobody settled."""

    number: int
    ref: UUID
    standing: list[StandingLine]


class ForetoldPage(Schema):
    predicted: PredictedStatistics
    unsettled: list[UnsettledLine]


class EquivalentQuestion(Schema):
    """A question of a test, and those that could stand in its place, the one suggested first."""

    number: int
    section: str
    item: ItemLine
    suggested: UUID | None
    why_kept: WhyKept
    others: list[ItemLine]


class EquivalentPage(Schema):
    id: int
    title: str
    questions: list[EquivalentQuestion]


class Swaps(Schema):
    swaps: dict[UUID, UUID]
    """Question of the test -> the one in its place."""


class NewEquivalent(Swaps):
    title: str = Field("", max_length=200)


class BothForetold(Schema):
    this: PredictedStatistics
    other: PredictedStatistics


class NewTest(Schema):
    title: str = Field("", max_length=200)


class TestChange(Schema):
    title: str = Field(max_length=200)
    instructions: RichText = ""
    layout: Layout
    language: TestLanguage = ""


class ItemsToPut(Schema):
    items: list[UUID] = Field(max_length=300)


class DescribedChange(Schema):
    title: str = Field(max_length=200)
    described: ExternalAssessment


class Pasted(Schema):
    text: str = Field(max_length=100_000)


class PastedLines(Schema):
    groups: list[ExternalGroup]
    wrong: list[str]


class ShelfPlace(Schema):
    shared: bool
    topic: str = Field("", max_length=120)
    summary: str = Field("", max_length=500)


class ShelfLine(Schema):
    key: str
    title: str
    topic: str
    summary: str
    by: str
    questions: int
    pages: int
