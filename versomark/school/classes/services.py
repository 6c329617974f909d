"""Class lists: students, their desk numbers, passes and needs; groups, tags and colleagues."""

import secrets
from collections.abc import Sequence
from pathlib import Path
from typing import Literal

from django.db import transaction
from django.db.models import Count, Exists, Max, OuterRef, Q, QuerySet

from versomark.core.formats.class_lists import split_name
from versomark.core.language import _
from versomark.school.accounts.public import School, Teacher
from versomark.school.errors import DomainError, NotFound

from . import naming
from .models import CoTeacher, Enrolment, Group, SchoolClass, Student, Tag

MAX_IN_CLASS = 400
Right = Literal["see", "mark", "run", "own"]


def may(teacher: Teacher | int, right: Right, path: str = "") -> Q:
    """The condition under which a teacher, or who has this id, has a right in a class; `path` leads to the class from
    another model."""
    own = Q(**{f"{path}owner": teacher})
    if right == "own":
        return own
    shared = CoTeacher.objects.filter(school_class=OuterRef(f"{path}pk" if path else "pk"), teacher=teacher)
    if right != "see":
        shared = shared.filter(**{f"may_{right}": True})
    return own | Q(Exists(shared))


def classes_of(teacher: Teacher, right: Right = "see", archived: bool = False) -> QuerySet[SchoolClass]:
    """The classes in which a teacher has a right, by name, each with `student_count`."""
    return (
        SchoolClass.objects.filter(may(teacher, right), archived=archived)
        .select_related("owner")
        .annotate(student_count=Count("places", filter=Q(places__left=False), distinct=True))
    )


def has_right(teacher: Teacher, school_class: SchoolClass, right: Right) -> bool:
    return SchoolClass.objects.filter(may(teacher, right), pk=school_class.pk).exists()


def class_of(teacher: Teacher, class_id: int, right: Right = "see") -> SchoolClass:
    school_class = (
        classes_of(teacher).filter(pk=class_id).first()
        or classes_of(teacher, archived=True).filter(pk=class_id).first()
    )
    if school_class is None:
        raise NotFound(_("class"))
    if right != "see" and not has_right(teacher, school_class, right):
        raise DomainError(
            _(
                "{name} is {name_2}’s class. Ask them to change this.",
                name=school_class.name,
                name_2=school_class.owner.name,
            ),
            status=403,
        )
    return school_class


def places_of(school_class: SchoolClass) -> QuerySet[Enrolment]:
    """Who is in the class now, in desk order."""
    return school_class.places.filter(left=False).select_related("student").order_by("desk")


@transaction.atomic
def make_class(teacher: Teacher, name: str) -> SchoolClass:
    return SchoolClass.objects.create(owner=teacher, name=_unused_class_name(teacher, name))


@transaction.atomic
def rename_class(school_class: SchoolClass, name: str) -> SchoolClass:
    school_class.name = _unused_class_name(school_class.owner, name, besides=school_class.pk)
    school_class.save(update_fields=["name"])
    return school_class


def _unused_class_name(teacher: Teacher, name: str, besides: int = 0) -> str:
    name = " ".join(name.split())
    if not name:
        raise DomainError(_("A class needs a name."))
    same = SchoolClass.objects.filter(owner=teacher, name=name).exclude(pk=besides).first()
    if same is not None:
        where = _(" among the classes put away") if same.archived else ""
        raise DomainError(_("You have a class called {name} already{where}.", name=name, where=where))
    return name


@transaction.atomic
def archive_class(school_class: SchoolClass, archived: bool) -> SchoolClass:
    """Put a class away, with all its results, or take it out again."""
    school_class.archived = archived
    school_class.save(update_fields=["archived"])
    return school_class


