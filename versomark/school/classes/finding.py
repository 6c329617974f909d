"""Finding students across classes, and putting those found on a list of their own."""

from collections.abc import Sequence

from django.db import transaction
from django.db.models import Q, QuerySet

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.errors import NotFound

from .models import Enrolment, SchoolClass, Student
from .services import classes_of, make_class, seat_student

MOST_FOUND = 60


def find_students(teacher: Teacher, words: str) -> QuerySet[Enrolment]:
    """Places of the classes in which the teacher may run sittings; every word stands in the student's name or number,
    the name of the class, that of its teacher, or a tag."""
    places = Enrolment.objects.filter(left=False, school_class__in=_classes(teacher)).select_related(
        "student", "school_class__owner"
    )
    for word in words[:200].split():
        places = places.filter(
            Q(student__given_name__icontains=word)
            | Q(student__family_name__icontains=word)
            | Q(student__number__iexact=word)
            | Q(school_class__name__icontains=word)
            | Q(school_class__owner__name__icontains=word)
            | Q(student__tags__owner=teacher, student__tags__name__icontains=word)
        )
    return places.distinct().order_by("school_class__name", "desk")


@transaction.atomic
def class_of_found(teacher: Teacher, name: str, student_ids: Sequence[int]) -> SchoolClass:
    """A class of the teacher's own with these students, each in their other classes as before."""
    wanted = list(dict.fromkeys(student_ids))
    places = Enrolment.objects.filter(left=False, school_class__in=_classes(teacher), student__in=wanted)
    students = Student.objects.in_bulk(places.values_list("student", flat=True))
    if len(students) < len(wanted):
        raise NotFound(_("student"))
    school_class = make_class(teacher, name)
    for student_id in wanted:
        seat_student(school_class, students[student_id])
    return school_class


def _classes(teacher: Teacher) -> list[int]:
    return [school_class.pk for school_class in classes_of(teacher, "run")]
