"""Shared piles as JSON."""

from datetime import datetime
from typing import Literal

from ninja import Field, Schema
from pydantic import AwareDatetime, BaseModel

from versomark.core.scoring import Way

from .models import PileNames
from .schemas import MarkingEntry, MarkingItem


class PileMarkerBody(Schema):
    teacher: int
    share: float = Field(1, gt=0, le=20)
    items: list[str] = Field([], max_length=200)
    """Which questions; none named: all."""
    barred: list[int] = Field([], max_length=2000)
    """Seats of students whom they may not mark."""


class PileBody(Schema):
    way: Way
    sittings: list[int] = Field(max_length=60)
    """Of one test; once the pile is made, these stay."""
    markers: list[PileMarkerBody] = Field(max_length=10)
    names: PileNames = PileNames.SHOWN
    begins: AwareDatetime | None = None
    due: AwareDatetime | None = None
    practise_first: bool = False
    not_own: bool = False
    like_together: bool = False
    check_every: int = Field(8, ge=1, le=50)


class PileSittingLine(Schema):
    sitting: int
    class_name: str
    answers: int
    marked: int


class PileColleague(Schema):
    id: int
    name: str


class PileStudent(Schema):
    """A student in the sittings, for saying whom somebody may not mark. Only its head is told."""

    seat: int
    name: str
    class_name: str


class PileQuestion(Schema):
    ref: str
    number: int
    stem: str
    answers: int
    marked: int
    in_hand: int
    agreed: int
    most: float
    """Points of its rubric."""


class PileChoices(Schema):
    """What a pile could be made of, from one sitting on."""

    title: str
    sittings: list[PileSittingLine]
    questions: list[PileQuestion]
    colleagues: list[PileColleague]
    students: list[PileStudent]
    pile: int | None
    """The open one in which this sitting is."""


class PileClosenessLine(Schema):
    """One marker beside the agreed marks of one question, in points of its rubric."""

    item: str
    number: int
    checks: int
    exact: float | None
    adjacent: float | None
    kappa: float | None
    severity: float | None
    """How much less they give than was agreed on."""
    low: float | None
    high: float | None
    harsher_lately: bool
    milder_lately: bool
    adjustment: float
    proposed: float | None


class PileMarkerLine(Schema):
    id: int
    teacher: int
    name: str
    share: float
    items: list[str]
    barred: list[int]
    left: bool
    in_hand: int
    marked: int
    again: int
    """That they are asked to look at again."""
    practised: bool
    close: list[PileClosenessLine]


class AgreedLine(Schema):
    id: int
    sitting: int
    item: str
    number: int
    """Of the question."""
    desk: int
    """By which number the head finds it at the desk of its sitting."""
    points: float
    reason: str
    met: int
    """How many markers have marked it."""


class PilePage(Schema):
    """A pile as its head sees it."""

    id: int
    title: str
    way: Way
    names: PileNames
    begins: datetime | None
    due: datetime | None
    practise_first: bool
    not_own: bool
    like_together: bool
    check_every: int
    ended_at: datetime | None
    sittings: list[PileSittingLine]
    questions: list[PileQuestion]
    markers: list[PileMarkerLine]
    agreed: list[AgreedLine]
    nobody: int
    """Answers that none of the markers may mark."""
    colleagues: list[PileColleague]
    students: list[PileStudent]


class PileLine(Schema):
    """A pile among what waits."""

    id: int
    title: str
    classes: list[str]
    head: str
    leads: bool
    marks: bool
    answers: int
    marked: int
    mine_marked: int
    mine_left: int
    begins: datetime | None
    due: datetime | None
    ended: bool


class PileEntry(BaseModel):
    """One answer in a marker's hands."""

    sitting: int
    item: str
    name: str
    """Of its student; empty where names are hidden."""
    class_name: str
    entry: MarkingEntry
    again: str


class PileDesk(Schema):
    """A pile as one of its markers sees it."""

    id: int
    title: str
    head: str
    way: Way
    names_hidden: bool
    begins: datetime | None
    due: datetime | None
    waits_to_begin: bool
    to_practise: list[str]
    """Questions whose sample answers are to be marked before the first answer."""
    items: list[MarkingItem]
    entries: list[PileEntry]
    """In the order in which they are marked."""
    left: int
    """In the whole pile, without a mark."""
    answers: int
    elsewhere: int
    """Without a mark and in the hands of others."""
    close: list[PileClosenessLine]


class AgreeBody(Schema):
    sitting: int
    item: str = Field(max_length=36)
    number: int = Field(ge=0, le=10_000_000)
    """As the head knows the answer at the desk of its sitting."""
    reason: str = Field("", max_length=600)


class SendBackBody(Schema):
    marker: int
    items: list[str] = Field([], max_length=200)
    reason: str = Field("", max_length=300)


class AdjustBody(Schema):
    marker: int
    item: str = Field(max_length=36)


class AdjustmentEffect(Schema):
    """What taking a marker's severity out would do, before it is done."""

    points: float
    answers: int
    of: int
    """Of so many that they marked; no marks, full marks and agreed answers stay."""
    mean_change: float
    """Of those that change, in marks of the question."""
    largest_change: float


class HandedOver(Schema):
    state: Literal["done"] = "done"
    answers: int