@transaction.atomic
def add_students(school_class: SchoolClass, lines: Sequence[str]) -> list[Enrolment]:
    """One student a line, desk numbers given on from the highest ever used. Nothing is added when a line is wrong."""
    names = [split_name(line) for line in lines if line.strip()]
    if not names:
        raise DomainError(_("Type at least one name."))
    too_long = [" ".join(name) for name in names if max(map(len, name)) > 60]
    if too_long:
        raise DomainError(_("A name has at most 60 letters."), problems=too_long)
    school = school_class.owner.school
    places = [seat_student(school_class, new_student(school, given, family)) for given, family in names]
    naming.tell_apart([place.student for place in places])
    return places


def seat_student(school_class: SchoolClass, student: Student, desk: int | None = None) -> Enrolment:
    """A student on the list: at a free desk number, their own again if they were here before."""
    before = school_class.places.filter(student=student).first()
    if before is not None:
        before.left = False
        before.save(update_fields=["left"])
        return before
    used = school_class.places.aggregate(highest=Max("desk"), count=Count("id"))
    if used["count"] >= MAX_IN_CLASS:
        raise DomainError(_("A class holds at most {max_in_class} students.", max_in_class=MAX_IN_CLASS))
    given = SchoolClass.objects.values_list("desks_given", flat=True).get(pk=school_class.pk)
    highest = max(used["highest"] or 0, given)
    if desk is None or school_class.places.filter(desk=desk).exists():
        desk = highest + 1
    return sit_at(Enrolment(school_class=school_class, student=student), desk)


def sit_at(place: Enrolment, desk: int) -> Enrolment:
    """Give a desk number, and remember that it was given."""
    place.desk = desk
    place.save()
    SchoolClass.objects.filter(pk=place.school_class_id, desks_given__lt=desk).update(desks_given=desk)
    return place


@transaction.atomic
def change_student(student: Student, given_name: str, family_name: str, **needs: object) -> Student:
    """Name, school number and needs. `needs`: fields of the student, as the API has validated them."""
    given_name, family_name = " ".join(given_name.split()), " ".join(family_name.split())
    if not given_name:
        raise DomainError(_("A student needs a name."))
    number = str(needs.get("number", student.number)).strip()
    same = (
        Student.objects.filter(school=student.school, number=number).exclude(pk=student.pk).first() if number else None
    )
    if same is not None:
        raise DomainError(_("{full_name} has the number {number} already.", full_name=same.full_name, number=number))
    before = Student(given_name=student.given_name)
    student.given_name, student.family_name = given_name, family_name
    for name, value in {**needs, "number": number}.items():
        setattr(student, name, value)
    student.save()
    naming.tell_apart([before, student])
    student.refresh_from_db(fields=["display_name"])
    return student


@transaction.atomic
def leave_class(place: Enrolment) -> None:
    """The student is no longer on the list; their answers and their desk number stay theirs."""
    place.left = True
    place.save(update_fields=["left"])


@transaction.atomic
def come_back(school_class: SchoolClass, student_id: int) -> Enrolment:
    """Someone who had left is on the list again, at their own desk."""
    place = school_class.places.filter(student_id=student_id).select_related("student").first()
    if place is None:
        raise NotFound(_("student in this class"))
    return seat_student(school_class, place.student)


@transaction.atomic
def move_student(place: Enrolment, to: SchoolClass) -> Enrolment:
    """Off this list and on another. Results of earlier sittings stay with the class they were sat in."""
    if to.pk == place.school_class_id:
        raise DomainError(_("They are in that class already."))
    leave_class(place)
    return seat_student(to, place.student)


@transaction.atomic
def replace_passes(students: Sequence[Student]) -> None:
    for student in students:
        student.pass_phrase = _unused_pass(student.school)
        student.save(update_fields=["pass_phrase"])


def place_of(school_class: SchoolClass, student_id: int) -> Enrolment:
    place = places_of(school_class).filter(student_id=student_id).first()
    if place is None:
        raise NotFound(_("student in this class"))
    return place


