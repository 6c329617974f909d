"""The second marker: which answers, where the two are too far apart, and how far markers agree."""

from collections.abc import Iterable, Iterator
from hashlib import sha256
from math import ceil
from secrets import randbits
from typing import NamedTuple

import numpy as np
from django.db import transaction
from numpy.typing import NDArray

from versomark.core.items.by_rubric import ByRubric
from versomark.core.language import _
from versomark.core.scoring import ScoringOverrides, apart, formula_scored, score, to_mark
from versomark.core.stats import Agreement, agreement, severity
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import EventKind, SeatState, Sitting, record, second_marking_words
from versomark.school.errors import DomainError
from versomark.school.responses.public import responses_of
from versomark.school.room.public import not_asked

from .models import Mark, MarkingPass, MarkState, SecondMarking
from .queries import by_hand, marks_by_pass, procedure_of, scaled, waived_in

HALF = 0.5


class Plan(NamedTuple):
    """What a teacher wants; the names are those of `SecondMarking`."""

    which: str
    share: int = 20
    cut: float = 50
    within: float = 5
    tolerance: float = 1
    mean: bool = False


@transaction.atomic
def plan_second(by: Teacher, sitting: Sitting, plan: Plan) -> SecondMarking:
    """Have answers marked a second time, or change which. The sample stays the same while it grows."""
    if not by_hand(sitting):
        raise DomainError(_("Nothing in this test is marked by a person."))
    results, created = SecondMarking.objects.update_or_create(
        sitting=sitting,
        defaults={**plan._asdict(), "by": by},
        create_defaults={**plan._asdict(), "by": by, "seed": randbits(62)},
    )
    record(sitting, by, EventKind.SECOND_PLANNED, first=created, **plan._asdict())
    return results


@transaction.atomic
def end_second(by: Teacher, sitting: Sitting) -> None:
    """The first marks count alone again; the others are kept in the history."""
    if SecondMarking.objects.filter(sitting=sitting).delete()[0]:
        record(sitting, by, EventKind.SECOND_ENDED)


def in_words(plan: SecondMarking) -> str:
    return second_marking_words({name: getattr(plan, name) for name in Plan._fields})


def chosen(sitting: Sitting) -> dict[str, set[int]]:
    """By question, the seats whose answer gets a second mark; those that have one already stay."""
    plan = procedure_of(sitting)
    if plan is None:
        return {}
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).values_list("pk", flat=True))
    responses = responses_of(seats)
    out = waived_in([sitting])[sitting.pk]
    needed = {
        ref: {int(seat) for seat in some}
        for ref, some in to_mark(sitting.edition.read(), responses).items()
        if ref not in out
    }
    turns = marks_by_pass(sitting, seats)
    has = set(turns[MarkingPass.SECOND])
    near = _near(sitting, plan, turns[MarkingPass.FIRST]) if plan.which == "near" else set()
    return {
        ref: {
            seat
            for seat in some
            if (seat, ref) in has
            or plan.which == "all"
            or (plan.which == "near" and seat in near)
            or (plan.which == "sample" and seat in _sample(plan, ref, some))
        }
        for ref, some in needed.items()
    }


def _sample(plan: SecondMarking, ref: str, seats: Iterable[int]) -> set[int]:
    ordered = sorted(seats, key=lambda seat: sha256(f"{plan.seed} {ref} {seat}".encode()).digest())
    return set(ordered[: ceil(len(ordered) * plan.share / 100)])


def _near(sitting: Sitting, plan: SecondMarking, firsts: dict[tuple[int, str], Mark]) -> set[int]:
    """Seats whose total by first marks, so far as all of them are there, is near the cut."""
    contents = {ref: item.content for ref, item in by_hand(sitting).items()}
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).values_list("pk", flat=True))
    responses, edition = responses_of(seats), sitting.edition.read()
    marks: dict[str, dict[str, float]] = {}
    for (seat, ref), mark in firsts.items():
        value = scaled(contents.get(ref), mark)
        if value is not None:
            marks.setdefault(str(seat), {})[ref] = value
    out = waived_in([sitting])[sitting.pk]
    results = set()
    unasked = not_asked([sitting]).get(sitting.pk, frozenset())
    for seat in seats:
        mine = {str(seat): responses[str(seat)]}
        if any(
            ref not in marks.get(str(seat), {})
            for ref, some in to_mark(edition, mine).items()
            if some and ref not in out
        ):
            continue
        table = formula_scored(edition, score(edition, mine, unasked, ScoringOverrides(marks=marks, waived=out)))
        if table.max_total and abs(100 * table.totals[0] / table.max_total - plan.cut) <= plan.within:
            results.add(seat)
    return results


