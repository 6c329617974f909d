"""One pass over the responses: every sum that item measures need, for the students as they are or reweighted.

All item measures of `docs/methods.md` are functions of a few sums over students, and weighting students only changes
how often each of them counts. Weights are an (R, N) matrix, one row of ones for the class as it is, and every sum
comes out with a leading axis R. Each is one matrix product, which keeps 25,000 students linear in time and memory.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import ResponseTable

from .groups import Floats, ScoreBlocks

CHUNK = 4096
"""Students handled at once: keeps the indicator matrix of a chunk in the processor's cache."""


@dataclass(frozen=True)
class Sums:
    """Weighted sums; points and totals are centred on the unweighted means to keep their squares exact.

    R weightings, n items, K the largest number of options. Unused option places hold 0. Each item's sums go over the
    students who took it; where all took all, one column of sums (R, 1) serves for every item.
    """

    complete: bool
    students: Floats  # (R, 1 or n)
    total: Floats  # (R, 1 or n)   Σ t
    total2: Floats  # (R, 1 or n)  Σ t²
    point: Floats  # (R, n)        Σ x
    point2: Floats  # (R, n)       Σ x²
    point_total: Floats  # (R, n)  Σ x·t
    upper_students: Floats  # (R, 1 or n)
    lower_students: Floats  # (R, 1 or n)
    upper_point: Floats  # (R, n)
    lower_point: Floats  # (R, n)
    option: Floats  # (R, n, K)        students who chose it
    option_total: Floats  # (R, n, K)  Σ t over those who chose it
    option_upper: Floats  # (R, n, K)
    option_lower: Floats  # (R, n, K)
    option_points: Floats  # (n, K)    what choosing it earns, centred
    centre: Floats  # (n,)             the means taken off the points
    centre_total: float


def weighted_sums(table: ResponseTable, weights: Floats, share: float, blocks: ScoreBlocks) -> Sums:
    """All sums over students that item measures need, under each weighting.

    Parameters
    ----------
    table : ResponseTable
    weights : ndarray of float, shape (R, N)
    share : float
        Size of the end groups, 0 to 0.5.
    blocks : ScoreBlocks
        Of the totals of the table.

    Returns
    -------
    Sums
    """
    rows, (students, items) = len(weights), table.points.shape
    places = max((len(item.options) for item in table.items), default=0)
    fractions = blocks.group_shares(weights, (share, 1 - 2 * share, share))
    # Nobody who took an item leaves its centre at 0, which is as good as any.
    centre = table.points.sum(axis=0) / np.maximum(table.takers, 1)
    centre_total = float(table.standing.mean())

    moments = np.zeros((4, rows, items))
    squares = np.zeros((rows, items))
    options = np.zeros((4, rows, items * places))
    scalars = np.zeros((5, rows, 1 if table.complete else items))
    for start in range(0, students, CHUNK):
        at = slice(start, start + CHUNK)
        w, t, x = weights[:, at], table.standing[at] - centre_total, table.points[at] - centre
        who = np.ones((len(t), 1)) if table.complete else table.taken[at].astype(float)
        if not table.complete:
            x *= who
        lower = w * fractions[:, 0, blocks.block[at]]
        upper = w * fractions[:, 2, blocks.block[at]]
        sides = np.concatenate([w, w * t, upper, lower])
        moments += (sides @ x).reshape(4, rows, items)
        squares += w @ np.square(x)
        scalars += np.stack([w @ who, (w * t) @ who, (w * np.square(t)) @ who, upper @ who, lower @ who])
        if places:
            options += (sides @ _indicators(table.choice[at], places)).reshape(4, rows, items * places)

    earned = np.zeros((items, places))
    for j, item in enumerate(table.items):
        earned[j, : len(item.options)] = [option.points - centre[j] for option in item.options]
    shaped = options.reshape(4, rows, items, places)
    return Sums(
        complete=table.complete,
        students=scalars[0],
        total=scalars[1],
        total2=scalars[2],
        upper_students=scalars[3],
        lower_students=scalars[4],
        point=moments[0],
        point_total=moments[1],
        upper_point=moments[2],
        lower_point=moments[3],
        point2=squares,
        option=shaped[0],
        option_total=shaped[1],
        option_upper=shaped[2],
        option_lower=shaped[3],
        option_points=earned,
        centre=centre,
        centre_total=centre_total,
    )


def _indicators(choice: NDArray[np.int16], places: int) -> Floats:
    """(N, n·K) zeros and ones: which option of which item each student chose."""
    students, items = choice.shape
    indicators = np.zeros(students * items * places)
    first = np.arange(students * items, dtype=np.int64) * places
    flat = choice.reshape(-1)
    given = flat >= 0
    indicators[first[given] + flat[given]] = 1
    return indicators.reshape(students, items * places)
