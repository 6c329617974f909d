"""Answers that reach a seat without the student's device: read from paper, or entered by the teacher."""

from collections.abc import Mapping
from typing import Literal
from uuid import uuid4

from django.db import transaction

from versomark.core.items import ItemResponse
from versomark.core.items.by_rubric import FileResponse, PerformanceResponse
from versomark.school.delivery.public import Seat, SeatState, nudges, steady

from .files import move_files
from .models import Answer, CurrentAnswer
from .services import responses_of

Source = Literal["device", "sheet", "pad", "card", "teacher", "lesson", "again"]


@transaction.atomic
def keep_for(seat: Seat, given: Mapping[str, ItemResponse | None], source: Source) -> int:
    """Make these the answers that stand, item by item; the log keeps what stood before. Returns how many changed.

    What is the same already is not added again, so doing it twice is the same as once.
    """
    standing = {row.item: row for row in seat.current.select_related("answer")}
    changed = 0
    for item, response in given.items():
        row = standing.get(item)
        dumped = response.model_dump(mode="json") if response else None
        if (row.answer.response if row else None) == dumped:
            continue
        answer = Answer.objects.create(
            seat=seat,
            client_id=uuid4(),
            sequence=row.answer.sequence + 1 if row else 1,
            item=item,
            response=dumped,
            source=source,
        )
        changed += 1
        if row is None:
            CurrentAnswer.objects.create(seat=seat, item=item, answer=answer)
        else:
            row.answer = answer
            row.save(update_fields=["answer"])
    return changed


@transaction.atomic
def seat_is_in(seat: Seat, done: bool, begun: bool = True) -> None:
    """Say how far a seat is whose work comes without a device: handed in, at work while part of it waits, or, when
    all of it was taken away again, expected."""
    state = SeatState.HANDED_IN if done else SeatState.WORKING if begun else SeatState.EXPECTED
    if not begun and seat.answers.filter(source="device").exists():
        return
    if seat.state == state:
        return
    now = steady.now()
    seat.state, seat.handed_in_at = state, now if done else None
    seat.started_at, seat.ended_by_closing = seat.started_at or now, False
    seat.save(update_fields=["state", "handed_in_at", "started_at", "ended_by_closing"])
    nudges.seat_changed(seat.sitting_id)


def move_answers(seat: Seat, to: Seat, **signal: object) -> None:
    """What stands at one seat stands at the other instead; what was watched was kept by name, and stays."""
    given = responses_of([seat.pk])[str(seat.pk)]
    answers = {ref: response for ref, response in given.items() if not isinstance(response, PerformanceResponse)}
    handed_in = (response.files for response in answers.values() if isinstance(response, FileResponse))
    move_files(seat, to, (entry.file for entries in handed_in for entry in entries))
    keep_for(to, answers, "teacher")
    keep_for(seat, dict.fromkeys(answers), "teacher")
