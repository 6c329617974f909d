"""What goes in and comes out as JSON."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from ninja import Field, Schema
from pydantic import BaseModel

from versomark.core.ink import Place
from versomark.core.items.rubric import Rubric
from versomark.core.text import RichText

Order = Literal["number", "chance", "short", "unmarked", "like"]


TurnName = Literal["first", "second", "agreed", "pile"]
"""Which reading; `pile` is that of a marker to whom answers of a shared pile are handed out."""


class WaitingItem(Schema):
    ref: str
    number: int
    to_mark: int
    marked: int


class WaitingSitting(Schema):
    sitting: int
    title: str
    class_name: str
    closed_at: datetime | None
    names_hidden: bool
    items: list[WaitingItem]
    """Of those that are not waived."""
    to_mark: int
    marked: int
    second_left: int
    """Answers that wait for their second mark."""
    agree_left: int
    """Answers whose two marks are too far apart and not agreed on."""
    to_choose: int
    """Answers with two marks that were given at the same time, between which nobody has chosen."""
    pile: int | None
    """The open pile in which its answers are shared out."""
    typed: str
    """The first question in which something is typed that a key judges; empty where there is none."""


class LevelComment(Schema):
    text: str
    criterion: str
    points: float


class MarkingItem(Schema):
    ref: str
    number: int
    kind: Literal["written", "file", "performance"]
    stem: RichText
    marks: float
    rubric: Rubric
    stimulus: RichText
    waived: bool
    comments: list[str]
    """One's own on this question, most used first."""
    level_comments: list[LevelComment]
    """Of those, the ones that go with one level."""


class MarkingEntry(BaseModel):
    """One answer in the strip: whether it needs a mark, and what it has."""

    number: int
    state: Literal["nothing", "waiting", "draft", "kept"]
    marks: float | None
    words: int
    beside: bool
    """Whether a colleague's mark stands beside it, and nobody has chosen."""
    again: bool = False
    """Whether its marker is asked to look at it again."""


class MarkingPage(Schema):
    sitting: int
    title: str
    class_name: str
    names_hidden: bool
    may_hide: bool
    names: dict[int, str]
    """By number; empty while names are hidden."""
    items: list[MarkingItem]
    entries: dict[str, list[MarkingEntry]]
    """By item."""
    item: str
    """Where one was last, or where to begin."""
    number: int
    by_student: bool
    order: Order
    turn: TurnName
    pile: int | None
    """The open pile in which the answers are shared out."""
    leads_pile: bool
    second: bool
    """Whether answers of this sitting are marked a second time."""
    second_left: int
    agree_left: int


class MarkLine(Schema):
    id: int
    points: dict[str, float]
    comment: str
    state: Literal["draft", "kept", "aside", "passed"]
    by: str
    mine: bool
    at: datetime


class WorkFileLine(Schema):
    place: int
    name: str
    bytes: int
    plays: Literal["", "sound", "film"]


class ReturnedLine(Schema):
    id: UUID
    name: str
    by: str


class RemarkLine(Schema):
    key: UUID
    place: Place
    text: str
    criterion: str
    by: str
    mine: bool
    at: datetime


class DraftPassage(Schema):
    fate: Literal["same", "new", "gone"]
    words: str


class DraftBefore(Schema):
    """What a student had written before, with what is otherwise now, and what it earned."""

    passages: list[DraftPassage]
    mark: MarkLine


class AnswerPage(Schema):
    number: int
    text: RichText
    words: int
    by_hand: bool
    files: list[WorkFileLine]
    given: bool
    mark: MarkLine | None
    """The one that stands, or one's own draft."""
    beside: list[MarkLine]
    """Marks that were given at the same time as the one that stands, between which nobody has chosen."""
    history: list[MarkLine]
    """All that were given in this reading, the latest first; where two are to be agreed on, all."""
    others: list[MarkLine]
    """Where two are to be agreed on: the first and the second."""
    remarks: list[RemarkLine]
    returned: list[ReturnedLine]
    """Files that came back with a marker's remarks in them."""
    overall: str
    overall_id: int | None
    overall_by: str
    """What their student is told about all of their work."""
    work: str
    """Stands for this work; sent back with its mark, so that a number that has changed meanwhile misleads nobody."""
    again: str
    """Why its marker is asked to look at it again; empty where they are not."""
    before: DraftBefore | None
    """Where work was given back after it had been marked, and is written."""