@transaction.atomic
def keep_group(
    school_class: SchoolClass, name: str, student_ids: Sequence[int], group: Group | None = None, made_from: str = ""
) -> Group:
    """Make or change a group of students of this class."""
    name = _group_name(name)
    if not name:
        raise DomainError(_("A group needs a name."))
    if school_class.groups.filter(name=name).exclude(pk=group.pk if group else 0).exists():
        raise DomainError(_("{name} has a group called {name_2} already.", name=school_class.name, name_2=name))
    here = set(places_of(school_class).values_list("student_id", flat=True))
    if set(student_ids) - here:
        raise NotFound(_("student in this class"))
    group = group or Group(school_class=school_class, made_from=made_from[:200])
    group.name = name
    group.save()
    group.students.set(student_ids)
    return group


def _group_name(name: str) -> str:
    """Of a group or tag. A semicolon parts names where several stand in one cell of a list, so none holds one."""
    return " ".join(name.replace(";", ",").split())[:60].strip()


def group_of(school_class: SchoolClass, group_id: int) -> Group:
    group = school_class.groups.filter(pk=group_id).first()
    if group is None:
        raise NotFound(_("group"))
    return group


@transaction.atomic
def tag_students(teacher: Teacher, students: Sequence[Student], names: Sequence[str]) -> None:
    """These students carry exactly these tags of the teacher."""
    names = list(dict.fromkeys(_group_name(name) for name in names if name.strip()))
    tags = [Tag.objects.get_or_create(owner=teacher, name=name)[0] for name in names]
    for student in students:
        student.tags.remove(*student.tags.filter(owner=teacher).exclude(pk__in=[tag.pk for tag in tags]))
        student.tags.add(*tags)
    Tag.objects.filter(owner=teacher, students=None).delete()


@transaction.atomic
def share_class(school_class: SchoolClass, teacher_id: int, may_mark: bool, may_run: bool) -> CoTeacher:
    """Let a colleague of the school see the class, and mark or run its sittings where asked."""
    colleague = Teacher.objects.filter(pk=teacher_id, school=school_class.owner.school, is_active=True).first()
    if colleague is None:
        raise NotFound(_("colleague"))
    if colleague.pk == school_class.owner_id:
        raise DomainError(_("The class is theirs already."))
    shared, _made = CoTeacher.objects.update_or_create(
        school_class=school_class, teacher=colleague, defaults={"may_mark": may_mark, "may_run": may_run}
    )
    # They see the students of this class beside their own from now on.
    naming.tell_apart([place.student for place in school_class.places.select_related("student")])
    return shared


@transaction.atomic
def stop_sharing(school_class: SchoolClass, teacher_id: int) -> None:
    school_class.co_teachers.filter(teacher_id=teacher_id).delete()


def new_student(school: School, given: str, family: str, number: str = "") -> Student:
    return Student.objects.create(
        school=school, given_name=given, family_name=family, number=number, pass_phrase=_unused_pass(school)
    )


def _unused_pass(school: School) -> str:
    for digits in (3, 3, 3, 4, 4, 5):
        phrase = word_and_digits(digits)
        if not Student.objects.filter(school=school, pass_phrase=phrase).exists():
            return phrase
    raise DomainError(_("No unused pass was found. Try again."))


def own_student(teacher: Teacher, student_id: int) -> Student:
    """A student of one of the teacher's own classes, left or not."""
    student = Student.objects.filter(places__school_class__owner=teacher, pk=student_id).first()
    if student is None:
        raise NotFound(_("student"))
    return student


WORDS = tuple(Path(__file__).with_name("words.txt").read_text(encoding="utf-8").split())


def word_and_digits(digits: int) -> str:
    """Such as `kelp-47`: a random word, then digits that never start with 0."""
    low = 10 ** (digits - 1)
    return f"{secrets.choice(WORDS)}-{low + secrets.randbelow(9 * low)}"


def normalised(typed: str) -> str:
    """`Kelp 47` and `KELP47` as `kelp-47`: what students type on phones."""
    letters = "".join(c for c in typed.casefold() if c.isalpha())
    digits = "".join(c for c in typed if c.isdigit())
    return f"{letters}-{digits}"
