from django.http import HttpRequest
from ninja import Router

from versomark.school.accounts.public import Teacher
from versomark.school.http import Done, teacher_of

from . import finding, keeping, merging, services
from .models import Enrolment, Group, SchoolClass
from .schemas import (
    ClassLine,
    ClassName,
    ClassOfFound,
    ClassPage,
    ClassSharing,
    CoTeacherLine,
    FoundStudent,
    FoundStudents,
    GroupChange,
    GroupLine,
    LeftLine,
    NewStudents,
    StudentChange,
    StudentLine,
    StudentRequestAnswer,
    StudentRequestLine,
    needs_of,
)

router = Router(tags=["classes"])


def _class_line(school_class: SchoolClass, teacher: Teacher) -> ClassLine:
    return ClassLine(
        id=school_class.pk,
        name=school_class.name,
        students=school_class.student_count,  # type: ignore[attr-defined]  # annotated by classes_of
        archived=school_class.archived,
        owner="" if school_class.owner_id == teacher.pk else school_class.owner.name,
        practice=school_class.is_practice,
    )


def _student(place: Enrolment, teacher: Teacher, sees_passes: bool | None = None) -> StudentLine:
    s = place.student
    # The earliest class that they are still in; the prefetched places are those of `keeping.keeper_of`.
    first = min((other for other in s.places.all()), key=lambda other: (other.left, other.pk))
    is_keeper = first.school_class.owner_id == teacher.pk
    if sees_passes is None:
        sees_passes = services.has_right(teacher, place.school_class, "run")
    return StudentLine(
        id=s.pk,
        desk=place.desk,
        given_name=s.given_name,
        family_name=s.family_name,
        full_name=s.full_name,
        short_name=s.short_name,
        pass_phrase=s.pass_phrase if is_keeper or sees_passes else "",
        number=s.number,
        email=s.email if is_keeper else "",
        guardian_email=s.guardian_email if is_keeper else "",
        is_kept=is_keeper,
        tags=[tag.name for tag in s.tags.all() if tag.owner_id == teacher.pk],
        other_classes=sorted(
            other.school_class.name
            for other in s.places.all()
            if other.school_class_id != place.school_class_id and not other.left
        ),
        **needs_of(s).model_dump(),
    )


def _group(group: Group) -> GroupLine:
    students = [student.pk for student in group.students.all()]
    return GroupLine(id=group.pk, name=group.name, made_from=group.made_from, students=students)


def _page(school_class: SchoolClass, teacher: Teacher) -> ClassPage:
    school_class = services.class_of(teacher, school_class.pk)
    places = services.places_of(school_class).prefetch_related("student__tags", "student__places__school_class")
    sees_passes = services.has_right(teacher, school_class, "run")
    gone = school_class.places.filter(left=True).select_related("student")
    return ClassPage(
        **_class_line(school_class, teacher).model_dump(),
        requests=[
            StudentRequestLine(
                id=request.pk, student=request.student.full_name, by=request.by.name, into=request.school_class.name
            )
            for request in keeping.requests_to(teacher, school_class)
        ],
        link=school_class.link,
        list=[_student(place, teacher, sees_passes) for place in places],
        left=[LeftLine(id=p.student_id, desk=p.desk, name=p.student.full_name) for p in gone],
        groups=[_group(group) for group in school_class.groups.prefetch_related("students")],
        co_teachers=[
            CoTeacherLine(teacher=c.teacher_id, name=c.teacher.name, may_mark=c.may_mark, may_run=c.may_run)
            for c in school_class.co_teachers.select_related("teacher")
        ],
        tags=[tag.name for tag in teacher.tags.all()],
    )


@router.get("/classes", response=list[ClassLine])
def classes(request: HttpRequest, archived: bool = False) -> list[ClassLine]:
    teacher = teacher_of(request)
    return [_class_line(school_class, teacher) for school_class in services.classes_of(teacher, archived=archived)]


@router.post("/classes", response=ClassPage)
def make_class(request: HttpRequest, body: ClassName) -> ClassPage:
    teacher = teacher_of(request)
    return _page(services.make_class(teacher, body.name), teacher)


@router.get("/students", response=FoundStudents)
def find_students(request: HttpRequest, words: str = "") -> FoundStudents:
    """Across classes: by name, school number, class, teacher or tag."""
    students = finding.find_students(teacher_of(request), words)
    shown = [
        FoundStudent(
            id=place.student_id,
            name=place.student.full_name,
            class_id=place.school_class_id,
            class_name=place.school_class.name,
            teacher=place.school_class.owner.name,
        )
        for place in students[: finding.MOST_FOUND]
    ]
    return FoundStudents(students=shown, more=max(0, students.count() - len(shown)))


@router.post("/classes/of-students", response=ClassPage)
def class_of_found(request: HttpRequest, body: ClassOfFound) -> ClassPage:
    """A class of students of several classes."""
    teacher = teacher_of(request)
    return _page(finding.class_of_found(teacher, body.name, body.students), teacher)


@router.get("/classes/{int:class_id}", response=ClassPage)
def class_page(request: HttpRequest, class_id: int) -> ClassPage:
    teacher = teacher_of(request)
    return _page(services.class_of(teacher, class_id), teacher)


