from datetime import date, datetime
from typing import Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Field, File, Query, Router, Schema, UploadedFile

from versomark.core.items import ItemContent, StudentItem
from versomark.core.items.rubric import Rubric
from versomark.core.text import RichText, plain, readable
from versomark.school.http import Done, teacher_of

from . import pictures, services, varied
from .models import Item, Skill, Stimulus

router = Router(tags=["bank"])
MOST_SHOWN = 200


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
    flagged: bool


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
    flags: list[str]
    notes: list[str]


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


class SkillChange(Schema):
    name: str = Field(max_length=120)
    parent: int | None = None
    code: str = Field("", max_length=60)


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


def item_page(item: Item) -> ItemPage:
    content = item.read()
    return ItemPage(
        id=item.pk,
        content=content,
        skills=[skill.name for skill in item.skills.all()],
        keywords=item.keywords,
        source=item.source,
        author=item.author,
        stimulus=item.stimulus_id,
        revision=item.revision,
        problems=content.problems(),
        changed_at=item.changed_at,
        times_used=item.times_used,
        difficulty=item.difficulty,
    )


def item_line(item: Item) -> ItemLine:
    """Straight from what is stored: a list of a hundred items validates none of them again."""
    stored = item.content
    words = readable(stored.get("stem", "")) or readable(stored.get("text", ""))
    return ItemLine(
        id=item.pk,
        kind=stored["kind"],
        words=words[:400],
        skills=[skill.name for skill in item.skills.all()],
        marks=stored.get("marks", 1),
        ready=item.ready,
        varied=bool(stored.get("variation")),
        stimulus=item.stimulus_id,
        times_used=item.times_used,
        difficulty=item.difficulty,
        flagged=item.flagged,
    )


def details(body: ItemDraft) -> services.Details:
    return services.Details(body.skills, body.keywords, body.source, body.author, body.stimulus)


@router.get("/items", response=ItemsFound)
def items(request: HttpRequest, wanted: Query[ItemSearch]) -> ItemsFound:
    parts = wanted.model_dump(exclude={"search", "most", "start"})
    result = services.find_items(teacher_of(request), services.Wanted(typed=wanted.search, **parts))
    total, shown = services.page_of(result, wanted.start, wanted.most)
    return ItemsFound(total=total, items=[item_line(item) for item in shown])


@router.post("/items", response=ItemPage)
def make_item(request: HttpRequest, body: ItemDraft) -> ItemPage:
    return item_page(services.make_item(teacher_of(request), body.content, details(body)))


@router.post("/items/archive", response=HowMany)
def archive_items(request: HttpRequest, body: ManyItems) -> HowMany:
    return HowMany(count=services.archive_items(teacher_of(request), body.ids))


@router.post("/items/restore", response=HowMany)
def restore_items(request: HttpRequest, body: ManyItems) -> HowMany:
    return HowMany(count=services.restore_items(teacher_of(request), body.ids))


@router.post("/items/tag", response=HowMany)
def tag_items(request: HttpRequest, body: ManyItems) -> HowMany:
    count = services.tag_items(teacher_of(request), body.ids, body.add_skills, body.take_skills, body.add_keywords)
    return HowMany(count=count)


@router.post("/items/draws", response=Draws)
def draws(request: HttpRequest, body: ItemDraft, count: int = 10) -> Draws:
    """The first draws of an item as it is being written; nothing is kept."""
    return Draws(draws=[Draw(**vars(draw)) for draw in varied.draws(body.content, min(max(count, 1), 20))])


@router.get("/items/{uuid:item_id}", response=ItemPage)
def item(request: HttpRequest, item_id: UUID) -> ItemPage:
    return item_page(services.item_of(teacher_of(request), item_id))


@router.put("/items/{uuid:item_id}", response=ItemPage)
def keep_item(request: HttpRequest, item_id: UUID, body: ItemChange) -> ItemPage:
    result = services.item_of(teacher_of(request), item_id)
    return item_page(services.keep_item(result, body.content, details(body), body.revision))


