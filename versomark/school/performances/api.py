"""Marking while it is done, by seat: whoever watches sees whom they mark."""

from uuid import UUID

from django.http import FileResponse, HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile

from versomark.core.items.by_rubric import ByRubric, Performance
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Sitting, sitting_of
from versomark.school.grading.public import MarkGiven, MarkingPass, number_of, procedure_of
from versomark.school.http import json_out, played, teacher_of

from . import services
from .schemas import ReadingName, WatchedMarkBody, WatchedStudent, WatchedTask, WatchPage

router = Router(tags=["watching"])


def _sitting(request: HttpRequest, sitting_id: int) -> tuple[Teacher, Sitting]:
    teacher = teacher_of(request)
    return teacher, sitting_of(teacher, sitting_id, "mark")


@router.get("/sittings/{int:sitting_id}/marking/watching", response=WatchPage)
def watching(request: HttpRequest, sitting_id: int, turn: ReadingName = "first") -> HttpResponse:
    """The tasks that are marked while they are done, and what each student has shown."""
    teacher, sitting = _sitting(request, sitting_id)
    return json_out(
        WatchPage(
            sitting=sitting.pk,
            title=sitting.edition.read().title,
            class_id=sitting.school_class_id,
            class_name=sitting.school_class.name,
            state=sitting.state,
            alone=services.is_alone(sitting),
            tasks=[
                WatchedTask(
                    ref=ref,
                    number=number_of(sitting, ref),
                    stem=item.content.stem,
                    marks=item.content.marks,
                    minutes=item.content.minutes if isinstance(item.content, Performance) else 0,
                    rubric=item.content.rubric,
                )
                for ref, item in services.tasks_of(sitting).items()
                if isinstance(item.content, ByRubric)
            ],
            students=services.students_in(teacher, sitting, MarkingPass(turn)),
            turn=turn,
            second=procedure_of(sitting) is not None,
        )
    )


@router.put("/sittings/{int:sitting_id}/marking/watching/{int:seat_id}/{item}", response=WatchedStudent)
def mark(request: HttpRequest, sitting_id: int, seat_id: int, item: str, body: WatchedMarkBody) -> HttpResponse:
    """What was shown earns so many points; a draft while something is open."""
    teacher, sitting = _sitting(request, sitting_id)
    given = MarkGiven(body.points, body.comment, body.draft, body.seen, MarkingPass(body.turn))
    services.mark(teacher, sitting, seat_id, item, given, body.seconds)
    return _student(teacher, sitting, body.turn, seat_id)


@router.post("/sittings/{int:sitting_id}/marking/watching/{int:seat_id}/{item}/evidence", response=WatchedStudent)
def take_evidence(
    request: HttpRequest,
    sitting_id: int,
    seat_id: int,
    item: str,
    file: File[UploadedFile],
    turn: ReadingName = "first",
) -> HttpResponse:
    """Keep a sound, a picture or a film."""
    teacher, sitting = _sitting(request, sitting_id)
    services.take_evidence(teacher, sitting, seat_id, item, file)
    return _student(teacher, sitting, turn, seat_id)


@router.delete(
    "/sittings/{int:sitting_id}/marking/watching/{int:seat_id}/{item}/evidence/{uuid:file_id}", response=WatchedStudent
)
def take_away_evidence(
    request: HttpRequest, sitting_id: int, seat_id: int, item: str, file_id: UUID, turn: ReadingName = "first"
) -> HttpResponse:
    """It belongs to what was shown no more."""
    teacher, sitting = _sitting(request, sitting_id)
    services.take_away_evidence(teacher, sitting, seat_id, item, str(file_id))
    return _student(teacher, sitting, turn, seat_id)


@router.get("/sittings/{int:sitting_id}/marking/watching/{int:seat_id}/evidence/{uuid:file_id}", response={200: None})
def evidence(request: HttpRequest, sitting_id: int, seat_id: int, file_id: UUID) -> HttpResponse | FileResponse:
    """To hear or to look at."""
    sitting = _sitting(request, sitting_id)[1]
    return played(request, services.evidence(sitting, seat_id, str(file_id)))


def _student(teacher: Teacher, sitting: Sitting, turn: ReadingName, seat_id: int) -> HttpResponse:
    return json_out(services.students_in(teacher, sitting, MarkingPass(turn), seat_id)[0])
