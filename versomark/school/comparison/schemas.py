from datetime import datetime
from typing import Literal

from ninja import Field, Schema

from versomark.core.text import RichText


class ComparisonColleague(Schema):
    id: int
    name: str


class CriterionChoice(Schema):
    id: str
    name: str
    max: float


class ComparedQuestion(Schema):
    ref: str
    number: int
    words: str
    """How it begins."""
    criteria: list[CriterionChoice]


class ComparisonClass(Schema):
    sitting: int
    class_name: str


class ComparisonChoices(Schema):
    """What could be compared, from one sitting on, and by whom."""

    title: str
    questions: list[ComparedQuestion]
    sittings: list[ComparisonClass]
    colleagues: list[ComparisonColleague]


class ComparisonBody(Schema):
    sittings: list[int] = Field(max_length=60)
    item: str = Field(max_length=36)
    criterion: str = Field(max_length=24)
    question: str = Field(min_length=1, max_length=200)
    judges: list[int] = Field(max_length=30)
    each: int = Field(12, ge=2, le=60)
    not_own: bool = False


class ComparisonChange(Schema):
    judges: list[int] = Field(max_length=30)
    each: int = Field(12, ge=2, le=60)


class ComparisonLine(Schema):
    """A comparison among what waits."""

    id: int
    title: str
    question: str
    classes: list[str]
    head: str
    leads: bool
    judges: bool
    done: int
    wanted: int
    mine: int
    ended: bool


class PieceLine(Schema):
    number: int
    name: str
    class_name: str
    measure: float | None
    error: float | None
    comparisons: int
    divides: bool
    """Whether it was judged against the scale more than chance does."""
    points: float | None
    """As an anchor."""
    mark: float | None


class JudgeLine(Schema):
    teacher: int
    name: str
    left: bool
    comparisons: int
    seconds: float | None
    differs: bool
    """Whether they judge otherwise than all together, more than chance does."""


class ComparisonPage(Schema):
    """As its head sees it."""

    id: int
    title: str
    question: str
    number: int
    criterion: str
    most: float
    classes: list[str]
    each: int
    not_own: bool
    ended_at: datetime | None
    done: int
    wanted: int
    separation: float | None
    pieces: list[PieceLine]
    judges: list[JudgeLine]
    why_no_marks: str
    colleagues: list[ComparisonColleague]


class PieceFile(Schema):
    place: int
    name: str
    bytes: int
    plays: Literal["", "sound", "film"]


class PieceShown(Schema):
    number: int
    text: RichText
    words: int
    by_hand: bool
    files: list[PieceFile]


class PairPage(Schema):
    """The two that lie before a judge."""

    id: int
    title: str
    question: str
    stem: RichText
    mine: int
    done: int
    wanted: int
    ended: bool
    left: PieceShown | None
    right: PieceShown | None


class JudgementBody(Schema):
    better: int = Field(ge=0, le=1_000_000)
    worse: int = Field(ge=0, le=1_000_000)


class AnchorBody(Schema):
    points: float | None = Field(None, ge=0, le=1000)


class MarksFromScale(Schema):
    really: bool = False


class MarksGiven(Schema):
    given: int
    stay: int
    drafts: bool
