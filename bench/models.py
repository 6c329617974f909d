"""Classical analysis and the Rasch model beside R, in one run on the same machine and data: psych's alpha with its item
statistics, eRm's conditional likelihood. Without R, only ours is measured."""

import math
import os
import resource
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

STUDENTS, ITEMS = 25_000, 60
SCALE_STUDENTS, SCALE_ITEMS = 2_000, 40
GROWTH = (40, 100, 200, 300)

R_CLASSICAL = """suppressMessages(library(psych)); x <- as.matrix(read.csv("{file}", header = FALSE))
t <- system.time(a <- suppressWarnings(psych::alpha(as.data.frame(x), check.keys = FALSE)))["elapsed"]
cat(t, a$total$raw_alpha)"""
R_COMMAND = """suppressMessages(library(psych)); x <- read.csv("{file}", row.names = 1)
a <- suppressWarnings(psych::alpha(x, check.keys = FALSE)); write.csv(a$item.stats, "{file}.out")"""
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
        done = subprocess.run(["Rscript", "-e", script.format(file=file)], capture_output=True, text=True)
        if "there is no package" in done.stderr:
            return None
        done.check_returncode()
    seconds, value = done.stdout.split()
    return float(seconds), float(value)


MEASURED = """import os, subprocess, sys
process = subprocess.Popen(sys.argv[1:], stdout=subprocess.DEVNULL)
_, status, used = os.wait4(process.pid, 0)
print(used.ru_utime + used.ru_stime, used.ru_maxrss / 1024)
sys.exit(status != 0)"""


def command_seconds(command: list[str]) -> tuple[float, float]:
    """Processor time and the most memory (MB) of a whole process, which a small one starts: the system counts what a
    process was before it became another one."""
    environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
    done = subprocess.run(
        [sys.executable, "-c", MEASURED, *command], env=environment, capture_output=True, text=True, check=True
    )
    seconds, memory = map(float, done.stdout.split())
    return seconds, memory


def whole_command(data: np.ndarray, runs: int = 5) -> None:
    """`./verso analyse` with model, students and flags beside R's reading, alpha and item statistics, in turns."""
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "points.csv"
        heads = ",".join(["student", *(f"q{j}" for j in range(1, data.shape[1] + 1))])
        rows = (f"s{i},{','.join(map(str, row))}" for i, row in enumerate(data.astype(int).tolist(), start=1))
        file.write_text("\n".join([heads, *rows]) + "\n", encoding="utf-8")
        ours = [sys.executable, "-m", "versomark.core.cli", str(file), "--json", f"{file}.json"]
        start = min(command_seconds([*ours[:3], "--help"])[0] for _ in range(runs))
        print(f"  {'the command line starts':<44} ours {1000 * start:7.0f} ms   (target 400)")
        r = ["Rscript", "-e", R_COMMAND.format(file=file)] if shutil.which("Rscript") else None
        pairs = [(command_seconds(ours), command_seconds(r) if r else (math.nan, math.nan)) for _ in range(runs)]
        (seconds, memory), (r_seconds, r_memory) = (np.median(side, axis=0) for side in zip(*pairs, strict=True))
        name = f"analyse, model and flags, {len(data):,} x {data.shape[1]}"
        print(
            f"  {name:<44} ours {1000 * seconds:7.0f} ms   psych {1000 * r_seconds:8.0f} ms"
            f"   {r_seconds / seconds:6.1f} times (target 1)   memory {memory:.0f} and {r_memory:.0f} MB"
        )


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
    from versomark.core.stats.model_fit import fits
    from versomark.core.stats.partial_credit import fit_partial_credit
    from versomark.core.stats.persons import place_persons

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

    whole_command(data)
    data = answers(SCALE_STUDENTS, SCALE_ITEMS)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    ours = timed(lambda: float(fit_partial_credit(data).difficulty[0]))
    line(f"Rasch, conditional, {SCALE_STUDENTS:,} x {SCALE_ITEMS}", ours, by_r(R_RASCH, data), "eRm")
    grown = {items: timed(lambda n=items: fit_partial_credit(answers(500, n)).log_likelihood)[0] for items in GROWTH}  # type: ignore[misc]
    print(f"  {'Rasch, 500 students':<44} " + ", ".join(f"{n} items {1000 * t:.0f} ms" for n, t in grown.items()))
    scale = fit_partial_credit(data)
    whole = timed(lambda: float(fits(scale, data, place_persons(scale, data).theta)[0].infit[0]))
    more = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    name = "students placed, fit of items and students"
    print(f"  {name:<44} ours {1000 * whole[0]:7.0f} ms   {more:.0f} MB more memory")
