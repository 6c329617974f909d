"""Comments that are used again: one's own, and those that colleagues of a department share."""

from typing import NamedTuple

from django.db import transaction
from django.db.models import Q, QuerySet

from versomark.core.language import _
from versomark.school.accounts.public import Teacher, departments_of
from versomark.school.errors import DomainError, NotFound

from .models import CurrentMark, Mark, MarkState, OwnComment
from .release import shown_in
from .services import MarkGiven, give

MOST_OFFERED = 60


def offered_to(teacher: Teacher, ref: str) -> list[str]:
    """Comments on a question: one's own first, then those of one's departments; of each those on this question before
    those on every question, the most used first."""
    rows = _known(teacher).filter(item__in=[ref, ""])
    ordered = sorted(rows, key=lambda row: (row.teacher_id != teacher.pk, row.item == "", -row.used, row.text))
    return list(dict.fromkeys(row.text for row in ordered))[:MOST_OFFERED]


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
def add_comment(by: Teacher, text: str, item: str, department: int | None) -> OwnComment:
    comment, created = OwnComment.objects.get_or_create(
        teacher=by, item=item, text=text.strip(), defaults={"used": 0, "department_id": _department(by, department)}
    )
    if not created:
        raise DomainError(_("You have this comment already."), status=409)
    return comment


def _department(by: Teacher, wanted: int | None) -> int | None:
    if wanted is not None and wanted not in {department.pk for department in departments_of(by)}:
        raise NotFound(_("department"))
    return wanted


class Changed(NamedTuple):
    comment: OwnComment
    marks: int
    """So many marks say it in the new words."""


@transaction.atomic
def change_comment(by: Teacher, comment_id: int, text: str, every_question: bool, department: int | None) -> Changed:
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
    comment.save(update_fields=["text", "item", "department"])
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
