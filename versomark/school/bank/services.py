"""The bank: writing, finding and keeping questions."""

from collections.abc import Iterable, Sequence
from uuid import UUID

from django.db import transaction
from django.db.models import QuerySet

from versomark.core.items import ItemContent
from versomark.school.accounts.models import Teacher
from versomark.school.problems import NotFound, NotPossible

from .models import Item, Skill


def items_of(teacher: Teacher) -> QuerySet[Item]:
    return Item.objects.filter(owner=teacher, archived=False).prefetch_related("skills")


def find_items(teacher: Teacher, typed: str = "", skill: str = "") -> QuerySet[Item]:
    """Items in which every typed word stands somewhere, newest change first."""
    found = items_of(teacher)
    for word in typed.casefold().split()[:8]:
        found = found.filter(words__contains=word)
    return found.filter(skills__name=skill) if skill else found


def item_of(teacher: Teacher, item_id: UUID) -> Item:
    found = items_of(teacher).filter(pk=item_id).first()
    if found is None:
        raise NotFound("question")
    return found


@transaction.atomic
def make_item(teacher: Teacher, content: ItemContent, skills: Sequence[str] = ()) -> Item:
    item = Item.objects.create(owner=teacher, content=content.model_dump(), words=_words(content))
    item.skills.set(_skills(teacher, skills))
    return item


@transaction.atomic
def keep_item(item: Item, content: ItemContent, skills: Sequence[str], revision: int) -> Item:
    """Keep a change. Refused when the item was changed elsewhere since `revision`, so that nothing is overwritten."""
    kept = Item.objects.filter(pk=item.pk, revision=revision).update(revision=revision + 1)
    if not kept:
        raise NotPossible("This question was changed in another window since you opened it. Load it again to go on.")
    item.content, item.words, item.revision = content.model_dump(), _words(content), revision + 1
    item.save()
    item.skills.set(_skills(item.owner, skills))
    return item


@transaction.atomic
def archive_item(item: Item) -> None:
    """Out of the bank. Editions that use it keep their own copy."""
    item.archived = True
    item.save(update_fields=["archived"])


@transaction.atomic
def restore_item(teacher: Teacher, item_id: UUID) -> Item:
    Item.objects.filter(owner=teacher, pk=item_id).update(archived=False)
    return item_of(teacher, item_id)


def skills_of(teacher: Teacher) -> QuerySet[Skill]:
    return Skill.objects.filter(owner=teacher)


def _skills(teacher: Teacher, names: Sequence[str]) -> Iterable[Skill]:
    """The teacher's skills of these names, made where they are new."""
    for name in dict.fromkeys(" ".join(name.split()) for name in names):
        if not name or len(name) > 120:
            raise NotPossible("A skill has a name of 1 to 120 letters.")
        yield Skill.objects.get_or_create(owner=teacher, name=name)[0]


def _words(content: ItemContent) -> str:
    return " ".join([content.stem, *(answer.text for answer in content.answers())]).casefold()