def to_agree(sitting: Sitting) -> dict[str, set[int]]:
    """By question, the seats whose two marks are too far apart, agreed on or not."""
    plan = procedure_of(sitting)
    if plan is None:
        return {}
    turns = marks_by_pass(sitting)
    result: dict[str, set[int]] = {}
    for ref, item in by_hand(sitting).items():
        for seat, other in turns[MarkingPass.SECOND]:
            first, second = (
                scaled(item.content, turns[turn].get((seat, ref))) for turn in (MarkingPass.FIRST, MarkingPass.SECOND)
            )
            if other == ref and first is not None and second is not None and apart(first, second, plan.tolerance):
                result.setdefault(ref, set()).add(seat)
    return result


def left_in(sitting: Sitting) -> tuple[int, int]:
    """How many answers wait for their second mark, and how many for an agreement."""
    if procedure_of(sitting) is None:
        return 0, 0
    agreed = _kept(sitting, MarkingPass.AGREED)
    open_still = sum((seat, ref) not in agreed for ref, some in to_agree(sitting).items() for seat in some)
    return len(unread(sitting)), open_still


def unread(sitting: Sitting) -> set[tuple[int, str]]:
    """The answers that wait for their second mark, by seat and item."""
    given = _kept(sitting, MarkingPass.SECOND)
    return {(seat, ref) for ref, some in chosen(sitting).items() for seat in some} - given


def _kept(sitting: Sitting, turn: MarkingPass) -> set[tuple[int, str]]:
    return {place for place, mark in marks_by_pass(sitting)[turn].items() if mark.state == MarkState.KEPT}


class Severity(NamedTuple):
    """One marker: how many marks they gave of this question, and how many points less than the others would."""

    name: str
    marks: int
    points: float | None


class MarkerComparison(NamedTuple):
    """One question that has answers with two marks: as a whole, by criterion, and the markers."""

    ref: str
    whole: Agreement
    criteria: list[Agreement]
    """In the order of the rubric; points out of half points up to its maximum."""
    markers: list[Severity]


def compared(sitting: Sitting) -> list[MarkerComparison]:
    """How far first and second marks agree, question by question."""
    return [
        MarkerComparison(
            ref,
            _agreement([[sum(mark.points.values()) for mark in pair] for pair in pairs], content.rubric.total),
            [
                _agreement([[mark.points[criterion.id] for mark in pair] for pair in pairs], criterion.max)
                for criterion in content.rubric.criteria
            ],
            _markers(pairs),
        )
        for ref, content, pairs in marked_twice(sitting)
    ]


def marked_twice(sitting: Sitting) -> Iterator[tuple[str, ByRubric, list[tuple[Mark, Mark]]]]:
    """By question, the answers that have two kept marks: the first and the second of each."""
    turns = marks_by_pass(sitting)
    for ref, item in by_hand(sitting).items():
        content = item.content
        if not isinstance(content, ByRubric):
            continue
        yield (
            ref,
            content,
            [
                (turns[MarkingPass.FIRST][seat, ref], mark)
                for (seat, other), mark in turns[MarkingPass.SECOND].items()
                if other == ref
                and scaled(content, mark) is not None
                and scaled(content, turns[MarkingPass.FIRST].get((seat, ref))) is not None
            ],
        )


def _agreement(pairs: list[list[float]], most: float) -> Agreement:
    both = np.array(pairs, float).reshape(-1, 2)
    return agreement(both[:, 0], both[:, 1], levels_of(both, most), 1)


def levels_of(points: NDArray[np.float64], most: float) -> list[float]:
    """What could be given: whole points, or halves where somebody gave one."""
    halves = bool(np.any(points % 1))
    levels = np.arange(0, most + HALF / 2, HALF if halves else 1)
    return [*map(float, levels), *([most] if not halves and most % 1 else [])]


def _markers(pairs: list[tuple[Mark, Mark]]) -> list[Severity]:
    names = {mark.by_id: mark.by.name for pair in pairs for mark in pair}
    who = sorted(names, key=lambda pk: names[pk])
    table = np.full((len(pairs), len(who)), np.nan)
    for at, pair in enumerate(pairs):
        for mark in pair:
            table[at, who.index(mark.by_id)] = sum(mark.points.values())
    harsh = severity(table) if pairs else None
    return [
        Severity(
            names[pk],
            sum(mark.by_id == pk for pair in pairs for mark in pair),
            None if harsh is None else float(harsh[at]),
        )
        for at, pk in enumerate(who)
    ]
