"""One person who stands twice in the school's lists becomes one again, with everything both had."""

from django.db import transaction

from versomark.core.language import _
from versomark.school.errors import DomainError

from . import naming
from .models import SchoolClass, Student
from .signals import students_merging


@transaction.atomic
def merge_students(keep: Student, other: Student) -> Student:
    """Everything of `other` becomes `keep`'s; `other` is gone. The name and pass that stay are `keep`'s."""
    if keep.pk == other.pk or keep.school_id != other.school_id:
        raise DomainError(_("Choose two different students of this school."))
    answers = students_merging.send(sender=Student, keep=keep, other=other)
    problems = [problem for _, undecided in answers for problem in undecided or ()]
    if problems:
        transaction.set_rollback(True)
        raise DomainError(
            _(
                "{full_name} and {full_name_2} cannot become one.",
                full_name=keep.full_name,
                full_name_2=other.full_name,
            ),
            problems=problems,
        )
    _merge_places(keep, other)
    for group in other.groups.all():
        group.students.add(keep)
    for tag in other.tags.all():
        tag.students.add(keep)
    number, needs = keep.number or other.number, _needs_of_both(keep, other)
    other.delete()
    keep.number = number
    for name, value in needs.items():
        setattr(keep, name, value)
    keep.save()
    naming.tell_apart([keep, Student(given_name=other.given_name)])
    return keep


def _merge_places(keep: Student, other: Student) -> None:
    """In a class where both stood, the lower desk number is kept and the other one is not given again."""
    own = {place.school_class_id: place for place in keep.places.all()}
    for place in other.places.all():
        mine = own.get(place.school_class_id)
        if mine is None:
            place.student = keep
            place.save(update_fields=["student"])
            continue
        desk, left = min(mine.desk, place.desk), mine.left and place.left
        highest = max(mine.desk, place.desk)
        SchoolClass.objects.filter(pk=place.school_class_id, desks_given__lt=highest).update(desks_given=highest)
        place.delete()
        mine.desk, mine.left = desk, left
        mine.save(update_fields=["desk", "left"])


def _needs_of_both(keep: Student, other: Student) -> dict[str, object]:
    return {
        "extra_time": max(keep.extra_time, other.extra_time),
        "large_print": keep.large_print or other.large_print,
        "quiet_start": keep.quiet_start or other.quiet_start,
        "break_minutes": max(keep.break_minutes, other.break_minutes),
        "alone_on_page": keep.alone_on_page or other.alone_on_page,
        "large_targets": keep.large_targets or other.large_targets,
        "ground": keep.ground or other.ground,
        "read_aloud": keep.read_aloud or other.read_aloud,
    }
