"""What is kept of students, for the administrator who answers for it; and deleting what is one's own, whole."""

from dataclasses import asdict

from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Router

from versomark.core.language import _
from versomark.school.accounts.public import must_be_admin
from versomark.school.classes.public import Student, class_of
from versomark.school.delivery.public import sitting_of
from versomark.school.errors import DomainError
from versomark.school.http import Done, file_out, teacher_of

from . import erasing
from .everything import everything_about
from .schemas import EraseBody, KeepBody, KeptLine, StudentKept, TypedBody

router = Router(tags=["privacy"])
AT_ONCE = 20


@router.get("/privacy", response=KeptLine)
def kept(request: HttpRequest) -> KeptLine:
    """How long names are kept, and of how many."""
    return KeptLine(**asdict(erasing.kept_in(teacher_of(request))))


@router.put("/privacy", response=KeptLine)
def keep_for(request: HttpRequest, body: KeepBody) -> KeptLine:
    return KeptLine(**asdict(erasing.keep_for(teacher_of(request), body.years)))


@router.get("/privacy/students", response=list[StudentKept])
def find(request: HttpRequest, named: str) -> list[StudentKept]:
    """By a part of a name or by number; twenty at most."""
    admin = teacher_of(request)
    must_be_admin(admin)
    students = Student.objects.filter(school=admin.school)
    for word in named.split()[:4]:
        students = students.filter(
            Q(given_name__icontains=word) | Q(family_name__icontains=word) | Q(number__iexact=word)
        )
    return [
        StudentKept(
            id=student.pk,
            name=student.full_name,
            number=student.number,
            classes=[place.school_class.name for place in student.places.all()],
        )
        for student in students.prefetch_related("places__school_class").order_by("family_name", "given_name", "pk")[
            :AT_ONCE
        ]
        if named.strip() and not erasing.is_erased(student)
    ]


@router.get("/privacy/students/{int:student_id}/everything.zip")
def everything(request: HttpRequest, student_id: int) -> HttpResponse:
    """What is kept of one student, to hand to them."""
    student = erasing.student_in(teacher_of(request), student_id)
    name = f"{slugify(student.full_name) or 'student'}.zip"
    return file_out(everything_about(student), "application/zip", name)


@router.post("/privacy/students/{int:student_id}/erase", response=Done)
def erase(request: HttpRequest, student_id: int, body: EraseBody) -> Done:
    admin = teacher_of(request)
    student = erasing.student_in(admin, student_id)
    if " ".join(body.typed.split()) != " ".join(student.full_name.split()):
        raise DomainError(_("Type the name exactly as it stands: what is erased does not come back."), status=422)
    if body.results == "keep":
        erasing.erase(student, admin)
    else:
        erasing.delete_student(student, admin)
    return Done()


@router.post("/sittings/{int:sitting_id}/delete-whole", response=Done)
def delete_sitting(request: HttpRequest, sitting_id: int, body: TypedBody) -> Done:
    """With every answer, mark and scan."""
    teacher = teacher_of(request)
    erasing.delete_sitting(sitting_of(teacher, sitting_id, "own"), teacher, body.typed)
    return Done()


@router.post("/classes/{int:class_id}/delete-whole", response=Done)
def delete_class(request: HttpRequest, class_id: int, body: TypedBody) -> Done:
    """With its sittings, and with who is in no other class."""
    teacher = teacher_of(request)
    erasing.delete_class(class_of(teacher, class_id, "own"), teacher, body.typed)
    return Done()
