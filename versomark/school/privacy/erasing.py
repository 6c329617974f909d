"""Taking away: a student's name with all that tells who it was, a sitting, a class with all its sittings."""

from dataclasses import dataclass
from datetime import timedelta

from django.db import transaction
from django.db.models import Exists, Max, OuterRef, Q
from django.utils import timezone

from versomark.core.language import _
from versomark.school.accounts.public import School, Teacher, must_be_admin, security_log
from versomark.school.classes.public import Enrolment, SchoolClass, Student, student_erasing
from versomark.school.delivery.public import Seat, Sitting, SittingState, sitting_deleting
from versomark.school.errors import DomainError, NotFound

Kind = security_log.Kind
A_YEAR = timedelta(days=365)
MOST_YEARS = 30


def student_in(admin: Teacher, student_id: int) -> Student:
    """A student of the administrator's school."""
    must_be_admin(admin)
    student = Student.objects.filter(school=admin.school, pk=student_id).first()
    if student is None:
        raise NotFound(_("student"))
    return student


def is_erased(student: Student) -> bool:
    return student.given_name == f"#{student.pk}"


def _names_of(student: Student) -> list[str]:
    """By which a sentence may speak of them; a single letter is in every sentence."""
    return [name for name in (student.given_name, student.family_name) if len(name) > 1]


@transaction.atomic
def erase(student: Student, by: Teacher | None) -> None:
    """Nobody knows from now on who it was; answers and marks stay for the figures of the class."""
    student_erasing.send(Student, student=student, names=_names_of(student))
    security_log.note(Kind.ERASED, by, f"student {student.pk}", school_id=student.school_id)


@transaction.atomic
def delete_student(student: Student, by: Teacher | None) -> None:
    """With every answer and mark: the figures of their sittings are made anew without them."""
    student_erasing.send(Student, student=student, names=_names_of(student))
    Seat.objects.filter(student=student).delete()
    Enrolment.objects.filter(student=student).delete()
    security_log.note(Kind.DELETED, by, f"student {student.pk}", school_id=student.school_id)
    student.delete()


@transaction.atomic
def delete_sitting(sitting: Sitting, by: Teacher, typed: str) -> None:
    """Whole, with every answer, mark and scan. typed: its title once more, since nothing brings it back."""
    if typed.strip() != sitting.edition.content["title"].strip():
        raise DomainError(
            _("Type the title of the test exactly as it stands: what is deleted does not come back."), 422
        )
    _delete_sitting(sitting, by)


@transaction.atomic
def delete_class(school_class: SchoolClass, by: Teacher, typed: str) -> int:
    """Whole, with its sittings, and with the students who are in no other class; how many those were."""
    if typed.strip() != school_class.name.strip():
        raise DomainError(
            _("Type the name of the class exactly as it stands: what is deleted does not come back."), 422
        )
    return delete_whole_class(school_class, by)


@transaction.atomic
def delete_whole_class(school_class: SchoolClass, by: Teacher, even_open: bool = False) -> int:
    """As `delete_class`, where nobody has to be asked whether they mean it. even_open: where nobody real is at work."""
    for sitting in school_class.sittings.all():
        _delete_sitting(sitting, by, even_open)
    theirs = list(Student.objects.filter(places__school_class=school_class))
    security_log.note(Kind.DELETED, by, f"class {school_class.pk}")
    school_class.delete()
    alone = [student for student in theirs if not (student.places.exists() or student.seats.exists())]
    for student in alone:
        delete_student(student, by)
    return len(alone)


def _delete_sitting(sitting: Sitting, by: Teacher, even_open: bool = False) -> None:
    if not even_open and sitting.state in (SittingState.OPEN, SittingState.PAUSED):
        raise DomainError(_("Students may be at work in it. Close it first; nothing was deleted."))
    sitting_deleting.send(Sitting, sitting=sitting)
    security_log.note(Kind.DELETED, by, f"sitting {sitting.pk}")
    sitting.delete()


@dataclass(frozen=True)
class Kept:
    """What is kept for how long. due: students whose time is over, and who go tonight."""

    years: int
    students: int
    erased: int
    due: int


def kept_in(admin: Teacher) -> Kept:
    must_be_admin(admin)
    school = admin.school
    every = Student.objects.filter(school=school)
    erased = every.filter(given_name__startswith="#", family_name="").count()
    return Kept(school.keep_years, every.count() - erased, erased, len(_over(school)))


@transaction.atomic
def keep_for(admin: Teacher, years: int) -> Kept:
    """0: until somebody takes them away."""
    must_be_admin(admin)
    if not 0 <= years <= MOST_YEARS:
        raise DomainError(_("Choose from 0 to {most} years.", most=MOST_YEARS), status=422)
    admin.school.keep_years = years
    admin.school.save(update_fields=["keep_years"])
    return kept_in(admin)


def _over(school: School) -> list[Student]:
    """Who is in no class of today, and sat their last test longer ago than the school keeps names."""
    if not school.keep_years:
        return []
    here = Enrolment.objects.filter(student=OuterRef("pk"), left=False, school_class__archived=False)
    last = Max("seats__sitting__opened_at")
    before = timezone.now() - school.keep_years * A_YEAR
    over = Student.objects.filter(school=school).annotate(last=last).filter(~Exists(here), Q(last__lt=before))
    return [student for student in over if not is_erased(student)]


def erase_who_is_over() -> int:
    """Every night; each student by themselves, so that one who cannot go holds up nobody."""
    erased = 0
    for school in School.objects.exclude(keep_years=0):
        for student in _over(school):
            erase(student, None)
            erased += 1
    return erased
