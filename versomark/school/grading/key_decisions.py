"""Settling a key after the fact: first its effect, then, with a reason, the thing itself; and taking it back."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any, NamedTuple

from django.db import transaction
from django.utils import timezone

from versomark.core.editions import EditionItem
from versomark.core.items.by_rubric import ByRubric
from versomark.core.language import _
from versomark.core.response_table import with_item
from versomark.core.scoring import Band, KeyOverride, ScoringOverrides, band_of, corrected_totals, score
from versomark.core.stats import reliability
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import Item, details_of, items_of, keep_item, keep_version
from versomark.school.classes.public import has_right
from versomark.school.delivery.public import EventKind, Seat, SeatState, Sitting, decision_words, record, sittings_of
from versomark.school.errors import DomainError, NotFound
from versomark.school.responses.public import responses_of
from versomark.school.room.public import not_asked

from .models import KeyDecision
from .queries import by_hand, key_decisions_in, marks_of, overrides_in, waived_in, weights_in
from .services import number_of, waive


@dataclass(frozen=True)
class Decision:
    """What is to hold for an item: these answers are right, everybody has the marks, or it is left out."""

    item: str
    accepted: frozenset[str] = frozenset()
    everybody: bool = False
    left_out: bool = False
    weights: Mapping[str, float] = field(default_factory=dict)
    """By criterion of a question's rubric, how much it counts beside the others."""


class MovedTotal(NamedTuple):
    """A student whose total changes."""

    seat: Seat
    before: float
    after: float
    band_before: Band | None
    band_after: Band | None


class Effect(NamedTuple):
    moved: Sequence[MovedTotal]
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
        raise DomainError(_("Nobody has handed in yet, so there is nothing to settle."))
    before = overrides_in(sitting)
    edition, responses = sitting.edition.read(), responses_of([seat.pk for seat in seats])
    unasked = not_asked([sitting]).get(sitting.pk, frozenset())
    table = score(edition, responses, unasked, before)
    if decision.left_out:
        after = table.columns([at for at, column in enumerate(table.items) if column.id != item.ref])
    else:
        # Only one column changes, so only that one is scored anew.
        others = {entry.ref for entry in edition.items()} - {item.ref}
        only = score(edition, responses, others, _judged(sitting, before, item, decision))
        if not only.items:
            raise DomainError(_("Not every answer to this question has its mark yet, so it is in no total."))
        after = with_item(table, only)
    tables = (table, after)
    totals = [corrected_totals(edition, table) for table in tables]
    return Effect(
        moved=[
            MovedTotal(
                seat,
                float(was),
                float(will),
                band_of(float(was), table.max_total),
                band_of(float(will), after.max_total),
            )
            for seat, was, will in zip(seats, *totals, strict=True)
            if abs(was - will) > 1e-9
        ],
        students=len(seats),
        mean=(float(totals[0].mean()), float(totals[1].mean())),
        alpha=(reliability(tables[0]).alpha, reliability(tables[1]).alpha),
        of=(tables[0].max_total, tables[1].max_total),
    )


def _judged(sitting: Sitting, before: ScoringOverrides, item: EditionItem, decision: Decision) -> ScoringOverrides:
    if decision.weights:
        marks = marks_of(sitting, weights={**weights_in(sitting), item.ref: decision.weights}) if before.marks else {}
        return replace(before, marks=marks, waived=before.waived - {item.ref})
    settled = KeyOverride(decision.accepted, decision.everybody)
    return replace(before, settled={**before.settled, item.ref: settled}, waived=before.waived - {item.ref})


def _item(sitting: Sitting, decision: Decision) -> EditionItem:
    number_of(sitting, decision.item)
    item = next(entry for entry in sitting.edition.read().items() if entry.ref == decision.item)
    if decision.left_out or (decision.everybody and item.content.marked_by == "key"):
        return item
    if decision.weights and isinstance(item.content, ByRubric):
        _sound(item.content, decision.weights)
        return item
    if not item.content.exclusive or item.content.marked_by != "key":
        raise DomainError(_("Of this question no other answer can be made right here; give everybody the marks."), 422)
    if not decision.accepted:
        raise DomainError(_("Say which answer is right, give everybody the marks, or leave the question out."), 422)
    if decision.accepted - {answer.id for answer in item.content.answers()}:
        raise NotFound(_("answer"))
    return item


def _sound(content: ByRubric, weights: Mapping[str, float]) -> None:
    if set(weights) != {criterion.id for criterion in content.rubric.criteria} or any(
        not 0 <= w <= 1000 for w in weights.values()
    ):
        raise DomainError(_("Give each criterion of the rubric a weight from 0 to 1000."), status=422)
    if not any(weights.values()):
        raise DomainError(_("One criterion at least needs a weight."), status=422)


