"""Where students stand on a scale of items."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .checks import Floats, as_numbers, as_table
from .partial_credit import (
    Codes,
    PartialCredit,
    codes_of,
    same_items,
)


@dataclass(frozen=True)
class Persons:
    """Students on the scale, by weighted likelihood (Warm 1989): finite for nothing and for everything too.

    theta, error: (N,) in logits; NaN for a student who was given none of the items.
    """

    theta: Floats
    error: Floats

    @property
    def separation_reliability(self) -> float:
        """The share of the variance of θ that is not error (Wright & Masters 1982); NaN without variance."""
        known = np.isfinite(self.theta)
        if known.sum() < 2 or np.ptp(self.theta[known]) < 1e-12:
            return float("nan")
        variance = float(np.var(self.theta[known], ddof=1))
        return (variance - float(np.mean(self.error[known] ** 2))) / variance


def moments(theta: Floats, thresholds: Floats) -> tuple[Floats, Floats, Floats, Floats]:
    """Mean, variance, third and fourth central moment of the category of an item.

    Parameters
    ----------
    theta : ndarray of float, shape (N,) or (N, 1)
        Places of students, in logits.
    thresholds : ndarray of float, shape (m,) or (n, m)
        Of an item, or of n items with as many steps.

    Returns
    -------
    mean, variance, third, fourth : ndarray of float, shape (N,) or (N, n)

    Examples
    --------
    >>> mean, variance, _, _ = moments(np.zeros(1), np.zeros(1))
    >>> mean.tolist(), variance.tolist()
    ([0.5], [0.25])
    """
    theta, thresholds = as_numbers("theta", theta), as_numbers("thresholds", thresholds, missing=False)
    steps = np.cumsum(thresholds, axis=-1)
    beta = np.concatenate([np.zeros((*steps.shape[:-1], 1)), steps], axis=-1)
    k = np.arange(beta.shape[-1])
    raw = theta[..., None] * k - beta
    chance = np.exp(raw - raw.max(axis=-1, keepdims=True))
    chance /= chance.sum(axis=-1, keepdims=True)
    mean = chance @ k
    off = k - mean[..., None]
    variance, third, fourth = ((chance * off**power).sum(axis=-1) for power in (2, 3, 4))
    return mean, variance, third, fourth


def place_persons(scale: PartialCredit, points: ArrayLike, weighted: bool = True) -> Persons:
    """Where students stand on a scale, by weighted likelihood or by plain maximum likelihood.

    Parameters
    ----------
    scale : PartialCredit
    points : array_like, shape (N, n)
        NaN where an item was not given; the items are those the scale was made of, in the same places.
    weighted : bool
        False for maximum likelihood, as many programs have it: who has nothing or everything is then nowhere, NaN.

    Returns
    -------
    Persons
        Students with the same total on the same items are at the same place.

    Raises
    ------
    ValueError
        If points has fewer items than the scale.

    References
    ----------
    Warm, T. A. (1989). Weighted likelihood estimation of ability in item response theory. *Psychometrika*, 54,
    427-450.
    """
    codes = codes_on(scale, points)
    given = codes >= 0
    totals = np.where(given, codes, 0).sum(axis=1)
    first, of = same_items(given, totals)
    theta, error = _roots(totals[first].astype(float), given[first], scale.thresholds, weighted)
    return Persons(theta[of], error[of])


def codes_on(scale: PartialCredit, points: ArrayLike) -> Codes:
    table = as_table("points", points)
    if len(scale.items) and table.shape[1] <= scale.items.max():
        raise ValueError(f"points must have the items of the scale, and has {table.shape[1]}.")
    return np.column_stack([codes_of(table[:, j], scale.points[at]) for at, j in enumerate(scale.items)])


def _roots(
    totals: Floats, given: NDArray[np.bool_], thresholds: Sequence[Floats], weighted: bool
) -> tuple[Floats, Floats]:
    """The root of total − E, weighted + I′/(2I), and 1/√I there, for each kind of student (K,); bisection for all of
    them at once, since what is looked for falls with θ and never fails. NaN for who was given nothing, or has no root.
    """

    sizes = np.array([len(entry) for entry in thresholds])
    # Items with as many steps are worked out together.
    alike = [
        (np.flatnonzero(sizes == size), np.stack([entry for entry in thresholds if len(entry) == size]))
        for size in np.unique(sizes)
    ]

    def rest(theta: Floats) -> tuple[Floats, Floats]:
        expected, information, slope = np.zeros((3, len(theta)))
        for at, steps in alike:
            mean, variance, third, _ = moments(theta[:, None], steps)
            expected += np.where(given[:, at], mean, 0).sum(axis=1)
            information += np.where(given[:, at], variance, 0).sum(axis=1)
            slope += np.where(given[:, at], third, 0).sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            return totals - expected + (slope / (2 * information) if weighted else 0), information

    low, high = np.full(len(totals), -20.0), np.full(len(totals), 20.0)
    for _ in range(55):
        middle = (low + high) / 2
        above = rest(middle)[0] > 0
        low, high = np.where(above, middle, low), np.where(above, high, middle)
    placed = given.any(axis=1)
    if not weighted:
        placed &= (totals > 0) & (totals < np.where(given, sizes, 0).sum(axis=1))
    theta = np.where(placed, (low + high) / 2, np.nan)
    with np.errstate(divide="ignore", invalid="ignore"):
        return theta, 1 / np.sqrt(rest(theta)[1])
