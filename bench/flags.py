"""How often what was planted is found, and how often a clean question is accused: simulated classes of 24 with 20
questions of four options, one wrong key and two shared ideas (each held by half of the average students). Of others
one has two right answers, which half of those who can do it choose each, and at one everybody guesses."""

import numpy as np

from tests.core.tables import choices
from versomark.core.findings.flags import Flag, Thresholds, find_flags
from versomark.core.stats import item_measures
from versomark.stand_ins.class_of_students import SimulatedItem, answer_paper, make_class

CLASSES, STUDENTS, ITEMS, RESAMPLES = 200, 24, 20, 100
WRONG_KEY, IDEAS, TWO_RIGHT, GUESSED = 9, (4, 14), 11, 17
PLANTED = {WRONG_KEY, *IDEAS, TWO_RIGHT, GUESSED}
OPTIONS = tuple("ABCD")


def one_class(seed: int) -> list[tuple[int, Flag, float, str]]:
    """Flags as item, flag, firmness, and the option named."""
    rng = np.random.default_rng(seed)
    hard = rng.uniform(-1.2, 1.2, ITEMS)
    items = [
        SimulatedItem(OPTIONS, "B", float(hard[j]), {"C": f"idea {j}"} if j in IDEAS else {}) for j in range(ITEMS)
    ]
    students = make_class(STUDENTS, {f"idea {j}": 0.5 for j in IDEAS}, rng)
    papers = [list(answer_paper(student, items, rng)) for student in students]
    for paper in papers:
        paper[GUESSED] = str(rng.choice(OPTIONS))
        if paper[TWO_RIGHT] == "B" and rng.random() < 0.5:
            paper[TWO_RIGHT] = "C"
    rows = ["".join(given or "-" for given in paper) for paper in papers]
    table = choices(rows, "".join("D" if j == WRONG_KEY else "B" for j in range(ITEMS)))
    flags = find_flags(table, item_measures(table), Thresholds(), RESAMPLES, seed)
    return [
        (
            entry.item,
            entry.flag,
            entry.firmness,
            table.items[entry.item].options[entry.options[0]].label if entry.options else "",
        )
        for entry in flags
    ]


def run() -> None:
    every = [one_class(seed) for seed in range(CLASSES)]
    rest = CLASSES * (ITEMS - len(PLANTED))
    print(f"flags, {CLASSES} classes of {STUDENTS} with {ITEMS} questions, at each firmness")
    heads = "".join(f"{what:>11}{'accused':>10}" for what in ("wrong key", "idea", "two right", "guessed"))
    print(f"  {'':<8}{heads}   (accused: of clean questions)")
    for name, least in (("hint", 0.5), ("likely", 0.7), ("clear", 0.9)):
        held = [[entry for entry in found if entry[2] >= least] for found in every]
        key = np.mean(
            [any(entry[:2] == (WRONG_KEY, Flag.CHECK_THE_KEY) and entry[3] == "B" for entry in f) for f in held]
        )
        idea = np.mean(
            [[any(entry[:2] == (j, Flag.SHARED_IDEA) and entry[3] == "C" for entry in f) for j in IDEAS] for f in held]
        )
        two = np.mean([any(entry[0] == TWO_RIGHT and entry[1] is Flag.TWO_RIGHT_ANSWERS for entry in f) for f in held])
        guess = np.mean([any(entry[:2] == (GUESSED, Flag.GUESSING) for entry in f) for f in held])
        accused = {
            flag: sum(len({entry[0] for entry in f if entry[1] is flag} - PLANTED) for f in held) / rest
            for flag in (Flag.CHECK_THE_KEY, Flag.SHARED_IDEA, Flag.TWO_RIGHT_ANSWERS, Flag.GUESSING)
        }
        cells = (
            f"{rate:>11.1%}{of:>10.1%}" for rate, of in zip((key, idea, two, guess), accused.values(), strict=True)
        )
        print(f"  {name:<8}{''.join(cells)}   works against {works(held):.1%}")


def works(held: list[list[tuple[int, Flag, float, str]]]) -> float:
    """Share of the clean questions that are said to work against the test."""
    said = sum(len({entry[0] for entry in f if entry[1] is Flag.WORKS_AGAINST} - PLANTED) for f in held)
    return said / (CLASSES * (ITEMS - len(PLANTED)))
