"""A lesson's answers brought into an earlier sitting of the same edition, once the teacher has seen what would change.

Answers are added to that sitting's own log, so what stood there stays on record, and the lesson stays as it was. Taking
it back puts what stood before on top again, but for what somebody has changed since.
"""

from collections.abc import Mapping
from typing import Any, Literal, NamedTuple

from django.db import transaction
from django.utils import timezone

from versomark.core.items import ItemResponse, read_response
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import AFTER, Seat, SeatState, Sitting, nudges, sitting_of, sittings_of
from versomark.school.errors import DomainError, NotFound
from versomark.school.responses.public import keep_for, responses_of

from .answers import Which, said_in_rounds
from .models import ResponseTransfer, Room

How = Literal["add", "replace"]
CAME = (SeatState.WORKING, SeatState.PAUSED, SeatState.HANDED_IN)


class Change(NamedTuple):
    """An answer of a seat of the earlier sitting that would be another."""

    seat: Seat
    item: str
    before: ItemResponse | None
    after: ItemResponse | None


def earlier_sittings(teacher: Teacher, room: Room) -> list[Sitting]:
    """Where the lesson's answers can go: other sittings of the same edition with the same class, newest first."""
    same = sittings_of(teacher).filter(edition=room.sitting.edition_id, school_class=room.sitting.school_class_id)
    return list(same.filter(opened_at__isnull=False).exclude(pk=room.sitting_id))


def changes(room: Room, into: Sitting, how: How, which: Which) -> list[Change]:
    """What would be another, by desk number. Only students with an answer in the lesson are concerned, and only
    questions that were asked in it."""
    said = _said(room, which)
    seats = {seat.student_id: seat for seat in into.seats.select_related("student").order_by("desk")}
    there = responses_of([seat.pk for seat in seats.values()])
    changes_found = []
    for student, answers in said.items():
        seat = seats.get(student)
        if seat is None:
            continue
        for item, response in answers.items():
            before = there[str(seat.pk)].get(item)
            keep = how == "add" and before is not None
            if not keep and before != response and not (how == "add" and response is None):
                changes_found.append(Change(seat, item, before, response))
    return sorted(changes_found, key=lambda change: change.seat.desk)


def without_a_seat(room: Room, into: Sitting) -> list[str]:
    """Who answered in the lesson and has no seat in that sitting."""
    seated = set(into.seats.values_list("student_id", flat=True))
    missing = [student for student in _said(room, "first") if student not in seated]
    seats = room.sitting.seats.filter(student__in=missing).select_related("student").order_by("desk")
    return [seat.student.short_name for seat in seats]


def _said(room: Room, which: Which) -> Mapping[int, dict[str, ItemResponse | None]]:
    """student -> question -> what they said, None for a question asked that they passed over. What was answered at
    one's own pace counts where the question was not asked together."""
    together = said_in_rounds(room, which)
    student_of = dict(room.sitting.seats.values_list("pk", "student_id"))
    alone = responses_of(list(student_of))
    result = {student_of[seat]: {**alone[str(seat)], **answers} for seat, answers in together.items()}
    for seat, student in student_of.items():
        if student not in result and alone[str(seat)]:
            result[student] = dict(alone[str(seat)])
    return result


@transaction.atomic
def bring_over(teacher: Teacher, room: Room, into_id: int, how: How, which: Which) -> ResponseTransfer:
    if room.sitting.state not in AFTER:
        raise DomainError(_("End the lesson first; then its answers stand."))
    into = sitting_of(teacher, into_id, "run")
    if into.pk not in {sitting.pk for sitting in earlier_sittings(teacher, room)}:
        raise DomainError(_("Answers can only go to a sitting of the same test, edition and class."), status=422)
    result = changes(room, into, how, which)
    if not result:
        raise DomainError(_("Nothing would change there: all of these answers stand already."))
    record = ResponseTransfer(room=room, into=into, how=how, by=teacher)
    by_seat: dict[int, list[Change]] = {}
    for change in result:
        by_seat.setdefault(change.seat.pk, []).append(change)
    for own in by_seat.values():
        seat = own[0].seat
        record.changes.append({"seat": seat.pk, "state": seat.state, "answers": [_line(change) for change in own]})
        keep_for(seat, {change.item: change.after for change in own}, "lesson")
        if seat.state not in CAME:
            seat.state, seat.handed_in_at, seat.ended_by_closing = SeatState.HANDED_IN, timezone.now(), False
            seat.save(update_fields=["state", "handed_in_at", "ended_by_closing"])
    record.save()
    nudges.sitting_changed(into.pk)
    return record


def _line(change: Change) -> dict[str, Any]:
    def dumped(response: ItemResponse | None) -> Any:
        return response.model_dump(mode="json") if response is not None else None

    return {"item": change.item, "before": dumped(change.before), "after": dumped(change.after)}


@transaction.atomic
def take_back(teacher: Teacher, room: Room, number: int) -> int:
    """Returns how many answers stand again as they did."""
    record = room.brought_over.filter(pk=number, taken_back_at=None).select_related("into").first()
    if record is None:
        raise NotFound(_("step to take back"))
    into = sitting_of(teacher, record.into_id, "run")
    seats = into.seats.in_bulk([change["seat"] for change in record.changes])
    there = responses_of(list(seats))
    restored = 0
    for change in record.changes:
        seat = seats[change["seat"]]
        now = there[str(seat.pk)]
        same = [line for line in change["answers"] if _read(line["after"]) == now.get(line["item"])]
        restored += keep_for(seat, {line["item"]: _read(line["before"]) for line in same}, "lesson")
        nothing_left = not any(response for response in responses_of([seat.pk])[str(seat.pk)].values())
        if change["state"] not in CAME and nothing_left:
            seat.state, seat.handed_in_at = change["state"], None
            seat.save(update_fields=["state", "handed_in_at"])
    record.taken_back_at = timezone.now()
    record.save(update_fields=["taken_back_at"])
    nudges.sitting_changed(into.pk)
    return restored


def _read(response: Any) -> ItemResponse | None:
    return read_response(response) if response is not None else None
