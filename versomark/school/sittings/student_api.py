"""The API of a student's device. Its schemas are built from what a student may see and know no other field."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from django.db import transaction
from django.http import FileResponse, HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Field, File, Router, Schema, UploadedFile
from ninja.security import APIKeyCookie

from versomark.core.editions import StudentPaper
from versomark.core.items import ItemResponse
from versomark.core.items.by_rubric import HandedIn
from versomark.school.errors import DomainError
from versomark.school.http import Done, json_out

from . import attempts, files, seats, timekeeping, tokens
from .models import Seat, SittingState, Way
from .services import AFTER, is_marks_only
from .time_spent import Spent

router = Router(tags=["student"])
Stage = Literal[
    "waiting", "at the door", "working", "paused", "handed in", "closed", "locked", "elsewhere", "sent back"
]
SET_ASIDE = {
    "elsewhere": "You went on with another device; this one is set aside. What it has not sent yet stays on it.",
    "sent back": "Your teacher sent this device back from the door. Give the code and your own pass again.",
}


class SeatCookie(APIKeyCookie):
    param_name = tokens.COOKIE
    FOR_ANY = ("/seat", "/here", "/leave")
    """What a device that was set aside may still ask: how things stand, to be the one again, to be forgotten."""

    def authenticate(self, request: HttpRequest, key: str | None) -> Seat | None:
        seat = tokens.held_by(request.COOKIES)
        if seat is None:
            return None
        if seat.how != "holds" and not request.path.endswith(self.FOR_ANY):
            raise DomainError(SET_ASIDE[seat.how], status=409)
        request.holding = seat.how  # type: ignore[attr-defined]
        return seat.seat


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


class StudentRules(Schema):
    """What this student may do here."""

    all_at_once: bool
    going_back: bool
    take_back: bool
    aids: list[str]
    formula_sheet: str
    attempts_left: int
    """After the one that was handed in."""


class SeatPage(Schema):
    """Everything a student's device needs to show where they are."""

    seat: int
    student: str
    needs: StudentNeeds
    title: str
    marks_only: bool
    """Whether it is marks that are entered, of a test given elsewhere."""
    stage: Stage
    own_page: str
    """The link to the student's own page, where a result is read; empty while they are at work."""
    released: bool
    """Whether results of this sitting are released to everybody."""
    in_the_room: bool
    """Whether the teacher asks question by question; then there is no paper, and `/room` says what is on."""
    closes_at: datetime | None
    """Until when it can be worked at, where that is said."""
    seconds_left: int | None
    """Of this student's own time; it stands still in a pause. Null where there is no end."""
    ended_by_time: bool
    returned_with: str
    """What the teacher said when giving the work back to be revised."""
    instructions: str
    """Of the test, to be read at the door."""
    rules: StudentRules
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


class TimeAway(Schema):
    client_id: UUID
    left_at: datetime
    seconds: int = Field(ge=0, le=1_000_000)


class TimeSpent(Schema):
    client_id: UUID
    item: str = Field(max_length=36)
    seconds: float = Field(ge=0, le=1_000_000, allow_inf_nan=False)


class Signs(Schema):
    at: str = Field("", max_length=36)
    """The question before the student; empty for a page between questions or the list of all."""
    away: list[TimeAway] = Field([], max_length=100)
    spent: list[TimeSpent] = Field([], max_length=200)
    """How long questions were before them since the last sign."""


class Kept(Schema):
    """The ids of the changes that are on disk now."""

    kept: list[UUID]


def _stage(seat: Seat) -> Stage:
    if seat.state == "handed in":
        return "handed in"
    if seat.locked:
        return "locked"
    if seat.state == "paused":
        return "paused"
    if not seat.sits_later:
        if seat.sitting.state in AFTER:
            return "closed"
        if seat.sitting.state == SittingState.PAUSED:
            return "paused"
        if seat.state == "at the door" and seat.sitting.state == SittingState.OPEN:
            return "at the door"
    return "working" if seat.state == "working" else "waiting"


