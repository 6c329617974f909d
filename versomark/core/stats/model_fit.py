"""How well items and students go with a scale."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from .checks import Floats, as_table, as_vector, check_same_length
from .distributions import chi_square_tail
from .partial_credit import (
    NoScale,
    PartialCredit,
    fit_partial_credit,
)
from .persons import codes_on, moments


@dataclass(frozen=True)
class Fit:
    """Mean squares of residuals, 1 when as the model expects (Wright & Masters 1982), and their z.

    infit weighs by information, outfit does not, so that it hears of surprises far from a student's level.
    """

    infit: Floats
    outfit: Floats
    infit_z: Floats
    outfit_z: Floats


def fits(scale: PartialCredit, points: ArrayLike, theta: Floats) -> tuple[Fit, Fit]:
    """How well items and students go with a scale.

    Parameters
    ----------
    scale : PartialCredit
    points : array_like, shape (N, n)
    theta : ndarray of float, shape (N,)
        Places of the students; who has no finite one counts nowhere and has NaN.

    Returns
    -------
    items, students : Fit

    Raises
    ------
    ValueError
        If points and theta are not of the same number of students.

    References
    ----------
    Wright, B. D., & Masters, G. N. (1982). *Rating scale analysis*.
    """
    codes, theta = codes_on(scale, points), as_vector("theta", theta, missing=True)
    check_same_length(points=codes, theta=theta)
    # Students with the same total on the same items are at the same place, so there are few places.
    places, of = np.unique(np.where(np.isfinite(theta), theta, 0.0), return_inverse=True)
    of_items, of_students = np.zeros((6, codes.shape[1])), np.zeros((6, codes.shape[0]))
    # Item after item: all cells at once would take half of the memory of a large file.
    for at, thresholds in enumerate(scale.thresholds):
        expected, variance, _, fourth = (moment[of] for moment in moments(places, thresholds))
        squares = (codes[:, at] - expected) ** 2
        with np.errstate(divide="ignore", invalid="ignore"):
            terms = [squares / variance, squares, variance, fourth / variance**2, fourth - variance**2]
        counted = (codes[:, at] >= 0) & np.isfinite(theta)
        cells = np.where(counted, [np.ones(len(codes)), *terms], 0)
        of_items[:, at] = cells.sum(axis=1)
        of_students += cells
    return _fit(of_items), _fit(of_students)


def _fit(sums: Floats) -> Fit:
    """From sums (6, …) over cells: how many, standardised and plain squares of residuals, variances, and what the two
    mean squares spread by. z is by the cube root of Wilson & Hilferty (1931)."""
    n, standardised, squares, variance, spread_of_outfit, spread_of_infit = sums
    with np.errstate(divide="ignore", invalid="ignore"):
        outfit, infit = standardised / n, squares / variance
        spread_out = np.sqrt(spread_of_outfit / n**2 - 1 / n)
        spread_in = np.sqrt(spread_of_infit / variance**2)
        return Fit(infit, outfit, _cube(infit, spread_in), _cube(outfit, spread_out))


def _cube(mean_square: Floats, spread: Floats) -> Floats:
    return (np.cbrt(mean_square) - 1) * 3 / spread + spread / 3


@dataclass(frozen=True)
class Andersen:
    """Andersen's (1973) likelihood ratio test: whether items are as hard for the weaker half as for the stronger."""

    chi_square: float
    df: int
    p: float


def andersen_test(points: ArrayLike, scale: PartialCredit | None = None) -> Andersen:
    """Whether items are as hard for the weaker half as for the stronger: a likelihood ratio test.

    Students up to the median total against those above it, on the items that vary in both halves.

    Parameters
    ----------
    points : array_like, shape (N, n)
        NaN where an item was not given.
    scale : PartialCredit, optional
        Of the same points, where it is known already.

    Returns
    -------
    Andersen

    Raises
    ------
    NoScale
        Where a half cannot be put on a scale.

    References
    ----------
    Andersen, E. B. (1973). A goodness of fit test for the Rasch model. *Psychometrika*, 38, 123-140.
    """
    table = as_table("points", points)
    if scale is not None and scale.merged:
        raise NoScale("Steps of some questions are taken together, so the halves of the class cannot be compared.")
    totals = np.nansum(table, axis=1)
    low = totals <= np.median(totals)
    halves = [table[low], table[~low]]
    varies = np.all([[len(np.unique(x[~np.isnan(x)])) for x in half.T] for half in halves], axis=0)
    same = [
        len(set(map(tuple, (np.unique(half[~np.isnan(half[:, j]), j]) for half in halves)))) == 1
        for j in range(table.shape[1])
    ]
    use = np.flatnonzero(varies & np.array(same) & (np.array([len(np.unique(x[~np.isnan(x)])) for x in table.T]) > 1))
    if len(use) < 2:
        raise NoScale("The halves of the class are too small to compare the questions in them.")
    known = scale is not None and np.array_equal(scale.items, use)
    whole = scale if known and scale is not None else fit_partial_credit(table[:, use])
    parts = [fit_partial_credit(half[:, use]) for half in halves]
    if whole.merged or any(part.merged or len(part.items) < len(use) for part in parts):
        raise NoScale("The halves of the class are too small to compare the questions in them.")
    chi = 2 * (sum(part.log_likelihood for part in parts) - whole.log_likelihood)
    df = sum(part.parameters for part in parts) - whole.parameters
    return Andersen(float(chi), df, chi_square_tail(float(chi), df))
