"""Score groups whose borders are shared by everyone who stands on them.

With a class of 24 the top 27% is 6.48 students, and several of them share the score at the border. Taking the first
ones in the list would make the figures depend on the order of the class list, so students tied at a border share the
remaining places equally, as weights (Kelley 1939 for the 27%; the sharing is our convention).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .checks import check_within

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ScoreBlocks:
    """Students gathered by equal total. `block` (N,) is each student's place among the ascending `values` (B,)."""

    values: Floats
    block: NDArray[np.intp]

    @classmethod
    def of(cls, totals: Floats) -> "ScoreBlocks":
        # Rounded, so that 0.1 + 0.2 and 0.3 are one score.
        values, block = np.unique(np.round(totals, 9), return_inverse=True)
        return cls(values, block.reshape(-1))

    def group_shares(self, weights: Floats, shares: Sequence[float]) -> Floats:
        """How much of each student belongs to each score group.

        weights: (R, N), how often each student counts in each of R weightings; ones for the students as they are.
        shares: G shares of the students, weakest group first, adding to 1.
        Returns (R, G, B): the fraction of a student of block b that belongs to group g. Over the groups it adds
        to 1, and weighted over the students of a weighting each group holds its share exactly.
        """
        in_block = np.stack([np.bincount(self.block, w, minlength=len(self.values)) for w in weights])
        ends = np.cumsum(in_block, axis=1)
        starts = ends - in_block
        borders = np.concatenate([[0.0], np.cumsum(shares)])
        borders[-1] = 1.0
        low = borders[:-1][None, :, None] * ends[:, -1][:, None, None]
        high = borders[1:][None, :, None] * ends[:, -1][:, None, None]
        overlap = np.minimum(high, ends[:, None, :]) - np.maximum(low, starts[:, None, :])
        fractions: Floats = np.clip(overlap, 0, None) / np.where(in_block > 0, in_block, 1)[:, None, :]
        return fractions


def trace_groups(students: int) -> int:
    """Number of equal score groups for option traces.

    Common practice, no source: at these sizes a group keeps about 20 students or more once it leaves thirds behind.

    Parameters
    ----------
    students : int
        At least 0.

    Returns
    -------
    int
        3 under 60 students, 4 under 150, then 5.

    Examples
    --------
    >>> [trace_groups(students) for students in (24, 60, 150)]
    [3, 4, 5]
    """
    check_within("students", students, 0)
    return 3 if students < 60 else 4 if students < 150 else 5
