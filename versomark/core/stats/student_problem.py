"""The student–problem table (Sato 1975): students and questions each in order, and how far a row or a column is from
what that order leads one to expect."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .checks import Floats, as_flags

Ints = NDArray[np.int64]


@dataclass(frozen=True)
class StudentProblem:
    """students, problems: places in the order of the table, best students and easiest problems first; equal ones keep
    their order. student_curve: (N,) how many problems each student, in that order, has right; problem_curve: (n,) how
    many students have each problem right. caution, modified: of each student and each problem, in their own order,
    where the row or column varies and its expected pattern does; NaN else.
    """

    students: Ints
    problems: Ints
    student_curve: Ints
    problem_curve: Ints
    student_caution: Floats
    student_modified: Floats
    problem_caution: Floats
    problem_modified: Floats


def student_problem(right: NDArray[np.bool_]) -> StudentProblem:
    """Students by problems, both in order, and how far each departs from that order.

    Parameters
    ----------
    right : ndarray of bool, shape (N, n)

    Returns
    -------
    StudentProblem
        Caution index: 1 - cov(row, column totals) / cov(the row with the same number right on the easiest problems,
        column totals), 0 for a row as the order has it, about 1 for one by chance. The modified index runs from 0
        to 1, for the row that is as much against the order as can be.

    Raises
    ------
    ValueError
        If right is not two-dimensional.

    References
    ----------
    Sato, T. (1975), as in Harnisch, D. L., & Linn, R. L. (1981). Analysis of item response patterns. *Journal of
    Educational Measurement*, 18, 133-146.
    """
    right = as_flags("right", right, 2)
    rows, columns = right.sum(axis=1), right.sum(axis=0)
    students, problems = np.argsort(-rows, kind="stable"), np.argsort(-columns, kind="stable")
    student = _cautions(right.astype(float), columns.astype(float))
    problem = _cautions(right.T.astype(float), rows.astype(float))
    return StudentProblem(
        students=students,
        problems=problems,
        student_curve=rows[students],
        problem_curve=columns[problems],
        student_caution=student[0],
        student_modified=student[1],
        problem_caution=problem[0],
        problem_modified=problem[1],
    )


def _cautions(table: Floats, totals: Floats) -> tuple[Floats, Floats]:
    """Caution and modified caution of each row of (R, C) zeros and ones; `totals` (C,) orders the columns."""
    falling = np.sort(totals)[::-1]
    first = np.concatenate([[0.0], np.cumsum(falling)])
    last = np.concatenate([[0.0], np.cumsum(falling[::-1])])
    count = table.sum(axis=1).astype(int)
    earned = table @ totals
    best, worst, chance = first[count], last[count], count * totals.mean()
    with np.errstate(divide="ignore", invalid="ignore"):
        caution = np.where(best > chance + 1e-12, (best - earned) / (best - chance), np.nan)
        modified = np.where(best > worst + 1e-12, (best - earned) / (best - worst), np.nan)
    return caution, modified
