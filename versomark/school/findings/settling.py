"""Settling a key after the fact: first its effect, then, with a reason, the thing itself; and taking it back."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from versomark.core.editions import EditionItem
from versomark.core.scoring import Judged, Settled, corrected_totals, score, with_item
from versomark.core.stats import reliability
from versomark.school.accounts.models import Teacher
from versomark.school.marking.models import Settlement
from versomark.school.marking.services import judged_in, number_of, waive
from versomark.school.problems import NotFound, NotPossible
from versomark.school.room.answers import not_asked
from versomark.school.sittings.models import Seat, SeatState, Sitting
from versomark.school.sittings.seats import responses_of
from versomark.school.sittings.supervising import record


@dataclass(frozen=True)
class Decision:
    """What is to hold for an item: these answers are right, everybody has the marks, or it is left out."""

    item: str
    accepted: frozenset[str] = frozenset()
    everybody: bool = False
    left_out: bool = False


class Moved(NamedTuple):
    """A student whose total changes."""

    seat: Seat
    before: float
    after: float


class Effect(NamedTuple):
    moved: Sequence[Moved]
    students: int
    mean: tuple[float, float]
    """Before and after."""
    alpha: tuple[float | None, float | None]
    of: tuple[float, float]


def effect_of(sitting: Sitting, decision: Decision) -> Effect:
    """What would change; nothing is written."""
    item = _item(sitting, decision)
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).select_related("student").order_by("desk"))
    if not seats:
        raise NotPossible("Nobody has handed in yet, so there is nothing to settle.")
    before = judged_in(sitting)
    edition, responses = sitting.edition.read(), responses_of([seat.pk for seat in seats])
    unasked = not_asked([sitting]).get(sitting.pk, frozenset())
    table = score(edition, responses, unasked, before)
    if decision.left_out:
        after = table.columns([at for at, column in enumerate(table.items) if column.id != item.ref])
    else:
        # Only one column changes, so only that one is scored anew.
        others = {one.ref for one in edition.items()} - {item.ref}
        after = with_item(table, score(edition, responses, others, _judged(before, item, decision)))
    tables = (table, after)
    totals = [corrected_totals(edition, table) for table in tables]
    return Effect(
        moved=[
            Moved(seat, float(was), float(will))
            for seat, was, will in zip(seats, *totals, strict=True)
            if abs(was - will) > 1e-9
        ],
        students=len(seats),
        mean=(float(totals[0].mean()), float(totals[1].mean())),
        alpha=(reliability(tables[0]).alpha, reliability(tables[1]).alpha),
        of=(tables[0].max_total, tables[1].max_total),
    )


def _judged(before: Judged, item: EditionItem, decision: Decision) -> Judged:
    settled = Settled(decision.accepted, decision.everybody)
    return replace(before, settled={**before.settled, item.ref: settled}, waived=before.waived - {item.ref})


def _item(sitting: Sitting, decision: Decision) -> EditionItem:
    number_of(sitting, decision.item)
    item = next(one for one in sitting.edition.read().items() if one.ref == decision.item)
    if decision.left_out or (decision.everybody and item.content.marked_by == "key"):
        return item
    if not item.content.exclusive or item.content.marked_by != "key":
        raise NotPossible("Of this question no other answer can be made right here; give everybody the marks.", 422)
    if not decision.accepted:
        raise NotPossible("Say which answer is right, give everybody the marks, or leave the question out.", 422)
    if decision.accepted - {answer.id for answer in item.content.answers()}:
        raise NotFound("answer")
    return item


@transaction.atomic
def settle(by: Teacher, sitting: Sitting, decision: Decision, reason: str) -> None:
    item, number = _item(sitting, decision), number_of(sitting, decision.item)
    reason = " ".join(reason.split())
    if not reason:
        raise NotPossible("Give the reason: it stays with the marks.", status=422)
    if decision.left_out:
        waive(by, sitting, item.ref, True, reason[:300])
        return
    waive(by, sitting, item.ref, False)
    Settlement.objects.create(
        sitting=sitting,
        item=item.ref,
        accepted=sorted(decision.accepted),
        everybody=decision.everybody,
        reason=reason[:300],
        by=by,
    )
    record(sitting, by, f"question {number}: {in_words(item, decision)}: {reason}")


@transaction.atomic
def take_back(by: Teacher, sitting: Sitting, ref: str) -> None:
    """The key holds again, and the question counts."""
    number = number_of(sitting, ref)
    waive(by, sitting, ref, False)
    open_now = Settlement.objects.filter(sitting=sitting, item=ref, taken_back_at=None)
    if open_now.update(taken_back_at=timezone.now()):
        record(sitting, by, f"question {number}: the key holds again")


def in_words(item: EditionItem, decision: Decision) -> str:
    if decision.everybody:
        return "everybody has the marks"
    letters = [answer.letter for answer in item.content.answers() if answer.id in decision.accepted]
    return f"{' and '.join(letters)} {'is' if len(letters) == 1 else 'are'} right"
