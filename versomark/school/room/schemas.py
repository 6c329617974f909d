"""What goes in and comes out as JSON."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from ninja import Field, Schema

from versomark.core.items import ItemResponse

from . import setting_up
from .answers import Which
from .response_transfer import How


class Asked(Schema):
    """What a lesson is made of: one of these. `like` is the sitting of an earlier lesson, to be held again."""

    test: int | None = None
    edition: int | None = None
    item: UUID | None = None
    like: int | None = None
    pace: setting_up.Pace = "together"


class Start(Asked):
    class_id: int


class SetUp(Asked):
    """Ahead, for several classes in one go."""

    class_ids: list[int] = Field(min_length=1, max_length=50)
    planned_for: datetime | None = None


class SetUpLine(Schema):
    sitting: int
    class_name: str


class Homework(Schema):
    closes_at: datetime | None
    who: Literal["class", "missed"] = "class"
    """The whole class, or who was not in the lesson."""


class HomeworkGiven(Schema):
    sitting: int
    students: int


class Act(Schema):
    """What the teacher pressed."""

    act: Literal["open", "go", "again", "stop", "reopen", "question", "spread", "answer", "let go", "gather", "end"]
    place: int | None = None


class Practice(Schema):
    """By what simulated students answer; `each`: a third of them by each."""

    by: Literal["device", "pad", "card", "each"] = "device"


class Quick(Schema):
    options: int = Field(4, ge=2, le=6)


class QuickKey(Schema):
    letter: str = Field(max_length=1)


class Order(Schema):
    refs: list[str] = Field(max_length=600)


class WallSet(Schema):
    names: bool | None = None
    seconds: int | None = Field(None, ge=0, le=3600)
    names_to_pick: bool | None = None


class AnswerFor(Schema):
    """An answer for someone: by letter, or in full."""

    seat: int
    letter: str = Field("", max_length=1)
    response: ItemResponse | None = None


class SeenCard(Schema):
    desk: int
    name: str
    """Empty where nobody of the class has this desk number."""
    letter: str
    corners: list[tuple[float, float]]
    state: Literal["in", "seen", "doubt"]
    """Counted; seen, and not yet often enough; or not to be believed."""


class CardDoubt(Schema):
    seat: int | None
    desk: int
    name: str
    why: str


class Missing(Schema):
    seat: int
    desk: int
    name: str


class Look(Schema):
    """What a picture showed, and how the question stands after it."""

    width: int
    height: int
    seen: list[SeenCard]
    doubts: list[CardDoubt]
    missing: list[Missing]
    inside: int
    new: int
    """How many answers this picture settled or changed."""
    note: str


class PadLine(Schema):
    pad: int
    desk: int | None
    name: str
    """Who sits at the desk; empty where nobody does."""
    battery: int | None
    low: bool
    """Whether the battery may not last the lesson."""
    heard: str
    """When last, in words."""
    on: bool
    lost: bool
    """Heard in this lesson's half day, at a desk of it, and silent now: worth a look."""


class FreeDesk(Schema):
    desk: int
    name: str


class PadsPage(Schema):
    sitting: int
    class_name: str
    connected: list[str]
    """Names of the receivers that are connected."""
    host: str
    port: int | None
    """Where receivers connect; null where the port is taken by another program."""
    key: str
    """Empty for who is not the teacher whose lesson it is."""
    pads: list[PadLine]
    free_desks: list[FreeDesk]
    """Where no pad was heard."""
    answers_here: bool
    """Whether this is the lesson in which the pads answer now."""


class PadDeskRequest(Schema):
    desk: int = Field(ge=1, le=10_000)


class Earlier(Schema):
    sitting: int
    held: datetime | None
    in_the_room: bool
    handed_in: int
    seats: int


class BroughtOverLine(Schema):
    number: int
    into: int
    held: datetime | None
    how: How
    by: str
    at: datetime
    answers: int
    students: int
    taken_back_at: datetime | None


class Places(Schema):
    """Where the answers of a lesson can go, and where they have gone."""

    earlier: list[Earlier]
    brought: list[BroughtOverLine]


class ResponseTransferRequest(Schema):
    into: int
    how: How
    which: Which = "first"


class Effect(Schema):
    """What bringing over would do."""

    filled: int
    """Answers where none stood."""
    replaced: int
    taken_away: int
    """Answers that stand there now, to questions that the student passed over in the lesson."""
    students: list[str]
    without_a_seat: list[str]
