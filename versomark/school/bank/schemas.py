"""What goes in and comes out as JSON."""

from base64 import b64encode
from collections.abc import Sequence
from datetime import date, datetime
from typing import Any, Literal
from uuid import UUID

from ninja import Field, Schema

from versomark.core.findings import Confidence, FindingFacts, Thresholds, words
from versomark.core.items import ItemContent, StudentItem
from versomark.core.items.rubric import Rubric
from versomark.core.text import RichText, readable

from . import materials
from .history import of_version
from .models import Item, ItemUse

KindName = Literal["explanation", "practice", "to see", "to do"]


MOST_SHOWN = 200


MOST_BYTES = 50 * 1024 * 1024


class StandingLine(Schema):
    """A finding that stands with a question, in words."""

    heading: str
    short: str
    probability: float
    confidence: Confidence
    a_fault: bool
    """Whether it speaks against the question; an idea that it shows does not."""


class ItemLine(Schema):
    """An item as a list shows it."""

    id: UUID
    kind: str
    words: str
    skills: list[str]
    marks: float
    ready: bool
    varied: bool
    stimulus: UUID | None
    times_used: int
    difficulty: float | None
    standing: list[StandingLine]
    """What the latest sitting of this version found, most pressing first."""
    shared_with: str
    """The department that may look at it and take copies; empty for none."""


class ItemsFound(Schema):
    total: int
    items: list[ItemLine]


class StimulusPage(Schema):
    id: UUID
    title: str
    body: str
    revision: int
    items: int


class ItemPage(Schema):
    id: UUID
    content: ItemContent
    skills: list[str]
    keywords: list[str]
    source: str
    author: str
    stimulus: UUID | None
    revision: int
    problems: list[str]
    changed_at: datetime
    times_used: int
    difficulty: float | None


class ItemDraft(Schema):
    content: ItemContent
    skills: list[str] = Field([], max_length=12)
    keywords: list[str] = Field([], max_length=20)
    source: str = Field("", max_length=300)
    author: str = Field("", max_length=120)
    stimulus: UUID | None = None


class ItemChange(ItemDraft):
    revision: int


class UseLine(Schema):
    title: str
    held_on: date
    students: int
    difficulty: float
    discrimination: float | None
    standing: list[StandingLine]
    notes: list[str]
    this_version: bool
    """Whether it read as it does now, and had the same key."""


class VersionLine(Schema):
    number: int
    reason: str
    made_at: datetime
    words: str
    same: bool
    """Whether the item is still as it was then."""


class ItemHistory(Schema):
    uses: list[UseLine]
    versions: list[VersionLine]


class ManyItems(Schema):
    ids: list[UUID] = Field(max_length=2000)
    add_skills: list[str] = Field([], max_length=12)
    take_skills: list[str] = Field([], max_length=12)
    add_keywords: list[str] = Field([], max_length=20)


class HowMany(Schema):
    count: int


class SkillLine(Schema):
    id: int
    name: str
    parent: int | None
    code: str
    statement: str
    questions: int
    """Of the bank, that test it."""
    materials: int


class SkillChange(Schema):
    name: str = Field(max_length=120)
    parent: int | None = None
    code: str = Field("", max_length=60)


class SkillOrder(Schema):
    ids: list[int] = Field(max_length=1000)
    """Skills that stand below the same one, as they are to follow one another."""


class MergeInto(Schema):
    skill: int


class StimulusDraft(Schema):
    title: str = Field("", max_length=200)
    body: RichText = ""


class StimulusChange(StimulusDraft):
    revision: int


class PictureLine(Schema):
    id: UUID
    address: str
    width: int
    height: int


class Draw(Schema):
    """One draw of a varied item: the values, and what students would see, or why it is refused."""

    seed: int
    values: dict[str, str]
    item: StudentItem | None
    key: str
    refused: list[str]
    problem: str


class Draws(Schema):
    draws: list[Draw]


