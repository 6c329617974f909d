from datetime import datetime
from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Router, Schema

from versomark.core.items import ItemContent
from versomark.school.http import Done, teacher_of

from . import services
from .models import Item

router = Router(tags=["bank"])


class ItemPage(Schema):
    id: UUID
    content: ItemContent
    skills: list[str]
    revision: int
    problems: list[str]
    changed_at: datetime


class ItemDraft(Schema):
    content: ItemContent
    skills: list[str] = Field([], max_length=12)


class ItemChange(ItemDraft):
    revision: int


class SkillLine(Schema):
    id: int
    name: str


def item_page(item: Item) -> ItemPage:
    content = item.read()
    return ItemPage(
        id=item.pk,
        content=content,
        skills=[skill.name for skill in item.skills.all()],
        revision=item.revision,
        problems=content.problems(),
        changed_at=item.changed_at,
    )


@router.get("/items", response=list[ItemPage])
def items(request: HttpRequest, search: str = "", skill: str = "") -> list[ItemPage]:
    return [item_page(item) for item in services.find_items(teacher_of(request), search, skill)]


@router.post("/items", response=ItemPage)
def make_item(request: HttpRequest, body: ItemDraft) -> ItemPage:
    return item_page(services.make_item(teacher_of(request), body.content, body.skills))


@router.get("/items/{uuid:item_id}", response=ItemPage)
def item(request: HttpRequest, item_id: UUID) -> ItemPage:
    return item_page(services.item_of(teacher_of(request), item_id))


@router.put("/items/{uuid:item_id}", response=ItemPage)
def keep_item(request: HttpRequest, item_id: UUID, body: ItemChange) -> ItemPage:
    found = services.item_of(teacher_of(request), item_id)
    return item_page(services.keep_item(found, body.content, body.skills, body.revision))


@router.delete("/items/{uuid:item_id}", response=Done)
def archive_item(request: HttpRequest, item_id: UUID) -> Done:
    services.archive_item(services.item_of(teacher_of(request), item_id))
    return Done()


@router.post("/items/{uuid:item_id}/restore", response=ItemPage)
def restore_item(request: HttpRequest, item_id: UUID) -> ItemPage:
    return item_page(services.restore_item(teacher_of(request), item_id))


@router.get("/skills", response=list[SkillLine])
def skills(request: HttpRequest) -> list[SkillLine]:
    return [SkillLine(id=skill.pk, name=skill.name) for skill in services.skills_of(teacher_of(request))]
