"""Means of groups of students, and how far apart two are."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from .checks import as_vector
from .distributions import t_quantile


@dataclass(frozen=True)
class Mean:
    """Of `count` values; the 95% interval is None where it cannot be said: one value, or all the same."""

    count: int
    mean: float
    low: float | None
    high: float | None


@dataclass(frozen=True)
class MeanDifference:
    """One mean less another, with its 95% interval; None where it cannot be said."""

    difference: float
    low: float | None
    high: float | None

    @property
    def sure(self) -> bool:
        """Whether chance alone would hardly bring it."""
        return self.low is not None and self.high is not None and (self.low > 0 or self.high < 0)


FLAT = 1e-12
"""A spread so small is one of rounding."""


def mean_of(values: ArrayLike) -> Mean:
    """A mean with its 95% interval from Student's t.

    Parameters
    ----------
    values : array_like, shape (N,)
        At least one.

    Returns
    -------
    Mean
        Without an interval for one value.

    Raises
    ------
    ValueError
        If there is none.

    References
    ----------
    Student (1908). The probable error of a mean. *Biometrika*, 6, 1-25.

    Examples
    --------
    >>> mean = mean_of([3, 4, 5, 6])
    >>> round(mean.low, 3), mean.mean, round(mean.high, 3)
    (2.446, 4.5, 6.554)
    """
    own = as_vector("values", values, least=1)
    mean = float(own.mean())
    if len(own) < 2 or np.ptp(own) <= FLAT:
        return Mean(len(own), mean, None, None)
    half = t_quantile(0.975, len(own) - 1) * float(own.std(ddof=1) / np.sqrt(len(own)))
    return Mean(len(own), mean, mean - half, mean + half)


def mean_share(shares: ArrayLike) -> Mean:
    """A mean of shares of marks, whose interval ends where shares do.

    Parameters
    ----------
    shares : array_like, shape (N,)
        From 0 to 1; above 1 where totals were set above the full marks, and then the interval may lead there too.

    Returns
    -------
    Mean
    """
    mean = mean_of(shares)
    if mean.low is None or mean.high is None:
        return mean
    return Mean(mean.count, mean.mean, max(0.0, mean.low), min(max(1.0, mean.mean), mean.high))


def apart(array_like: ArrayLike, other: ArrayLike) -> MeanDifference:
    """The difference of two means, unequal variances allowed.

    Parameters
    ----------
    one : array_like, shape (N,)
    other : array_like, shape (M,)
        Neither empty.

    Returns
    -------
    MeanDifference
        With a 95% interval where both have two values at least.

    References
    ----------
    Welch, B. L. (1947). *Biometrika*, 34, 28-35; degrees of freedom of Satterthwaite, F. E. (1946). *Biometrics
    Bulletin*, 2, 110-114.
    """
    first, second = as_vector("one", array_like, least=1), as_vector("other", other, least=1)
    difference = float(first.mean() - second.mean())
    if min(len(first), len(second)) < 2 or max(np.ptp(first), np.ptp(second)) <= FLAT:
        return MeanDifference(difference, None, None)
    parts = [own.var(ddof=1) / len(own) for own in (first, second)]
    error = sum(parts)
    freedom = error**2 / sum(part**2 / (len(own) - 1) for part, own in zip(parts, (first, second), strict=True))
    half = t_quantile(0.975, freedom) * float(np.sqrt(error))
    return MeanDifference(difference, difference - half, difference + half)
