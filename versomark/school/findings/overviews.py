"""What one wants to know of a class or a test before opening it: how its last sitting went, and what comes next."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import NamedTuple

from django.db.models import Count, Q

from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import AFTER, BEFORE, RUNNING, SeatState, Sitting, many_sittings_of, markable

from .every_sitting import MADE_AT_ONCE, spread_of
from .services import CachedTotals, kept_totals

TREND = 8
"""Sittings whose means stand beside one another."""


class MeanThen(NamedTuple):
    sitting: Sitting
    mean: float
    """As a share of all marks."""


@dataclass
class Overview:
    """Of the sittings of one class, or of one test."""

    over: int = 0
    open_now: list[Sitting] = field(default_factory=list)
    next: Sitting | None = None
    """The first that is planned for a day."""
    last: Sitting | None = None
    """The latest that is over."""
    mean: float | None = None
    spread: list[int] = field(default_factory=list)
    """Of the last sitting, students by the tenth of the marks that they have."""
    waiting: int = 0
    """Answers of the last sitting that wait for a mark."""
    may_mark: bool = False
    """Whether the reader may mark the last sitting, or only look at it."""
    absent: int = 0
    """Students who were not at the last sitting."""
    means: list[MeanThen] = field(default_factory=list)
    """Of the latest sittings, oldest first."""


class Overviews(NamedTuple):
    by: dict[int, Overview]
    still_to_make: int
    """Sittings whose figures are not made yet; reading again makes more of them."""


class SittingGlance(NamedTuple):
    """How one sitting that is over went."""

    sitting: Sitting
    mean: float | None
    spread: list[int]
    waiting: int


class SittingGlances(NamedTuple):
    lines: list[SittingGlance]
    still_to_make: int


def of_sittings(teacher: Teacher) -> SittingGlances:
    """Of every sitting that is over and whose figures are made, the latest first."""
    past = [sitting for sitting in many_sittings_of(teacher) if sitting.state in AFTER]
    past.sort(key=lambda sitting: (sitting.opened_at or sitting.made_at, sitting.pk), reverse=True)
    so_far = kept_totals(past, most_new=MADE_AT_ONCE)
    lines = [
        SittingGlance(sitting, *spread_of(cached), cached.waiting)
        for sitting, cached in zip(past, so_far.totals, strict=True)
        if cached is not None
    ]
    return SittingGlances(lines, len(so_far.left))


def of_classes(teacher: Teacher) -> Overviews:
    return _overviews(teacher, lambda sitting: sitting.school_class_id, TREND)


def of_tests(teacher: Teacher) -> Overviews:
    return _overviews(teacher, lambda sitting: sitting.edition.test_id, 1)


def _overviews(teacher: Teacher, key: Callable[[Sitting], int], trend: int) -> Overviews:
    overviews: dict[int, Overview] = {}
    past: dict[int, list[Sitting]] = {}
    for sitting in many_sittings_of(teacher):
        overview = overviews.setdefault(key(sitting), Overview())
        if sitting.state in AFTER:
            overview.over += 1
            past.setdefault(key(sitting), []).append(sitting)
        elif sitting.state in RUNNING:
            overview.open_now.append(sitting)
        elif sitting.state in BEFORE and sitting.planned_for is not None:
            planned = overview.next.planned_for if overview.next else None
            if planned is None or sitting.planned_for < planned:
                overview.next = sitting
    for sittings in past.values():
        sittings.sort(key=lambda sitting: (sitting.opened_at or sitting.made_at, sitting.pk), reverse=True)
    latest = {number: sittings[:trend] for number, sittings in past.items()}
    # The newest of each first, so that these are made when not all can be.
    wanted = [row[at] for at in range(trend) for row in latest.values() if at < len(row)]
    so_far = kept_totals(wanted, most_new=MADE_AT_ONCE)
    totals = dict(zip((sitting.pk for sitting in wanted), so_far.totals, strict=True))
    last = [sittings[0].pk for sittings in latest.values()]
    absent, to_mark = _absent_in(last), markable(teacher, last)
    for number, sittings in latest.items():
        _fill(overviews[number], sittings, totals, absent)
        overviews[number].may_mark = sittings[0].pk in to_mark
    return Overviews(overviews, len(so_far.left))


def _fill(
    overview: Overview,
    sittings: list[Sitting],
    totals: dict[int, CachedTotals | None],
    absent: dict[int, int],
) -> None:
    overview.last = sittings[0]
    overview.absent = absent.get(sittings[0].pk, 0)
    newest = totals[sittings[0].pk]
    if newest is not None:
        overview.mean, overview.spread = spread_of(newest)
        overview.waiting = newest.waiting
    for sitting in reversed(sittings):
        of_sitting = totals[sitting.pk]
        mean = spread_of(of_sitting)[0] if of_sitting else None
        if mean is not None:
            overview.means.append(MeanThen(sitting, mean))


def _absent_in(sittings: Iterable[int]) -> dict[int, int]:
    counted = Sitting.objects.filter(pk__in=list(sittings)).annotate(
        away=Count("seats", filter=Q(seats__state=SeatState.ABSENT))
    )
    return dict(counted.values_list("pk", "away"))
