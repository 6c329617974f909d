"""Measures of a whole test: its distribution and its reliability. Conventions in `docs/methods.md`."""

from dataclasses import dataclass, replace

import numpy as np

from versomark.core.response_table import ResponseTable

from .checks import as_vector
from .distributions import f_quantile
from .groups import Floats
from .items import TINY


@dataclass(frozen=True)
class Distribution:
    """Totals of N students. `sd` has divisor N − 1; quartiles are linear (type 7); NaN where undefined."""

    mean: float
    median: float
    sd: float
    min: float
    max: float
    q1: float
    q3: float
    skewness: float
    kurtosis: float


@dataclass(frozen=True)
class Reliability:
    """Coefficients from one administration, every variance with divisor N; NaN where undefined."""

    alpha: float
    alpha_low: float
    alpha_high: float
    kr20: float
    kr21: float
    lambda2: float
    split_half: float
    sem: float


def distribution(totals: Floats) -> Distribution:
    """Location, spread and shape of totals.

    Parameters
    ----------
    totals : ndarray of float, shape (N,)

    Returns
    -------
    Distribution
        Standard deviation with divisor N - 1, skewness G1, excess kurtosis G2.

    Raises
    ------
    ValueError
        If there is no total.

    References
    ----------
    Joanes, D. N., & Gill, C. A. (1998). Comparing measures of sample skewness and kurtosis. *The Statistician*, 47,
    183-189.
    """
    totals = as_vector("totals", totals, least=1)
    n = len(totals)
    mean = float(totals.mean())
    deviations = totals - mean
    m2, m3, m4 = (float((deviations**power).mean()) for power in (2, 3, 4))
    q1, median, q3 = np.quantile(totals, [0.25, 0.5, 0.75])
    flat = m2 <= TINY * max(1.0, mean**2)
    skewness = kurtosis = np.nan
    if not flat and n > 2:
        skewness = m3 / m2**1.5 * np.sqrt(n * (n - 1)) / (n - 2)
    if not flat and n > 3:
        kurtosis = (n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * (m4 / m2**2 - 3) + 6)
    return Distribution(
        mean=mean,
        median=float(median),
        sd=float(totals.std(ddof=1)) if n > 1 else np.nan,
        min=float(totals.min()),
        max=float(totals.max()),
        q1=float(q1),
        q3=float(q3),
        skewness=float(skewness),
        kurtosis=float(kurtosis),
    )


def reliability(table: ResponseTable) -> Reliability:
    """How reliable the totals of a test are.

    Parameters
    ----------
    table : ResponseTable

    Returns
    -------
    Reliability
        Alpha with its 95% interval, KR-20 and KR-21 for items of one mark each, lambda-2, odd-even split half with
        Spearman-Brown, and the standard error of measurement in marks, sd * sqrt(1 - alpha).

    Notes
    -----
    Where students did not all take the same items: alpha of a test as long as they took, from the variances and
    covariances of all who took an item or a pair of them (`_alpha_of_pairs`), and its error; the rest is undefined.

    References
    ----------
    Cronbach, L. J. (1951). *Psychometrika*, 16, 297-334. Feldt, L. S. (1965). *Psychometrika*, 30, 357-370: the
    interval. Kuder, G. F., & Richardson, M. W. (1937). *Psychometrika*, 2, 151-160. Guttman, L. (1945).
    *Psychometrika*, 10, 255-282.
    """
    undefined = float("nan")
    students, items = table.points.shape
    if not table.complete:
        pairs = _alpha_of_pairs(table)
        error = float(table.standing.std(ddof=1) * np.sqrt(1 - pairs)) if students > 1 and pairs <= 1 else undefined
        return replace(Reliability(*[undefined] * 8), alpha=pairs, sem=error)
    centred = table.points - table.points.mean(axis=0)
    covariance = centred.T @ centred / students
    total_variance = float(covariance.sum())
    if students < 2 or items < 2 or total_variance <= TINY * max(1.0, table.max_total):
        return Reliability(*[undefined] * 8)
    own = np.diag(covariance)
    between = covariance - np.diag(own)
    alpha = items / (items - 1) * (1 - own.sum() / total_variance)
    low, high = _feldt(alpha, students, items)
    lambda2 = (between.sum() + np.sqrt(items / (items - 1) * np.square(between).sum())) / total_variance
    one_mark = table.right_or_wrong and bool(np.all(table.maxima == 1))
    mean = float(table.totals.mean())
    kr21 = items / (items - 1) * (1 - mean * (items - mean) / (items * total_variance))
    sd = float(table.totals.std(ddof=1))
    return Reliability(
        alpha=float(alpha),
        alpha_low=low,
        alpha_high=high,
        kr20=_kr20(table, total_variance) if one_mark else undefined,
        kr21=float(kr21) if one_mark else undefined,
        lambda2=float(lambda2),
        split_half=_split_half(table.points),
        sem=sd * float(np.sqrt(1 - alpha)),
    )


def _alpha_of_pairs(table: ResponseTable) -> float:
    """k c / (v + (k − 1) c), with the mean variance v of the items, the mean covariance c of their pairs and k items
    taken: Cronbach's alpha where all took all (its other form, Cronbach 1951), stepped to k by Spearman–Brown else."""
    taken = table.taken.astype(float)
    both = taken.T @ taken
    x = np.where(table.taken, table.points - table.points.sum(axis=0) / np.maximum(table.takers, 1), 0)
    with np.errstate(divide="ignore", invalid="ignore"):
        # Of each pair over the students who took both, as is done with missing cells.
        first, second = x.T @ taken / both, taken.T @ x / both
        covariance = np.where(both > 1, (x.T @ x - both * first * second) / (both - 1), np.nan)
    between = covariance[~np.eye(len(covariance), dtype=bool)]
    own = np.diag(covariance)
    if not np.isfinite(between).any() or not np.isfinite(own).any():
        return float("nan")
    v, c, k = float(np.nanmean(own)), float(np.nanmean(between)), table.length
    below = v + (k - 1) * c
    return k * c / below if k > 1 and below > TINY else float("nan")


def _kr20(table: ResponseTable, total_variance: float) -> float:
    p = table.points.mean(axis=0)
    items = len(p)
    return float(items / (items - 1) * (1 - (p * (1 - p)).sum() / total_variance))


def _feldt(alpha: float, students: int, items: int) -> tuple[float, float]:
    """95% interval of alpha (Feldt 1965): (1 − alpha) times quantiles of F(N − 1, (N − 1)(n − 1))."""
    df1, df2 = students - 1, (students - 1) * (items - 1)
    return tuple(1 - (1 - alpha) * f_quantile(q, df1, df2) for q in (0.975, 0.025))  # type: ignore[return-value]


def _split_half(points: Floats) -> float:
    """Odd-even halves, stepped up to full length by Spearman–Brown (1910)."""
    odd, even = points[:, ::2].sum(axis=1), points[:, 1::2].sum(axis=1)
    if odd.std() <= TINY or even.std() <= TINY:
        return float("nan")
    r = float(np.corrcoef(odd, even)[0, 1])
    return 2 * r / (1 + r) if r > -1 else float("nan")
