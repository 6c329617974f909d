"""The bank: writing, finding and keeping questions."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Literal
from uuid import UUID

from django.db import transaction
from django.db.models import Count, Exists, F, Max, OuterRef, Q, QuerySet, Window

from versomark.core.items import ItemContent
from versomark.core.language import _
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError, NotFound

from . import search
from .history import sum_up
from .models import Item, ItemVersion, Skill, Stimulus

EASY, HARD = 0.8, 0.4
"""Difficulty in words: most earned four fifths of the marks, or less than two fifths. Common practice, no source."""
MOST_KEYWORDS = 20


@dataclass(frozen=True)
class Details:
    """What is known of an item besides its content."""

    skills: Sequence[str] = ()
    keywords: Sequence[str] = ()
    source: str = ""
    author: str = ""
    stimulus: UUID | None = None


@dataclass(frozen=True)
class ItemFilter:
    """What a search of the bank asks for; empty parts ask for nothing."""

    typed: str = ""
    skill: str = ""
    kind: str = ""
    difficulty: Literal["", "easy", "middle", "hard", "unknown"] = ""
    used: Literal["", "used", "unused"] = ""
    flagged: Literal["", "flagged", "clean"] = ""
    unfinished: bool = False
    besides: Sequence[UUID] = field(default=())


def items_of(teacher: Teacher) -> QuerySet[Item]:
    items = Item.objects.filter(owner=teacher, archived=False)
    return items.prefetch_related("skills").select_related("stimulus", "shared_with")


def find_items(teacher: Teacher, wanted: ItemFilter | None = None) -> QuerySet[Item]:
    """Items that fit, newest change first."""
    wanted = wanted or ItemFilter()
    holding = search.holding(items_of(teacher), wanted.typed)
    if wanted.skill:
        # A subquery and not a join, so that an item with two skills of the branch counts once.
        tagged = Item.skills.through.objects.filter(
            item_id=OuterRef("pk"), skill_id__in=branch_of(teacher, wanted.skill)
        )
        holding = holding.filter(Exists(tagged))
    if wanted.kind:
        holding = holding.filter(kind=wanted.kind)
    if wanted.difficulty:
        holding = holding.filter(
            {
                "easy": Q(difficulty__gte=EASY),
                "middle": Q(difficulty__gte=HARD, difficulty__lt=EASY),
                "hard": Q(difficulty__lt=HARD),
                "unknown": Q(difficulty=None),
            }[wanted.difficulty]
        )
    if wanted.used:
        holding = holding.filter(times_used__gt=0) if wanted.used == "used" else holding.filter(times_used=0)
    if wanted.flagged:
        holding = holding.filter(flagged=wanted.flagged == "flagged")
    if wanted.unfinished:
        holding = holding.filter(ready=False)
    return holding.exclude(pk__in=wanted.besides) if wanted.besides else holding


def page_of(items: QuerySet[Item], start: int, most: int) -> tuple[int, list[Item]]:
    """How many there are, and some of them in order. Ids are sorted first and rows read after: a row holds a whole
    question, and sorting twenty thousand of those is what takes the time."""
    narrow = items.prefetch_related(None).select_related(None).annotate(total=Window(Count("pk")))
    # Counted in the same pass, so that the index is asked once.
    page = list(narrow.values_list("pk", "total")[start : start + most])
    rows = {
        item.pk: item
        for item in items.model.objects.filter(pk__in=[pk for pk, _ in page])
        .select_related("shared_with")
        .prefetch_related("skills")
    }
    total = page[0][1] if page else items.count()
    return total, [rows[pk] for pk, _ in page]


def items_with_rubric(teacher: Teacher) -> QuerySet[Item]:
    """The questions that a person marks, newest change first."""
    return items_of(teacher).filter(kind__in=("written", "file", "performance"))[:200]


def item_of(teacher: Teacher, item_id: UUID) -> Item:
    item = items_of(teacher).filter(pk=item_id).first()
    if item is None:
        raise NotFound(_("question"))
    return item


@transaction.atomic
def make_item(teacher: Teacher, content: ItemContent, details: Details | None = None) -> Item:
    item = Item(owner=teacher)
    _write(item, content, details or Details())
    return item


@transaction.atomic
def keep_item(item: Item, content: ItemContent, details: Details, revision: int) -> Item:
    """Keep a change. Refused when the item was changed elsewhere since `revision`, so that nothing is overwritten."""
    updated = Item.objects.filter(pk=item.pk, revision=revision).update(revision=revision + 1)
    if not updated:
        raise DomainError(_("This question was changed in another window since you opened it. Load it again to go on."))
    item.revision = revision + 1
    _write(item, content, details)
    return item


@transaction.atomic
def copy_item(item: Item) -> Item:
    """A copy to change, beside the one that stays."""
    return make_item(item.owner, item.read(), details_of(item))


@transaction.atomic
def archive_items(teacher: Teacher, item_ids: Sequence[UUID]) -> int:
    """Out of the bank. Editions that use them keep their own copy."""
    return items_of(teacher).filter(pk__in=item_ids).update(archived=True)


@transaction.atomic
def restore_items(teacher: Teacher, item_ids: Sequence[UUID]) -> int:
    return Item.objects.filter(owner=teacher, pk__in=item_ids).update(archived=False)


@transaction.atomic
def tag_items(
    teacher: Teacher, item_ids: Sequence[UUID], add: Sequence[str], take: Sequence[str], keywords: Sequence[str]
) -> int:
    """Add and take off skills and add keywords, on many items at once."""
    items = list(items_of(teacher).filter(pk__in=item_ids))
    for item in items:
        details = details_of(item)
        skills = [name for name in [*details.skills, *add] if name not in take]
        _write(
            item,
            item.read(),
            Details(skills, [*details.keywords, *keywords], details.source, details.author, details.stimulus),
        )
        Item.objects.filter(pk=item.pk).update(revision=F("revision") + 1)
    return len(items)


def details_of(item: Item) -> Details:
    skills = [skill.name for skill in item.skills.all()]
    return Details(skills, item.keywords, item.source, item.author, item.stimulus_id)


def _write(item: Item, content: ItemContent, details: Details) -> None:
    keywords = list(dict.fromkeys(" ".join(word.split()) for word in details.keywords if word.strip()))
    if len(keywords) > MOST_KEYWORDS or any(len(word) > 60 for word in keywords):
        raise DomainError(
            _("A question has at most {most_keywords} keywords of at most 60 letters.", most_keywords=MOST_KEYWORDS),
            status=422,
        )
    if details.stimulus and not Stimulus.objects.filter(owner=item.owner, pk=details.stimulus).exists():
        raise NotFound(_("passage"))
    item.content, item.kind, item.ready = content.model_dump(mode="json"), content.kind, not content.problems()
    item.keywords, item.source, item.author = keywords, details.source.strip(), details.author.strip()
    item.stimulus_id = details.stimulus
    skills = list(named_skills(item.owner, details.skills))
    item.words = _words(content, item, skills)
    item.save()
    item.skills.set(skills)
    if item.times_used:
        sum_up(item)
    search.index([item])


def _words(content: ItemContent, item: Item, skills: Sequence[Skill]) -> str:
    named = [skill.name for skill in skills] + [skill.code for skill in skills]
    texts = [plain(text) for text in content.texts()]
    return " ".join([*texts, *item.keywords, item.source, item.author, *named]).casefold()


def reword(items: Sequence[Item]) -> None:
    """Their words anew, after a skill they carry has another name: found by it, and not changed by it."""
    for item in items:
        item.words = _words(item.read(), item, list(item.skills.all()))
    Item.objects.bulk_update(items, ["words"], batch_size=500)
    search.index(items)


def skills_of(teacher: Teacher) -> QuerySet[Skill]:
    return Skill.objects.filter(owner=teacher)


def branch_of(teacher: Teacher, name: str) -> list[int]:
    """The ids of a skill and of all below it."""
    children: dict[int | None, list[int]] = {}
    top: list[int] = []
    for pk, parent, own in skills_of(teacher).values_list("pk", "parent_id", "name"):
        children.setdefault(parent, []).append(pk)
        if own == name:
            top.append(pk)
    results = list[int]()
    while top:
        results.append(top.pop())
        top += children.get(results[-1], [])
    return results


def named_skills(teacher: Teacher, names: Sequence[str]) -> Iterable[Skill]:
    """The teacher's skills of these names, made where they are new."""
    for name in dict.fromkeys(" ".join(name.split()) for name in names):
        if not name or len(name) > 120:
            raise DomainError(_("A skill has a name of 1 to 120 letters."))
        yield Skill.objects.get_or_create(owner=teacher, name=name)[0]


