"""A simulated class of students: the stand-in for real ones in the demo, in rehearsals and in tests of the findings.

The model, in full. A student has an ability θ drawn from a normal distribution (mean 0, sd 1) and holds each wrong
idea independently, with odds that fall a little with ability: logit P = logit(held_by) − 0.4 θ. At an item that
offers options for ideas the student holds, they choose one of those with probability 0.8. Otherwise they know the
answer with probability 1 / (1 + exp(−1.6 (θ − difficulty))). Who does not know guesses among all options alike, or
leaves the question out with probability 0.04. One student in sixteen is slow and runs out of time: they reach a share
of the paper drawn evenly from 75% to 100%. The time with a question that they come to is log-normal: its median is
35 s × exp(0.3 difficulty − 0.1 θ), the standard deviation of its logarithm 0.45. Lessons against an idea leave it in
three of ten of those who held it, and each idea that was taught against adds 0.15 to θ. Nothing else enters; all draws
come from seeded generators.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

SLOPE = 1.6
IDEA_WINS = 0.8
LEAVES_OUT = 0.04
SLOW = 1 / 16
IDEA_SLOPE = 0.4
STAYS = 0.3
LEARNS = 0.15


@dataclass(frozen=True)
class SimulatedItem:
    """What a student meets: options by name, the one that is true, and the ideas that draw to others."""

    options: tuple[str, ...]
    truth: str
    difficulty: float
    ideas: Mapping[str, str]
    """option -> idea"""


@dataclass(frozen=True)
class SimulatedStudent:
    ability: float
    ideas: frozenset[str]
    reaches: float
    """Share of the paper they come to, 0 to 1."""


def make_class(size: int, held_by: Mapping[str, float], rng: np.random.Generator) -> list[SimulatedStudent]:
    """`held_by`: idea -> share of average students who hold it."""
    students = []
    for ability in rng.standard_normal(size):
        ideas_held = draw_ideas(ability, held_by, rng)
        reaches = rng.uniform(0.75, 1) if rng.random() < SLOW else 1.0
        students.append(SimulatedStudent(float(ability), ideas_held, float(reaches)))
    return students


def draw_ideas(ability: float, held_by: Mapping[str, float], rng: np.random.Generator) -> frozenset[str]:
    return frozenset(
        idea
        for idea, share in held_by.items()
        if rng.random() < _logistic(np.log(share / (1 - share)) - IDEA_SLOPE * ability)
    )


def after_teaching(student: SimulatedStudent, taught: Sequence[str], rng: np.random.Generator) -> SimulatedStudent:
    """The same student after lessons against the ideas that are named."""
    staying = {idea for idea in sorted(student.ideas) if idea not in taught or rng.random() < STAYS}
    return replace(student, ability=student.ability + LEARNS * len(taught), ideas=frozenset(staying))


def answer_paper(
    student: SimulatedStudent, items: Sequence[SimulatedItem], rng: np.random.Generator
) -> list[str | None]:
    """The option chosen at each item, None where nothing is given."""
    reached = int(np.ceil(student.reaches * len(items)))
    return [answer(student, item, rng) if at < reached else None for at, item in enumerate(items)]


def answer(student: SimulatedStudent, item: SimulatedItem, rng: np.random.Generator) -> str | None:
    drawn_to = [option for option, idea in item.ideas.items() if idea in student.ideas]
    if drawn_to and rng.random() < IDEA_WINS:
        return str(rng.choice(drawn_to))
    if rng.random() < _logistic(SLOPE * (student.ability - item.difficulty)):
        return item.truth
    if rng.random() < LEAVES_OUT:
        return None
    return str(rng.choice(item.options))


def seconds_on(student: SimulatedStudent, item: SimulatedItem, rng: np.random.Generator) -> float:
    return float(35 * np.exp(0.3 * item.difficulty - 0.1 * student.ability + 0.45 * rng.standard_normal()))


def _logistic(x: float) -> float:
    return float(1 / (1 + np.exp(-x)))
