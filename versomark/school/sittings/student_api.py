"""The API of a student's device. Its schemas are built from what a student may see and know no other field."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Field, File, Router, Schema, UploadedFile
from ninja.security import APIKeyCookie

from versomark.core.editions import StudentPaper
from versomark.core.items import ItemResponse
from versomark.core.items.by_rubric import HandedIn
from versomark.school.http import Done

from . import files, seats, tokens
from .models import Seat, SittingState, Way
from .services import AFTER, is_marks_only

router = Router(tags=["student"])
Stage = Literal["waiting", "working", "paused", "handed in", "closed"]


class SeatCookie(APIKeyCookie):
    param_name = tokens.COOKIE

    def authenticate(self, request: HttpRequest, key: str | None) -> Seat | None:
        seat_id = tokens.seat_id_of(request.COOKIES)
        # Most requests need the edition only as a model that is read already.
        seats = Seat.objects.select_related("sitting__edition", "student").defer("sitting__edition__content")
        return seats.filter(pk=seat_id or 0).first()


class Join(Schema):
    code: str = Field(max_length=60)
    pass_phrase: str = Field(max_length=60)


class KeptAnswer(Schema):
    item: str
    response: ItemResponse | None
    come_back: bool


class StudentNeeds(Schema):
    """What this student needs on any screen, as the class list has it."""

    large_print: bool
    ground: Literal["", "cream", "blue", "green", "rose"]
    read_aloud: bool
    quiet_start: bool


class SeatPage(Schema):
    """Everything a student's device needs to show where they are."""

    seat: int
    student: str
    needs: StudentNeeds
    title: str
    marks_only: bool
    """Whether it is marks that are entered, of a test given elsewhere."""
    stage: Stage
    in_the_room: bool
    """Whether the teacher asks question by question; then there is no paper, and `/room` says what is on."""
    closes_at: datetime | None
    """Until when it can be worked at, where that is said."""
    paper: StudentPaper | None
    answers: list[KeptAnswer]
    sequence: int


class AnswerChange(Schema):
    client_id: UUID
    sequence: int = Field(ge=0, le=2_000_000_000)
    item: str = Field(max_length=36)
    response: ItemResponse | None = None
    come_back: bool = False


class AnswerChanges(Schema):
    changes: list[AnswerChange] = Field(min_length=1, max_length=500)


class Kept(Schema):
    """The ids of the changes that are on disk now."""

    kept: list[UUID]


def _stage(seat: Seat) -> Stage:
    if seat.state == "handed in":
        return "handed in"
    if seat.sitting.state in AFTER:
        return "closed"
    if seat.sitting.state == SittingState.PAUSED:
        return "paused"
    return "working" if seat.state == "working" else "waiting"


def page_of(seat: Seat) -> SeatPage:
    answers = seats.current_answers(seat)
    paper = seats.paper_for(seat)
    return SeatPage(
        seat=seat.pk,
        student=seat.student.short_name,
        needs=StudentNeeds(
            large_print=seat.student.large_print,
            ground=seat.student.ground,  # type: ignore[arg-type]
            read_aloud=seat.student.read_aloud == "on",
            quiet_start=seat.student.quiet_start,
        ),
        title=seat.sitting.edition.read().title,
        marks_only=is_marks_only(seat.sitting),
        stage=_stage(seat),
        in_the_room=seat.sitting.way == Way.ROOM,
        closes_at=seat.sitting.closes_at,
        paper=paper,
        answers=[KeptAnswer(item=a.item, response=a.response, come_back=a.come_back) for a in answers] if paper else [],
        sequence=max((answer.sequence for answer in answers), default=0),
    )


def _seat(request: HttpRequest) -> Seat:
    seat: Seat = request.auth  # type: ignore[attr-defined]
    return seat


@router.get("/hello", auth=None, response=Done)
def hello(request: HttpRequest) -> Done:
    """Gives the device its token against forged requests before it joins."""
    get_token(request)
    return Done()


@router.post("/join", auth=None, response=SeatPage)
def join(request: HttpRequest, response: HttpResponse, body: Join) -> SeatPage:
    seat = seats.take_seat(body.code, body.pass_phrase, request.META.get("REMOTE_ADDR", ""))
    tokens.give(response, request, seat)
    return page_of(seat)


@router.get("/seat", response=SeatPage)
def seat_page(request: HttpRequest) -> SeatPage:
    seat = _seat(request)
    seats.begin(seat)
    return page_of(seat)


@router.post("/answers", response=Kept)
def answers(request: HttpRequest, body: AnswerChanges) -> Kept:
    changes = [seats.Change(**dict(change)) for change in body.changes]
    return Kept(kept=seats.keep_answers(_seat(request).pk, changes))


@router.post("/files/{item}", response=HandedIn)
def take_file(request: HttpRequest, item: str, file: File[UploadedFile]) -> HandedIn:
    return files.take_file(_seat(request).pk, item, file)


@router.post("/hand-in", response=SeatPage)
def hand_in(request: HttpRequest) -> SeatPage:
    return page_of(seats.hand_in(_seat(request).pk))


@router.post("/leave", response=Done)
def leave(request: HttpRequest, response: HttpResponse) -> Done:
    """Forget this device, for the next student who uses it. The seat and its answers stay."""
    tokens.take_back(response)
    return Done()
