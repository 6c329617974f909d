"""Another test that asks the same: for each question the closest other one of the bank, no question twice.

Content comes first and statistics second: only questions on a common skill are compared at all, and among them those
of like difficulty and discrimination are paired, as Gulliksen paired the items of one test into two parallel halves
(Theory of Mental Tests, 1950, chapter 15, "matched random subtests"; from memory). Which question goes with which is
decided for all of them together, by the assignment of least total distance: the nearest one of each alone would be
claimed twice (van der Linden and Boekkooi-Timminga, Applied Psychological Measurement 12, 1988, pair the same way by
integer programming; from memory).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

UNKNOWN_APART = 1 / 3
"""How far apart two difficulties are taken to be where one is not known: the mean distance of two uniform numbers."""
OTHER_KIND, OTHER_MARKS, OTHER_SKILLS, OTHER_DISCRIMINATION = 0.15, 0.2, 0.2, 0.5
"""What a difference counts beside one of difficulty, which counts as it is. Our own weights, no source: another kind of
question as 15 points of difficulty; half the marks as 10; one skill of two in common as 10; a correlation with the rest
that is .20 higher as 10."""
_NEVER = 1e6


@dataclass(frozen=True)
class QuestionTraits:
    """What two questions are compared by.

    share: of its marks that students have earned, 0 to 1; r_rest: correlation with the rest of its test. None where the
    question was not used yet.
    """

    ref: str
    skills: frozenset[str]
    kind: str
    marks: float
    share: float | None = None
    r_rest: float | None = None


@dataclass(frozen=True)
class Alternatives:
    """For one question: the one suggested, None where no other is on its skills; and the nearest, that one first."""

    ref: str
    suggested: str | None
    nearest: tuple[str, ...]


def distance(question: QuestionTraits, other: QuestionTraits) -> float | None:
    """How unlike two questions are, in differences of the share of marks earned; None where they have no common skill.

    Parameters
    ----------
    question, other : QuestionTraits
        The questions, in either order.

    Returns
    -------
    float or None
        0 for two questions that nothing tells apart.
    """
    common, all_skills = question.skills & other.skills, question.skills | other.skills
    if not common:
        return None
    difficulty = UNKNOWN_APART if question.share is None or other.share is None else abs(question.share - other.share)
    discrimination = 0.0 if question.r_rest is None or other.r_rest is None else abs(question.r_rest - other.r_rest)
    marks = abs(question.marks - other.marks) / max(question.marks, other.marks, 1e-9)
    return (
        difficulty
        + OTHER_DISCRIMINATION * discrimination
        + OTHER_KIND * (question.kind != other.kind)
        + OTHER_MARKS * marks
        + OTHER_SKILLS * (1 - len(common) / len(all_skills))
    )


def alternatives(
    questions: Sequence[QuestionTraits], bank: Sequence[QuestionTraits], most: int = 6
) -> list[Alternatives]:
    """For each question of a test the closest other ones.

    Parameters
    ----------
    questions : sequence of QuestionTraits
        Those of the test, in order.
    bank : sequence of QuestionTraits
        What there is to choose from. Questions of the test among them are passed over.
    most : int
        How many are named for one question, at least 1.

    Returns
    -------
    list of Alternatives
        One a question, in order. No question is suggested twice, and as many as can be have a suggestion.

    Raises
    ------
    ValueError
        Where `most` is below 1.
    """
    if most < 1:
        raise ValueError("most must be at least 1")
    asked = {question.ref for question in questions}
    others = [other for other in bank if other.ref not in asked]
    if not questions or not others:
        return [Alternatives(question.ref, None, ()) for question in questions]
    apart = [[distance(question, other) for other in others] for question in questions]
    costs = np.array([[_NEVER if cost is None else cost for cost in row] for row in apart])
    # Loaded when it is needed: the rest of the core of tests does without.
    from scipy.optimize import linear_sum_assignment

    rows, columns = linear_sum_assignment(costs)
    pairs = {int(row): int(column) for row, column in zip(rows, columns, strict=True) if costs[row, column] < _NEVER}
    answers = []
    for at, question in enumerate(questions):
        order = np.argsort(costs[at], kind="stable")
        nearest = [int(column) for column in order if costs[at, column] < _NEVER]
        chosen = pairs.get(at)
        if chosen is not None:
            nearest = [chosen, *(column for column in nearest if column != chosen)]
        refs = tuple(others[column].ref for column in nearest[:most])
        answers.append(Alternatives(question.ref, refs[0] if chosen is not None else None, refs))
    return answers
