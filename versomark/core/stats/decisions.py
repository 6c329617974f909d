"""What totals are good for: how sure a decision at a cut is, how sure one score is, what a longer test would bring, and
scores in other units."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from versomark.core.response_table import ResponseTable

from .checks import Floats, as_numbers, as_vector, check_within
from .distributions import binomial_tail
from .whole_test import reliability

STANINES = (4, 11, 23, 40, 60, 77, 89, 96)
"""Percentile ranks at which stanines 2 to 9 begin: 4, 7, 12, 17, 20, 17, 12, 7, 4 percent (a fact of the trade)."""


@dataclass(frozen=True)
class Consistency:
    """How often the same students would fall on the same side of a cut in a parallel test; kappa is beyond chance."""

    agreement: float
    kappa: float


def consistency(totals: ArrayLike, items: int, cut: float, alpha: float) -> Consistency | None:
    """How surely students would be on the same side of a cut in another test like this one.

    Each student's chance of a mark is their share, drawn to the mean by the reliability.

    Parameters
    ----------
    totals : array_like, shape (N,)
        Marks of the students, each item being one mark, right or wrong.
    items : int
        Marks that there are, at least 1.
    cut : float
        Marks from which on a student passes.
    alpha : float
        Reliability of the totals.

    Returns
    -------
    Consistency or None
        None where alpha is not finite, nobody took the test, or all are sure to be on one side.

    Raises
    ------
    ValueError
        If totals is not one-dimensional, or items is under 1.

    References
    ----------
    Subkoviak, M. J. (1976). Estimating reliability from a single administration of a criterion-referenced test.
    *Journal of Educational Measurement*, 13, 265-276.
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
    """Standard error of each total, by the binomial.

    Parameters
    ----------
    totals : array_like, shape (N,)
        Marks out of `items`, each item being one mark, right or wrong.
    items : int
        Marks that there are.

    Returns
    -------
    ndarray of float, shape (N,)
        In marks; NaN with fewer than two items.

    Raises
    ------
    ValueError
        If a total is below 0 or above `items`.

    References
    ----------
    Lord, F. M. (1955). Estimating test reliability. *Educational and Psychological Measurement*, 15, 325-336.

    Examples
    --------
    >>> conditional_sem([0, 5, 10], 10).round(3).tolist()
    [0.0, 1.667, 0.0]
    """
    score = as_numbers("totals", totals)
    if len(score) and (score.min() < 0 or score.max() > items):
        raise ValueError(f"totals must be from 0 to items, which is {items}.")
    if items < 2:
        return np.full(score.shape, np.nan)
    return np.asarray(np.sqrt(score * (items - score) / (items - 1)), float)


def length_for(alpha: float, wanted: float) -> float | None:
    """How many times as long a test would have to be for a reliability that is wanted.

    Parameters
    ----------
    alpha : float
        Its reliability now.
    wanted : float
        The one that is wanted.

    Returns
    -------
    float or None
        None where either is not between 0 and 1.

    References
    ----------
    Spearman (1910) and Brown (1910), *British Journal of Psychology*, 3, 271-295 and 296-322.

    Examples
    --------
    >>> round(length_for(0.6, 0.75), 3)
    2.0
    """
    if not 0 < alpha < 1 or not 0 < wanted < 1:
        return None
    return wanted * (1 - alpha) / (alpha * (1 - wanted))


def lengthened(alpha: float, times: float) -> float:
    """Reliability of a test that is longer or shorter by more of the same items.

    Parameters
    ----------
    alpha : float
        Its reliability now.
    times : float
        How many times as long, above 0.

    Returns
    -------
    float
        NaN where alpha is, or where it has no value.

    References
    ----------
    Spearman (1910) and Brown (1910), as in `length_for`.

    Examples
    --------
    >>> round(lengthened(0.6, 2), 3)
    0.75
    """
    check_within("times", times, 0)
    if 1 + (times - 1) * alpha == 0:
        return float("nan")
    return times * alpha / (1 + (times - 1) * alpha)


def stratified_alpha(table: ResponseTable, parts: Sequence[Sequence[int]]) -> float:
    """Reliability of a test that is made of parts.

    Parameters
    ----------
    table : ResponseTable
    parts : sequence of sequence of int
        Places of the items of each part.

    Returns
    -------
    float
        1 - sum of var(part) * (1 - alpha(part)) / var(total); NaN where a part of two or more items has no alpha. A
        part of one item counts as if it had no reliability.

    References
    ----------
    Cronbach, L. J., Schönemann, P., & McKie, D. (1965). Alpha coefficients for stratified-parallel tests.
    *Educational and Psychological Measurement*, 25, 291-312.
    """
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
    """Totals as z, percentile rank and stanine.

    Parameters
    ----------
    totals : array_like, shape (N,)
        Marks.
    of : float
        The marks that there are.

    Returns
    -------
    Scores
        z with divisor N - 1, percentile ranks by the middle of those with the same total, stanines by percentile
        rank.
    """
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
