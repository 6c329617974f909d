"""The list of all sittings that have answers: of each the spread of its totals and the finding to read first."""

from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import Q

from versomark.core.findings.words import FEWEST_STUDENTS
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Sitting, sittings_of

from .dismissed_findings import Key, dismissed_in, standing
from .flag_notes import FlagNote, flag_note
from .report import FoundFlag
from .services import CachedTotals, kept_totals

MADE_AT_ONCE = 2
"""Analyses that a list makes while somebody waits; the others are made as it is read again."""
BARS = 10
"""Of the picture of a spread: from nothing to all marks."""


@dataclass(frozen=True)
class InShort:
    sitting: Sitting
    students: int
    """Who counts in the figures."""
    mean: float | None
    """As a share of all marks."""
    spread: list[int]
    """Students by the share of the marks that they have, in tenths; empty where nothing is counted."""
    waiting: int
    """Answers that wait for a mark."""
    first: FlagNote | None
    flagged: int
    """Questions with a finding that says they failed or misled."""
    still_to_make: bool = False
    """Its figures are not made yet; reading again makes them."""

    @property
    def too_few(self) -> bool:
        return self.students < FEWEST_STUDENTS


def sittings_with_answers(teacher: Teacher, typed: str, count: int) -> tuple[list[InShort], int]:
    """The latest of those that hold every typed word, and how many there are."""
    sittings = sittings_of(teacher).exclude(opened_at=None).order_by("-opened_at", "-pk")
    for word in typed.split()[:6]:
        sittings = sittings.filter(
            Q(edition__test__title__icontains=word)
            | Q(school_class__name__icontains=word)
            | Q(name__icontains=word)
            | Q(code__icontains=word)
        )
    shown = list(sittings[:count])
    aside = dismissed_in(shown)
    totals = kept_totals(shown, most_new=MADE_AT_ONCE)
    return [
        _in_short(sitting, cached, aside[sitting.pk], sitting.pk in totals.left)
        for sitting, cached in zip(shown, totals.totals, strict=True)
    ], sittings.count()


def _in_short(sitting: Sitting, cached: CachedTotals | None, aside: Iterable[Key], still_to_make: bool) -> InShort:
    if cached is None:
        return InShort(sitting, 0, None, [], 0, None, 0, still_to_make)
    mean, spread = spread_of(cached)
    flags = standing(cached.flags, aside)
    return InShort(
        sitting,
        len(cached.totals),
        mean,
        spread,
        cached.waiting,
        flag_note(FoundFlag.model_validate(flags[0])) if flags else None,
        len({flag["ref"] for flag in flags}),
    )


def spread_of(cached: CachedTotals) -> tuple[float | None, list[int]]:
    """The mean as a share of all marks, and how many have each tenth of them; nothing where nobody counts."""
    shares = [total / cached.of for total in cached.totals.values()] if cached.of else []
    if not shares:
        return None, []
    spread = [0] * BARS
    for share in shares:
        spread[min(BARS - 1, max(0, int(share * BARS)))] += 1
    return sum(shares) / len(shares), spread
