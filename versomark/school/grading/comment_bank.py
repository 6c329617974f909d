"""Comments that are used again: one's own, and those that colleagues of a department share."""

from collections.abc import Mapping
from typing import Any, NamedTuple
from uuid import UUID

from django.db import transaction
from django.db.models import Q, QuerySet

from versomark.core.items.by_rubric import ByRubric
from versomark.core.items.rubric import Criterion
from versomark.core.language import _
from versomark.school.accounts.public import Teacher, departments_of
from versomark.school.bank.public import Item, Material
from versomark.school.errors import DomainError, NotFound

from .models import CurrentMark, Mark, MarkState, OwnComment
from .release import shown_in
from .schemas import LevelComment
from .services import MarkGiven, give

MOST_OFFERED = 60


class More(NamedTuple):
    """What belongs to a comment beside its words."""

    level: tuple[str, float] | None = None
    """The criterion and the points with which it is offered; None for any."""
    material: UUID | None = None
    follow_up: str = ""


def offered_to(teacher: Teacher, ref: str) -> list[str]:
    """Comments on a question: one's own first, then those of one's departments; of each those on this question before
    those on every question, the most used first."""
    rows = _known(teacher).filter(item__in=[ref, ""])
    ordered = sorted(rows, key=lambda row: (row.teacher_id != teacher.pk, row.item == "", -row.used, row.text))
    return list(dict.fromkeys(row.text for row in ordered))[:MOST_OFFERED]


def offered_with_levels(teacher: Teacher, ref: str) -> list[LevelComment]:
    """Of the comments that are offered on a question, those that go with one level."""
    rows = _known(teacher).filter(item=ref).exclude(points=None).order_by("text", "pk")
    return [LevelComment(text=row.text, criterion=row.criterion, points=row.points or 0.0) for row in rows]


class GoesWith(NamedTuple):
    """What a comment gives its student to go on with."""

    follow_up: str
    material: Material | None


def goes_with(marks: Mapping[str, Mark]) -> dict[str, list[GoesWith]]:
    """By item, what belongs to the comments of these marks. Of two that say the same, the marker's own counts."""
    markers = {mark.by_id: mark.by for mark in marks.values() if mark.comment}
    known = {pk: _with_more(marker) for pk, marker in markers.items()}
    by_item = {}
    for ref, mark in marks.items():
        rows = [row for row in known.get(mark.by_id, []) if row.item in (ref, "") and row.stands_in(mark.comment)]
        by_text = {row.text: row for row in sorted(rows, key=lambda row: row.teacher_id == mark.by_id)}
        if by_text:
            by_item[ref] = [GoesWith(row.follow_up, row.material) for row in by_text.values()]
    return by_item


def _with_more(marker: Teacher) -> list[OwnComment]:
    rows = _known(marker).exclude(material=None, follow_up="")
    return list(rows.select_related("material").order_by("text", "pk"))


def levels_of_question(item: str) -> list[Criterion]:
    """The levels with which a comment on this question may be offered; none of one that is not in the bank."""
    row = Item.objects.filter(pk=item).first() if item else None
    content = row.read() if row is not None else None
    return list(content.rubric.criteria) if isinstance(content, ByRubric) else []


def _known(teacher: Teacher) -> QuerySet[OwnComment]:
    departments = [department.pk for department in departments_of(teacher)]
    return OwnComment.objects.filter(Q(teacher=teacher) | Q(department__in=departments))


def comments_of(teacher: Teacher) -> list[OwnComment]:
    """One's own and those that one's departments share, the most used first."""
    return list(_known(teacher).select_related("teacher", "department").order_by("-used", "text"))


def own_comment(teacher: Teacher, comment_id: int) -> OwnComment:
    comment = _known(teacher).filter(pk=comment_id).select_related("teacher").first()
    if comment is None:
        raise NotFound(_("comment"))
    if comment.teacher_id != teacher.pk:
        raise DomainError(_("{name} wrote this comment, and changes it.", name=comment.teacher.name), 403)
    return comment


@transaction.atomic
def add_comment(by: Teacher, text: str, item: str, department: int | None, more: More) -> OwnComment:
    comment, created = OwnComment.objects.get_or_create(
        teacher=by,
        item=item,
        text=text.strip(),
        defaults={"used": 0, "department_id": _department(by, department), **_more(by, more)},
    )
    if not created:
        raise DomainError(_("You have this comment already."), status=409)
    return comment


def _more(by: Teacher, more: More) -> dict[str, Any]:
    if more.material is not None and not Material.objects.filter(pk=more.material, owner=by).exists():
        raise NotFound(_("material"))
    return {"material_id": more.material, "follow_up": more.follow_up.strip()}


def _department(by: Teacher, wanted: int | None) -> int | None:
    if wanted is not None and wanted not in {department.pk for department in departments_of(by)}:
        raise NotFound(_("department"))
    return wanted


class Changed(NamedTuple):
    comment: OwnComment
    marks: int
    """So many marks say it in the new words."""


@transaction.atomic
def change_comment(
    by: Teacher, comment_id: int, text: str, every_question: bool, department: int | None, more: More
) -> Changed:
    """Change a comment, and what one's own marks say with it, where no student may see them yet. Marks stay in the
    history as they were given."""
    comment = own_comment(by, comment_id)
    before, text = comment.text, text.strip()
    item = "" if every_question else comment.item
    if OwnComment.objects.filter(teacher=by, item=item, text=text).exclude(pk=comment.pk).exists():
        raise DomainError(_("You have this comment already."), status=409)
    marks = _say_anew(by, before, text) if text != before else 0
    # What was said anew was offered anew as well, as a comment of its own.
    OwnComment.objects.filter(teacher=by, text=text).exclude(pk=comment.pk).delete()
    comment.text, comment.item, comment.department_id = text, item, _department(by, department)
    at_level = more.level is not None and any(
        criterion.id == more.level[0] and more.level[1] in {level.points for level in criterion.levels}
        for criterion in levels_of_question(item)
    )
    comment.criterion, comment.points = more.level if at_level and more.level else ("", None)
    for name, value in _more(by, more).items():
        setattr(comment, name, value)
    comment.save(update_fields=["text", "item", "department", "criterion", "points", "material", "follow_up"])
    return Changed(comment, marks)


def _say_anew(by: Teacher, before: str, text: str) -> int:
    standing = CurrentMark.objects.filter(mark__by=by, mark__state=MarkState.KEPT, mark__comment__contains=before)
    shown: dict[int, set[int]] = {}
    changed = 0
    for row in standing.select_related("mark", "seat__sitting"):
        sitting = row.seat.sitting
        if sitting.pk not in shown:
            shown[sitting.pk] = set(shown_in(sitting))
        lines = [text if line.strip() == before else line for line in row.mark.comment.split("\n")]
        if row.seat_id in shown[sitting.pk] or lines == row.mark.comment.split("\n"):
            continue
        changed += _kept_with(by, row.mark, "\n".join(lines), row)
    return changed


def _kept_with(by: Teacher, mark: Mark, comment: str, row: CurrentMark) -> int:
    try:
        give(by, row.seat, row.item, MarkGiven(mark.points, comment, False, mark.pk, mark.turn))  # type: ignore[arg-type]
    except DomainError:
        return 0  # waived meanwhile, or given back: what it said stays
    return 1


@transaction.atomic
def take_out(by: Teacher, comment_id: int) -> None:
    """It is offered no more; what was said with it stays."""
    own_comment(by, comment_id).delete()
