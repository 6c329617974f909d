"""A student's side of a sitting: taking the seat, answering, handing in.

Every answer is committed before the reply goes out. A device gives each change an id and a running number; the same
change sent again is recognised by its id and acknowledged again, and of two changes the one with the higher number
stands, so nothing depends on the order in which a flaky network delivers them.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import NamedTuple
from uuid import UUID

from django.db import transaction
from django.db.models import Count, Max, TextField
from django.db.models.functions import Cast
from pydantic import ValidationError

from versomark.core.editions import Edition, StudentPaper, in_own_order, student_paper
from versomark.core.items import ItemResponse, read_response_text
from versomark.core.items.by_rubric import FileResponse, HandedIn, WrittenResponse
from versomark.school import guesses
from versomark.school.classes.words import normalised
from versomark.school.compiled_query import CompiledQuery
from versomark.school.errors import DomainError
from versomark.school.group_commit import GroupCommit

from . import answer_log, nudges, steady
from .models import Answer, CurrentAnswer, Seat, SeatState, Sitting, SittingState, TimeAway, Way
from .one_seat import WITH_ALL, seat_now
from .services import AFTER, BEFORE, settle_readiness
from .time_spent import Spent, note_time
from .timekeeping import is_over


@dataclass(frozen=True)
class Change:
    """One change a student made on their device."""

    client_id: UUID
    sequence: int
    item: str
    response: ItemResponse | None
    come_back: bool


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
        says = "That pass is not on the list for this sitting. Check it, or ask your teacher."
        raise _wrong(address, sitting.pk, says)
    return seat


def sitting_with(code: str, address: str) -> Sitting:
    """The sitting whose code this is, the one that is on before one that is over. Words for the student otherwise."""
    given = normalised(code)
    sitting = _on_by_code.first(given) or Sitting.objects.filter(code=given).order_by("-closed_at").first()
    if sitting is None:
        raise _wrong(address, None, "No sitting has that code. Look at the board again.")
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


_current = CompiledQuery(lambda seat: CurrentAnswer.objects.filter(seat=seat).select_related("answer").order_by("item"))


def current_answers(seat: Seat) -> list[Answer]:
    return [row.answer for row in _current.all(seat.pk)]


def keep_answers(seat_id: int, changes: Sequence[Change]) -> list[UUID]:
    """Keep changes; returns the ids that are on disk when this returns, new or kept before.

    Refused as a whole, with nothing kept, when the seat may not answer now or a change does not fit its item.
    """
    return _keeping.do((seat_id, changes))


def _keep_all(asked: tuple[int, Sequence[Change]]) -> list[UUID]:
    seat_id, changes = asked
    # The lock is the transaction's own (IMMEDIATE): hand-in and closing wait for it, or it for them.
    seat = seat_now(seat_id)
    known = answer_log.known_of(seat.pk, [change.client_id for change in changes])
    fresh = [change for change in changes if change.client_id not in known]
    if fresh:
        may_answer(seat)
        _fit(seat, fresh)
        _not_gone_on_from(seat, fresh)
        for entry in sorted(fresh, key=lambda change: change.sequence):
            answer_log.add(seat.pk, entry.client_id, entry.sequence, entry.item, entry.response, entry.come_back)
        _seen(seat)
        nudges.seat_changed(seat.sitting_id)
    return [change.client_id for change in changes]


_keeping = GroupCommit(_keep_all)


@transaction.atomic
def hand_in(seat_id: int) -> Seat:
    """The student is done. Doing it twice is the same as once."""
    seat = seat_now(seat_id)
    if seat.state != SeatState.HANDED_IN:
        may_answer(seat)
        seat.state, seat.handed_in_at = SeatState.HANDED_IN, steady.now()
        seat.last_seen = seat.handed_in_at
        seat.save(update_fields=["state", "handed_in_at", "last_seen"])
        nudges.seat_changed(seat.sitting_id)
    return seat


SEEN_AGAIN_AFTER = timedelta(seconds=20)
"""A sign of life sooner after the last one tells the teacher nothing and is not written."""


def _seen(seat: Seat) -> None:
    now = steady.now()
    if seat.last_seen is None or now - seat.last_seen > SEEN_AGAIN_AFTER:
        Seat.objects.filter(pk=seat.pk).update(last_seen=now)


class LogPosition(NamedTuple):
    """How far the log of a sitting's answers has come. It is only added to, so the same position means the same
    answers."""

    seats: list[int]
    """Those whose work counts, in desk order: handed in, by the student or by closing."""
    rows: int
    last: int


def log_positions(sittings: Iterable[Sitting]) -> dict[int, LogPosition]:
    """By sitting; one where nobody has handed in yet is not in it."""
    handed_in = Seat.objects.filter(sitting__in=[sitting.pk for sitting in sittings], state=SeatState.HANDED_IN)
    seen = handed_in.order_by("desk").annotate(rows=Count("answers"), last=Max("answers"))
    found: dict[int, LogPosition] = {}
    for sitting_id, seat, rows, last in seen.values_list("sitting_id", "pk", "rows", "last"):
        before = found.get(sitting_id, LogPosition([], 0, 0))
        found[sitting_id] = LogPosition([*before.seats, seat], before.rows + rows, max(before.last, last or 0))
    return found


def responses_of(seat_ids: Sequence[int]) -> dict[str, dict[str, ItemResponse]]:
    """seat id -> item ref -> the response that stands, for scoring."""
    responses: dict[str, dict[str, ItemResponse]] = {str(seat_id): {} for seat_id in seat_ids}
    # Rather the text than what JSON makes of it: most responses were read before, for somebody else.
    rows = CurrentAnswer.objects.filter(seat__in=seat_ids).annotate(said=Cast("answer__response", TextField()))
    for seat_id, item, said in rows.exclude(answer__response=None).values_list("seat_id", "item", "said"):
        responses[str(seat_id)][item] = read_response_text(said)
    return responses


def may_answer(seat: Seat) -> None:
    if seat.sitting.way == Way.ROOM:
        raise DomainError("Your teacher asks the questions one by one.", status=423)
    may_work(seat)


def may_work(seat: Seat) -> None:
    """Refuses, in words, where the sitting or the seat is not open now."""
    if seat.locked:
        raise DomainError("Your teacher has locked this. What you gave is kept.", status=423)
    if not seat.sits_later:
        if seat.sitting.state == SittingState.PAUSED:
            raise DomainError("Your teacher has paused the test. Your answers stay here until it goes on.", status=423)
        if seat.sitting.state in AFTER and seat.state != SeatState.PAUSED:
            raise DomainError("Your teacher has closed this test.", status=410)
        if seat.sitting.state in BEFORE:
            raise DomainError("The test has not begun.", status=423)
    if seat.state == SeatState.PAUSED:
        raise DomainError("Your teacher has paused your test. Your answers stay here until you go on.", status=423)
    if seat.state == SeatState.HANDED_IN:
        over = seat.ended_by_time
        raise DomainError(
            "Your time is over. What came in before counts." if over else "You have handed this test in already.", 410
        )
    if seat.state != SeatState.WORKING:
        raise DomainError("Your seat is not open. Ask your teacher.", status=423)
    if is_over(seat):
        raise DomainError("The time for this is over. What came in before counts.", status=410)


@transaction.atomic
def take_back(seat_id: int) -> Seat:
    """The student has handed in, and goes on after all; where the rules allow it, and there is time."""
    seat = seat_now(seat_id)
    if seat.state != SeatState.HANDED_IN:
        return seat
    if not seat.sitting.read_rules().take_back or seat.sitting.state != SittingState.OPEN or seat.ended_by_closing:
        raise DomainError("It has been handed in, and cannot be taken back here. Ask your teacher.", status=410)
    seat.state, seat.handed_in_at = SeatState.WORKING, None
    may_work(seat)
    seat.save(update_fields=["state", "handed_in_at"])
    nudges.seat_changed(seat.sitting_id)
    return seat


class Away(NamedTuple):
    """The student left the page."""

    client_id: UUID
    left_at: datetime
    seconds: int


@transaction.atomic
def sign_of_life(seat_id: int, at_item: str, away: Sequence[Away], spent: Sequence[Spent] = ()) -> None:
    """What a device tells now and then: which question is before the student, how long others were, and when they left
    the page."""
    seat = seat_now(seat_id)
    now = steady.now()
    seat.last_seen = now
    note_time(seat, spent)
    if seat.state == SeatState.WORKING:
        order = _own_order(seat)
        if at_item in order:
            seat.at_item, seat.furthest = at_item, max(seat.furthest, order.index(at_item))
        started = seat.started_at or now
        TimeAway.objects.bulk_create(
            # A clock that runs wrong on the device neither reaches back before the test nor into the future.
            (
                TimeAway(
                    seat=seat,
                    client_id=entry.client_id,
                    left_at=min(max(entry.left_at, started), now),
                    seconds=min(entry.seconds, max(0, round((now - started).total_seconds()))),
                )
                for entry in away
            ),
            ignore_conflicts=True,
        )
    seat.save(update_fields=["last_seen", "at_item", "furthest"])
    nudges.seat_changed(seat.sitting_id)


def _own_order(seat: Seat) -> list[str]:
    paper = paper_for(seat)
    return [item.ref for item in paper.items] if paper else []


def _not_gone_on_from(seat: Seat, changes: Sequence[Change]) -> None:
    """Where there is no going back, a question that was left stays as it is."""
    if seat.sitting.read_rules().going_back:
        return
    order = _own_order(seat)
    if any(change.item in order and order.index(change.item) < seat.furthest for change in changes):
        raise DomainError("You have gone on from this question; it cannot be changed any more.", status=422)


def _fit(seat: Seat, changes: Sequence[Change]) -> None:
    contents = {item.ref: item.content for item in seat.sitting.edition.read().items()}
    for change in changes:
        if change.item not in contents:
            raise DomainError("That question is not part of this test.", status=422)
        if change.response is not None:
            try:
                contents[change.item].fits(change.response)
            except (ValueError, ValidationError) as error:
                raise DomainError(str(error), status=422) from None
            if isinstance(change.response, WrittenResponse) and change.response.picture:
                raise DomainError("A picture of an answer comes from a scan only.", status=422)
            if isinstance(change.response, FileResponse):
                _own_files(seat, change.response.files)


def _own_files(seat: Seat, files: Sequence[HandedIn]) -> None:
    """An answer names files that this seat handed over, each once."""
    ids = {file.file for file in files}
    if len(ids) != len(files) or seat.files.filter(pk__in=ids).count() != len(ids):
        raise DomainError("That file is not one of yours.", status=422)


def _wrong(address: str, sitting_id: int | None, says: str) -> DomainError:
    """A wrong code or pass, counted; what its giver hears."""
    guesses.count("address", address)
    if sitting_id is not None:
        guesses.count("sitting", sitting_id)
    if guesses.counted("address", address) > guesses.FROM_ONE_ADDRESS:
        return DomainError(guesses.VERY_MANY, status=429)
    return DomainError(says, status=404)
