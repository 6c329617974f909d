"""How often what was planted is found, and how often a clean question is accused: simulated classes of 24 with 20
questions of four options, one wrong key and two shared ideas (each held by half of the average students)."""

import numpy as np

from tests.core.tables import choices
from versomark.core.findings.flags import Flag, Thresholds, find_flags
from versomark.core.stats import item_measures
from versomark.stand_ins.class_of_students import SimulatedItem, answer_paper, make_class

CLASSES, STUDENTS, ITEMS, RESAMPLES = 200, 24, 20, 100
WRONG_KEY, IDEAS = 9, (4, 14)
OPTIONS = tuple("ABCD")


def one_class(seed: int) -> list[tuple[int, Flag, float, str]]:
    """Flags as item, flag, firmness, and the option named."""
    rng = np.random.default_rng(seed)
    hard = rng.uniform(-1.2, 1.2, ITEMS)
    items = [
        SimulatedItem(OPTIONS, "B", float(hard[j]), {"C": f"idea {j}"} if j in IDEAS else {}) for j in range(ITEMS)
    ]
    students = make_class(STUDENTS, {f"idea {j}": 0.5 for j in IDEAS}, rng)
    rows = ["".join(given or "-" for given in answer_paper(student, items, rng)) for student in students]
    table = choices(rows, "".join("D" if j == WRONG_KEY else "B" for j in range(ITEMS)))
    found = find_flags(table, item_measures(table), Thresholds(), RESAMPLES, seed)
    return [
        (one.item, one.flag, one.firmness, table.items[one.item].options[one.options[0]].label if one.options else "")
        for one in found
    ]


def run() -> None:
    every = [one_class(seed) for seed in range(CLASSES)]
    clean = ITEMS - 1 - len(IDEAS)
    print(f"flags, {CLASSES} classes of {STUDENTS} with {ITEMS} questions, at each firmness")
    print(f"  {'':<12}{'wrong key':>11}{'accused':>10}{'idea':>9}{'accused':>10}   of clean questions")
    for name, least in (("hint", 0.5), ("likely", 0.7), ("clear", 0.9)):
        held = [[one for one in found if one[2] >= least] for found in every]
        key = np.mean([any(one[:2] == (WRONG_KEY, Flag.CHECK_THE_KEY) and one[3] == "B" for one in f) for f in held])
        idea = np.mean(
            [[any(one[:2] == (j, Flag.SHARED_IDEA) and one[3] == "C" for one in f) for j in IDEAS] for f in held]
        )
        of_key = sum(len({one[0] for one in f if one[1] is Flag.CHECK_THE_KEY} - {WRONG_KEY, *IDEAS}) for f in held)
        of_idea = sum(len({one[0] for one in f if one[1] is Flag.SHARED_IDEA} - {WRONG_KEY, *IDEAS}) for f in held)
        rest = CLASSES * clean
        print(f"  {name:<12}{key:>11.1%}{of_key / rest:>10.1%}{idea:>9.1%}{of_idea / rest:>10.1%}")
