"""What totals are good for: how sure a decision at a cut is, how sure one score is, what a longer test would bring, and
scores in other units."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from versomark.core.response_table import ResponseTable

from .checks import as_numbers, as_vector, check_within
from .distributions import binomial_tail
from .intervals import Floats
from .whole_test import reliability

STANINES = (4, 11, 23, 40, 60, 77, 89, 96)
"""Percentile ranks at which stanines 2 to 9 begin: 4, 7, 12, 17, 20, 17, 12, 7, 4 percent (a fact of the trade)."""


@dataclass(frozen=True)
class Consistency:
    """How often the same students would fall on the same side of a cut in a parallel test; kappa is beyond chance."""

    agreement: float
    kappa: float


def consistency(totals: ArrayLike, items: int, cut: float, alpha: float) -> Consistency | None:
    """Subkoviak's (1976) single administration, for a test of `items` right-or-wrong marks.

    Each student's chance of a mark is their share drawn to the mean by the reliability; at or above `cut` is passing.
    None where alpha does not exist, or where all are sure to be on one side.
    """
    score = as_vector("totals", totals)
    check_within("items", items, 1)
    if not np.isfinite(alpha) or not len(score):
        return None
    steady = min(1.0, max(0.0, alpha))
    chance = steady * score / items + (1 - steady) * score.mean() / items
    passing = binomial_tail(np.ceil(cut - 1e-9), items, np.clip(chance, 0, 1))
    agreement = float(np.mean(passing**2 + (1 - passing) ** 2))
    mean = float(passing.mean())
    by_chance = mean**2 + (1 - mean) ** 2
    if 1 - by_chance < 1e-12:
        return None
    return Consistency(agreement, (agreement - by_chance) / (1 - by_chance))


def conditional_sem(totals: ArrayLike, items: int) -> Floats:
    """Lord's (1955) binomial standard error (N,) of totals out of `items` right-or-wrong marks; NaN under two."""
    score = as_numbers("totals", totals)
    if len(score) and (score.min() < 0 or score.max() > items):
        raise ValueError(f"totals must be from 0 to items, which is {items}.")
    if items < 2:
        return np.full(score.shape, np.nan)
    return np.asarray(np.sqrt(score * (items - score) / (items - 1)), float)


def length_for(alpha: float, wanted: float) -> float | None:
    """How many times as long the test would have to be (Spearman 1910, Brown 1910); None outside 0 to 1."""
    if not 0 < alpha < 1 or not 0 < wanted < 1:
        return None
    return wanted * (1 - alpha) / (alpha * (1 - wanted))


def lengthened(alpha: float, times: float) -> float:
    """Reliability of a test so many times as long; times is above 0. NaN where alpha is, or where it has no value."""
    check_within("times", times, 0)
    if 1 + (times - 1) * alpha == 0:
        return float("nan")
    return times * alpha / (1 + (times - 1) * alpha)


def stratified_alpha(table: ResponseTable, parts: Sequence[Sequence[int]]) -> float:
    """Of a test made of parts (places of items; Cronbach, Schönemann & McKie 1965): 1 − Σ σ²(1 − α) / σ²; NaN where a
    part of two or more items has no alpha. A part of one item counts as if it had no reliability."""
    outside = [place for part in parts for place in part if not 0 <= place < len(table.items)]
    if outside:
        raise ValueError(f"parts has the place {outside[0]}, and there are {len(table.items)} items.")
    whole = float(np.var(table.totals))
    if whole <= 1e-12:
        return float("nan")
    lost = 0.0
    for part in parts:
        own = table.columns(part)
        alpha = reliability(own).alpha if len(part) > 1 else 0.0
        lost += float(np.var(own.totals)) * (1 - alpha)
    return 1 - lost / whole


@dataclass(frozen=True)
class Scores:
    """Totals (N,) in other units. z, t: NaN without variance."""

    percent: Floats
    rank: Floats
    """Percentile rank: below, and half of those with the same."""
    z: Floats
    t: Floats
    """50 + 10 z."""
    stanine: Floats


def scores(totals: ArrayLike, of: float) -> Scores:
    """Percentile ranks by the middle; z with divisor N − 1; stanines by percentile rank."""
    total = as_vector("totals", totals)
    check_within("of", of, 0)
    below = (total[:, None] > total[None, :] + 1e-9).sum(axis=1)
    same = (np.abs(total[:, None] - total[None, :]) <= 1e-9).sum(axis=1)
    rank = 100 * (below + same / 2) / max(1, len(total))
    spread = float(total.std(ddof=1)) if len(total) > 1 else 0.0
    z = (total - total.mean()) / spread if spread > 1e-12 else np.full(total.shape, np.nan)
    return Scores(
        percent=100 * total / of if of else np.full(total.shape, np.nan),
        rank=rank,
        z=z,
        t=50 + 10 * z,
        stanine=1.0 + np.searchsorted(STANINES, rank, side="right"),
    )
