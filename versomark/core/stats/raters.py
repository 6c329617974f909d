"""How far those who mark the same answers agree, and who is the harsher one."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .checks import Floats, as_table, as_vector, check_same_length
from .distributions import f_quantile
from .intervals import Z95

Weights = Literal["none", "linear", "quadratic"]
Level = Literal["nominal", "ordinal", "interval"]
NOTHING = 1e-12
POWER: dict[Weights, int] = {"linear": 1, "quadratic": 2}


@dataclass(frozen=True)
class Estimate:
    """A coefficient with its 95% interval."""

    value: float
    low: float
    high: float


@dataclass(frozen=True)
class Agreement:
    """Two markers on the same answers.

    exact, adjacent: shares of the answers on which they give the same, or differ by at most a step. difference:
    mean of the second less the first. None where undefined, and `reasons` says why.
    """

    answers: int
    exact: float | None
    adjacent: float | None
    difference: float | None
    kappa: Estimate | None
    """Cohen's, quadratic weights."""
    icc: Estimate | None
    """ICC(2,1): markers drawn from many, absolute agreement."""
    alpha: float | None
    """Krippendorff's, interval."""
    reasons: dict[str, str] = field(default_factory=dict)


def agreement(first: ArrayLike, second: ArrayLike, levels: Sequence[float], step: float) -> Agreement:
    """How far two markers agree: exactly, within a step, by kappa and by bias.

    Parameters
    ----------
    first, second : array_like, shape (N,)
        Points of the same answers.
    levels : sequence of float
        What can be given, in rising order.
    step : float
        What still counts as adjacent.

    Returns
    -------
    Agreement

    Raises
    ------
    ValueError
        If the two are not of the same length, or a rating is not one of the levels.
    """
    vector, other = as_vector("first", first), as_vector("second", second)
    check_same_length(first=vector, second=other)
    if not len(vector):
        return Agreement(0, None, None, None, None, None, None, {"answers": "no answer has two marks yet"})
    apart = np.abs(vector - other)
    kappa = cohen_kappa(vector, other, levels, "quadratic")
    coefficients = intraclass(np.column_stack([vector, other]))
    alpha = krippendorff_alpha(np.vstack([vector, other]))
    reasons = {}
    if alpha is None:
        reasons["alpha"] = "all of these marks are the same"
    if kappa is None:
        reasons["kappa"] = "all of these marks are the same, so there is nothing to agree about beyond chance"
    if coefficients is None:
        reasons["icc"] = "it needs two answers that differ"
    return Agreement(
        answers=len(vector),
        exact=float(np.mean(apart < 1e-9)),
        adjacent=float(np.mean(apart < step + 1e-9)),
        difference=float(np.mean(other - vector)),
        kappa=kappa,
        icc=coefficients.absolute if coefficients else None,
        alpha=alpha,
        reasons=reasons,
    )


def cohen_kappa(
    first: ArrayLike, second: ArrayLike, levels: Sequence[float], weights: Weights = "none"
) -> Estimate | None:
    """Agreement of two markers beyond chance, with a 95% interval.

    Parameters
    ----------
    first, second : array_like, shape (N,)
        Ratings of the same answers.
    levels : sequence of float
        What can be given, in rising order.
    weights : {"none", "linear", "quadratic"}, default "none"
        How a disagreement counts: fully, or by its distance in steps of `levels`, plain or squared.

    Returns
    -------
    Estimate or None
        None where chance alone agrees fully, or where N is 0.

    Raises
    ------
    ValueError
        For a rating that is not one of the levels.

    References
    ----------
    Cohen, J. (1960). *Educational and Psychological Measurement*, 20, 37-46; (1968). *Psychological Bulletin*, 70,
    213-220. Fleiss, J. L., Cohen, J., & Everitt, B. S. (1969). *Psychological Bulletin*, 72, 323-327: the interval.

    Examples
    --------
    >>> kappa = cohen_kappa([0, 0, 1, 1], [0, 1, 1, 1], levels=[0, 1])
    >>> kappa.value
    0.5
    """
    one, other = _placed(first, levels), _placed(second, levels)
    check_same_length(first=one, second=other)
    if not len(one):
        return None
    size = len(levels)
    shares = np.zeros((size, size))
    np.add.at(shares, (one, other), 1 / len(one))
    steps = np.abs(np.subtract.outer(np.arange(size), np.arange(size)))
    agree = np.eye(size) if weights == "none" else 1 - (steps / max(1, size - 1)) ** POWER[weights]
    rows, columns = shares.sum(axis=1), shares.sum(axis=0)
    observed, chance = float((agree * shares).sum()), float(rows @ agree @ columns)
    if 1 - chance < 1e-12:
        return None
    value = (observed - chance) / (1 - chance)
    expected = (agree @ columns)[:, None] + (rows @ agree)[None, :]
    spread = (shares * (agree - expected * (1 - value)) ** 2).sum() - (value - chance * (1 - value)) ** 2
    half = float(Z95 * np.sqrt(max(0.0, float(spread)) / len(one)) / (1 - chance))
    return Estimate(value, max(-1.0, value - half), min(1.0, value + half))


