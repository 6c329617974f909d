"""Answers: what a device gives is kept before it is acknowledged, and what stands is read from here."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import NamedTuple
from uuid import UUID

from django.db import transaction
from django.db.models import Count, Max, TextField
from django.db.models.functions import Cast
from pydantic import ValidationError

from versomark.core.items import ItemResponse, read_response_text
from versomark.core.items.by_rubric import FileResponse, HandedIn, PerformanceResponse, WrittenResponse
from versomark.core.language import _
from versomark.school.compiled_query import CompiledQuery
from versomark.school.delivery.public import (
    DoneAt,
    EventKind,
    Seat,
    SeatState,
    Sitting,
    TimeAway,
    done_at,
    may_answer_or_could,
    nudges,
    paper_for,
    record,
    seat_now,
    steady,
)
from versomark.school.errors import DomainError
from versomark.school.group_commit import GroupCommit
from versomark.school.responses import answer_log
from versomark.school.responses.models import Answer, CurrentAnswer
from versomark.school.responses.time_spent import TimeSpentOnItem, note_time


@dataclass(frozen=True)
class Change:
    """One change a student made on their device."""

    client_id: UUID
    sequence: int
    item: str
    response: ItemResponse | None
    come_back: bool
    moment: str = ""
    """The last moment this server gave the device before the change, and what it counted since."""
    seconds_since: float = 0.0


_current = CompiledQuery(lambda seat: CurrentAnswer.objects.filter(seat=seat).select_related("answer").order_by("item"))


def current_answers(seat: Seat) -> list[Answer]:
    return [row.answer for row in _current.all(seat.pk)]


def keep_answers(seat_id: int, changes: Sequence[Change]) -> list[UUID]:
    """Keep changes; returns the ids that are on disk when this returns, new or kept before.

    What was given in time and arrives after the end, since there was no connection, is kept and counts (see
    `delivery.moments`), and what comes along with it and was given later is not. Refused as a whole, with nothing kept,
    when the seat may not answer now or a change does not fit its item.
    """
    return _keeping.do((seat_id, changes))


def _keep_all(asked: tuple[int, Sequence[Change]]) -> list[UUID]:
    seat_id, changes = asked
    # The lock is the transaction's own (IMMEDIATE): hand-in and closing wait for it, or it for them.
    seat = seat_now(seat_id)
    known = answer_log.known_of(seat.pk, [change.client_id for change in changes])
    fresh = [change for change in changes if change.client_id not in known]
    if fresh:
        done = {change.client_id: done_at(seat, change.moment, change.seconds_since) for change in fresh}
        may = may_answer_or_could(seat, done)
        # What was given after the end stays on the device, and is refused when it comes alone.
        fresh = [change for change in fresh if change.client_id in may]
        _fit(seat, fresh)
        _not_gone_on_from(seat, fresh)
        for entry in sorted(fresh, key=lambda change: change.sequence):
            given = done[entry.client_id]
            answer_log.add(
                seat.pk,
                entry.client_id,
                entry.sequence,
                entry.item,
                entry.response,
                entry.come_back,
                given.at if given is not None and given.is_delayed else None,
            )
        if seat.state == SeatState.HANDED_IN:
            _tell_of_later(seat, [when for entry in fresh if (when := done[entry.client_id]) is not None])
        _seen(seat)
        nudges.seat_changed(seat.sitting_id)
    taken = known.union(change.client_id for change in fresh)
    return [change.client_id for change in changes if change.client_id in taken]


def _tell_of_later(seat: Seat, done: Sequence[DoneAt]) -> None:
    """The teacher reads that answers came in after the end, and how far their time can be trusted."""
    record(
        seat.sitting,
        None,
        EventKind.ARRIVED_LATER,
        seat,
        count=len(done),
        given=max(entry.at for entry in done),
        not_before=min(entry.not_before for entry in done),
    )


_keeping = GroupCommit(_keep_all)


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
    positions: dict[int, LogPosition] = {}
    for sitting_id, seat, rows, last in seen.values_list("sitting_id", "pk", "rows", "last"):
        before = positions.get(sitting_id, LogPosition([], 0, 0))
        positions[sitting_id] = LogPosition([*before.seats, seat], before.rows + rows, max(before.last, last or 0))
    return positions


def responses_of(seat_ids: Sequence[int]) -> dict[str, dict[str, ItemResponse]]:
    """seat id -> item ref -> the response that stands, for scoring."""
    responses: dict[str, dict[str, ItemResponse]] = {str(seat_id): {} for seat_id in seat_ids}
    # Rather the text than what JSON makes of it: most responses were read before, for somebody else.
    rows = CurrentAnswer.objects.filter(seat__in=seat_ids).annotate(said=Cast("answer__response", TextField()))
    for seat_id, item, response_text in rows.exclude(answer__response=None).values_list("seat_id", "item", "said"):
        responses[str(seat_id)][item] = read_response_text(response_text)
    return responses


class TimeAwaySpan(NamedTuple):
    """The student left the page."""

    client_id: UUID
    left_at: datetime
    seconds: int


@transaction.atomic
def sign_of_life(
    seat_id: int, at_item: str, away: Sequence[TimeAwaySpan], spent: Sequence[TimeSpentOnItem] = ()
) -> None:
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
        raise DomainError(_("You have gone on from this question; it cannot be changed any more."), status=422)


def _fit(seat: Seat, changes: Sequence[Change]) -> None:
    contents = {item.ref: item.content for item in seat.sitting.edition.read().items()}
    for change in changes:
        if change.item not in contents:
            raise DomainError(_("That question is not part of this test."), status=422)
        if change.response is not None:
            try:
                contents[change.item].fits(change.response)
            except (ValueError, ValidationError) as error:
                raise DomainError(str(error), status=422) from None
            if isinstance(change.response, WrittenResponse) and change.response.picture:
                raise DomainError(_("A picture of an answer comes from a scan only."), status=422)
            if isinstance(change.response, PerformanceResponse):
                raise DomainError(_("What is shown to a teacher is noted by the teacher."), status=422)
            if isinstance(change.response, FileResponse):
                _own_files(seat, change.response.files)


def _own_files(seat: Seat, files: Sequence[HandedIn]) -> None:
    """An answer names files that this seat handed over, each once."""
    ids = {file.file for file in files}
    if len(ids) != len(files) or seat.files.filter(pk__in=ids).count() != len(ids):
        raise DomainError(_("That file is not one of yours."), status=422)


def newest_answer_at() -> datetime | None:
    """When the answer that came last was kept, by the clock of this machine then."""
    return Answer.objects.order_by("-pk").values_list("kept_at", flat=True).first()