@router.put("/classes/{int:class_id}", response=ClassPage)
def rename_class(request: HttpRequest, class_id: int, body: ClassName) -> ClassPage:
    teacher = teacher_of(request)
    return _page(services.rename_class(services.class_of(teacher, class_id, "own"), body.name), teacher)


@router.post("/classes/{int:class_id}/archive", response=ClassPage)
def archive_class(request: HttpRequest, class_id: int, archived: bool = True) -> ClassPage:
    teacher = teacher_of(request)
    return _page(services.archive_class(services.class_of(teacher, class_id, "own"), archived), teacher)


@router.post("/classes/{int:class_id}/students", response=ClassPage)
def add_students(request: HttpRequest, class_id: int, body: NewStudents) -> ClassPage:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    services.add_students(school_class, body.lines)
    return _page(school_class, teacher)


@router.post("/classes/{int:class_id}/new-passes", response=ClassPage)
def replace_all_passes(request: HttpRequest, class_id: int) -> ClassPage:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    students = [place.student for place in services.places_of(school_class)]
    services.replace_passes([student for student in students if keeping.keeps(teacher, student)])
    return _page(school_class, teacher)


def _place(request: HttpRequest, class_id: int, student_id: int) -> Enrolment:
    return services.place_of(services.class_of(teacher_of(request), class_id, "own"), student_id)


@router.put("/classes/{int:class_id}/students/{int:student_id}", response=StudentLine)
def change_student(request: HttpRequest, class_id: int, student_id: int, body: StudentChange) -> StudentLine:
    place, teacher = _place(request, class_id, student_id), teacher_of(request)
    keeping.check_keeps(teacher, place.student)
    services.change_student(place.student, **body.model_dump(exclude={"tags"}))
    services.tag_students(teacher, [place.student], body.tags)
    return _student(place, teacher)


@router.post("/classes/{int:class_id}/students/{int:student_id}/new-pass", response=StudentLine)
def replace_pass(request: HttpRequest, class_id: int, student_id: int) -> StudentLine:
    place = _place(request, class_id, student_id)
    keeping.check_keeps(teacher_of(request), place.student)
    services.replace_passes([place.student])
    return _student(place, teacher_of(request))


@router.post("/classes/{int:class_id}/student-requests/{int:request_id}", response=ClassPage)
def answer_request(request: HttpRequest, class_id: int, request_id: int, body: StudentRequestAnswer) -> ClassPage:
    """Give a colleague a student whom one looks after, or not."""
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    keeping.answer(teacher, request_id, body.granted)
    return _page(school_class, teacher)


@router.post("/classes/{int:class_id}/students/{int:student_id}/come-back", response=ClassPage)
def come_back(request: HttpRequest, class_id: int, student_id: int) -> ClassPage:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    services.come_back(school_class, student_id)
    return _page(school_class, teacher)


@router.post("/classes/{int:class_id}/students/{int:student_id}/move", response=ClassPage)
def move_student(request: HttpRequest, class_id: int, student_id: int, to: int) -> ClassPage:
    teacher = teacher_of(request)
    place = _place(request, class_id, student_id)
    services.move_student(place, services.class_of(teacher, to, "own"))
    return _page(place.school_class, teacher)


@router.post("/classes/{int:class_id}/students/{int:student_id}/merge", response=ClassPage)
def merge_students(request: HttpRequest, class_id: int, student_id: int, other: int) -> ClassPage:
    """Another student of one's classes becomes this one, results and all."""
    teacher = teacher_of(request)
    place = _place(request, class_id, student_id)
    same = services.own_student(teacher, other)
    for student in (place.student, same):
        keeping.check_keeps(teacher, student)
    merging.merge_students(place.student, same)
    return _page(place.school_class, teacher)


@router.delete("/classes/{int:class_id}/students/{int:student_id}", response=Done)
def leave_class(request: HttpRequest, class_id: int, student_id: int) -> Done:
    services.leave_class(_place(request, class_id, student_id))
    return Done()


@router.post("/classes/{int:class_id}/groups", response=ClassPage)
def make_group(request: HttpRequest, class_id: int, body: GroupChange) -> ClassPage:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    services.keep_group(school_class, body.name, body.students, made_from=body.made_from)
    return _page(school_class, teacher)


@router.put("/classes/{int:class_id}/groups/{int:group_id}", response=ClassPage)
def keep_group(request: HttpRequest, class_id: int, group_id: int, body: GroupChange) -> ClassPage:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    services.keep_group(school_class, body.name, body.students, services.group_of(school_class, group_id))
    return _page(school_class, teacher)


@router.delete("/classes/{int:class_id}/groups/{int:group_id}", response=ClassPage)
def remove_group(request: HttpRequest, class_id: int, group_id: int) -> ClassPage:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    services.group_of(school_class, group_id).delete()
    return _page(school_class, teacher)


@router.put("/classes/{int:class_id}/co-teachers", response=ClassPage)
def share_class(request: HttpRequest, class_id: int, body: ClassSharing) -> ClassPage:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    services.share_class(school_class, body.teacher, body.may_mark, body.may_run)
    return _page(school_class, teacher)


@router.delete("/classes/{int:class_id}/co-teachers/{int:teacher_id}", response=ClassPage)
def stop_sharing(request: HttpRequest, class_id: int, teacher_id: int) -> ClassPage:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    services.stop_sharing(school_class, teacher_id)
    return _page(school_class, teacher)
