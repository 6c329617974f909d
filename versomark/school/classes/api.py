from django.http import HttpRequest
from ninja import Field, Router, Schema

from versomark.school.http import Done, teacher_of

from . import services
from .models import Place, SchoolClass

router = Router(tags=["classes"])


class ClassLine(Schema):
    id: int
    name: str
    students: int


class StudentLine(Schema):
    id: int
    desk: int
    given_name: str
    family_name: str
    short_name: str
    pass_phrase: str


class ClassPage(ClassLine):
    list: list[StudentLine]


class NewClass(Schema):
    name: str = Field(max_length=60)


class NewStudents(Schema):
    lines: list[str] = Field(max_length=400)


class StudentName(Schema):
    given_name: str = Field(max_length=60)
    family_name: str = Field("", max_length=60)


def _student(place: Place) -> StudentLine:
    s = place.student
    return StudentLine(
        id=s.pk,
        desk=place.desk,
        given_name=s.given_name,
        family_name=s.family_name,
        short_name=s.short_name,
        pass_phrase=s.pass_phrase,
    )


def _page(school_class: SchoolClass) -> ClassPage:
    students = [_student(place) for place in services.places_of(school_class)]
    return ClassPage(id=school_class.pk, name=school_class.name, students=len(students), list=students)


@router.get("/classes", response=list[ClassLine])
def classes(request: HttpRequest) -> list[ClassLine]:
    found = services.classes_of(teacher_of(request))
    return [
        ClassLine(id=c.pk, name=c.name, students=c.student_count)  # type: ignore[attr-defined]  # annotated above
        for c in found
    ]


@router.post("/classes", response=ClassPage)
def make_class(request: HttpRequest, body: NewClass) -> ClassPage:
    return _page(services.make_class(teacher_of(request), body.name))


@router.get("/classes/{int:class_id}", response=ClassPage)
def class_page(request: HttpRequest, class_id: int) -> ClassPage:
    return _page(services.class_of(teacher_of(request), class_id))


@router.post("/classes/{int:class_id}/students", response=ClassPage)
def add_students(request: HttpRequest, class_id: int, body: NewStudents) -> ClassPage:
    school_class = services.class_of(teacher_of(request), class_id)
    services.add_students(school_class, body.lines)
    return _page(school_class)


@router.put("/classes/{int:class_id}/students/{int:student_id}", response=StudentLine)
def rename_student(request: HttpRequest, class_id: int, student_id: int, body: StudentName) -> StudentLine:
    place = services.place_of(services.class_of(teacher_of(request), class_id), student_id)
    services.rename_student(place, body.given_name, body.family_name)
    return _student(place)


@router.post("/classes/{int:class_id}/students/{int:student_id}/new-pass", response=StudentLine)
def replace_pass(request: HttpRequest, class_id: int, student_id: int) -> StudentLine:
    place = services.place_of(services.class_of(teacher_of(request), class_id), student_id)
    services.replace_pass(place.student)
    return _student(place)


@router.delete("/classes/{int:class_id}/students/{int:student_id}", response=Done)
def leave_class(request: HttpRequest, class_id: int, student_id: int) -> Done:
    services.leave_class(services.place_of(services.class_of(teacher_of(request), class_id), student_id))
    return Done()