@transaction.atomic
def keep_version(item: Item, reason: str) -> ItemVersion:
    """The item as it is now, kept for good; the latest version again when nothing changed since."""
    latest = item.versions.order_by("-number").first()
    if latest is not None and latest.content == item.content:
        return latest
    number = (item.versions.aggregate(highest=Max("number"))["highest"] or 0) + 1
    return ItemVersion.objects.create(item=item, number=number, content=item.content, reason=reason[:200])


@transaction.atomic
def put_back(item: Item, number: int, revision: int) -> Item:
    """The item as it was in an earlier version; what it is now becomes a version too."""
    version = item.versions.filter(number=number).first()
    if version is None:
        raise NotFound(_("version"))
    keep_version(item, _("before an earlier version was put back"))
    item.content = version.content
    return keep_item(item, item.read(), details_of(item), revision)


def stimuli_of(teacher: Teacher) -> QuerySet[Stimulus]:
    return Stimulus.objects.filter(owner=teacher).prefetch_related("items")


def stimulus_of(teacher: Teacher, stimulus_id: UUID) -> Stimulus:
    stimulus = stimuli_of(teacher).filter(pk=stimulus_id).first()
    if stimulus is None:
        raise NotFound(_("passage"))
    return stimulus


@transaction.atomic
def make_stimulus(teacher: Teacher, title: str, body: str) -> Stimulus:
    return Stimulus.objects.create(owner=teacher, title=title.strip(), body=body)


@transaction.atomic
def keep_stimulus(stimulus: Stimulus, title: str, body: str, revision: int) -> Stimulus:
    if not Stimulus.objects.filter(pk=stimulus.pk, revision=revision).update(revision=revision + 1):
        raise DomainError(_("This passage was changed in another window since you opened it. Load it again to go on."))
    stimulus.title, stimulus.body, stimulus.revision = title.strip(), body, revision + 1
    stimulus.save()
    return stimulus
