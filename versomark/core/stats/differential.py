"""Whether a question is harder for one group than for another at the same level: Mantel–Haenszel."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .checks import Floats, as_flags, as_numbers, as_table, as_vector, check_same_length
from .distributions import chi_square_tail, normal_tail
from .intervals import Z95, wilson

DELTA = -2.35
Class = Literal["A", "B", "C"]


@dataclass(frozen=True)
class Differential:
    """One item right or wrong, a reference and a focal group, matched by total.

    odds_ratio: of the reference group over the focal one, over all totals; above 1 the item is harder for the focal
    group. chi_square: with continuity correction. delta = −2.35 ln(odds ratio), with its interval; below 0 it is
    harder for the focal group. letter: A negligible, B slight to moderate, C moderate to large.
    """

    odds_ratio: float
    chi_square: float
    p: float
    delta: float
    delta_low: float
    delta_high: float
    letter: Class


def mantel_haenszel(right: ArrayLike, totals: ArrayLike, focal: NDArray[np.bool_]) -> Differential | None:
    """Whether an item is as hard for two groups of students with the same total.

    Parameters
    ----------
    right : array_like of bool, shape (N,)
        Who has full marks on the item.
    totals : array_like, shape (N,)
        What students are matched by; the item is in them (Holland & Thayer 1988).
    focal : ndarray of bool, shape (N,)
        Who is in the focal group; the others are the reference.

    Returns
    -------
    Differential or None
        None where no total has students of both groups and both outcomes. Classes: C where abs(delta) is 1.5 or
        more and significantly above 1, A where it is under 1 or not significantly off 0, else B, at 5%.

    Raises
    ------
    ValueError
        If the three are not of the same length.

    References
    ----------
    Mantel, N., & Haenszel, W. (1959). *Journal of the National Cancer Institute*, 22, 719-748.
    Dorans, N. J., & Holland, P. W. (1993). DIF detection and description. In *Differential item functioning*.
    Robins, J., Breslow, N., & Greenland, S. (1986). *Biometrics*, 42, 311-323: the error of the log odds ratio.
    """
    hit, total, focal = (
        as_flags("right", right, 1),
        np.round(as_vector("totals", totals), 9),
        as_flags("focal", focal, 1),
    )
    check_same_length(right=hit, totals=total, focal=focal)
    if not len(hit):
        return None
    tables = np.array(
        [
            [(~focal & hit & at).sum(), (~focal & ~hit & at).sum(), (focal & hit & at).sum(), (focal & ~hit & at).sum()]
            for at in (total == value for value in np.unique(total))
        ],
        float,
    )
    a, b, c, d = tables[tables.sum(axis=1) > 1].T
    n = a + b + c + d
    up, down = a * d / n, b * c / n
    expected = (a + b) * (a + c) / n
    variance = (a + b) * (c + d) * (a + c) * (b + d) / (n**2 * (n - 1))
    if up.sum() <= 0 or down.sum() <= 0 or variance.sum() <= 0:
        return None
    odds = float(up.sum() / down.sum())
    chi_square = float(max(0.0, abs((a - expected).sum()) - 0.5) ** 2 / variance.sum())
    same, other = (a + d) / n, (b + c) / n
    spread = (
        (same * up).sum() / (2 * up.sum() ** 2)
        + (same * down + other * up).sum() / (2 * up.sum() * down.sum())
        + (other * down).sum() / (2 * down.sum() ** 2)
    )
    error = 2.35 * float(np.sqrt(spread))
    delta = DELTA * float(np.log(odds))
    p = chi_square_tail(chi_square, 1)
    return Differential(odds, chi_square, p, delta, delta - Z95 * error, delta + Z95 * error, _letter(delta, error, p))


def _letter(delta: float, error: float, p: float) -> Class:
    if abs(delta) < 1 or p >= 0.05:
        return "A"
    beyond_one = error > 0 and normal_tail((abs(delta) - 1) / error) < 0.05
    return "C" if abs(delta) >= 1.5 and beyond_one else "B"


@dataclass(frozen=True)
class GroupDifference:
    """p of one group less that of another on each item (n,), with 95% intervals by Newcombe's (1998) score method; and
    the p of either."""

    difference: Floats
    low: Floats
    high: Floats
    shares: tuple[Floats, Floats]


def group_difference(points: Floats, maxima: Floats, focal: NDArray[np.bool_]) -> GroupDifference:
    """Shares of marks of the reference group less those of the focal one, item by item.

    Parameters
    ----------
    points : ndarray of float, shape (N, n)
        NaN where a student did not take an item.
    maxima : ndarray of float, shape (n,)
        Marks of each item.
    focal : ndarray of bool, shape (N,)
        Who is in the focal group.

    Returns
    -------
    GroupDifference
        With 95% intervals. Shares of marks are taken as counts of marks: exact for items of one mark, wide for
        others.
    """
    points, maxima, focal = as_table("points", points), as_vector("maxima", maxima), as_flags("focal", focal, 1)
    check_same_length(points=points, focal=focal)
    if points.shape[1] != len(maxima):
        raise ValueError(f"maxima must be of as many items as points: {points.shape[1]}, not {len(maxima)}.")
    sizes = [(~np.isnan(points[group])).sum(axis=0).astype(float) for group in (~focal, focal)]
    with np.errstate(divide="ignore", invalid="ignore"):
        shares = [
            np.nansum(points[group], axis=0) / n / maxima for group, n in zip((~focal, focal), sizes, strict=True)
        ]
    return share_difference(shares[0], sizes[0], shares[1], sizes[1])


def share_difference(array_like: ArrayLike, n_one: ArrayLike, other: ArrayLike, n_other: ArrayLike) -> GroupDifference:
    """Shares of one group less those of another, with 95% intervals.

    Parameters
    ----------
    one, other : array_like
        Shares, from 0 to 1.
    n_one, n_other : array_like
        Of how many each share is.

    Returns
    -------
    GroupDifference
        NaN where a group is empty.

    References
    ----------
    Newcombe, R. G. (1998). Interval estimation for the difference between independent proportions. *Statistics in
    Medicine*, 17, 873-890, method 10.

    Examples
    --------
    >>> difference = share_difference([56 / 70], [70], [48 / 80], [80])
    >>> difference.low.round(4).tolist(), difference.high.round(4).tolist()
    ([0.0524], [0.3339])
    """
    first, second = as_numbers("one", array_like), as_numbers("other", other)
    n_first, n_second = as_numbers("n_one", n_one), as_numbers("n_other", n_other)
    (low_1, high_1), (low_2, high_2) = wilson(first * n_first, n_first), wilson(second * n_second, n_second)
    difference = first - second
    return GroupDifference(
        difference,
        difference - np.sqrt((first - low_1) ** 2 + (high_2 - second) ** 2),
        difference + np.sqrt((high_1 - first) ** 2 + (second - low_2) ** 2),
        (first, second),
    )