def page_of(seat: Seat, holding: tokens.Holding = "holds") -> SeatPage:
    """Where a student is; nothing of the paper for a device that was set aside."""
    answers = seats.current_answers(seat)
    paper = seats.paper_for(seat) if holding == "holds" else None
    rules, left = seat.sitting.read_rules(), timekeeping.left(seat)
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
        stage=_stage(seat) if holding == "holds" else holding,
        own_page=f"/mine/{seat.sitting.school_class.link}" if seat.state == "handed in" else "",
        released=seat.sitting.state == SittingState.RELEASED,
        in_the_room=seat.sitting.way == Way.ROOM,
        closes_at=None if seat.sits_later else seat.sitting.closes_at,
        seconds_left=None if left is None else round(left),
        ended_by_time=seat.ended_by_time,
        returned_with=seat.returned_with,
        instructions=seat.sitting.edition.read().instructions,
        rules=StudentRules(
            all_at_once=rules.all_at_once and rules.going_back,
            going_back=rules.going_back,
            take_back=rules.take_back
            and seat.sitting.state == SittingState.OPEN
            and not (seat.ended_by_closing or seat.locked),
            aids=rules.aids_in_words(),
            formula_sheet=rules.formula_sheet if paper else "",
            attempts_left=attempts.left_for(seat) if seat.state == "handed in" else 0,
        ),
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
def join(request: HttpRequest, response: HttpResponse, body: Join) -> HttpResponse:
    seat = seats.find_seat(body.code, body.pass_phrase, request.META.get("REMOTE_ADDR", ""))
    with transaction.atomic():
        seats.begin(seat)
        tokens.give(response, request, seat)
    return json_out(page_of(seat), response)


@router.get("/seat", response=SeatPage)
def seat_page(request: HttpRequest) -> HttpResponse:
    seat, holding = _seat(request), request.holding  # type: ignore[attr-defined]
    if holding == "holds":
        seats.begin(seat)
    return json_out(page_of(seat, holding))


@router.post("/here", response=SeatPage)
def go_on_here(request: HttpRequest, response: HttpResponse) -> HttpResponse:
    """This device goes on with the seat, in place of the one that took it over."""
    seat = _seat(request)
    if request.holding == "sent back":  # type: ignore[attr-defined]
        raise DomainError(SET_ASIDE["sent back"])
    tokens.give(response, request, seat)
    seats.begin(seat)
    return json_out(page_of(seat), response)


@router.post("/signs", response=Done)
def sign_of_life(request: HttpRequest, body: Signs) -> Done:
    """Which question is before the student, how long others were, and when they left the page."""
    spent = [Spent(**dict(entry)) for entry in body.spent]
    seats.sign_of_life(_seat(request).pk, body.at, [seats.Away(**dict(entry)) for entry in body.away], spent)
    return Done()


@router.post("/take-back", response=SeatPage)
def take_back(request: HttpRequest) -> HttpResponse:
    """Go on with a test that was handed in, where that is allowed."""
    return json_out(page_of(seats.take_back(_seat(request).pk)))


@router.post("/again", response=SeatPage)
def begin_again(request: HttpRequest) -> HttpResponse:
    """Another attempt, where there is one: an empty paper, and the time once more."""
    return json_out(page_of(attempts.begin_again(_seat(request).pk)))


@router.post("/answers", response=Kept)
def answers(request: HttpRequest, body: AnswerChanges) -> HttpResponse:
    changes = [seats.Change(**dict(change)) for change in body.changes]
    return json_out(Kept(kept=seats.keep_answers(_seat(request).pk, changes)))


@router.post("/files/{item}", response=HandedIn)
def take_file(request: HttpRequest, item: str, file: File[UploadedFile]) -> HandedIn:
    return files.take_file(_seat(request).pk, item, file)


@router.get("/files/{uuid:file_id}", response={200: None})
def own_file(request: HttpRequest, file_id: UUID) -> FileResponse:
    """A file that was handed over from this seat, to look at it once more."""
    return files.sent(_seat(request).files.filter(pk=file_id).first())


@router.post("/hand-in", response=SeatPage)
def hand_in(request: HttpRequest) -> HttpResponse:
    return json_out(page_of(seats.hand_in(_seat(request).pk)))


@router.post("/leave", response=Done)
def leave(request: HttpRequest, response: HttpResponse) -> Done:
    """Forget this device, for the next student who uses it. The seat and its answers stay."""
    tokens.take_back(response)
    return Done()
