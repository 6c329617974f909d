"""A question asked twice: who moved where between the rounds, and whether the move to the key is more than chance."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from .distributions import sign_test


@dataclass(frozen=True)
class RoundAnswer:
    """What one student said in one round: in words or as a letter, and whether it earns full marks."""

    says: str
    right: bool


@dataclass(frozen=True)
class Move:
    before: str
    after: str
    students: int


@dataclass(frozen=True)
class RoundsCompared:
    """students: those who answered in both rounds; everything else is about them.

    right_before, right_after: how many had it right. gained, lost: who moved to the key, and from it.
    p: McNemar's exact test; None where nobody moved across. moves: every pair of answers, most frequent first.
    """

    students: int
    right_before: int
    right_after: int
    gained: int
    lost: int
    p: float | None
    moves: tuple[Move, ...]


def compare_rounds(before: Mapping[str, RoundAnswer], after: Mapping[str, RoundAnswer]) -> RoundsCompared:
    """What changed between two rounds of a question, student by student.

    Parameters
    ----------
    before, after : mapping of str to RoundAnswer
        By student; who is in one alone is not compared.

    Returns
    -------
    RoundsCompared
        The test is two-sided and exact: of the students who moved across, as many as did or more extreme, if each
        way were as likely.

    References
    ----------
    McNemar, Q. (1947). *Psychometrika*, 12, 153-157, with the binomial in place of chi-square since classes are
    small.
    """
    both = [(before[student], after[student]) for student in before if student in after]
    gained = sum(not one.right and other.right for one, other in both)
    lost = sum(one.right and not other.right for one, other in both)
    moves = Counter((one.says, other.says) for one, other in both)
    return RoundsCompared(
        students=len(both),
        right_before=sum(one.right for one, _ in both),
        right_after=sum(other.right for _, other in both),
        gained=gained,
        lost=lost,
        p=sign_test(gained, lost) if gained + lost else None,
        moves=tuple(
            Move(one, other, count) for (one, other), count in sorted(moves.items(), key=lambda m: (-m[1], m[0]))
        ),
    )
