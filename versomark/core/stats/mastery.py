"""Mastery of skills: the share of a skill's marks that a student earned, with an interval, and its band."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from versomark.core.scoring import Band, band_of
from versomark.core.scoring.bands import CUTS

from .checks import Floats, as_table, as_vector
from .intervals import part_mark_intervals, wilson

TOO_LITTLE = 3.0
"""Under so many marks nothing is said of a student (common practice, no source)."""


@dataclass(frozen=True)
class Mastery:
    """S skills. marks: (N, S) that each student could earn, and `of` (S,) the most of any. share, low, high: (N, S),
    NaN where a student has no marks of a skill; intervals take marks as trials, which is Wilson's for questions of
    one mark and wide for others. class_share, class_low, class_high: (S,), of all; there the students are the sample
    and not their marks, which hang together: with marks as trials .86, .69, .59 covered for 5, 10, 20 items."""

    skills: tuple[str, ...]
    marks: Floats
    of: Floats
    earned: Floats
    share: Floats
    low: Floats
    high: Floats
    class_share: Floats
    class_low: Floats
    class_high: Floats

    def band(self, student: int, skill: int, cuts: tuple[float, float] = CUTS) -> Band | None:
        """None where the marks are too few to say."""
        of = float(self.marks[student, skill])
        return band_of(float(self.earned[student, skill]), of, cuts) if of >= TOO_LITTLE else None


def mastery(points: ArrayLike, maxima: ArrayLike, skills: Sequence[Sequence[str]]) -> Mastery:
    """Shares of marks by student and skill, with bands and intervals.

    Parameters
    ----------
    points : array_like, shape (N, n)
        NaN where a student did not take an item.
    maxima : array_like, shape (n,)
        Marks of each item.
    skills : sequence of sequence of str
        Of each of the n items; an item with two skills counts in full for either.

    Returns
    -------
    Mastery
        Skills stand in the order in which they first occur.

    Raises
    ------
    ValueError
        If the three are not of the same number of items.
    """
    table, tops = as_table("points", points), as_vector("maxima", maxima)
    if not table.shape[1] == len(tops) == len(skills):
        raise ValueError(
            f"maxima and skills must be of as many items as points: {len(tops)}, {len(skills)} and {table.shape[1]}."
        )
    names = tuple(dict.fromkeys(skill for own in skills for skill in own))
    has = np.array([[name in own for name in names] for own in skills], float).reshape(len(skills), len(names))
    known = ~np.isnan(table)
    marks, earned = (known * tops) @ has, np.where(known, table, 0) @ has
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.where(marks > 0, earned / marks, np.nan)
        low, high = wilson(earned, marks)
        whole, due = earned.sum(axis=0), marks.sum(axis=0)
        class_low, class_high = part_mark_intervals(share, np.ones(share.shape[1]))
        # One student is no sample of students; there marks are the trials again.
        by_marks = wilson(whole, due)
        class_low = np.where(np.isnan(class_low), by_marks[0], class_low)
        class_high = np.where(np.isnan(class_high), by_marks[1], class_high)
        class_share = np.where(due > 0, whole / due, np.nan)
    of = marks.max(axis=0, initial=0.0)
    return Mastery(names, marks, of, earned, share, low, high, class_share, class_low, class_high)
