"""Classical analysis and the Rasch model beside R, in one run on the same machine and data: psych's alpha with its item
statistics, eRm's conditional likelihood. Without R, only ours is measured."""

import resource
import shutil
import subprocess
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

STUDENTS, ITEMS = 25_000, 60
SCALE_STUDENTS, SCALE_ITEMS = 2_000, 40

R_CLASSICAL = """suppressMessages(library(psych)); x <- as.matrix(read.csv("{file}", header = FALSE))
t <- system.time(a <- suppressWarnings(psych::alpha(as.data.frame(x), check.keys = FALSE)))["elapsed"]
cat(t, a$total$raw_alpha)"""
R_RASCH = """suppressMessages(library(eRm)); x <- as.matrix(read.csv("{file}", header = FALSE))
t <- system.time(m <- RM(x))["elapsed"]; cat(t, -coef(m)[1])"""


def answers(students: int, items: int) -> np.ndarray:
    rng = np.random.default_rng(11)
    hard = np.linspace(-1.5, 1.5, items)
    return (rng.random((students, items)) < 1 / (1 + np.exp(hard - rng.normal(size=(students, 1))))).astype(float)


def timed(what: Callable[[], float]) -> tuple[float, float]:
    begun = time.perf_counter()
    value = what()
    return time.perf_counter() - begun, value


def by_r(script: str, data: np.ndarray) -> tuple[float, float] | None:
    if not shutil.which("Rscript"):
        return None
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "x.csv"
        np.savetxt(file, data, fmt="%d", delimiter=",")
        done = subprocess.run(["Rscript", "-e", script.format(file=file)], capture_output=True, text=True, check=True)
    seconds, value = done.stdout.split()
    return float(seconds), float(value)


def line(name: str, ours: tuple[float, float], theirs: tuple[float, float] | None, other: str) -> None:
    text = f"  {name:<44} ours {1000 * ours[0]:7.0f} ms"
    if theirs is None:
        print(f"{text}   (R with {other} is not installed)")
    else:
        print(f"{text}   {other} {1000 * theirs[0]:8.0f} ms   {theirs[0] / ours[0]:6.1f} times (target 10)")
        assert abs(ours[1] - theirs[1]) < 1e-3, (name, ours, theirs)


def run() -> None:
    import pandas as pd
    import pingouin

    from tests.core.tables import points
    from versomark.core.stats import item_measures, reliability
    from versomark.core.stats.partial_credit import fit_partial_credit, fits, place_persons

    print("analysis beside R and pingouin")
    data = answers(STUDENTS, ITEMS)
    table = points(data.tolist(), maxima=[1] * ITEMS)

    def classical() -> float:
        item_measures(table)
        return reliability(table).alpha

    classical()
    ours = timed(classical)
    name = f"alpha and items, {STUDENTS:,} x {ITEMS}"
    line(name, ours, by_r(R_CLASSICAL, data), "psych")
    theirs = timed(lambda: float(pingouin.cronbach_alpha(pd.DataFrame(data))[0]))
    print(f"  {'alpha alone':<44} ours {1000 * ours[0]:7.0f} ms   pingouin {1000 * theirs[0]:5.0f} ms")

    data = answers(SCALE_STUDENTS, SCALE_ITEMS)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    ours = timed(lambda: float(fit_partial_credit(data).difficulty[0]))
    line(f"Rasch, conditional, {SCALE_STUDENTS:,} x {SCALE_ITEMS}", ours, by_r(R_RASCH, data), "eRm")
    scale = fit_partial_credit(data)
    whole = timed(lambda: float(fits(scale, data, place_persons(scale, data).theta)[0].infit[0]))
    more = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    name = "students placed, fit of items and students"
    print(f"  {name:<44} ours {1000 * whole[0]:7.0f} ms   {more:.0f} MB more memory")
