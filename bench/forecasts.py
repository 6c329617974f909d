"""How good forecasts of a test are: a class sits it, another is foretold and then sits it. On simulated classes unlike
those that the forecast imagines (`bench/classes/unlike.py`: elimination, unequal options, two abilities, careless
students, a speeded end), and on real answers (`real_answers.py`; its people are one group, so that classes differ by
who is in them alone). The last needs R with psychTools."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from bench.classes import PlantedClass, real_answers, unlike
from versomark.core.editions.forecast import QuestionHistory, forecast
from versomark.core.stats import item_measures, reliability

TESTS = 300
CUT = 0.5

Floats = NDArray[np.float64]


def history(classes: list[PlantedClass]) -> list[QuestionHistory]:
    """What the bank keeps of the questions after these classes: means over students."""
    sat = np.array([len(made.table.students) for made in classes], float)
    measures = [item_measures(made.table) for made in classes]

    def mean(values: list[Floats]) -> Floats:
        known = np.isfinite(values)
        weights = sat[:, None] * known
        whole = weights.sum(axis=0)
        return np.divide(
            (weights * np.nan_to_num(values)).sum(axis=0), whole, out=np.full(len(whole), np.nan), where=whole > 0
        )

    share, rest = mean([m.p[0] for m in measures]), mean([m.r_rest[0] for m in measures])
    spread = mean([made.table.points.std(axis=0, ddof=1) for made in classes])
    alpha = float(np.nanmean([reliability(made.table).alpha for made in classes]))
    return [
        QuestionHistory(1, int(sat.sum()), len(classes), p, None if np.isnan(r) else r, alpha, s)
        for p, r, s in zip(share.tolist(), rest.tolist(), spread.tolist(), strict=True)
    ]


def halves(generator: object, students: int, items: int, classes: int, seed: int) -> list[PlantedClass]:
    """So many classes on the same questions."""
    rng = np.random.default_rng([seed, students, items])
    if generator is real_answers:
        return [real_answers.make_class(students, items, rng, False) for _ in range(classes)]
    together = unlike.make_class(students * classes, items, rng, False)
    # One big class on the same questions, cut into classes by ability: streams that overlap, as .15 of the variance.
    ability = together.ability.mean(axis=1) if together.ability is not None else rng.normal(size=students * classes)
    place = np.argsort(0.42 * ability + rng.normal(size=len(ability)))
    order = [place[k * students : (k + 1) * students] for k in rng.permutation(classes)]
    return [_some(together, rows) for rows in order]


def _some(made: PlantedClass, rows: NDArray[np.int64]) -> PlantedClass:
    table = made.table
    part = replace(
        table,
        students=tuple(table.students[i] for i in rows),
        points=table.points[rows],
        choice=table.choice[rows],
        answered=table.answered[rows],
        taken=table.taken[rows],
    )
    return replace(made, table=part)


def run() -> None:
    print(f"forecasts, {TESTS} tests each: inside nine times in ten, and how far the middle is off, in marks and alpha")
    for name, generator, items in (("unlike", unlike, 20), ("real answers", real_answers, 16)):
        for students in (12, 24, 60):
            for before in (1, 3):
                for known in (items, items // 2):
                    print(
                        f"  {name:<13}{students:>4} students, {before} before, {known:>2} of {items} known   ", end=""
                    )
                    print(_judge(generator, students, items, before, known))


def _judge(generator: object, students: int, items: int, before: int, known: int) -> str:
    inside, off = [], []
    for seed in range(TESTS):
        *earlier, now = halves(generator, students, items, before + 1, seed)
        asked = history(earlier)[:known] + [QuestionHistory(1)] * (items - known)
        predicted = forecast(asked, students, CUT)
        assert predicted is not None
        total, alpha = now.table.totals, reliability(now.table).alpha
        near = float((np.abs(total - CUT * items) <= predicted.margin).sum())
        rows = [
            (predicted.mean, total.mean()),
            (predicted.sd, total.std(ddof=1)),
            (predicted.reliability, alpha),
            (predicted.near_cut, near),
        ]
        inside.append([entry.low <= came <= entry.high for entry, came in rows])
        off.append([abs(entry.middle - came) for entry, came in rows])
    names = ("mean", "sd", "alpha", "near the cut")
    parts = zip(names, np.mean(inside, axis=0), np.nanmean(off, axis=0), strict=True)
    return "  ".join(f"{name} {share:.2f} ({far:.2f})" for name, share, far in parts)
