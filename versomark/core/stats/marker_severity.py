"""How harsh a marker is beside marks that were agreed on, and what taking that into account does to a mark."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from .checks import Floats, as_vector, check_same_length
from .distributions import t_quantile
from .raters import Estimate

FEWEST_FOR_AN_INTERVAL = 2


@dataclass(frozen=True)
class Closeness:
    """A marker beside agreed marks of the same answers.

    severity: how much less they give than was agreed on, positive for a harsh one. error: its standard error. lately:
    how much harsher they are in the later half than in the earlier. None where there are too few.
    """

    answers: int
    severity: Estimate | None
    error: float | None
    lately: Estimate | None


def closeness(agreed: ArrayLike, given: ArrayLike, step: float = 1) -> Closeness:
    """The severity of a marker from answers whose mark was agreed on beforehand.

    Each mark is that of the answer, less the marker's severity, and chance: the additive model, in which the agreed
    mark stands for that of the answer. So severity is the mean of what the marker gave less; its interval is that of
    Student's t. `lately` compares the two halves of the marks, in the order in which they were given, by Welch's t.

    Parameters
    ----------
    agreed, given : array_like, shape (N,)
        Points of the same answers, in the order in which the marker gave theirs.
    step : float, default 1
        By how much points go up. Points that are rounded to it spread by it over the root of 12 at least, so that a
        marker who differs by the same each time is not known without error.

    Returns
    -------
    Closeness

    Raises
    ------
    ValueError
        If the two are not of the same length, or the step is not above 0.

    References
    ----------
    Braun, H. I. (1988). Understanding scoring reliability: experiments in calibrating essay readers. *Journal of
    Educational Statistics*, 13, 1-18 (the additive model; from memory). Welch, B. L. (1947). *Biometrika*, 34, 28-35.

    Examples
    --------
    >>> beside = closeness([4, 3, 5, 2], [3, 3, 4, 1])
    >>> beside.severity.value
    0.75
    """
    truth, points = as_vector("agreed", agreed), as_vector("given", given)
    check_same_length(agreed=truth, given=points)
    if step <= 0:
        raise ValueError("a step has to be above 0")
    less, least = truth - points, step**2 / 12
    if len(less) < FEWEST_FOR_AN_INTERVAL:
        return Closeness(len(less), None, None, None)
    error = float(np.sqrt(max(least, less.var(ddof=1)) / len(less)))
    return Closeness(len(less), _around(float(less.mean()), error, len(less) - 1), error, _lately(less, least))


def _around(value: float, error: float, freedom: float) -> Estimate:
    half = t_quantile(0.975, freedom) * error
    return Estimate(value, value - half, value + half)


def _lately(less: Floats, least: float) -> Estimate | None:
    early, late = less[: len(less) // 2], less[len(less) // 2 :]
    if len(early) < FEWEST_FOR_AN_INTERVAL:
        return None
    parts = [max(least, part.var(ddof=1)) / len(part) for part in (early, late)]
    freedom = sum(parts) ** 2 / sum(part**2 / (len(half) - 1) for part, half in zip(parts, (early, late), strict=True))
    return _around(float(late.mean() - early.mean()), float(np.sqrt(sum(parts))), float(freedom))


def shrunk(severities: ArrayLike, errors: ArrayLike) -> Floats:
    """Severities of the markers of one pile, drawn to their mean by how badly each is known.

    What differs between markers beyond the errors is estimated by moments; where nothing does, nobody is adjusted for
    more than the mean. An adjustment that took a severity as it was measured would add its error to every mark.

    Parameters
    ----------
    severities, errors : array_like, shape (M,)
        Of each marker, beside agreed marks; errors are standard errors.

    Returns
    -------
    ndarray of float, shape (M,)
        Drawn towards 0, the agreed marks' own severity, which is known.

    Raises
    ------
    ValueError
        If the two are not of the same length, or an error is below 0.

    References
    ----------
    Efron, B., & Morris, C. (1975). *Journal of the American Statistical Association*, 70, 311-319, about a known
    centre; the estimate of the spread is that by moments (common practice, no source).

    Examples
    --------
    >>> shrunk([1.0, -1.0], [0.0, 0.0]).tolist()
    [1.0, -1.0]
    """
    harsh, noise = as_vector("severities", severities), as_vector("errors", errors)
    check_same_length(severities=harsh, errors=noise)
    if np.any(noise < 0):
        raise ValueError("a standard error cannot be below 0")
    if not len(harsh):
        return harsh
    between = max(0.0, float(np.mean(harsh**2 - noise**2)))
    total = between + noise**2
    return np.asarray(harsh * np.divide(between, total, out=np.ones_like(total), where=total > 0), float)


def adjusted(mark: float, severity: float, most: float) -> float:
    """A mark with its marker's severity taken out, never below 0 or above the most that can be had. No marks and full
    marks stay as they are: at the ends a marker's severity hardly shows, and nobody gets marks for an empty answer.

    Raises
    ------
    ValueError
        If the mark is not from 0 to `most`.

    Examples
    --------
    >>> adjusted(3, 0.5, 6), adjusted(0, 0.5, 6), adjusted(5.8, 0.5, 6)
    (3.5, 0, 6)
    """
    if not 0 <= mark <= most:
        raise ValueError("the mark has to be from 0 to the most that can be had")
    return mark if mark in (0, most) else min(most, max(0.0, mark + severity))