class RubricLine(Schema):
    id: UUID
    words: str
    rubric: Rubric


class ItemSearch(Schema):
    search: str = ""
    skill: str = ""
    kind: str = ""
    difficulty: Literal["", "easy", "middle", "hard", "unknown"] = ""
    used: Literal["", "used", "unused"] = ""
    flagged: Literal["", "flagged", "clean"] = ""
    unfinished: bool = False
    most: int = Field(60, ge=1, le=MOST_SHOWN)
    start: int = Field(0, ge=0)


class MaterialBody(Schema):
    kind: KindName = "explanation"
    title: str = Field(max_length=200)
    note: str = Field("", max_length=4000)
    link: str = Field("", max_length=1000)
    skills: list[str] = Field([], max_length=40)
    keywords: list[str] = Field([], max_length=40)

    def read(self) -> materials.MaterialKept:
        return materials.MaterialKept(**self.dict())


class MaterialLine(MaterialBody):
    id: UUID
    file: str
    """The name of the file that belongs to it."""


class MaterialFile(Schema):
    name: str = Field("", max_length=255)
    data: str = Field("", max_length=14_000_000)
    """As base64; empty to take the file away."""


class FileBrought(Schema):
    """A file as base64."""

    name: str = Field("", max_length=255)
    data: str = Field(max_length=MOST_BYTES * 4 // 3 + 8)
    without_wrong: bool = False


class BroughtLine(Schema):
    place: str
    words: str
    kind: str
    outcome: Literal["new", "same"]
    lost: list[str]


class WrongPlace(Schema):
    place: str
    says: str


class BroughtPage(Schema):
    items: list[BroughtLine]
    wrong: list[WrongPlace]
    lost: list[str]
    """What the file says beside its questions that does not come in."""


class BroughtSkillsPage(Schema):
    title: str
    new: list[str]
    changed: list[str]
    same: int
    lost: list[str]


class ItemsToSend(Schema):
    ids: list[UUID] = Field([], max_length=2000)
    """Empty for all."""


class Unsent(Schema):
    words: str
    lost: list[str]


class SentFile(Schema):
    """A file to save, as base64, and what it could not carry."""

    name: str
    type: str
    data: str
    unsent: list[Unsent]


def item_line(item: Item) -> ItemLine:
    """Straight from what is stored: a list of a hundred items validates none of them again."""
    stored = item.content
    text = readable(stored.get("stem", "")) or readable(stored.get("text", ""))
    return ItemLine(
        id=item.pk,
        kind=stored["kind"],
        words=text[:400],
        skills=[skill.name for skill in item.skills.all()],
        marks=stored.get("marks", 1),
        ready=item.ready,
        varied=bool(stored.get("variation")),
        stimulus=item.stimulus_id,
        times_used=item.times_used,
        difficulty=item.difficulty,
        standing=standing_lines(item.standing),
        shared_with=item.shared_with.name if item.shared_with else "",
    )


def standing_lines(stored: Sequence[dict[str, Any]]) -> list[StandingLine]:
    flags = map(FindingFacts.model_validate, stored)
    return [
        StandingLine(
            heading=words.heading(flag),
            short=words.short(flag),
            probability=flag.probability,
            confidence=Thresholds().confidence(flag.probability),
            a_fault=flag.flag.a_fault,
        )
        for flag in flags
    ]


def use_line(use: ItemUse, version: str) -> UseLine:
    """version: of the item as it is now."""
    return UseLine(
        title=use.title,
        held_on=use.held_on,
        students=use.students,
        difficulty=use.difficulty,
        discrimination=use.discrimination,
        standing=standing_lines(use.flags),
        notes=use.notes,
        this_version=of_version(use, version),
    )


def sent_file(name: str, type: str, data: bytes, unsent: list[Unsent]) -> SentFile:
    return SentFile(name=name, type=type, data=b64encode(data).decode(), unsent=unsent)
