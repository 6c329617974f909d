"""Who looks after a student: names, passes and addresses are changed by them alone, and others ask for the student.

A student is kept by the owner of the class they have been in longest; of nobody's class, by the owner of the last. A
list that names a number is no key to another teacher's student: it makes a request, which tells its sender nothing.
"""

from django.db import transaction
from django.db.models import QuerySet

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError, NotFound

from . import services
from .models import Enrolment, SchoolClass, Student, StudentRequest


def keeper_of(student: Student) -> Teacher | None:
    """None for a student who never was in a class."""
    places = Enrolment.objects.filter(student=student).select_related("school_class__owner").order_by("left", "pk")
    place = places.first()
    return place.school_class.owner if place else None


def keeps(teacher: Teacher, student: Student) -> bool:
    keeper = keeper_of(student)
    return keeper is None or keeper.pk == teacher.pk


def check_keeps(teacher: Teacher, student: Student) -> None:
    keeper = keeper_of(student)
    if keeper is not None and keeper.pk != teacher.pk:
        raise DomainError(
            _(
                "{short_name} is looked after by {name}. Ask them to change this.",
                short_name=student.short_name,
                name=keeper.name,
            ),
            status=403,
        )


def ask_for(teacher: Teacher, school_class: SchoolClass, student: Student) -> StudentRequest:
    """Once, however often it is asked; one that was refused may be asked again."""
    request, _made = StudentRequest.objects.update_or_create(
        student=student, school_class=school_class, defaults={"by": teacher, "answer": ""}
    )
    return request


def requests_to(teacher: Teacher, school_class: SchoolClass) -> list[StudentRequest]:
    """What others ask of this teacher about students of this class."""
    here = services.places_of(school_class).values("student")
    waiting: QuerySet[StudentRequest] = StudentRequest.objects.filter(student__in=here, answer="")
    return [entry for entry in waiting.select_related("student", "school_class", "by") if keeps(teacher, entry.student)]


@transaction.atomic
def answer(teacher: Teacher, request_id: int, granted: bool) -> StudentRequest:
    """Only whoever keeps the student answers; granted, the student has a place in the other class too."""
    request = StudentRequest.objects.select_related("student", "school_class").filter(pk=request_id, answer="").first()
    if request is None or not keeps(teacher, request.student):
        raise NotFound(_("request"))
    request.answer = "granted" if granted else "refused"
    request.save(update_fields=["answer"])
    if granted:
        services.seat_student(request.school_class, request.student)
    return request
