"""Means of groups of students, and how far apart two are."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from .intervals import known


@dataclass(frozen=True)
class Mean:
    """Of `count` values; the 95% interval is None where it cannot be said: one value, or all the same."""

    count: int
    mean: float
    low: float | None
    high: float | None


@dataclass(frozen=True)
class Apart:
    """One mean less another, with its 95% interval; None where it cannot be said."""

    difference: float
    low: float | None
    high: float | None

    @property
    def sure(self) -> bool:
        """Whether chance alone would hardly bring it."""
        return self.low is not None and self.high is not None and (self.low > 0 or self.high < 0)


def mean_of(values: ArrayLike) -> Mean:
    """values (N,), N > 0: the mean with its interval from t (Student 1908)."""
    from scipy.stats import ttest_1samp

    own = np.asarray(values, float)
    if len(own) < 2 or np.ptp(own) == 0:
        return Mean(len(own), float(own.mean()), None, None)
    interval = ttest_1samp(own, 0).confidence_interval(0.95)
    return Mean(len(own), float(own.mean()), known(float(interval.low)), known(float(interval.high)))


def apart(one: ArrayLike, other: ArrayLike) -> Apart:
    """one (N,), other (M,), neither empty: the difference of their means, unequal variances allowed (Welch 1947)."""
    from scipy.stats import ttest_ind

    first, second = np.asarray(one, float), np.asarray(other, float)
    difference = float(first.mean() - second.mean())
    if min(len(first), len(second)) < 2 or (np.ptp(first) == 0 and np.ptp(second) == 0):
        return Apart(difference, None, None)
    interval = ttest_ind(first, second, equal_var=False).confidence_interval(0.95)
    return Apart(difference, known(float(interval.low)), known(float(interval.high)))
