"""Sitting the same test again in one sitting: what was handed in is kept, and the last attempt counts."""

from typing import NamedTuple

from django.db import transaction

from versomark.core.items import ItemResponse, read_response
from versomark.core.language import _
from versomark.core.scoring import ScoringOverrides, corrected_totals, score
from versomark.school.delivery.public import Seat, SeatState, SittingState, Way, may_work, nudges, seat_now, steady
from versomark.school.errors import DomainError

from .models import Attempt
from .on_behalf import keep_for
from .services import responses_of


def left_for(seat: Seat) -> int:
    """How many attempts this student still has, where nothing else stands in the way."""
    sitting = seat.sitting
    if sitting.way != Way.ONLINE or sitting.state != SittingState.OPEN or seat.ended_by_closing or seat.locked:
        return 0
    return max(0, sitting.read_rules().attempts - 1 - seat.earlier_attempts.count())


@transaction.atomic
def begin_again(seat_id: int) -> Seat:
    """An empty paper and the whole time once more; what was handed in stands aside as an attempt."""
    seat = seat_now(seat_id)
    if seat.state != SeatState.HANDED_IN:
        return seat
    if left_for(seat) == 0:
        raise DomainError(_("There is no further attempt here. Ask your teacher."), status=410)
    answers = responses_of([seat.pk])[str(seat.pk)]
    Attempt.objects.create(
        seat=seat,
        number=1 + seat.earlier_attempts.count(),
        began_at=seat.started_at,
        handed_in_at=seat.handed_in_at,
        answers={item: response.model_dump(mode="json") for item, response in answers.items()},
    )
    keep_for(seat, dict.fromkeys(answers), "again")
    seat.state, seat.handed_in_at, seat.started_at = SeatState.WORKING, None, steady.now()
    seat.paused_seconds, seat.break_seconds, seat.furthest, seat.at_item, seat.ended_by_time = 0, 0, 0, "", False
    may_work(seat)
    seat.save()
    nudges.seat_told(seat.sitting_id, seat.pk)
    return seat


class EarlierAttempt(NamedTuple):
    attempt: Attempt
    total: float
    of: float
    """The marks that keys give, as the edition has them."""


def earlier_attempts(seat: Seat) -> list[EarlierAttempt]:
    """What the student handed in before the attempt that counts, oldest first."""
    edition = seat.sitting.edition.read()
    by_hand = frozenset(item.ref for item in edition.items() if item.content.marked_by != "key")
    tries = []
    for attempt in seat.earlier_attempts.order_by("number"):
        given: dict[str, ItemResponse] = {item: read_response(answer) for item, answer in attempt.answers.items()}
        table = score(edition, {"1": given}, judged=ScoringOverrides(waived=by_hand))
        tries.append(EarlierAttempt(attempt, float(corrected_totals(edition, table)[0]), table.max_total))
    return tries