def same_paper(teacher: Teacher, sitting: Sitting) -> list[Sitting]:
    """Other sittings of the same edition whose marks this teacher may settle, the latest first."""
    sittings = (
        sittings_of(teacher).filter(edition=sitting.edition_id).exclude(pk=sitting.pk).select_related("school_class")
    )
    may_settle = [
        entry for entry in sittings if entry.owner_id == teacher.pk or has_right(teacher, entry.school_class, "mark")
    ]
    return sorted(may_settle, key=held_on, reverse=True)


def held_on(sitting: Sitting) -> date:
    return timezone.localdate(sitting.opened_at or sitting.made_at)


@transaction.atomic
def settle_all(
    by: Teacher, sitting: Sitting, also: Collection[int], decision: Decision, reason: str, bank: bool = False
) -> None:
    """The same paper has the same key: settled here, in those of its other sittings that are named, and in the bank
    where that is wanted; all or none."""
    others = {entry.pk: entry for entry in same_paper(by, sitting)}
    if set(also) - set(others):
        raise NotFound(_("sitting of this paper"))
    for entry in [sitting, *(others[pk] for pk in sorted(set(also)))]:
        settle(by, entry, decision, reason)
    if bank:
        settle_in_bank(by, sitting, decision)


def keys_in(sittings: Sequence[Sitting]) -> dict[int, dict[str, tuple[object, ...]]]:
    """By sitting and question, what was settled in place of the key; a question that is not in it has its own key."""
    settled, out = key_decisions_in(sittings), waived_in(sittings)
    keys: dict[int, dict[str, tuple[object, ...]]] = {}
    for sitting in sittings:
        own = {
            ref: (tuple(s.accepted), s.everybody, tuple(sorted(s.weights.items())))
            for ref, s in settled[sitting.pk].items()
        }
        keys[sitting.pk] = {**own, **dict.fromkeys(out[sitting.pk], ("left out",))}
    return keys


def is_of_weights(key: tuple[object, ...] | None) -> bool:
    """Whether what was settled of a question is how its criteria count, and not which answer is right."""
    return key is not None and len(key) == 3 and bool(key[2])


def bank_item_that_follows(teacher: Teacher, item: EditionItem) -> Item | None:
    """The question in the teacher's bank, where its key can be made what is settled for one answer."""
    if not item.content.in_bank or not any(item.content.keyed_to(answer.id) for answer in item.content.answers()):
        return None
    bank_item = items_of(teacher).filter(pk=item.ref).first()
    return bank_item if bank_item is not None and bank_item.kind == item.content.kind else None


@transaction.atomic
def settle_in_bank(by: Teacher, sitting: Sitting, decision: Decision) -> None:
    """The key of the question in the bank, so that the next test has it; what it was is kept as a version."""
    item = _item(sitting, decision)
    bank_item = bank_item_that_follows(by, item)
    if bank_item is None or len(decision.accepted) != 1:
        raise DomainError(_("The key in the bank cannot follow this. Change the question there."), status=422)
    (accepted,) = decision.accepted
    changed = bank_item.read().keyed_to(accepted)
    if changed is None:
        raise DomainError(_("The question in the bank has no such answer any more. Change it there."), status=422)
    keep_version(bank_item, _("before its key was settled after a sitting"))
    keep_item(bank_item, changed, details_of(bank_item), bank_item.revision)


@transaction.atomic
def settle(by: Teacher, sitting: Sitting, decision: Decision, reason: str) -> None:
    item, number = _item(sitting, decision), number_of(sitting, decision.item)
    reason = " ".join(reason.split())
    if not reason:
        raise DomainError(_("Give the reason: it stays with the marks."), status=422)
    if decision.left_out:
        waive(by, sitting, item.ref, True, reason[:300])
        return
    waive(by, sitting, item.ref, False)
    KeyDecision.objects.create(
        sitting=sitting,
        item=item.ref,
        accepted=sorted(decision.accepted),
        everybody=decision.everybody,
        weights=dict(decision.weights),
        reason=reason[:300],
        by=by,
    )
    record(sitting, by, EventKind.KEY_SETTLED, number=number, reason=reason, **_facts(item, decision))


@transaction.atomic
def take_back(by: Teacher, sitting: Sitting, ref: str) -> None:
    """The key holds again, and the question counts."""
    number = number_of(sitting, ref)
    waive(by, sitting, ref, False)
    open_now = KeyDecision.objects.filter(sitting=sitting, item=ref, taken_back_at=None)
    if open_now.update(taken_back_at=timezone.now()):
        record(sitting, by, EventKind.KEY_HOLDS_AGAIN, number=number, rubric=ref in by_hand(sitting))


def in_words(item: EditionItem, decision: Decision) -> str:
    return decision_words(_facts(item, decision))


def _facts(item: EditionItem, decision: Decision) -> dict[str, Any]:
    """What an event keeps of a decision: letters and names as they were, since both may change."""
    criteria = item.content.rubric.criteria if decision.weights and isinstance(item.content, ByRubric) else []
    return {
        "everybody": decision.everybody,
        "weights": [[criterion.name, decision.weights[criterion.id]] for criterion in criteria],
        "accepted": [answer.letter for answer in item.content.answers() if answer.id in decision.accepted],
    }
