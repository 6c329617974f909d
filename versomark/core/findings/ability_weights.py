"""Where each student stands on the grid of abilities, judged by the answers to all items but one."""

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import ResponseTable
from versomark.core.stats import not_reached

from .option_models import ABILITIES, STANDARD, logistic

Floats = NDArray[np.float64]

TYPICAL_SLOPE = 1.1
MARGINAL = 1.15
"""By how much a logit at the mean ability is steeper than the logit of the share of a whole class, at this slope."""


def first_likelihood(table: ResponseTable) -> Floats:
    """How well each ability goes with each answer, before anything is known of an item but how many earned it.

    Parameters
    ----------
    table : ResponseTable

    Returns
    -------
    ndarray of float, shape (N, n, G)
        Logarithms; 0 where an item was not taken or not reached, which tells nothing of ability.
    """
    earned = np.divide(table.points, table.maxima, out=np.zeros_like(table.points), where=table.maxima > 0)
    share = (earned.sum(axis=0) + 0.5) / (table.takers + 1.0)
    chance = logistic(TYPICAL_SLOPE * ABILITIES + MARGINAL * np.log(share / (1 - share))[:, None])
    likelihood = earned[:, :, None] * np.log(chance) + (1 - earned)[:, :, None] * np.log1p(-chance)
    silent = ~table.taken | not_reached(table) | (table.maxima == 0)
    return np.where(silent[:, :, None], 0.0, likelihood)


def leave_one_out(likelihood: Floats) -> Floats:
    """Weights of the abilities of each student by all items but one.

    Parameters
    ----------
    likelihood : ndarray of float, shape (N, n, G)
        Logarithms, of each answer.

    Returns
    -------
    ndarray of float, shape (N, n, G)
        For each item left out; sums to 1 over the abilities.
    """
    rest = likelihood.sum(axis=1, keepdims=True) - likelihood + np.log(STANDARD)
    weights = np.exp(rest - rest.max(axis=2, keepdims=True))
    return np.asarray(weights / weights.sum(axis=2, keepdims=True))


def ability_bins(likelihood: Floats, most: int) -> NDArray[np.int64]:
    """Students of like ability taken together, so that a large class costs no more than a small one.

    Parameters
    ----------
    likelihood : ndarray of float, shape (N, n, G)
    most : int
        How many bins there are at most.

    Returns
    -------
    ndarray of int, shape (N,)
        The bin of each student, weakest first, of equal sizes; one a student where there are no more than `most`.
    """
    students = len(likelihood)
    if students <= most:
        return np.arange(students)
    whole = likelihood.sum(axis=1) + np.log(STANDARD)
    weights = np.exp(whole - whole.max(axis=1, keepdims=True))
    order = np.argsort(weights @ ABILITIES / weights.sum(axis=1), kind="stable")
    bins = np.empty(students, dtype=np.int64)
    bins[order] = np.arange(students) * most // students
    return bins
