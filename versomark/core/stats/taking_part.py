"""Who takes part along a lesson: from when on, to when, and who has dropped out."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .checks import as_flags

ROUNDS_IN_A_ROW = 2
"""Without an answer at the end, from which a student is said to have dropped out: one is missed by anybody."""


@dataclass(frozen=True)
class TakingPart:
    """Per student, in the order of the rows.

    answered: in how many rounds. first, last: the index of their first and last round with an answer; −1 where there
    is none. late: whether they came after the first two rounds or later. dropped: whether they answered, and then
    nothing in the last two rounds or more.
    """

    answered: NDArray[np.int64]
    first: NDArray[np.int64]
    last: NDArray[np.int64]
    late: NDArray[np.bool_]
    dropped: NDArray[np.bool_]


def taking_part(answered: NDArray[np.bool_]) -> TakingPart:
    """Who answered how often over the rounds of a lesson, and who dropped out.

    Common practice, no source.

    Parameters
    ----------
    answered : ndarray of bool, shape (students, rounds)
        Rounds in the order in which they were asked.

    Returns
    -------
    TakingPart

    Raises
    ------
    ValueError
        If answered is not two-dimensional.
    """
    answered = as_flags("answered", answered, 2)
    students, rounds = answered.shape
    if rounds == 0:
        none, never = np.full(students, -1), np.zeros(students, bool)
        return TakingPart(np.zeros(students, np.int64), none, none, never, never)
    some = answered.any(axis=1)
    first = np.where(some, answered.argmax(axis=1), -1)
    last = np.where(some, rounds - 1 - answered[:, ::-1].argmax(axis=1), -1)
    return TakingPart(
        answered=answered.sum(axis=1),
        first=first,
        last=last,
        late=some & (first >= ROUNDS_IN_A_ROW),
        dropped=some & (last < rounds - ROUNDS_IN_A_ROW),
    )