def _placed(ratings: ArrayLike, levels: Sequence[float]) -> NDArray[np.intp]:
    values, known = as_vector("ratings", ratings), as_vector("levels", levels, least=1)
    place: NDArray[np.intp] = np.clip(np.searchsorted(known, values - 1e-9), 0, len(known) - 1)
    if not np.allclose(known[place], values):
        raise ValueError("A rating is not one of the levels.")
    return place


def krippendorff_alpha(ratings: ArrayLike, level: Level = "interval") -> float | None:
    """Agreement of any number of markers, with answers that some did not mark.

    Parameters
    ----------
    ratings : array_like, shape (raters, answers)
        NaN where one is missing.
    level : {"nominal", "ordinal", "interval", "ratio"}, default "interval"
        Of measurement.

    Returns
    -------
    float or None
        None where nothing varies, or no answer has two ratings.

    References
    ----------
    Krippendorff, K. (2011). *Computing Krippendorff's alpha-reliability*.

    Examples
    --------
    >>> round(krippendorff_alpha([[1, 2, 3, 3], [1, 2, 3, 4]]), 3)
    0.889
    """
    table = as_table("ratings", ratings)
    table = table[:, (~np.isnan(table)).sum(axis=0) >= 2]
    values = np.unique(table[~np.isnan(table)])
    if len(values) < 2:
        return None
    counts = (table[:, :, None] == values).sum(axis=0).astype(float)
    """(answers, values)."""
    rated = counts.sum(axis=1)
    coincidences = (counts[:, :, None] * counts[:, None, :] / (rated - 1)[:, None, None]).sum(axis=0)
    coincidences -= np.diag((counts / (rated - 1)[:, None]).sum(axis=0))
    marginal = coincidences.sum(axis=1)
    apart = _apart(values, marginal, level)
    expected = float((np.outer(marginal, marginal) * apart).sum()) / (float(marginal.sum()) - 1)
    return 1 - float((coincidences * apart).sum()) / expected


def _apart(values: Floats, marginal: Floats, level: Level) -> Floats:
    """Squared differences between values, as the level of measurement has them."""
    if level == "nominal":
        return 1 - np.eye(len(values))
    if level == "interval":
        return np.subtract.outer(values, values) ** 2
    ranks = np.cumsum(marginal) - marginal / 2
    return np.subtract.outer(ranks, ranks) ** 2


@dataclass(frozen=True)
class Intraclass:
    """Intraclass correlations of single marks (Shrout & Fleiss 1979)."""

    one_way: Estimate
    """ICC(1,1): each answer has markers of its own."""
    absolute: Estimate
    """ICC(2,1): the same markers throughout, drawn from many; how harsh one is counts as error."""
    consistent: Estimate
    """ICC(3,1): these markers and no others; how harsh one is does not count."""


