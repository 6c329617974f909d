"""The API of a student's own page. Who is behind a request says the cookie alone; no address names a student."""

from datetime import date, datetime
from uuid import UUID

from django.http import FileResponse, HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Field, Router, Schema
from ninja.security import APIKeyCookie

from versomark.school.bank.materials import sent as file_of
from versomark.school.classes.models import Student
from versomark.school.http import Done
from versomark.school.marking.away_api import sent
from versomark.school.results.shown import StudentResult
from versomark.school.sittings import files

from . import own

router = Router(tags=["own page"])


class OwnCookie(APIKeyCookie):
    param_name = own.COOKIE

    def authenticate(self, request: HttpRequest, key: str | None) -> Student | None:
        return own.student_of(key or "")


class Enter(Schema):
    link: str = Field(max_length=40)
    pass_phrase: str = Field(max_length=60)


class NoticeLine(Schema):
    kind: str
    says: str
    at: datetime
    new: bool


class OwnSittingLine(Schema):
    id: int
    title: str
    stage: own.Stage
    when: str
    closes_at: datetime | None
    may_go: bool
    results: bool
    """Whether they may see their results."""


class OwnPage(Schema):
    student: str
    sittings: list[OwnSittingLine]
    notices: list[NoticeLine]


def page_of(student: Student) -> OwnPage:
    return OwnPage(
        student=student.short_name,
        sittings=[
            OwnSittingLine(
                id=one.seat.sitting_id,
                title=one.title,
                stage=one.stage,
                when=one.when,
                closes_at=one.closes_at,
                may_go=one.may_go,
                results=one.results,
            )
            for one in own.sittings_of(student)
        ],
        notices=[
            NoticeLine(kind=one.kind, says=one.says, at=one.made_at, new=one.read_at is None)
            for one in own.notices_of(student)
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
    student = own.enter(body.link, body.pass_phrase, request.META.get("REMOTE_ADDR", ""))
    own.give(response, request, student)
    return page_of(student)


@router.get("/page", response=OwnPage)
def page(request: HttpRequest) -> OwnPage:
    return page_of(_student(request))


@router.post("/sittings/{int:sitting_id}/go", response=Done)
def go(request: HttpRequest, response: HttpResponse, sitting_id: int) -> Done:
    """This device takes the student's seat."""
    own.go_to(_student(request), sitting_id, response, request)
    return Done()


@router.post("/leave", response=Done)
def leave(request: HttpRequest, response: HttpResponse) -> Done:
    response.delete_cookie(own.COOKIE, samesite="Strict")
    return Done()


class OwnPointLine(Schema):
    sitting: int
    title: str
    held_on: date
    share: float


@router.get("/growth", response=list[OwnPointLine])
def growth(request: HttpRequest) -> list[OwnPointLine]:
    """Over the year: what is released to them with its marks."""
    return [OwnPointLine(**one._asdict()) for one in own.growth_of(_student(request))]


@router.get("/sittings/{int:sitting_id}/result", response=StudentResult)
def result(request: HttpRequest, sitting_id: int) -> StudentResult:
    """Their own, once it is released."""
    return own.result_of(_student(request), sitting_id)


@router.get("/sittings/{int:sitting_id}/returned/{uuid:file_id}", response={200: None})
def returned_file(request: HttpRequest, sitting_id: int, file_id: UUID) -> FileResponse:
    """A file of theirs that came back with remarks in it, once their result is released."""
    return sent(own.returned_file(_student(request), sitting_id, file_id))


@router.get("/sittings/{int:sitting_id}/files/{uuid:file_id}", response={200: None})
def handed_in_file(request: HttpRequest, sitting_id: int, file_id: UUID) -> FileResponse:
    """A file as they handed it in; it is theirs, whatever has been released."""
    return files.sent(own.handed_in_file(_student(request), sitting_id, file_id))


@router.get("/sittings/{int:sitting_id}/materials/{uuid:material_id}", response={200: None})
def material(request: HttpRequest, sitting_id: int, material_id: UUID) -> FileResponse:
    """The file of something that helps with a skill of theirs."""
    return file_of(own.material_of(_student(request), sitting_id, material_id))
