"""Classes of the project's own simulated students (`versomark.stand_ins`), with the same troubles planted."""

import numpy as np

from versomark.stand_ins.class_of_students import SimulatedItem, answer_paper
from versomark.stand_ins.class_of_students import make_class as simulated

from .planted import Planted, PlantedClass, class_of

OPTIONS = tuple("ABCD")


def make_class(students: int, items: int, rng: np.random.Generator, troubled: bool = True) -> PlantedClass:
    """Two ideas, each held by half of the average students, and each of the other troubles half of the time."""
    planted, option, keys = [Planted.FAIR] * items, [-1] * items, [1] * items
    if troubled:
        at = iter(rng.permutation(items).tolist())
        kinds = [Planted.SHARED_IDEA] * 2
        kinds += [kind for kind in (Planted.WRONG_KEY, Planted.TWO_RIGHT, Planted.GUESSING) if rng.random() < 0.5]
        for kind in kinds:
            planted[next(at)] = kind
    held = {j for j in range(items) if planted[j] is Planted.SHARED_IDEA}
    hard = rng.uniform(-1.2, 1.2, items)
    asked = [SimulatedItem(OPTIONS, "B", float(hard[j]), {"C": f"idea {j}"} if j in held else {}) for j in range(items)]
    people = simulated(students, {f"idea {j}": 0.5 for j in held}, rng)
    papers = [answer_paper(person, asked, rng) for person in people]
    choice = np.array([[-1 if given is None else OPTIONS.index(given) for given in paper] for paper in papers])
    for j, kind in enumerate(planted):
        given = choice[:, j] >= 0
        if kind is Planted.SHARED_IDEA:
            option[j] = 2
        elif kind is Planted.WRONG_KEY:
            keys[j], option[j] = 3, 1
        elif kind is Planted.TWO_RIGHT:
            option[j] = 2
            choice[(choice[:, j] == 1) & (rng.random(students) < 0.5), j] = 2
        elif kind is Planted.GUESSING:
            choice[given, j] = rng.integers(4, size=int(given.sum()))
    return class_of(choice, [4] * items, keys, planted, option)
