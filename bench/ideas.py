"""Ideas of students across questions: is an idea there as often as it is said to be, does the number of its holders
lie in its interval, and are those who are named the holders? On sound classes of two generators (`bench/classes`)
into which a continuous trait is put that draws students to an option of one, two or four questions; in two of five
there is none."""

from itertools import pairwise

import numpy as np

from bench.classes import PlantedClass, real_answers, unlike
from versomark.core.findings import explain
from versomark.core.findings.ideas import shared_ideas
from versomark.core.response_table import ItemColumn, OptionColumn, ResponseTable

CLASSES = 200
LINES = (0.0, 0.1, 0.5, 0.75, 0.95, 1.01)


def planted(made: PlantedClass, signs: int, rng: np.random.Generator) -> tuple[ResponseTable, np.ndarray, bool]:
    """The class with a noted option in so many questions, who holds the idea, and whether it is there at all."""
    table = made.table
    trait, threshold = rng.normal(size=len(table.students)), rng.uniform(-0.6, 0.6)
    is_there, works = rng.random() < 0.6, False
    choice, items = table.choice.copy(), list(table.items)
    several = [j for j, item in enumerate(items) if len(item.options) > 2]
    for j in rng.permutation(several)[:signs]:
        key = next(k for k, option in enumerate(items[j].options) if option.key)
        sign = int(rng.choice([k for k in range(len(items[j].options)) if k != key]))
        if is_there and rng.random() < 0.85:
            works = True
            drawn = rng.random(len(trait)) < 0.95 / (1 + np.exp(-4 * (trait - threshold)))
            choice[drawn & (choice[:, j] >= 0), j] = sign
        options = (
            OptionColumn(option.label, option.points, idea_note="an idea" if k == sign else "")
            for k, option in enumerate(items[j].options)
        )
        items[j] = ItemColumn(items[j].id, 1.0, tuple(options), number=j + 1)
    keys = [next(k for k, option in enumerate(item.options) if option.key) for item in items]
    points = (choice == keys).astype(float)
    return ResponseTable(table.students, tuple(items), points, choice, choice >= 0), trait > threshold, works


def run() -> None:
    print(f"ideas, {CLASSES} classes each; said: true, of an idea's being there and of a student's holding it")
    for generator in (unlike, real_answers):
        for students in (24, 60):
            for signs in (1, 2, 4):
                name = generator.__name__.split(".")[-1]
                print(f"  {name:<14}{students:>4} students {signs} signs  {_judge(generator, students, signs)}")


def _judge(generator: object, students: int, signs: int) -> str:
    said, true, held, holds, covered = [], [], [], [], []
    for seed in range(CLASSES):
        rng = np.random.default_rng([seed, students, signs])
        table, holders, there = planted(generator.make_class(students, 16, rng, False), signs, rng)  # type: ignore[attr-defined]
        (idea,) = shared_ideas(explain(table))
        said.append(idea.probability)
        true.append(there)
        if there and idea.probability >= 0.5:
            covered.append(idea.low <= holders.sum() <= idea.high)
            held += idea.holding.tolist()
            holds += holders.tolist()
    found = np.mean(np.array(said)[np.array(true)] >= 0.5)
    return (
        f"there {_calibrated(said, true)}  found {found:.2f}  number covered {np.mean(covered):.2f}"
        f"  holders {_calibrated(held, holds)}"
    )


def _calibrated(said: list[float], true: list[bool]) -> str:
    p, right = np.array(said), np.array(true)
    parts = []
    for low, high in pairwise(LINES):
        inside = (p >= low) & (p < high)
        parts.append(f"{p[inside].mean():.2f}: {right[inside].mean():.2f}" if inside.any() else "–")
    return " ".join(parts)