@router.post("/items/{uuid:item_id}/copy", response=ItemPage)
def copy_item(request: HttpRequest, item_id: UUID) -> ItemPage:
    return item_page(services.copy_item(services.item_of(teacher_of(request), item_id)))


@router.get("/items/{uuid:item_id}/history", response=ItemHistory)
def history(request: HttpRequest, item_id: UUID) -> ItemHistory:
    result = services.item_of(teacher_of(request), item_id)
    return ItemHistory(
        uses=[UseLine.model_validate(use, from_attributes=True) for use in result.uses.all()],
        versions=[
            VersionLine(
                number=version.number,
                reason=version.reason,
                made_at=version.made_at,
                words=plain(version.content.get("stem", ""))[:200],
                same=version.content == result.content,
            )
            for version in result.versions.all()
        ],
    )


@router.post("/items/{uuid:item_id}/versions/{int:number}/put-back", response=ItemPage)
def put_back(request: HttpRequest, item_id: UUID, number: int, revision: int) -> ItemPage:
    return item_page(services.put_back(services.item_of(teacher_of(request), item_id), number, revision))


def _skill(skill: Skill) -> SkillLine:
    return SkillLine(id=skill.pk, name=skill.name, parent=skill.parent_id, code=skill.code, statement=skill.statement)


@router.get("/rubrics", response=list[RubricLine])
def rubrics(request: HttpRequest) -> list[RubricLine]:
    """The rubrics of other questions, to copy from."""
    return [
        RubricLine(id=item.pk, words=item_line(item).words[:80], rubric=Rubric.model_validate(item.content["rubric"]))
        for item in services.items_with_rubric(teacher_of(request))
    ]


@router.get("/skills", response=list[SkillLine])
def skills(request: HttpRequest) -> list[SkillLine]:
    return [_skill(skill) for skill in services.skills_of(teacher_of(request))]


@router.put("/skills/{int:skill_id}", response=SkillLine)
def keep_skill(request: HttpRequest, skill_id: int, body: SkillChange) -> SkillLine:
    skill = services.skill_of(teacher_of(request), skill_id)
    return _skill(services.keep_skill(skill, body.name, body.parent, body.code))


@router.delete("/skills/{int:skill_id}", response=Done)
def remove_skill(request: HttpRequest, skill_id: int) -> Done:
    services.remove_skill(services.skill_of(teacher_of(request), skill_id))
    return Done()


def _stimulus(stimulus: Stimulus) -> StimulusPage:
    return StimulusPage(
        id=stimulus.pk,
        title=stimulus.title,
        body=stimulus.body,
        revision=stimulus.revision,
        items=sum(not item.archived for item in stimulus.items.all()),
    )


@router.get("/stimuli", response=list[StimulusPage])
def stimuli(request: HttpRequest) -> list[StimulusPage]:
    return [_stimulus(stimulus) for stimulus in services.stimuli_of(teacher_of(request))]


@router.post("/stimuli", response=StimulusPage)
def make_stimulus(request: HttpRequest, body: StimulusDraft) -> StimulusPage:
    return _stimulus(services.make_stimulus(teacher_of(request), body.title, body.body))


@router.put("/stimuli/{uuid:stimulus_id}", response=StimulusPage)
def keep_stimulus(request: HttpRequest, stimulus_id: UUID, body: StimulusChange) -> StimulusPage:
    stimulus = services.stimulus_of(teacher_of(request), stimulus_id)
    return _stimulus(services.keep_stimulus(stimulus, body.title, body.body, body.revision))


@router.post("/pictures", response=PictureLine)
def keep_picture(request: HttpRequest, file: File[UploadedFile]) -> PictureLine:
    data = file.read(pictures.MOST_BYTES + 1)
    picture = pictures.keep_picture(teacher_of(request), file.name or "", data)
    return PictureLine(id=picture.pk, address=f"/pictures/{picture.pk}", width=picture.width, height=picture.height)
