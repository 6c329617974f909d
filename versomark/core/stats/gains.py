"""Growth from one sitting to a later one of the same students."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from .checks import Floats, as_vector, check_same_length, check_within
from .distributions import t_quantile


@dataclass(frozen=True)
class Gains:
    """before, after: (N,) of the same students, out of the same maximum.

    raw, normalised: (N,) gains; the latter is what was gained of what could be (Hake 1998), NaN for who had all.
    mean_normalised: of the class, from its means. effect: paired standardised mean difference with Hedges'
    correction, and its interval from t; None with fewer than two students or where all gained the same.
    """

    raw: Floats
    normalised: Floats
    mean_normalised: float
    effect: float | None
    low: float | None
    high: float | None


def gains(before: ArrayLike, after: ArrayLike, of: float) -> Gains:
    """How much the same students have gained from one test to a later one.

    Parameters
    ----------
    before, after : array_like, shape (N,)
        Marks of the same students.
    of : float
        The marks that there are.

    Returns
    -------
    Gains
        The effect is the mean gain over the root of the mean of the two variances (d_av), times J(N - 1); its
        interval is that of the mean gain over the same root.

    Raises
    ------
    ValueError
        If the two are not of the same length, or `of` is not above 0.

    References
    ----------
    Cumming, G. (2012). *Understanding the new statistics*. Hedges, L. V. (1981). *Journal of Educational
    Statistics*, 6, 107-128.
    """
    vector, other = as_vector("before", before, least=1), as_vector("after", after)
    check_same_length(before=vector, after=other)
    check_within("of", of, 0)
    raw = other - vector
    room = of - vector
    with np.errstate(divide="ignore", invalid="ignore"):
        normalised = np.where(room > 1e-9, raw / room, np.nan)
    mean_room = float(room.mean())
    n = len(raw)
    root = float(np.sqrt((vector.var(ddof=1) + other.var(ddof=1)) / 2)) if n > 1 else 0.0
    mean = float(raw.mean())
    of_class = mean / mean_room if mean_room > 1e-9 else float("nan")
    if root <= 1e-12:
        return Gains(raw, normalised, of_class, None, None, None)
    correction = hedges(n - 1)
    half = t_quantile(0.975, n - 1) * float(raw.std(ddof=1)) / np.sqrt(n)
    return Gains(
        raw=raw,
        normalised=normalised,
        mean_normalised=of_class,
        effect=correction * mean / root,
        low=float(correction * (mean - half) / root),
        high=float(correction * (mean + half) / root),
    )


def hedges(df: int) -> float:
    """What takes the bias of a small sample from a standardised difference.

    Parameters
    ----------
    df : int
        Degrees of freedom.

    Returns
    -------
    float
        J(df); NaN with one or fewer.

    References
    ----------
    Hedges, L. V. (1981). Distribution theory for Glass's estimator of effect size. *Journal of Educational
    Statistics*, 6, 107-128, equation 6e.

    Examples
    --------
    >>> round(hedges(10), 4)
    0.9227
    """
    return math.exp(math.lgamma(df / 2) - math.lgamma((df - 1) / 2)) / math.sqrt(df / 2) if df > 1 else float("nan")
