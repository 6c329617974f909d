"""What goes in and comes out as JSON."""

from typing import Literal

from ninja import Field, Schema

from versomark.core.items.rubric import Rubric
from versomark.core.text import RichText

ReadingName = Literal["first", "second"]
Away = Literal["", "absent", "excused"]
EvidenceKind = Literal["sound", "picture", "film"]


class WatchedTask(Schema):
    ref: str
    number: int
    stem: RichText
    marks: float
    minutes: int
    """How long it may take; 0 where nothing is said."""
    rubric: Rubric
    """As it is now."""


class EvidenceLine(Schema):
    file: str
    name: str
    kind: EvidenceKind
    bytes: int


class WatchedMark(Schema):
    id: int
    points: dict[str, float]
    comment: str
    state: Literal["draft", "kept"]
    by: str
    mine: bool


class WatchedWork(Schema):
    """What one student showed for one task."""

    mark: WatchedMark | None
    """The one that stands in this reading, or one's own draft."""
    beside: bool
    """Whether a colleague's mark stands beside it, and nobody has chosen."""
    seconds: int | None
    evidence: list[EvidenceLine]


class WatchedStudent(Schema):
    seat: int
    desk: int
    name: str
    away: Away
    work: dict[str, WatchedWork]
    """By task; all of them."""


class WatchPage(Schema):
    sitting: int
    title: str
    class_id: int
    class_name: str
    state: str
    alone: bool
    """Whether the test is nothing but tasks that are watched, so that it is over with them."""
    tasks: list[WatchedTask]
    students: list[WatchedStudent]
    """In desk order."""
    turn: ReadingName
    second: bool
    """Whether this sitting is marked a second time."""


class WatchedMarkBody(Schema):
    points: dict[str, float] = Field(max_length=12)
    comment: str = Field("", max_length=4000)
    draft: bool = False
    seen: int | None = None
    """The mark that stood when one looked."""
    turn: ReadingName = "first"
    seconds: int | None = Field(None, ge=0, le=24 * 3600)
    """By the watch; None leaves it as it is."""
