"""Questions that colleagues share with a department."""

from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Query, Router, Schema

from versomark.core.items import StudentItem
from versomark.school.http import teacher_of

from . import services, sharing
from .schemas import MOST_SHOWN, HowMany, ItemLine, item_line

router = Router(tags=["bank"])


class SharedSearch(Schema):
    search: str = Field("", max_length=200)
    department: int | None = None
    start: int = Field(0, ge=0)
    most: int = Field(50, ge=1, le=MOST_SHOWN)


class ItemsToShare(Schema):
    ids: list[UUID] = Field(max_length=2000)
    department: int | None
    """None for nobody any more."""


class ItemsToTake(Schema):
    ids: list[UUID] = Field(min_length=1, max_length=sharing.MOST_AT_ONCE)


class SharedLine(Schema):
    item: ItemLine
    owner: str
    department: str
    taken: bool
    """Whether there is a copy of it in one's own bank."""


class SharedFound(Schema):
    total: int
    items: list[SharedLine]


class SharedPage(Schema):
    """A question of a colleague's as students see it, and its key, to look at before it is taken."""

    seen: StudentItem
    passage: str
    key: str
    """In words; empty for what a person marks."""


def _without_figures(line: ItemLine) -> ItemLine:
    """How a question went in a class is for the teacher of that class."""
    return line.model_copy(update={"times_used": 0, "difficulty": None, "standing": []})


@router.get("/items/shared", response=SharedFound)
def list_shared(request: HttpRequest, wanted: Query[SharedSearch]) -> SharedFound:
    result = sharing.shared_items(teacher_of(request), wanted.search, wanted.department)
    return SharedFound(
        total=result.count(),
        items=[
            SharedLine(
                item=_without_figures(item_line(item)),
                owner=item.owner.name,
                department=item.shared_with.name if item.shared_with else "",
                taken=item.taken,  # type: ignore[attr-defined]
            )
            for item in result[wanted.start : wanted.start + wanted.most]
        ],
    )


@router.get("/items/shared/{uuid:item_id}", response=SharedPage)
def shared(request: HttpRequest, item_id: UUID) -> SharedPage:
    item = sharing.shared_item(teacher_of(request), item_id)
    content = item.read()
    by_key = content.marked_by == "key"
    return SharedPage(
        seen=content.for_student(),
        passage=item.stimulus.body if item.stimulus else "",
        key=content.key_words() if by_key else "",
    )


@router.post("/items/shared/take", response=list[ItemLine])
def take(request: HttpRequest, body: ItemsToTake) -> list[ItemLine]:
    """Copies of one's own."""
    teacher = teacher_of(request)
    taken = [item.pk for item in sharing.take_items(teacher, body.ids)]
    return [item_line(item) for item in services.items_of(teacher).filter(pk__in=taken)]


@router.post("/items/share", response=HowMany)
def share(request: HttpRequest, body: ItemsToShare) -> HowMany:
    return HowMany(count=sharing.share_items(teacher_of(request), body.ids, body.department))
