"""Classes unlike those of `versomark.stand_ins`: nothing there is assumed here.

Two abilities that go together (r = .7), each question asking for one of them; slopes, difficulties and numbers of
options that differ, questions at the floor and at the ceiling among them. Who does not know strikes out the options
they see through, which is more of them the abler they are, and takes one of the rest by its pull; pulls are drawn from
Dirichlet(1, …, 1) and so are very unequal, and one sound question in ten is hard with a single popular distractor.
Ideas are continuous traits with a threshold. One student in twelve is careless, one in seven runs out of time
before the last fifth and then leaves the rest or guesses it blindly. The class is better or worse than the scale it
is drawn on.
"""

import numpy as np
from numpy.typing import NDArray

from .planted import Planted, PlantedClass, class_of

Floats = NDArray[np.float64]
HARDLY_ANYBODY = 0.10
"""Of a class: where fewer knew it, that it was guessed is true, whatever was planted."""


def make_class(students: int, items: int, rng: np.random.Generator, troubled: bool = True) -> PlantedClass:
    """A class with two ideas (one of them in two questions half of the time), and each of a wrong key, a second right
    answer and a question that nobody can do half of the time; or, untroubled, with sound questions only."""
    planted, idea_of = _plan(items, rng, troubled)
    shift = rng.normal(0, 0.4)
    shared = rng.normal(size=students)
    ability = shift + np.sqrt(0.7) * shared[:, None] + np.sqrt(0.3) * rng.normal(size=(students, 2))
    traits = rng.normal(size=(students, 3)) - 0.3 * shared[:, None]
    careless = rng.random(students) < 1 / 12
    choice = np.full((students, items), -1)
    options, keys, option = [], [], []
    asked = rng.integers(2, size=items)
    for j, kind in enumerate(planted):
        answers, places, key, named, planted[j] = make_item(kind, ability[:, asked[j]], traits[:, idea_of[j]], rng)
        slips = careless & (rng.random(students) < 0.15)
        answers = np.where(slips, rng.integers(places, size=students), answers)
        answers = np.where(rng.random(students) < 0.02, -1, answers)
        choice[:, j] = answers
        options.append(places)
        keys.append(key)
        option.append(named)
    _run_out(choice, options, rng)
    return class_of(choice, options, keys, planted, option, ability[:, asked])


def _plan(items: int, rng: np.random.Generator, troubled: bool) -> tuple[list[Planted], list[int]]:
    planted, idea_of = [Planted.FAIR] * items, [0] * items
    if troubled:
        at = iter(rng.permutation(items).tolist())
        for idea in range(2):
            for _ in range(1 + (idea == 0 and rng.random() < 0.5)):
                j = next(at)
                planted[j], idea_of[j] = Planted.SHARED_IDEA, idea
        for kind in (Planted.WRONG_KEY, Planted.TWO_RIGHT, Planted.GUESSING):
            if rng.random() < 0.5:
                planted[next(at)] = kind
    return planted, idea_of


def make_item(
    kind: Planted, ability: Floats, trait: Floats, rng: np.random.Generator
) -> tuple[NDArray[np.int64], int, int, int, Planted]:
    """Answers, the number of options, the key, the option that is to be named, and what is true of it in the end."""
    students = len(ability)
    places = int(rng.choice([3, 4, 5], p=[0.2, 0.6, 0.2]))
    if kind is Planted.FAIR and rng.random() < 0.08:
        places = 2
    truth = int(rng.integers(places))
    wrong = [k for k in range(places) if k != truth]
    pull = np.zeros(places)
    pull[wrong] = rng.dirichlet(np.ones(places - 1)) * (places - 1)
    pull[truth] = rng.uniform(0.5, 1.5)
    slope, hard = rng.lognormal(0.25, 0.35), rng.normal(-0.2, 0.9)
    rival = int(rng.choice(wrong))
    if kind is Planted.FAIR:
        if rng.random() < 0.08:
            hard = rng.choice([-3.0, 2.5])
        elif places > 2 and rng.random() < 0.1:
            hard = rng.uniform(0.7, 1.4)
            pull[wrong], pull[rival] = 0.4, 2.5
    knows = rng.random(students) < _logistic(slope * (ability - hard))
    answers = _of_those_who_guess(pull, truth, ability - hard, rng)
    answers[knows] = truth
    key, named = truth, -1
    if kind is Planted.FAIR and knows.mean() < HARDLY_ANYBODY:
        kind = Planted.GUESSING
    elif kind is Planted.GUESSING:
        even = 0.7 + 0.6 * rng.random(places)
        answers = rng.choice(places, size=students, p=even / even.sum())
    elif kind is Planted.TWO_RIGHT:
        named = rival
        answers[knows & (rng.random(students) < rng.uniform(0.35, 0.65))] = rival
    elif kind is Planted.WRONG_KEY:
        key, named = rival, truth
    elif kind is Planted.SHARED_IDEA:
        named = rival
        drawn = rng.random(students) < _logistic(3.0 * (trait - rng.uniform(-0.5, 0.4)))
        answers[drawn] = rival
    return answers, places, key, named, kind


def _of_those_who_guess(pull: Floats, truth: int, edge: Floats, rng: np.random.Generator) -> NDArray[np.int64]:
    """The abler strike out more of the wrong options before they take one; the best liked is struck out last."""
    students, places = len(edge), len(pull)
    seen_through = _logistic(edge - 0.5)[:, None] * (1 - 0.5 * pull / max(pull.max(), 1e-9))
    struck = rng.random((students, places)) < seen_through
    struck[:, truth] = False
    weight = np.where(struck, 0.0, pull + 0.02)
    bars = np.cumsum(weight, axis=1)
    return np.asarray((rng.random(students)[:, None] * bars[:, -1:] > bars).sum(1))


def _run_out(choice: NDArray[np.int64], options: list[int], rng: np.random.Generator) -> None:
    students, items = choice.shape
    for i in np.flatnonzero(rng.random(students) < 1 / 7):
        start = int(items * rng.uniform(0.8, 0.98))
        guesses = rng.random() < 0.5
        for j in range(start, items):
            choice[i, j] = rng.integers(options[j]) if guesses else -1


def _logistic(x: Floats) -> Floats:
    return np.asarray(1 / (1 + np.exp(-x)))
