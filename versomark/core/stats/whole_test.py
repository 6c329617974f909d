"""Measures of a whole test: its distribution and its reliability. Conventions in `docs/methods.md`."""

from dataclasses import dataclass

import numpy as np
from scipy.special import fdtri

from versomark.core.scoring import ResponseTable

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
    """Location, spread and shape of totals (N,): skewness G1 and excess kurtosis G2 (Joanes & Gill 1998)."""
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
    """Alpha (Cronbach 1951) with its 95% interval (Feldt 1965), KR-20 and KR-21 (Kuder & Richardson 1937) for items
    of one mark each, lambda-2 (Guttman 1945), odd-even split half with Spearman–Brown, and the standard error of
    measurement in points: sd × sqrt(1 − alpha)."""
    undefined = float("nan")
    students, items = table.points.shape
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


def _kr20(table: ResponseTable, total_variance: float) -> float:
    p = table.points.mean(axis=0)
    items = len(p)
    return float(items / (items - 1) * (1 - (p * (1 - p)).sum() / total_variance))


def _feldt(alpha: float, students: int, items: int) -> tuple[float, float]:
    """95% interval of alpha (Feldt 1965): (1 − alpha) times quantiles of F(N − 1, (N − 1)(n − 1))."""
    df1, df2 = students - 1, (students - 1) * (items - 1)
    return tuple(1 - (1 - alpha) * float(fdtri(df1, df2, q)) for q in (0.975, 0.025))  # type: ignore[return-value]


def _split_half(points: Floats) -> float:
    """Odd-even halves, stepped up to full length by Spearman–Brown (1910)."""
    odd, even = points[:, ::2].sum(axis=1), points[:, 1::2].sum(axis=1)
    if odd.std() <= TINY or even.std() <= TINY:
        return float("nan")
    r = float(np.corrcoef(odd, even)[0, 1])
    return 2 * r / (1 + r) if r > -1 else float("nan")
