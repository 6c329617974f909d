"""Intervals for shares and for mean difficulties, and the resampling they and the flags rest on."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .checks import as_numbers, as_table, check_within

Floats = NDArray[np.float64]

Z95 = 1.959963984540054
ROUNDING = 1e-9
"""What sums of halves and thirds may be off by."""
BOOTSTRAP = 1000


def known(value: float) -> float | None:
    """The figure, or None where it is undefined."""
    return float(value) if np.isfinite(value) else None


def all_known(values: ArrayLike) -> list[float | None]:
    """The same of each of (N,) values."""
    numbers = as_numbers("values", values)
    return [value if finite else None for value, finite in zip(numbers.tolist(), np.isfinite(numbers), strict=True)]


def wilson(count: ArrayLike, total: ArrayLike) -> tuple[Floats, Floats]:
    """95% interval for a share.

    Parameters
    ----------
    count : array_like
        How many of `total`; may be weighted.
    total : array_like
        Of the same shape, or one for all.

    Returns
    -------
    low, high : ndarray of float
        From 0 to 1; NaN where `total` is 0.

    Raises
    ------
    ValueError
        If a count is below 0 or above its total.

    References
    ----------
    Wilson, E. B. (1927). Probable inference, the law of succession, and statistical inference. *Journal of the
    American Statistical Association*, 22, 209-212.

    Examples
    --------
    >>> low, high = wilson(8, 10)
    >>> round(float(low), 3), round(float(high), 3)
    (0.49, 0.943)
    """
    count, total = as_numbers("count", count), as_numbers("total", total)
    if (total < 0).any() or (count < -ROUNDING).any() or (count > total * (1 + ROUNDING) + ROUNDING).any():
        raise ValueError("count must be from 0 to total.")
    count = np.clip(count, 0, total)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = count / total
        centre = (share + Z95**2 / (2 * total)) / (1 + Z95**2 / total)
        half = Z95 / (1 + Z95**2 / total) * np.sqrt(share * (1 - share) / total + Z95**2 / (4 * total**2))
    return np.clip(centre - half, 0, 1), np.clip(centre + half, 0, 1)


def resample_weights(students: int, resamples: int, seed: int) -> Floats:
    """How often each student is drawn when as many are drawn as there are, with replacement.

    Parameters
    ----------
    students, resamples : int
        At least 1 of each.
    seed : int
        The same seed draws the same students.

    Returns
    -------
    ndarray of float, shape (resamples, students)

    Raises
    ------
    ValueError
        If there is not one of each.

    Examples
    --------
    >>> resample_weights(5, 3, seed=1).sum(axis=1).tolist()
    [5.0, 5.0, 5.0]
    """
    check_within("students", students, 1)
    check_within("resamples", resamples, 1)
    rng = np.random.default_rng(seed)
    weights = np.empty((resamples, students))
    for row in weights:
        row[:] = np.bincount(rng.integers(students, size=students), minlength=students)
    return weights


def bootstrap_means(values: Floats, seed: int, resamples: int = BOOTSTRAP) -> tuple[Floats, Floats]:
    """95% percentile intervals of the means of columns.

    Parameters
    ----------
    values : ndarray of float, shape (N, n)
        NaN where one is missing; a resample without any value of a column says nothing about it.
    seed : int
        Of the draws. Students are drawn as wholes.
    resamples : int, default 1000

    Returns
    -------
    low, high : ndarray of float, shape (n,)

    Raises
    ------
    ValueError
        If values has no row, or is not two-dimensional.

    References
    ----------
    Efron, B. (1979). Bootstrap methods: another look at the jackknife. *Annals of Statistics*, 7, 1-26.
    """
    values = as_table("values", values, least=1)
    known = ~np.isnan(values)
    weights = resample_weights(len(values), resamples, seed)
    with np.errstate(divide="ignore", invalid="ignore"):
        means = (weights @ np.where(known, values, 0)) / (weights @ known)
    low, high = np.nanquantile(means, [0.025, 0.975], axis=0)
    return low, high
