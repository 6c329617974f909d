"""A student's side of a sitting: taking the seat, answering, handing in.

Every answer is committed before the reply goes out. A device gives each change an id and a running number; the same
change sent again is recognised by its id and acknowledged again, and of two changes the one with the higher number
stands, so nothing depends on the order in which a flaky network delivers them.
"""

from collections.abc import Mapping
from typing import TypeVar

from django.db import transaction

from versomark.core.editions import Edition, StudentPaper, in_own_order, student_paper
from versomark.core.language import _
from versomark.school import guesses
from versomark.school.classes.public import normalised
from versomark.school.compiled_query import CompiledQuery
from versomark.school.errors import DomainError

from . import nudges, steady
from .events import record
from .models import AFTER, BEFORE, EventKind, Seat, SeatState, Sitting, SittingState, Way
from .moments import DoneAt, done_at, in_time
from .queries import WITH_ALL, seat_now
from .services import settle_readiness
from .timekeeping import is_over

_on_by_code = CompiledQuery(
    lambda code: Sitting.objects.filter(code=code).exclude(state__in=AFTER).order_by("pk")[:1], (str,)
)
_seat_by_pass = CompiledQuery(
    lambda sitting, pass_phrase: WITH_ALL.filter(sitting=sitting, student__pass_phrase=pass_phrase).order_by(),
    (int, str),
)


def find_seat(code: str, pass_phrase: str, address: str) -> Seat:
    """The seat that belongs to this code and pass. Words for the student when there is none."""
    sitting = sitting_with(code, address)
    seat = _seat_by_pass.first(sitting.pk, normalised(pass_phrase))
    if seat is None:
        says = _("That pass is not on the list for this sitting. Check it, or ask your teacher.")
        raise _wrong(address, sitting.pk, says)
    return seat


def sitting_with(code: str, address: str) -> Sitting:
    """The sitting whose code this is, the one that is on before one that is over. Words for the student otherwise."""
    given = normalised(code)
    sitting = _on_by_code.first(given) or Sitting.objects.filter(code=given).order_by("-closed_at").first()
    if sitting is None:
        raise _wrong(address, None, _("No sitting has that code. Look at the board again."))
    settle_readiness(sitting)
    return sitting


@transaction.atomic
def begin(seat: Seat) -> None:
    """The student is here: at work where they may be, else at the door."""
    # The seat was read before this transaction, and the teacher may have done something with it since.
    fresh, now = seat_now(seat.pk), steady.now()
    for name in ("state", "started_at", "sits_later", "paused_at", "paused_seconds", "locked"):
        setattr(seat, name, getattr(fresh, name))
    seat.sitting.state, seat.sitting.paused_at = fresh.sitting.state, fresh.sitting.paused_at
    waiting = (SeatState.EXPECTED, SeatState.AT_THE_DOOR, SeatState.ABSENT, SeatState.EXCUSED)
    if seat.locked:
        pass  # it stays as it is until the teacher says otherwise
    elif seat.sits_later or seat.sitting.state == SittingState.OPEN:
        # Where passes are being guessed, the teacher looks who comes with one.
        asks = seat.sitting.read_rules().let_in or guesses.is_guessed_at(seat.sitting_id)
        at_the_door = asks and not seat.sits_later
        if seat.state in waiting:
            seat.state = SeatState.AT_THE_DOOR if at_the_door else SeatState.WORKING
        if seat.state == SeatState.WORKING:
            seat.started_at = seat.started_at or now
    elif seat.sitting.state in BEFORE and seat.state == SeatState.EXPECTED:
        seat.state = SeatState.AT_THE_DOOR
    seat.last_seen = now
    seat.save(update_fields=["state", "started_at", "last_seen"])
    nudges.seat_changed(seat.sitting_id)


def paper_for(seat: Seat) -> StudentPaper | None:
    """The whole paper, only while this student may work on it by themselves."""
    running = seat.sits_later or seat.sitting.state == SittingState.OPEN
    if not running or seat.locked or seat.state != SeatState.WORKING or seat.sitting.way == Way.ROOM:
        return None
    edition = seat.sitting.edition.read()
    if seat.sitting.read_rules().own_order:
        return student_paper(in_own_order(edition, f"{seat.sitting.code} {seat.pk}"))
    return _paper(seat.sitting.edition.fingerprint, seat.form, edition)


_papers: dict[tuple[str, str], StudentPaper] = {}
MOST_PAPERS = 64


