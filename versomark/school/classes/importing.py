"""Bringing a list in: what it would make and change, said before it does, and done in one transaction."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field

from django.db import transaction

from versomark.core.formats.class_lists import StudentRow, Wrong
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError

from . import keeping, naming, services
from .models import Enrolment, ReadAloud, SchoolClass, Student


@dataclass
class Line:
    """What happens with one row: `new`, `joins` (a student of another class), `changed`, `same`, `returns`,
    `asked` (somebody else keeps the student and is asked for them)."""

    row: StudentRow
    outcome: str
    student: Student | None = None
    changes: list[str] = field(default_factory=list)
    """What changes, in words: “desk 4 → 7”."""


@dataclass
class ImportPlan:
    lines: list[Line]
    wrong: list[Wrong]
    not_listed: list[Enrolment]
    """Students of the class whom the list does not name. They stay."""


def plan(teacher: Teacher, school_class: SchoolClass, rows: Sequence[StudentRow], wrong: Sequence[Wrong]) -> ImportPlan:
    """What bringing these rows into the class would do. Changes nothing."""
    places = {place.student_id: place for place in school_class.places.select_related("student")}
    finder = _Finder(teacher, school_class, list(places.values()), rows)
    lines, found_wrong, taken = list[Line](), list(wrong), set[int]()
    desks = {place.desk: place.student_id for place in places.values()}
    for row in rows:
        student, problem = finder.find(row)
        if problem:
            found_wrong.append(Wrong(row.line, "", problem))
            continue
        if student is not None and student.pk in taken:
            found_wrong.append(
                Wrong(row.line, "", _("{full_name} is meant by two lines.", full_name=student.full_name))
            )
            continue
        if student is not None:
            taken.add(student.pk)
        if row.desk is not None:
            holder = desks.get(row.desk)
            if holder is not None and (student is None or holder != student.pk):
                who = places[holder].student.full_name if holder in places else _("another line")
                found_wrong.append(Wrong(row.line, "", _("Desk {desk} is {who}’s.", desk=row.desk, who=who)))
                continue
            desks[row.desk] = student.pk if student else -row.line
        if student is not None and student.pk not in places and not keeping.keeps(teacher, student):
            # Of another teacher's student nothing is shown and nothing changed: whoever keeps them is asked.
            lines.append(Line(row, "asked", student))
            continue
        lines.append(_line(teacher, row, student, places.get(student.pk) if student else None))
    not_listed = [place for place in places.values() if not place.left and place.student_id not in taken]
    return ImportPlan(lines, found_wrong, not_listed)


@transaction.atomic
def carry_out(
    teacher: Teacher,
    school_class: SchoolClass,
    rows: Sequence[StudentRow],
    wrong: Sequence[Wrong],
    without_wrong: bool = False,
) -> ImportPlan:
    """Do what `plan` says. Refused as a whole while lines are wrong, unless they are to be left out."""
    planned = plan(teacher, school_class, rows, wrong)
    if planned.wrong and not without_wrong:
        lines = [
            (
                _("Line {line}, column {column}: {says}", line=w.line, column=w.column, says=w.says)
                if w.column
                else _("Line {line}: {says}", line=w.line, says=w.says)
            )
            for w in planned.wrong
        ]
        raise DomainError(_("Some lines cannot be used. Nothing was brought in."), problems=lines)
    before = [Student(given_name=line.student.given_name) for line in planned.lines if line.student is not None]
    touched = list[Student]()
    for line in planned.lines:
        if line.outcome == "same":
            continue
        row, student = line.row, line.student
        if line.outcome == "asked" and student is not None:
            keeping.ask_for(teacher, school_class, student)
            continue
        if student is None:
            student = services.new_student(school_class.owner.school, row.given_name, row.family_name, row.number)
        if keeping.keeps(teacher, student):
            _write(student, row)
        place = services.seat_student(school_class, student, row.desk)
        if row.desk is not None and place.desk != row.desk:
            services.sit_at(place, row.desk)
        if row.tags is not None:
            services.tag_students(teacher, [student], row.tags)
        if row.groups is not None:
            _put_in_groups(school_class, student, row.groups)
        touched.append(student)
    naming.tell_apart([*touched, *before])
    return planned


class _Finder:
    """Which known student a row means: by school number, then by name in this class, then by name in another one."""

    def __init__(
        self, teacher: Teacher, school_class: SchoolClass, places: Sequence[Enrolment], rows: Sequence[StudentRow]
    ) -> None:
        school = school_class.owner.school
        names = Counter(_name(row.given_name, row.family_name) for row in rows)
        self.twice = {name for name, times in names.items() if times > 1}
        """Names that the list itself has more than once: there a number or an address says who is who."""
        told_apart = Counter((_name(row.given_name, row.family_name), row.number, row.email) for row in rows)
        self.same = {key for key, times in told_apart.items() if times > 1}
        self.by_number = {s.number: s for s in Student.objects.filter(school=school).exclude(number="")}
        self.here = _by_name([place.student for place in places])
        others = Enrolment.objects.filter(school_class__owner=teacher).exclude(school_class=school_class)
        self.elsewhere = _by_name([place.student for place in others.select_related("student")])

    def find(self, row: StudentRow) -> tuple[Student | None, str]:
        if row.number and row.number in self.by_number:
            return self.by_number[row.number], ""
        name = _name(row.given_name, row.family_name)
        who = f"{row.given_name} {row.family_name}".strip()
        if (name, row.number, row.email) in self.same and not row.number:
            return None, _(
                "The list has {who} twice; a student number or an e-mail address would tell them apart.", who=who
            )
        if name in self.twice:
            mine = [s for known in (self.here, self.elsewhere) for s in known.get(name, {}).values()]
            same = [s for s in mine if row.email and s.email.casefold() == row.email.casefold()]
            return (same[0] if same else None), ""
        for known in (self.here, self.elsewhere):
            # A student who has another school number is another person of the same name.
            alike = [s for s in known.get(name, {}).values() if not (row.number and s.number)]
            if len(alike) > 1:
                return None, _("Several students are called {who}; a student number would tell them apart.", who=who)
            if alike:
                return alike[0], ""
        return None, ""


def _by_name(students: Sequence[Student]) -> dict[str, dict[int, Student]]:
    result: dict[str, dict[int, Student]] = {}
    for student in students:
        result.setdefault(_name(student.given_name, student.family_name), {})[student.pk] = student
    return result


def _name(given: str, family: str) -> str:
    return " ".join(f"{given} {family}".casefold().split())


def _line(teacher: Teacher, row: StudentRow, student: Student | None, place: Enrolment | None) -> Line:
    if student is None:
        return Line(row, "new")
    changes = _changes(row, student) if keeping.keeps(teacher, student) else []
    if row.tags is not None:
        had = set(student.tags.filter(owner=teacher).values_list("name", flat=True))
        if had != set(row.tags):
            changes.append(_("tags: {tags}", tags=", ".join(row.tags) or _("none")))
    if place is None:
        return Line(row, "joins", student, changes)
    if row.desk is not None and row.desk != place.desk:
        changes.append(_("desk {desk} → {desk_2}", desk=place.desk, desk_2=row.desk))
    if row.groups is not None:
        had = set(
            student.groups.filter(school_class=place.school_class_id, made_from="").values_list("name", flat=True)
        )
        if had != set(row.groups):
            changes.append(_("groups: {groups}", groups=", ".join(row.groups) or _("none")))
    if place.left:
        return Line(row, "returns", student, changes)
    return Line(row, "changed" if changes else "same", student, changes)


def _wanted(row: StudentRow) -> dict[str, object]:
    """The fields of the student that a row speaks of."""
    given: dict[str, object | None] = {
        "given_name": row.given_name,
        "family_name": row.family_name,
        "number": row.number or None,
        "email": row.email or None,
        "guardian_email": row.guardian_email or None,
        "extra_time": row.extra_time,
        "large_print": row.large_print,
        "quiet_start": row.quiet_start,
        "break_minutes": row.break_minutes,
        "read_aloud": None if row.read_aloud is None else (ReadAloud.ON if row.read_aloud else ReadAloud.OFF),
    }
    return {name: value for name, value in given.items() if value is not None}


def _changes(row: StudentRow, student: Student) -> list[str]:
    changes = []
    for name, value in _wanted(row).items():
        had = getattr(student, name)
        if name == "read_aloud" and value == ReadAloud.OFF and not had:
            continue  # a column of “no” is no need
        if had != value:
            label = name.replace("_", " ")
            changes.append(f"{label}: {_said(had)} → {_said(value)}")
    return changes


def _said(value: object) -> str:
    return "yes" if value is True else "no" if value is False else str(value or "none")


def _write(student: Student, row: StudentRow) -> None:
    for name, value in _wanted(row).items():
        if name == "read_aloud" and value == ReadAloud.OFF and not student.read_aloud:
            continue
        setattr(student, name, value)
    student.save()


def _put_in_groups(school_class: SchoolClass, student: Student, names: Sequence[str]) -> None:
    """The teacher's own groups follow the list; groups made from findings stay as they are."""
    for group in student.groups.filter(school_class=school_class, made_from="").exclude(name__in=names):
        group.students.remove(student)
    for name in names:
        group, _made = school_class.groups.get_or_create(name=name)
        group.students.add(student)