def intraclass(ratings: ArrayLike) -> Intraclass | None:
    """Intraclass correlations of markers: one way, absolute agreement, consistency.

    Parameters
    ----------
    ratings : array_like, shape (answers, markers)
        None missing.

    Returns
    -------
    Intraclass or None
        With 95% intervals; where markers agree wholly the interval is the point itself. None with fewer than two of
        either, or where nothing varies.

    References
    ----------
    Shrout, P. E., & Fleiss, J. L. (1979). Intraclass correlations: uses in assessing rater reliability.
    *Psychological Bulletin*, 86, 420-428; that of ICC(2,1) with Satterthwaite's degrees of freedom, p. 424.
    """
    table = as_table("ratings", ratings, missing=False)
    n, k = table.shape
    if n < 2 or k < 2 or np.ptp(table) == 0:
        return None
    grand = table.mean()
    between = k * float(((table.mean(axis=1) - grand) ** 2).sum()) / (n - 1)
    judges = n * float(((table.mean(axis=0) - grand) ** 2).sum()) / (k - 1)
    within = float(((table - table.mean(axis=1, keepdims=True)) ** 2).sum()) / (n * (k - 1))
    error = max(0.0, (within * n * (k - 1) - judges * (k - 1)) / ((n - 1) * (k - 1)))
    return Intraclass(
        one_way=_from_f(between, within, k, n - 1, n * (k - 1)),
        absolute=_absolute(between, judges, error, n, k),
        consistent=_from_f(between, error, k, n - 1, (n - 1) * (k - 1)),
    )


def _from_f(between: float, rest: float, k: int, df: int, df_rest: int) -> Estimate:
    """ICC(1,1) and ICC(3,1), which are functions of one F ratio."""
    whole = between + (k - 1) * rest
    value = (between - rest) / whole if whole > NOTHING else 0.0
    if rest <= 1e-12:
        return Estimate(value, value, value)
    ratio = between / rest
    low = ratio / f_quantile(0.975, df, df_rest)
    high = ratio * f_quantile(0.975, df_rest, df)
    return Estimate(value, (low - 1) / (low + k - 1), (high - 1) / (high + k - 1))


def _absolute(between: float, judges: float, error: float, n: int, k: int) -> Estimate:
    whole = between + (k - 1) * error + k * (judges - error) / n
    if whole <= NOTHING:
        # Two of opposite minds, [[1, 0], [0, 1]]: the coefficient has no value there, and nothing above the least that
        # it can be is shown.
        return Estimate(-1 / (k - 1), -1 / (k - 1), 1.0)
    value = (between - error) / whole
    if error <= 1e-12:
        return Estimate(value, value, value) if judges <= 1e-12 else Estimate(value, 0.0, 1.0)
    ratio = judges / error
    share = n * (1 + (k - 1) * value) - k * value
    df = (k - 1) * (n - 1) * (k * value * ratio + share) ** 2 / ((n - 1) * (k * value * ratio) ** 2 + share**2)
    up, down = (f_quantile(0.975, *dfs) for dfs in ((n - 1, df), (df, n - 1)))
    if not np.isfinite(up + down):
        return Estimate(value, min(value, -1 / (k - 1)), 1.0)  # no degree of freedom is left: everything is possible
    rest = k * judges + (k * n - k - n) * error
    low = n * (between - up * error) / (up * rest + n * between)
    high = n * (down * between - error) / (rest + n * down * between)
    # Satterthwaite's degrees of freedom leave the value outside where markers disagree more than by chance.
    return Estimate(value, min(low, value), max(high, value))


def severity(ratings: ArrayLike) -> Floats | None:
    """How many points each marker gives less than the others would.

    Least squares of answer and marker effects, so that who had the weaker answers is not taken for harsh.

    Parameters
    ----------
    ratings : array_like, shape (answers, markers)
        NaN where a marker did not mark an answer.

    Returns
    -------
    ndarray of float, shape (markers,), or None
        Summing to 0; positive is harsher. None where the marks do not tie all markers together: then nobody can say
        who is harsh and who had the weak answers.

    Examples
    --------
    >>> severity([[3, 2], [5, 4], [4, 3]]).round(3).tolist()
    [-0.5, 0.5]
    """
    # Only here: the graph routines take a third of the time in which the whole command starts.
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    table = as_table("ratings", ratings)
    answers, markers = np.nonzero(~np.isnan(table))
    n, k = table.shape
    if k < 2 or not len(answers):
        return None
    links = coo_matrix((np.ones(len(answers)), (markers, k + answers)), shape=(k + n, k + n))
    _, parts = connected_components(links, directed=False)
    if len(set(parts[:k])) > 1:
        return None
    design = np.zeros((len(answers), n + k))
    at = np.arange(len(answers))
    design[at, answers] = design[at, n + markers] = 1
    effects = np.linalg.lstsq(design, table[answers, markers], rcond=None)[0][n:]
    return np.asarray(effects.mean() - effects, float)
