"""The API of a student's device. Its schemas are built from what a student may see and know no other field."""

from uuid import UUID

from django.db import transaction
from django.http import FileResponse, HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import File, Router, UploadedFile
from ninja.security import APIKeyCookie

from versomark.core.items.by_rubric import HandedIn
from versomark.core.language import N_, _
from versomark.school import turns
from versomark.school.accounts.public import languages
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import Seat, tokens
from versomark.school.errors import DomainError
from versomark.school.http import Done, attachment, json_out

from . import attempts, files, services
from .schemas_student import AnswerChanges, HandingIn, Join, Kept, SeatPage, Signs, page_of
from .time_spent import TimeSpentOnItem

router = Router(tags=["student"])
SET_ASIDE = {
    "elsewhere": N_("You went on with another device; this one is set aside. What it has not sent yet stays on it."),
    "sent back": N_("Your teacher sent this device back from the door. Give the code and your own pass again."),
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
            raise DomainError(_(SET_ASIDE[seat.how]), status=409)
        turns.begin(turns.Area(seat.seat.student.school_id, seat.seat.pk))
        request.holding = seat.how  # type: ignore[attr-defined]
        return seat.seat


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
    seat = delivery.find_seat(body.code, body.pass_phrase, request.META.get("REMOTE_ADDR", ""))
    with turns.working_on(turns.Area(seat.student.school_id, seat.pk)), transaction.atomic():
        delivery.begin(seat)
        tokens.give(response, request, seat)
    if seat.student.language:
        languages.choose(response, seat.student.language)
    return json_out(page_of(seat), response)


@router.get("/seat", response=SeatPage)
def seat_page(request: HttpRequest) -> HttpResponse:
    seat, holding = _seat(request), request.holding  # type: ignore[attr-defined]
    if holding == "holds":
        delivery.begin(seat)
    return json_out(page_of(seat, holding))


@router.post("/here", response=SeatPage)
def go_on_here(request: HttpRequest, response: HttpResponse) -> HttpResponse:
    """This device goes on with the seat, in place of the one that took it over."""
    seat = _seat(request)
    if request.holding == "sent back":  # type: ignore[attr-defined]
        raise DomainError(SET_ASIDE["sent back"])
    tokens.give(response, request, seat)
    delivery.begin(seat)
    return json_out(page_of(seat), response)


@router.post("/signs", response=Done)
def sign_of_life(request: HttpRequest, body: Signs) -> Done:
    """Which question is before the student, how long others were, and when they left the page."""
    times_spent = [TimeSpentOnItem(**dict(entry)) for entry in body.spent]
    services.sign_of_life(
        _seat(request).pk, body.at, [services.TimeAwaySpan(**dict(entry)) for entry in body.away], times_spent
    )
    return Done()


@router.post("/take-back", response=SeatPage)
def take_back(request: HttpRequest) -> HttpResponse:
    """Go on with a test that was handed in, where that is allowed."""
    return json_out(page_of(delivery.take_back(_seat(request).pk)))


@router.post("/break", response=SeatPage)
def begin_break(request: HttpRequest) -> HttpResponse:
    """A break of one's own, where the student's needs allow one: the time stands still."""
    return json_out(page_of(delivery.breaks.begin(_seat(request).pk)))


@router.post("/break/end", response=SeatPage)
def end_break(request: HttpRequest) -> HttpResponse:
    return json_out(page_of(delivery.breaks.end(_seat(request).pk)))


@router.post("/again", response=SeatPage)
def begin_again(request: HttpRequest) -> HttpResponse:
    """Another attempt, where there is one: an empty paper, and the time once more."""
    return json_out(page_of(attempts.begin_again(_seat(request).pk)))


@router.post("/answers", response=Kept)
def answers(request: HttpRequest, body: AnswerChanges) -> HttpResponse:
    changes = [services.Change(**dict(change)) for change in body.changes]
    seat = _seat(request)
    return json_out(Kept(kept=services.keep_answers(seat.pk, changes), moment=delivery.moment_for(seat)))


@router.post("/files/{item}", response=HandedIn)
def take_file(request: HttpRequest, item: str, file: File[UploadedFile]) -> HandedIn:
    return files.take_file(_seat(request).pk, item, file)


@router.get("/files/{uuid:file_id}", response={200: None})
def own_file(request: HttpRequest, file_id: UUID) -> FileResponse:
    """A file that was handed over from this seat, to look at it once more."""
    return attachment(files.stored_file(_seat(request).files.filter(pk=file_id).first()))


@router.post("/hand-in", response=SeatPage)
def hand_in(request: HttpRequest, body: HandingIn | None = None) -> HttpResponse:
    moment, seconds_since = (body.moment, body.seconds_since) if body else ("", 0.0)
    return json_out(page_of(delivery.hand_in(_seat(request).pk, moment, seconds_since)))


@router.post("/leave", response=Done)
def leave(request: HttpRequest, response: HttpResponse) -> Done:
    """Forget this device, for the next student who uses it. The seat and its answers stay."""
    tokens.take_back(response)
    return Done()
