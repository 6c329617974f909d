"""Pieces of work measured by comparison: which of two is the better, over and over."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .checks import Floats, as_vector, check_same_length, check_within

PRIOR_SD = 1.5
"""Of measures, in logits. It holds a piece that has won or lost every comparison at a place, and keeps the scale from
seeming surer than it is where pairs are chosen by the measures so far (`docs/methods.md`)."""
STEPS = 60
NEAR_ENOUGH = 1e-9
FEWEST_FOR_A_FIT = 8
"""Comparisons of a judge or a piece from which misfit is told."""


@dataclass(frozen=True)
class PairMeasures:
    """Pieces on one scale, in logits about a mean of 0.

    measures, errors: of each piece; NaN where it was never compared. separation: the scale separation reliability, the
    share of the measures' variance that is not error; None with fewer than two pieces that were compared.
    """

    measures: Floats
    errors: Floats
    separation: float | None


def measure_pairs(better: ArrayLike, worse: ArrayLike, pieces: int, prior_sd: float = PRIOR_SD) -> PairMeasures:
    """Measures by the model of Bradley and Terry, most likely under a light normal prior.

    The chance that a piece is judged better than another is the logistic function of the difference of their measures.

    Parameters
    ----------
    better, worse : array_like of int, shape (N,)
        Of each comparison, which piece was judged the better and which the worse; 0 to `pieces` less 1.
    pieces : int
        How many there are.
    prior_sd : float, default 1.5
        Standard deviation of the prior, in logits.

    Returns
    -------
    PairMeasures

    Raises
    ------
    ValueError
        If a piece is compared with itself or is not among the pieces, if the two are not of the same length, or if the
        prior has no width.

    References
    ----------
    Bradley, R. A., & Terry, M. E. (1952). *Biometrika*, 39, 324-345. Pollitt, A. (2012). *Assessment in Education*, 19,
    281-300: comparing work, separation reliability. Bramley, T., & Vitello, S. (2019). *Assessment in Education*, 26,
    43-58: how choosing pairs by measure raises it.

    Examples
    --------
    >>> measure_pairs([0, 0, 1, 0], [1, 2, 2, 1], pieces=3).measures.round(2).tolist()
    [1.16, -0.2, -0.96]
    """
    first, second = _places(better, worse, pieces)
    check_within("prior_sd", prior_sd, 1e-6)
    values, precision = np.zeros(pieces), 1 / prior_sd**2
    for _step in range(STEPS):
        chance = _chance(values, first, second)
        slope = np.bincount(first, 1 - chance, pieces) - np.bincount(second, 1 - chance, pieces) - precision * values
        step = np.linalg.solve(_information(chance, first, second, pieces, precision), slope)
        # Far from the top a whole step of Newton's may overshoot.
        values = values + step * min(1.0, 2.0 / max(float(np.abs(step).max(initial=0)), 1e-12))
        if np.abs(step).max(initial=0) < NEAR_ENOUGH:
            break
    spread = np.linalg.inv(_information(_chance(values, first, second), first, second, pieces, precision))
    compared = np.bincount(np.concatenate([first, second]), minlength=pieces) > 0
    values = values - (values[compared].mean() if compared.any() else 0)
    # Of the distance from the mean: where the whole scale stands is nobody's error.
    errors = np.sqrt(np.maximum(np.diag(spread) - 2 * spread.mean(axis=1) + spread.mean(), 0))
    values, errors = np.where(compared, values, np.nan), np.where(compared, errors, np.nan)
    return PairMeasures(values, errors, _separation(values[compared], errors[compared]))


def _places(better: ArrayLike, worse: ArrayLike, pieces: int) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    first, second = as_vector("better", better).astype(np.intp), as_vector("worse", worse).astype(np.intp)
    check_same_length(better=first, worse=second)
    both = np.concatenate([first, second])
    if len(both) and (both.min() < 0 or both.max() >= pieces):
        raise ValueError("a comparison names a piece that is not among the pieces")
    if np.any(first == second):
        raise ValueError("a piece cannot be compared with itself")
    return first, second


def _chance(values: Floats, first: NDArray[np.intp], second: NDArray[np.intp]) -> Floats:
    """That the first of each two is judged the better."""
    return np.asarray(1 / (1 + np.exp(values[second] - values[first])), float)


def _information(
    chance: Floats, first: NDArray[np.intp], second: NDArray[np.intp], pieces: int, precision: float
) -> Floats:
    weight = chance * (1 - chance)
    result = np.zeros((pieces, pieces))
    np.add.at(result, (first, second), -weight)
    np.add.at(result, (second, first), -weight)
    result[np.diag_indices(pieces)] = np.bincount(first, weight, pieces) + np.bincount(second, weight, pieces)
    result[np.diag_indices(pieces)] += precision
    return result


def _separation(values: Floats, errors: Floats) -> float | None:
    if len(values) < 2:
        return None
    seen = float(values.var(ddof=1))
    return max(0.0, 1 - float(np.mean(errors**2)) / seen) if seen > 0 else 0.0


@dataclass(frozen=True)
class Misfit:
    """How far comparisons of a judge, or of a piece, go against the scale.

    infit: the mean of squared residuals over what the model expects; 1 as expected. surprise: by how many standard
    deviations it is above that; None with too few comparisons to tell.
    """

    comparisons: int
    infit: float
    surprise: float | None


def misfits(better: ArrayLike, worse: ArrayLike, of: ArrayLike, measures: ArrayLike, count: int) -> list[Misfit]:
    """By judge, or by piece, how far comparisons go against the scale.

    Parameters
    ----------
    better, worse : array_like of int, shape (N,)
        As in `measure_pairs`.
    of : array_like of int, shape (N,)
        Whose each comparison is, 0 to `count` less 1. For pieces give each comparison twice, once for each.
    measures : array_like, shape (pieces,)
        Of the pieces.
    count : int
        How many judges, or pieces, there are.

    Returns
    -------
    list of Misfit
        One for each.

    Raises
    ------
    ValueError
        If they are not of the same length, or a piece has no measure.

    Notes
    -----
    A residual is 1 less the chance of what was judged. Its expected square is ``p q``, and the variance of that
    ``p q (p - q)^2``, of a comparison with chances p and q (Wright & Masters 1982, *Rating Scale Analysis*, ch. 5).
    """
    values = as_vector("measures", measures, missing=True)
    first, second = _places(better, worse, len(values))
    whose = as_vector("of", of).astype(np.intp)
    check_same_length(better=first, of=whose)
    chance = _chance(values, first, second)
    if np.any(np.isnan(chance)):
        raise ValueError("a piece that was compared has no measure")
    weight = chance * (1 - chance)
    comparisons = np.bincount(whose, minlength=count)
    squares = np.bincount(whose, (1 - chance) ** 2, count)
    expected = np.bincount(whose, weight, count)
    variance = np.bincount(whose, weight * (2 * chance - 1) ** 2, count)
    return [
        Misfit(
            int(n),
            float(seen / want) if want > 0 else 1.0,
            float((seen - want) / np.sqrt(var)) if n >= FEWEST_FOR_A_FIT and var > 0 else None,
        )
        for n, seen, want, var in zip(comparisons, squares, expected, variance, strict=True)
    ]


@dataclass(frozen=True)
class MarkLine:
    """Marks on a straight line of measures, through pieces whose mark is known."""

    at_mean: float
    per_logit: float
    scatter: float
    """Standard deviation of the known marks about the line; 0 where two pieces alone fix it."""

    def mark(self, measure: float, most: float) -> float:
        """The mark of a measure, from 0 to the most that can be had."""
        return min(most, max(0.0, self.at_mean + self.per_logit * measure))


def marks_through(measures: ArrayLike, errors: ArrayLike, marks: ArrayLike) -> MarkLine:
    """A line from measures to marks through anchors, pieces whose mark is known.

    Least squares with the anchors weighted by how well each is measured.

    Parameters
    ----------
    measures, errors, marks : array_like, shape (K,)
        Of the anchors.

    Returns
    -------
    MarkLine

    Raises
    ------
    ValueError
        With fewer than two anchors, with anchors that share one measure, or where better pieces have lower marks.

    Examples
    --------
    >>> round(marks_through([-1.0, 1.0], [0.3, 0.3], [4.0, 8.0]).mark(0.5, 10), 6)
    7.0
    """
    at, noise, known = as_vector("measures", measures), as_vector("errors", errors), as_vector("marks", marks)
    check_same_length(measures=at, errors=noise, marks=known)
    if len(at) < 2 or np.ptp(at) < 1e-6:
        raise ValueError("two pieces of known mark that differ are needed at least")
    weight = 1 / np.maximum(noise, 0.05) ** 2
    middle, level = np.average(at, weights=weight), np.average(known, weights=weight)
    per = float(np.sum(weight * (at - middle) * (known - level)) / np.sum(weight * (at - middle) ** 2))
    if per <= 0:
        raise ValueError("the better pieces have the lower marks")
    left = known - level - per * (at - middle)
    scatter = float(np.sqrt(np.sum(left**2) / (len(at) - 2))) if len(at) > 2 else 0.0
    return MarkLine(float(level - per * middle), per, scatter)
