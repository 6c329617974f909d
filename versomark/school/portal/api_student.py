"""The API of a student's own page. Who is behind a request says the cookie alone; no address names a student."""

from uuid import UUID

from django.http import FileResponse, HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router
from ninja.security import APIKeyCookie

from versomark.core.language import _
from versomark.school import turns
from versomark.school.bank import public as bank
from versomark.school.classes.public import Student
from versomark.school.errors import NotFound
from versomark.school.feedback.public import StudentResult
from versomark.school.grading import public as grading
from versomark.school.http import Done, attachment, played
from versomark.school.responses import public as responses

from . import services as student_portal
from .notice_words import notice_words
from .schemas_student import AskBody, Enter, NoticeLine, OwnPage, OwnPointLine, OwnSittingLine

router = Router(tags=["own page"])


class OwnCookie(APIKeyCookie):
    param_name = student_portal.COOKIE

    def authenticate(self, request: HttpRequest, key: str | None) -> Student | None:
        student = student_portal.student_of(key or "")
        if student is not None:
            turns.begin(turns.Area(student.school_id))
        return student


def page_of(student: Student) -> OwnPage:
    return OwnPage(
        student=student.short_name,
        sittings=[
            OwnSittingLine(
                id=sitting.seat.sitting_id,
                title=sitting.title,
                stage=sitting.stage,
                when=sitting.when,
                closes_at=sitting.closes_at,
                may_go=sitting.may_go,
                results=sitting.results,
            )
            for sitting in student_portal.sittings_of(student)
        ],
        notices=[
            NoticeLine(kind=notice.kind, says=notice_words(notice), at=notice.made_at, new=notice.read_at is None)
            for notice in student_portal.notices_of(student)
        ],
    )


def _student(request: HttpRequest) -> Student:
    student: Student = request.auth  # type: ignore[attr-defined]
    return student


@router.get("/hello", auth=None, response=Done)
def hello(request: HttpRequest) -> Done:
    """Gives the device its token against forged requests before somebody signs in."""
    get_token(request)
    return Done()


@router.post("/enter", auth=None, response=OwnPage)
def enter(request: HttpRequest, response: HttpResponse, body: Enter) -> OwnPage:
    student = student_portal.enter(body.link, body.pass_phrase, request.META.get("REMOTE_ADDR", ""))
    student_portal.give(response, request, student)
    return page_of(student)


@router.get("/page", response=OwnPage)
def page(request: HttpRequest) -> OwnPage:
    return page_of(_student(request))


@router.post("/sittings/{int:sitting_id}/go", response=Done)
def go(request: HttpRequest, response: HttpResponse, sitting_id: int) -> Done:
    """This device takes the student's seat."""
    student_portal.go_to(_student(request), sitting_id, response, request)
    return Done()


@router.post("/leave", response=Done)
def leave(request: HttpRequest, response: HttpResponse) -> Done:
    response.delete_cookie(student_portal.COOKIE, samesite="Strict")
    return Done()


@router.get("/growth", response=list[OwnPointLine])
def growth(request: HttpRequest) -> list[OwnPointLine]:
    """Over the year: what is released to them with its marks."""
    return [OwnPointLine(**entry._asdict()) for entry in student_portal.growth_of(_student(request))]


@router.get("/sittings/{int:sitting_id}/result", response=StudentResult)
def result(request: HttpRequest, sitting_id: int) -> StudentResult:
    """Their own, once it is released."""
    return student_portal.result_of(_student(request), sitting_id)


@router.post("/sittings/{int:sitting_id}/questions/{item}", response=StudentResult)
def ask_about_mark(request: HttpRequest, sitting_id: int, item: str, body: AskBody) -> StudentResult:
    """Have a mark of theirs looked at once more, with a reason."""
    return student_portal.ask_about_mark(_student(request), sitting_id, item, body.reason)


@router.delete("/sittings/{int:sitting_id}/questions/{item}", response=StudentResult)
def ask_no_more(request: HttpRequest, sitting_id: int, item: str) -> StudentResult:
    return student_portal.ask_no_more(_student(request), sitting_id, item)


@router.get("/sittings/{int:sitting_id}/returned/{uuid:file_id}", response={200: None})
def returned_file(request: HttpRequest, sitting_id: int, file_id: UUID) -> FileResponse:
    """A file of theirs that came back with remarks in it, once their result is released."""
    return attachment(grading.stored_file(student_portal.returned_file(_student(request), sitting_id, file_id)))


@router.get("/sittings/{int:sitting_id}/files/{uuid:file_id}", response={200: None})
def handed_in_file(request: HttpRequest, sitting_id: int, file_id: UUID) -> FileResponse:
    """A file as they handed it in; it is theirs, whatever has been released."""
    return attachment(responses.stored_file(student_portal.handed_in_file(_student(request), sitting_id, file_id)))


@router.get("/sittings/{int:sitting_id}/files/{uuid:file_id}/played", response={200: None})
def handed_in_file_played(request: HttpRequest, sitting_id: int, file_id: UUID) -> HttpResponse | FileResponse:
    """The same, where it is sound or a film, to hear or to look at."""
    stored = responses.stored_file(student_portal.handed_in_file(_student(request), sitting_id, file_id))
    if stored is None:
        raise NotFound(_("file"))
    return played(request, stored)


@router.get("/sittings/{int:sitting_id}/pictures/{item}/{int:file}/{int:page}.jpg", response={200: None})
def marked_work(request: HttpRequest, sitting_id: int, item: str, file: int, page: int) -> HttpResponse:
    """A picture of their answer that was written on, once their result is released."""
    picture = student_portal.work_of(_student(request), sitting_id, item, file, page)
    return HttpResponse(picture, content_type="image/jpeg")


@router.get("/sittings/{int:sitting_id}/materials/{uuid:material_id}", response={200: None})
def material(request: HttpRequest, sitting_id: int, material_id: UUID) -> FileResponse:
    """The file of something that helps with a skill of theirs."""
    return attachment(bank.stored_file(student_portal.material_of(_student(request), sitting_id, material_id)))
