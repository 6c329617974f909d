"""Class lists: students, their desk numbers and their passes."""

from collections.abc import Sequence

from django.db import transaction
from django.db.models import Count, Max, Q, QuerySet

from versomark.school.accounts.models import School, Teacher
from versomark.school.problems import NotFound, NotPossible

from .models import Place, SchoolClass, Student
from .words import word_and_digits

MAX_IN_CLASS = 400


def classes_of(teacher: Teacher) -> QuerySet[SchoolClass]:
    """The teacher's classes by name, each with `student_count`."""
    return SchoolClass.objects.filter(owner=teacher).annotate(
        student_count=Count("places", filter=Q(places__left=False), distinct=True)
    )


def class_of(teacher: Teacher, class_id: int) -> SchoolClass:
    found = classes_of(teacher).filter(pk=class_id).first()
    if found is None:
        raise NotFound("class")
    return found


def places_of(school_class: SchoolClass) -> QuerySet[Place]:
    """Who is in the class now, in desk order."""
    return school_class.places.filter(left=False).select_related("student").order_by("desk")


@transaction.atomic
def make_class(teacher: Teacher, name: str) -> SchoolClass:
    name = " ".join(name.split())
    if not name:
        raise NotPossible("A class needs a name.")
    if SchoolClass.objects.filter(owner=teacher, name=name).exists():
        raise NotPossible(f"You have a class called {name} already.")
    return SchoolClass.objects.create(owner=teacher, name=name)


def split_name(line: str) -> tuple[str, str]:
    """`Ortega, Wren` and `Wren Ortega` as given and family name; one word is a given name."""
    if "," in line:
        family, _, given = (" ".join(part.split()) for part in line.partition(","))
        return given or family, family if given else ""
    words = line.split()
    return (words[0], " ".join(words[1:])) if words else ("", "")


@transaction.atomic
def add_students(school_class: SchoolClass, lines: Sequence[str]) -> list[Place]:
    """One student a line, desk numbers given on from the highest ever used. Nothing is added when a line is wrong."""
    names = [split_name(line) for line in lines if line.strip()]
    if not names:
        raise NotPossible("Type at least one name.")
    too_long = [" ".join(name) for name in names if max(map(len, name)) > 60]
    if too_long:
        raise NotPossible("A name has at most 60 letters.", problems=too_long)
    used = school_class.places.aggregate(highest=Max("desk"), count=Count("id"))
    if used["count"] + len(names) > MAX_IN_CLASS:
        raise NotPossible(f"A class holds at most {MAX_IN_CLASS} students.")
    first = (used["highest"] or 0) + 1
    school = school_class.owner.school
    return [
        Place.objects.create(school_class=school_class, student=_new_student(school, given, family), desk=desk)
        for desk, (given, family) in enumerate(names, start=first)
    ]


@transaction.atomic
def rename_student(place: Place, given: str, family: str) -> Student:
    given, family = " ".join(given.split()), " ".join(family.split())
    if not given:
        raise NotPossible("A student needs a name.")
    place.student.given_name, place.student.family_name = given, family
    place.student.save(update_fields=["given_name", "family_name"])
    return place.student


@transaction.atomic
def leave_class(place: Place) -> None:
    """The student is no longer on the list; their answers and their desk number stay theirs."""
    place.left = True
    place.save(update_fields=["left"])


@transaction.atomic
def replace_pass(student: Student) -> Student:
    student.pass_phrase = _unused_pass(student.school)
    student.save(update_fields=["pass_phrase"])
    return student


def place_of(school_class: SchoolClass, student_id: int) -> Place:
    found = places_of(school_class).filter(student_id=student_id).first()
    if found is None:
        raise NotFound("student in this class")
    return found


def _new_student(school: School, given: str, family: str) -> Student:
    return Student.objects.create(school=school, given_name=given, family_name=family, pass_phrase=_unused_pass(school))


def _unused_pass(school: School) -> str:
    for digits in (3, 3, 3, 4, 4, 5):
        phrase = word_and_digits(digits)
        if not Student.objects.filter(school=school, pass_phrase=phrase).exists():
            return phrase
    raise NotPossible("No unused pass was found. Try again.")