class MarkBody(Schema):
    points: dict[str, float] = Field(max_length=12)
    comment: str = Field("", max_length=4000)
    draft: bool = False
    seen: int | None = None
    """The mark that stood when one looked."""
    turn: TurnName = "first"
    work: str = Field("", max_length=32)
    """That of the answer that was looked at."""


class Kept(Schema):
    mark: MarkLine
    entry: MarkingEntry
    stands: bool
    """Whether it stands; if not, `other` was given by a colleague meanwhile.
    A mark is kept beside it, a draft is not."""
    other: MarkLine | None
    comments: list[str]


class MarkChoiceRequest(Schema):
    mark: int
    turn: TurnName = "first"


class MarkerAtRequest(Schema):
    item: str = Field(max_length=36)
    number: int = Field(ge=0, le=30_000)
    turn: TurnName = "first"


class MarkerAt(Schema):
    """A colleague who is at work in the same sitting."""

    name: str
    turn: TurnName
    item: str
    number: int


class BookmarkBody(Schema):
    item: str = Field(max_length=36)
    number: int = Field(ge=0, le=30_000)
    by_student: bool = False
    order: Order = "number"


class OverallBody(Schema):
    text: str = Field("", max_length=4000)
    seen: int | None = None
    """The comment that was there when the writing began."""
    item: str = Field("", max_length=36)
    work: str = Field("", max_length=32)
    """The answer that was looked at, and what stands for it: see `AnswerPage`."""


class OverallKept(Schema):
    id: int | None
    """Of the comment that stands now."""


class WaiveBody(Schema):
    waived: bool


class NamesBody(Schema):
    hidden: bool


class AwayMark(Schema):
    number: int
    name: str
    question: int
    points: float
    of: float
    comment: str
    found: Literal["new", "other", "same"]


class AwayFile(Schema):
    number: int
    name: str
    question: int
    file: str
    bytes: int


class AwayLook(Schema):
    """What an upload would do."""

    upload: UUID
    marks: list[AwayMark]
    """New marks and other ones than stand; those that say the same are only counted."""
    same: int
    files: list[AwayFile]
    unchanged: int
    problems: list[str]


class AwayDone(Schema):
    marks: int
    aside: int
    files: int


class FilePreview(Schema):
    pages: int
    text: str
    says: str


class SecondBody(Schema):
    which: Literal["all", "sample", "near"]
    share: int = Field(20, ge=1, le=100)
    cut: float = Field(50, ge=0, le=100)
    within: float = Field(5, ge=0, le=50)
    tolerance: float = Field(1, ge=0, le=100)
    mean: bool = False


class EstimateLine(Schema):
    value: float
    low: float
    high: float


class AgreementLine(Schema):
    name: str
    answers: int
    exact: float | None
    adjacent: float | None
    difference: float | None
    """The second less the first, in points."""
    kappa: EstimateLine | None
    icc: EstimateLine | None
    alpha: float | None
    reasons: dict[str, str]


class MarkerLine(Schema):
    name: str
    marks: int
    severity: float | None
    """Points less than the others would give; None where the marks cannot tell."""


class QuestionCompared(Schema):
    ref: str
    number: int
    whole: AgreementLine
    criteria: list[AgreementLine]
    markers: list[MarkerLine]


class SecondPage(Schema):
    plan: SecondBody | None
    says: str
    second_left: int
    agree_left: int
    questions: list[QuestionCompared]
