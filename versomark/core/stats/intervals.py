"""Intervals for shares and for mean difficulties."""

import numpy as np
from numpy.typing import ArrayLike

from .checks import Floats, as_numbers, as_table
from .distributions import t_quantile

Z95 = 1.959963984540054
ROUNDING = 1e-9
"""What sums of halves and thirds may be off by."""
ADDED = 0.25
"""Of an observation at each end of a mean of part marks: our choice, by simulation."""


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


def part_mark_intervals(values: ArrayLike, maxima: ArrayLike) -> tuple[Floats, Floats]:
    """95% intervals of the share of its marks that an item earns, where it has part marks.

    Student's t on the logit of the mean, so that no end leaves 0 to 1. A quarter of an observation of nothing and
    one of everything are added, so that a class that earned all has an interval too. The percentile bootstrap it
    took the place of covered .80 to .88 of five students' means; this covers .98 and more, and .96 of sixty.

    Parameters
    ----------
    values : array_like, shape (N, n)
        Points; NaN where an item was not taken.
    maxima : array_like, shape (n,)
        Of each item, above 0.

    Returns
    -------
    low, high : ndarray of float, shape (n,)
        From 0 to 1; NaN under two students.

    Raises
    ------
    ValueError
        If values are not a table of numbers, or a maximum is not above 0.

    Examples
    --------
    >>> low, high = part_mark_intervals([[1.0], [2.0], [0.0], [2.0]], [2.0])
    >>> round(float(low[0]), 2), round(float(high[0]), 2)
    (0.07, 0.97)
    """
    table, tops = as_table("values", values), as_numbers("maxima", maxima)
    if (tops <= 0).any():
        raise ValueError("maxima must be above 0.")
    shares, taken = np.nan_to_num(table / tops), ~np.isnan(table)
    students = taken.sum(axis=0).astype(float)
    weight = students + 2 * ADDED
    mean = ((shares * taken).sum(axis=0) + ADDED) / weight
    squares = ((shares - mean) ** 2 * taken).sum(axis=0) + ADDED * (mean**2 + (1 - mean) ** 2)
    with np.errstate(divide="ignore", invalid="ignore"):
        error = np.sqrt(squares / (weight - 1) / weight) / (mean * (1 - mean))
        half = np.array([t_quantile(0.975, n - 1) if n >= 2 else np.nan for n in students]) * error
        middle = np.log(mean / (1 - mean))
    return 1 / (1 + np.exp(half - middle)), 1 / (1 + np.exp(-half - middle))
