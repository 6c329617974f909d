"""Time on items: seconds that students had each item before them."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .checks import Floats, as_table


@dataclass(frozen=True)
class Times:
    """students: (n,) whose time is known. median, q1, q3: (n,) seconds, linear quantiles (type 7); NaN of nobody."""

    students: NDArray[np.int64]
    median: Floats
    q1: Floats
    q3: Floats


def times(seconds: Floats) -> Times:
    """How long items took, and students.

    Parameters
    ----------
    seconds : ndarray of float, shape (N, n)
        NaN where a student's time on an item is not known.

    Returns
    -------
    Times
        By medians, since one student who looks out of the window says nothing about the item.

    Raises
    ------
    ValueError
        If seconds is not two-dimensional.
    """
    seconds = as_table("seconds", seconds)
    if (seconds < 0).any():
        raise ValueError("seconds must not be negative.")
    known = ~np.isnan(seconds)
    result = np.full((3, seconds.shape[1]), np.nan)
    some = known.any(axis=0)
    if some.any():
        result[:, some] = np.nanquantile(seconds[:, some], [0.25, 0.5, 0.75], axis=0)
    students: NDArray[np.int64] = known.sum(axis=0)
    return Times(students, result[1], result[0], result[2])
