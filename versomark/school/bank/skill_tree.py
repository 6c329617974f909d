"""The tree of a teacher's skills: made, renamed, put in order, merged, taken out."""

from collections.abc import Iterable, Sequence

from django.db import transaction
from django.db.models import Count, Max, Q, QuerySet

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError, NotFound

from .models import Item, Skill
from .services import reword, skills_of
from .signals import skill_renamed


def skill_of(teacher: Teacher, skill_id: int) -> Skill:
    skill = skills_of(teacher).filter(pk=skill_id).first()
    if skill is None:
        raise NotFound(_("skill"))
    return skill


def with_counts(teacher: Teacher) -> QuerySet[Skill]:
    """The teacher's skills in their order, each with `question_count`, of those in the bank, and `material_count`."""
    return (
        skills_of(teacher)
        .annotate(
            question_count=Count("items", filter=Q(items__archived=False), distinct=True),
            material_count=Count("materials", distinct=True),
        )
        .order_by("place", "name")
    )


@transaction.atomic
def make_skill(teacher: Teacher, name: str, parent_id: int | None = None, code: str = "") -> Skill:
    """A new one, after those it stands among."""
    name = _checked(teacher, name, parent_id)
    last = skills_of(teacher).filter(parent=parent_id).aggregate(highest=Max("place"))["highest"] or 0
    return Skill.objects.create(owner=teacher, name=name, parent_id=parent_id, code=code.strip(), place=last)


@transaction.atomic
def keep_skill(skill: Skill, name: str, parent_id: int | None, code: str) -> Skill:
    """Rename a skill or put it elsewhere in the tree. A skill never stands below itself."""
    name = _checked(skill.owner, name, parent_id, besides=skill.pk)
    if parent_id is not None and parent_id in _branch(skill):
        raise DomainError(_("A skill cannot stand below itself."))
    before = skill.name
    skill.name, skill.parent_id, skill.code = name, parent_id, code.strip()
    skill.save()
    reword(list(skill.items.prefetch_related("skills")))
    if name != before:
        skill_renamed.send(sender=Skill, owner=skill.owner, before=before, after=name)
    return skill


def _checked(teacher: Teacher, name: str, parent_id: int | None, besides: int = 0) -> str:
    name = " ".join(name.split())
    if not name:
        raise DomainError(_("A skill needs a name."), status=422)
    if skills_of(teacher).filter(name=name).exclude(pk=besides).exists():
        raise DomainError(_("You have a skill called {name} already.", name=name))
    if parent_id is not None and not skills_of(teacher).filter(pk=parent_id).exists():
        raise NotFound(_("skill"))
    return name


def _branch(skill: Skill) -> set[int]:
    """The ids of a skill and of all below it."""
    children: dict[int | None, list[int]] = {}
    for pk, parent in skills_of(skill.owner).values_list("pk", "parent_id"):
        children.setdefault(parent, []).append(pk)
    below, waiting = set[int](), [skill.pk]
    while waiting:
        below.add(waiting[-1])
        waiting += children.get(waiting.pop(), [])
    return below


@transaction.atomic
def order_skills(teacher: Teacher, ids: Sequence[int]) -> None:
    """These stand in this order where they stand together; what has no place of its own goes by its name."""
    skills = skills_of(teacher).in_bulk(ids)
    if len(skills) != len(set(ids)):
        raise NotFound(_("skill"))
    for place, number in enumerate(ids, start=1):
        skills[number].place = place
    Skill.objects.bulk_update(skills.values(), ["place"])


@transaction.atomic
def merge_skill(skill: Skill, into: Skill) -> Skill:
    """Its questions, its materials and what stands below it become the other's, and it is gone."""
    if skill.pk == into.pk:
        raise DomainError(_("A skill cannot be merged into itself."), status=422)
    if into.pk in _branch(skill):
        # What stands below moves up first, so that nothing comes to stand below itself.
        into.parent = skill.parent
        into.save(update_fields=["parent"])
    skill.children.exclude(pk=into.pk).update(parent=into)
    items = list(skill.items.values_list("pk", flat=True))
    into.items.add(*skill.items.all())
    into.materials.add(*skill.materials.all())
    owner, before = skill.owner, skill.name
    skill.delete()
    _reword_items(items)
    skill_renamed.send(sender=Skill, owner=owner, before=before, after=into.name)
    return into


@transaction.atomic
def remove_skill(skill: Skill) -> None:
    """Its items lose it; what stood below it moves up."""
    skill.children.update(parent=skill.parent)
    items = list(skill.items.values_list("pk", flat=True))
    skill.delete()
    _reword_items(items)


def _reword_items(ids: Iterable[object]) -> None:
    reword(list(Item.objects.filter(pk__in=list(ids)).prefetch_related("skills")))
