"""Questions that colleagues share with a department. Whoever takes one has a copy of their own: neither's changes reach
the other, and the figures of one class stay with its teacher."""

from collections.abc import Sequence
from uuid import UUID

from django.db import transaction
from django.db.models import Exists, OuterRef, QuerySet

from versomark.core.language import _
from versomark.school.accounts.public import Teacher, department_of, departments_of
from versomark.school.errors import NotFound

from . import search
from .models import Item, Stimulus
from .services import Details, details_of, items_of, make_item

MOST_AT_ONCE = 200


@transaction.atomic
def share_items(teacher: Teacher, item_ids: Sequence[UUID], department_id: int | None) -> int:
    """Share some of one's own with a department one belongs to, in place of another; or with nobody any more."""
    department = department_of(teacher, department_id) if department_id is not None else None
    return items_of(teacher).filter(pk__in=item_ids).update(shared_with=department)


def shared_items(teacher: Teacher, typed: str = "", department_id: int | None = None) -> QuerySet[Item]:
    """What colleagues share with departments of this teacher and is finished, the newest change first. `taken`: whether
    the teacher has a copy already."""
    departments = departments_of(teacher) if department_id is None else [department_of(teacher, department_id)]
    mine = Item.objects.filter(owner=teacher, archived=False, taken_from=OuterRef("pk"))
    shared = Item.objects.filter(shared_with__in=departments, archived=False, ready=True).exclude(owner=teacher)
    items = search.holding(shared, typed).annotate(taken=Exists(mine))
    return items.select_related("owner", "shared_with", "stimulus").prefetch_related("skills").order_by("-changed_at")


def shared_item(teacher: Teacher, item_id: UUID) -> Item:
    item = shared_items(teacher).filter(pk=item_id).first()
    if item is None:
        raise NotFound(_("question that is shared with you"))
    return item


@transaction.atomic
def take_items(teacher: Teacher, item_ids: Sequence[UUID]) -> list[Item]:
    """Copies into one's own bank, each with its passage, skills and keywords, and whose it was. Of one that was taken
    before there is a second copy: it may have changed since."""
    items = shared_items(teacher).filter(pk__in=item_ids)[:MOST_AT_ONCE]
    if len(items) != len(set(item_ids)):
        raise NotFound(_("question that is shared with you"))
    passages: dict[UUID, UUID] = {}
    copies = []
    for item in items:
        details = details_of(item)
        if item.stimulus is not None and item.stimulus.pk not in passages:
            passages[item.stimulus.pk] = _passage_of(teacher, item.stimulus)
        copy = make_item(
            teacher,
            item.read(),
            Details(
                details.skills,
                details.keywords,
                details.source,
                details.author or item.owner.name,
                passages[item.stimulus.pk] if item.stimulus else None,
            ),
        )
        Item.objects.filter(pk=copy.pk).update(taken_from=item)
        copies.append(copy)
    return copies


def _passage_of(teacher: Teacher, stimulus: Stimulus) -> UUID:
    """The teacher's own passage of the same words, made where there is none."""
    known = Stimulus.objects.filter(owner=teacher, title=stimulus.title, body=stimulus.body).first()
    return (known or Stimulus.objects.create(owner=teacher, title=stimulus.title, body=stimulus.body)).pk
