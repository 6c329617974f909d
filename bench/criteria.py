"""How true findings on rubrics are, at each word: levels out of order, criteria that measure something else, levels
that nobody is given. On real ratings in six steps (`bfi` of the R package psychTools: 2,800 people, five traits of five
statements; Revelle, Wilt & Rosenthal 2010) and on simulated marks with a halo, in both of which troubles are planted.
The first needs Debian's `r-cran-psych` and `r-cran-psychtools`."""

import csv
import io
import subprocess
from functools import cache

import numpy as np
from numpy.typing import NDArray

from versomark.core.findings.criteria import CriterionMarks, RubricFigures, rubric_figures
from versomark.core.findings.flags import Flag, Thresholds
from versomark.core.response_table import ItemColumn, ResponseTable

CLASSES = 400
SIZES = (12, 24, 60, 120, 240)
EXPORT = "library(psychTools); write.csv(bfi[,1:25], stdout(), row.names=FALSE, na='0')"
TRAITS = 5
REVERSED = (0, 8, 9, 10, 11, 21, 24)
"""A1, C4, C5, E1, E2, O2, O5: worded the other way (the help page of the data)."""
WORDS = ((0.95, 1.01, "almost certain"), (0.75, 0.95, "probable"))

Floats = NDArray[np.float64]


@cache
def ratings() -> Floats:
    """(N, 25) steps 0 to 5 of those who left nothing out, all turned the same way."""
    text = subprocess.run(["Rscript", "-e", EXPORT], check=True, capture_output=True, text=True).stdout
    table = np.array(list(csv.reader(io.StringIO(text)))[1:], dtype=float)
    table = table[(table > 0).all(axis=1)] - 1
    table[:, REVERSED] = 5 - table[:, REVERSED]
    return table


def real(rng: np.random.Generator) -> tuple[Floats, int]:
    """Everybody's ratings on five criteria of one trait, one of them of another trait half of the time: (N, 5), and its
    place or −1."""
    everyone, trait = ratings(), int(rng.integers(TRAITS))
    columns = [5 * trait + j for j in range(5)]
    odd = -1
    if rng.random() < 0.5:
        odd = int(rng.integers(5))
        columns[odd] = int(rng.choice([j for j in range(25) if j // 5 != trait]))
    return everyone[:, columns].copy(), odd


def simulated(rng: np.random.Generator) -> tuple[Floats, int]:
    """The same of 3,000 imagined students: an ability, a halo over the piece of work, four criteria of three to six
    levels with cuts at random places, one half of the time on another ability."""
    ability, halo, other = rng.normal(size=(3, 3000))
    odd = int(rng.integers(4)) if rng.random() < 0.5 else -1
    columns = []
    for at in range(4):
        own = rng.uniform(0.1, 0.3) * ability + other if at == odd else ability
        seen = own + rng.uniform(0.3, 0.8) * halo * (at != odd) + rng.uniform(0.5, 1.1) * rng.normal(size=3000)
        cuts = np.sort(rng.normal(scale=1.2, size=int(rng.integers(2, 6))))
        columns.append(np.digitize(seen, cuts).astype(float))
    return np.column_stack(columns), odd


def figures(points: Floats, most: Floats) -> RubricFigures:
    item = ItemColumn("q1", float(most.sum()), ())
    table = ResponseTable(
        tuple(map(str, range(len(points)))),
        (item,),
        points.sum(axis=1, keepdims=True),
        np.full((len(points), 1), -1, np.int16),
        np.ones((len(points), 1), bool),
    )
    criteria = [CriterionMarks(str(j), float(m), tuple(np.arange(m + 1)), points[:, j]) for j, m in enumerate(most)]
    return rubric_figures(criteria, table, 0, Thresholds(probable=0.5, almost_certain=0.75))


def run() -> None:
    print(f"rubrics, {CLASSES} classes each; true at each word (of how many), and found of those planted")
    for name, generator in (("real ratings", real), ("simulated", simulated)):
        for students in SIZES:
            print(f"  {name:<14}{students:>4} students  {_judge(generator, students)}")


def _judge(generator: object, students: int) -> str:
    said: dict[Flag, list[tuple[float, bool]]] = {
        Flag.LEVELS_OUT_OF_ORDER: [],
        Flag.SOMETHING_ELSE: [],
        Flag.UNUSED_LEVELS: [],
    }
    planted = dict.fromkeys(said, 0)
    for seed in range(CLASSES):
        rng = np.random.default_rng([seed, students])
        everyone, odd = generator(rng)  # type: ignore[operator]
        turned = int(rng.integers(everyone.shape[1])) if rng.random() < 0.25 else -1
        if turned >= 0:
            low = int(rng.integers(everyone[:, turned].max()))
            column = everyone[:, turned]
            everyone[:, turned] = np.where(column == low, low + 1, np.where(column == low + 1, low, column))
        most = everyone.max(axis=0)
        here = everyone[rng.choice(len(everyone), size=students, replace=False)]
        everywhere = figures(everyone, most)
        means = [{level.points: level.rest for level in levels} for levels in everywhere.levels]
        shares = [{level.points: level.students / len(everyone) for level in levels} for levels in everywhere.levels]
        planted[Flag.LEVELS_OUT_OF_ORDER] += turned >= 0
        planted[Flag.SOMETHING_ELSE] += odd >= 0
        for f in figures(here, most).findings:
            at, points = f.criterion, [level.points for level in f.levels]
            true = (
                at == odd or everywhere.r_rest[at] < Thresholds.least_r
                if f.flag is Flag.SOMETHING_ELSE
                else means[at][points[1]] < means[at][points[0]]
                if f.flag is Flag.LEVELS_OUT_OF_ORDER
                else all(shares[at][p] < Thresholds.dead_share for p in points)
            )
            said[f.flag].append((f.probability, bool(true)))
    return "; ".join(_line(flag, rows, planted[flag]) for flag, rows in said.items())


def _line(flag: Flag, rows: list[tuple[float, bool]], planted: int) -> str:
    shown = Thresholds().shown_from(flag)
    parts = []
    for low, high, word in WORDS:
        true = [right for p, right in rows if low <= p < high and p >= shown]
        if true:
            parts.append(f"{word} {np.mean(true):.2f} ({len(true)})")
    hits = sum(right for p, right in rows if p >= shown)
    return f"{flag.value}: {', '.join(parts) or '–'}" + (f", found {hits / planted:.2f}" if planted else "")
