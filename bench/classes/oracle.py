"""What can be known at all of the classes of `unlike`: a judge that is told every student's ability and how often
each trouble is planted, and has seen thousands of questions of each kind made by the very same generator.

It is Bayes' theorem with the truth for a prior, so nothing that sees only the answers can do better in the long run.
"""

from functools import cache

import numpy as np
from numpy.typing import NDArray

from versomark.core.findings.explanations import Explanation, ItemExplanations, OptionProbability

from . import unlike
from .planted import Planted, PlantedClass

Floats = NDArray[np.float64]
GRID = np.linspace(-2.8, 2.8, 15)
QUESTIONS, STUDENTS = 1200, 250
"""Of each kind, seen by so many students at each ability."""
RATES = {
    Planted.WRONG_KEY: 0.5 / 20,
    Planted.TWO_RIGHT: 0.5 / 20,
    Planted.SHARED_IDEA: 2.5 / 20,
    Planted.GUESSING: 0.5 / 20,
}
KINDS = {
    Planted.FAIR: Explanation.FAIR,
    Planted.WRONG_KEY: Explanation.WRONG_KEY,
    Planted.TWO_RIGHT: Explanation.TWO_RIGHT,
    Planted.SHARED_IDEA: Explanation.SHARED_IDEA,
    Planted.GUESSING: Explanation.GUESSING,
}


@cache
def _seen() -> dict[tuple[Planted, int], Floats]:
    """By kind and number of options: (questions, K, grid) chances, the key first and then the option that is named."""
    rng = np.random.default_rng(5)
    ability = np.repeat(GRID, STUDENTS)
    curves: dict[tuple[Planted, int], list[Floats]] = {}
    for kind in Planted:
        for _ in range(QUESTIONS * (2 if kind is Planted.FAIR else 1)):
            trait = rng.normal(size=len(ability)) - 0.24 * ability
            answers, size, key, named, _ = unlike.make_item(kind, ability, trait, rng)
            share = np.stack([(answers == k).reshape(len(GRID), STUDENTS).mean(axis=1) for k in range(size)])
            first = [key, *([named] if named >= 0 else [])]
            rest = [k for k in range(size) if k not in first]
            curves.setdefault((kind, size), []).append(0.96 * share[first + rest] + 0.02 / size + 1e-4)
    return {key: np.array(value) for key, value in curves.items()}


def told(made: PlantedClass) -> list[ItemExplanations]:
    """The probability of each explanation of each item of a class of `unlike`."""
    return [_item(made, j) for j in range(len(made.table.items))]


def _item(made: PlantedClass, j: int) -> ItemExplanations:
    assert made.ability is not None
    size = len(made.table.items[j].options)
    key = next(k for k, option in enumerate(made.table.items[j].options) if option.key)
    choice = made.table.choice[:, j].astype(int)
    given = choice >= 0
    choice, ability = choice[given], made.ability[given, j]
    above = np.clip(np.searchsorted(GRID, ability), 1, len(GRID) - 1)
    part = np.clip((ability - GRID[above - 1]) / (GRID[above] - GRID[above - 1]), 0, 1)
    logs: dict[tuple[Explanation, int], float] = {}
    for kind, explanation in KINDS.items():
        curves = _seen().get((kind, size))
        if curves is None:
            continue
        rivals = [k for k in range(size) if k != key] if kind not in (Planted.FAIR, Planted.GUESSING) else [-1]
        rate = RATES.get(kind, 1 - sum(RATES.values())) / len(rivals)
        for rival in rivals:
            first = [key, *([rival] if rival >= 0 else [])]
            rest = [k for k in range(size) if k not in first]
            fits = []
            for turn in range(max(1, len(rest))):
                order = first + rest[turn:] + rest[:turn]
                place = np.array([order.index(k) for k in range(size)])[choice]
                chance = curves[:, place, above - 1] * (1 - part) + curves[:, place, above] * part
                fits.append(np.log(chance).sum(axis=1))
            every = np.concatenate(fits)
            logs[explanation, rival] = float(np.logaddexp.reduce(every) - np.log(len(every)) + np.log(rate))
    whole = np.logaddexp.reduce(list(logs.values()))
    shares = {key: float(np.exp(value - whole)) for key, value in logs.items()}

    def named(kind: Explanation) -> tuple[OptionProbability, ...]:
        return tuple(OptionProbability(k, p) for (of, k), p in shares.items() if of is kind)

    return ItemExplanations(
        shares.get((Explanation.FAIR, -1), 0.0),
        shares.get((Explanation.GUESSING, -1), 0.0),
        named(Explanation.WRONG_KEY),
        named(Explanation.TWO_RIGHT),
        named(Explanation.SHARED_IDEA),
    )