def _paper(fingerprint: str, form: str, edition: Edition) -> StudentPaper:
    """Made once: a class that comes in asks for the same paper within seconds, and an edition never changes."""
    paper = _papers.get((fingerprint, form))
    if paper is None:
        paper = student_paper(edition, form)
        if len(_papers) >= MOST_PAPERS:
            _papers.clear()
        _papers[fingerprint, form] = paper
    return paper


@transaction.atomic
def hand_in(seat_id: int, moment: str = "", seconds_since: float = 0.0) -> Seat:
    """The student is done. Doing it twice is the same as once.

    moment, seconds_since: when they said so, where that could not be sent at once (see `moments`).
    """
    seat = seat_now(seat_id)
    done = done_at(seat, moment, seconds_since)
    unheard = done is not None and done.is_delayed
    if seat.state == SeatState.HANDED_IN and not (unheard and in_time(seat, done)):
        return seat
    may_answer_or_could(seat, {"handing in": done})
    now = steady.now()
    seat.state, seat.handed_in_at, seat.last_seen = SeatState.HANDED_IN, now, now
    seat.ended_by_closing = seat.ended_by_time = False
    if done is not None and unheard:
        seat.handed_in_at = done.at
        record(seat.sitting, None, EventKind.HANDED_IN_UNHEARD, seat, given=done.at, not_before=done.not_before)
    seat.save(update_fields=["state", "handed_in_at", "last_seen", "ended_by_closing", "ended_by_time"])
    nudges.seat_changed(seat.sitting_id)
    return seat


Thing = TypeVar("Thing")


def may_answer_or_could(seat: Seat, done: Mapping[Thing, DoneAt | None]) -> set[Thing]:
    """What of this may be taken: all of it while the seat may answer, and afterwards what was done while it might.

    Refuses, in words, where that is nothing.
    """
    try:
        may_answer(seat)
    except DomainError:
        taken = {thing for thing, when in done.items() if in_time(seat, when)}
        if not taken:
            raise
        return taken
    return set(done)


def may_answer(seat: Seat) -> None:
    if seat.sitting.way == Way.ROOM:
        raise DomainError(_("Your teacher asks the questions one by one."), status=423)
    may_work(seat)


def may_work(seat: Seat) -> None:
    """Refuses, in words, where the sitting or the seat is not open now."""
    if seat.locked:
        raise DomainError(_("Your teacher has locked this. What you gave is kept."), status=423)
    if not seat.sits_later:
        if seat.sitting.state == SittingState.PAUSED:
            raise DomainError(
                _("Your teacher has paused the test. Your answers stay here until it goes on."), status=423
            )
        if seat.sitting.state in AFTER and seat.state != SeatState.PAUSED:
            raise DomainError(_("Your teacher has closed this test."), status=410)
        if seat.sitting.state in BEFORE:
            raise DomainError(_("The test has not begun."), status=423)
    if seat.state == SeatState.PAUSED:
        raise DomainError(_("Your teacher has paused your test. Your answers stay here until you go on."), status=423)
    if seat.state == SeatState.HANDED_IN:
        over = seat.ended_by_time
        raise DomainError(
            _("Your time is over. What came in before counts.") if over else _("You have handed this test in already."),
            410,
        )
    if seat.state != SeatState.WORKING:
        raise DomainError(_("Your seat is not open. Ask your teacher."), status=423)
    if is_over(seat):
        raise DomainError(_("The time for this is over. What came in before counts."), status=410)


@transaction.atomic
def take_back(seat_id: int) -> Seat:
    """The student has handed in, and goes on after all; where the rules allow it, and there is time."""
    seat = seat_now(seat_id)
    if seat.state != SeatState.HANDED_IN:
        return seat
    if not seat.sitting.read_rules().take_back or seat.sitting.state != SittingState.OPEN or seat.ended_by_closing:
        raise DomainError(_("It has been handed in, and cannot be taken back here. Ask your teacher."), status=410)
    seat.state, seat.handed_in_at = SeatState.WORKING, None
    may_work(seat)
    seat.save(update_fields=["state", "handed_in_at"])
    nudges.seat_changed(seat.sitting_id)
    return seat


def _wrong(address: str, sitting_id: int | None, says: str) -> DomainError:
    """A wrong code or pass, counted; what its giver hears."""
    guesses.count("address", address)
    if sitting_id is not None:
        guesses.count("sitting", sitting_id)
    if guesses.counted("address", address) > guesses.FROM_ONE_ADDRESS:
        return DomainError(guesses.VERY_MANY, status=429)
    return DomainError(says, status=404)
