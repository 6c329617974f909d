"""How students are shown to everybody who works with them: short, and no two alike whom one teacher sees."""

from collections import defaultdict
from collections.abc import Iterable

from versomark.core.names import Name, short_name_among

from .models import Enrolment, Student


def tell_apart(students: Iterable[Student]) -> None:
    """Renew the shown names of these students, and of everybody of a given name like theirs in the same company.

    The company of a student are the students of all classes that a teacher of theirs may see, left or not: records
    keep who has left, and one sitting may seat students of several classes.
    """
    given = {student.given_name.casefold() for student in students}
    schools = {student.school_id for student in students if student.school_id}
    everybody = Student.objects.filter(school__in=schools).order_by("pk")
    alike = {entry.pk: entry for entry in everybody if entry.given_name.casefold() in given}
    company = _company(list(alike))
    changed = list[Student]()
    for student in alike.values():
        others = [alike[pk] for pk in sorted(company[student.pk] - {student.pk})]
        shown = short_name_among(
            _name(student),
            [_name(entry) for entry in others if entry.pk < student.pk],
            [_name(entry) for entry in others if entry.pk > student.pk],
        )
        if student.display_name != shown:
            student.display_name = shown
            changed.append(student)
    Student.objects.bulk_update(changed, ["display_name"])


def _company(students: list[int]) -> dict[int, set[int]]:
    """student -> those of the list whom a teacher of theirs may see, themselves included."""
    teachers, seen = defaultdict[int, set[int]](set), defaultdict[int, set[int]](set)
    for column in ("school_class__owner", "school_class__co_teachers__teacher"):
        for student, teacher in Enrolment.objects.filter(student__in=students).values_list("student", column):
            if teacher is not None:
                teachers[student].add(teacher)
                seen[teacher].add(student)
    return {student: set().union(*(seen[teacher] for teacher in teachers[student])) for student in students}


def _name(student: Student) -> Name:
    return Name(student.given_name, student.family_name, student.number)
