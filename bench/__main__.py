"""Speed, measured side by side in one run: `./verso bench`. Prints figures; asserts nothing about time."""

import csv
import gzip
import os
import re
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tests.core.tables import choices
from versomark.core.findings import analyse
from versomark.core.formats import read_responses
from versomark.core.scoring import ResponseTable
from versomark.core.stats import item_measures, reliability

ROOT = Path(__file__).resolve().parents[1]
ITEMS = 40


def best(call: Callable[[], object], times: int = 5) -> float:
    """The shortest of several runs in milliseconds: the one least disturbed by the machine."""
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        call()
        spent.append(time.perf_counter() - start)
    return 1000 * min(spent)


def responses(folder: Path, students: int) -> tuple[Path, Path]:
    """Random answers with some ability behind them, as the two CSV files."""
    rng = np.random.default_rng(1)
    ability = rng.normal(size=(students, 1))
    right = rng.random((students, ITEMS)) < 1 / (1 + np.exp(-(ability - np.linspace(-2, 2, ITEMS))))
    letters = np.where(right, "A", rng.choice(list("BCD"), size=right.shape))
    answers, key = folder / f"answers-{students}.csv", folder / "key.csv"
    with answers.open("w", newline="") as file:
        writer = csv.writer(file)
        writer.writerow(["student", *(f"q{j}" for j in range(ITEMS))])
        writer.writerows([f"s{i}", *row] for i, row in enumerate(letters.tolist()))
    key.write_text("item,key,max,options\n" + "".join(f"q{j},A,1,4\n" for j in range(ITEMS)))
    return answers, key


def one_numpy_pass(points: NDArray[np.float64], choice: NDArray[np.int16]) -> None:
    """What any item analysis must do at least: item means, the covariance matrix, option counts."""
    points.mean(axis=0)
    np.cov(points, rowvar=False)
    for column in choice.T:
        np.bincount(column + 1, minlength=5)


def statistics(table: ResponseTable) -> None:
    item_measures(table)
    reliability(table)


def bench_analyse(folder: Path) -> None:
    print("analyse, 40 items, from CSV to JSON, resampling off (a new process each)")
    for students in (12_500, 25_000, 50_000):
        answers, key = responses(folder, students)
        command = [sys.executable, "-m", "versomark.core.cli", answers, "--key", key, "--resamples", "0"]
        spent = best(lambda c=command: subprocess.run([*c, "--json", folder / "out.json"], check=True), 3)
        print(f"  {students:>6} students {spent:8.0f} ms   {1000 * spent / students:6.1f} µs a student")
    table = read_responses(*responses(folder, 25_000))
    ours, least = best(lambda: statistics(table)), best(lambda: one_numpy_pass(table.points, table.choice))
    print(f"  statistics alone {ours:.1f} ms, one NumPy pass {least:.1f} ms: ratio {ours / least:.2f} (target 4)")


def bench_findings() -> None:
    rng = np.random.default_rng(2)
    table = choices(["".join(rng.choice(list("AABCD"), size=ITEMS)) for _ in range(30)], "A" * ITEMS)
    print(f"findings, 30 students x {ITEMS} items, 200 resamples: {best(lambda: analyse(table)):.0f} ms (target 300)")


def bench_api() -> None:
    """Reads of the demo school through the whole stack of Django, in process."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "versomark.site.settings"
    import django

    django.setup()
    from django.core.management import call_command
    from django.test import Client

    from versomark.demo import loading

    call_command("migrate", verbosity=0)
    client = Client()
    client.force_login(loading.load(), backend="django.contrib.auth.backends.ModelBackend")
    print("API reads on the demo school, 60 each (target: p95 under 50 ms)")
    sittings = client.get("/api/sittings").json()
    closed = next(line["id"] for line in sittings if line["state"] == "closed")
    running = next(line["id"] for line in sittings if line["state"] == "open")
    for path in (
        "desk", "classes/1", "items", "tests", "tests/2", "sittings",
        f"sittings/{running}", f"sittings/{closed}/findings", "find?typed=lamp",
    ):  # fmt: skip
        spent = []
        for _ in range(60):
            start = time.perf_counter()
            assert client.get(f"/api/{path}").status_code == 200
            spent.append(1000 * (time.perf_counter() - start))
        print(f"  {path:<24} median {np.median(spent):6.1f} ms   p95 {np.quantile(spent, 0.95):6.1f} ms")


def bench_first_load() -> None:
    """Compressed bytes of every script that a page loads before it shows anything."""
    print("first load, compressed script")
    for page, target in (("index", 250), ("student", 90)):
        html = (ROOT / "web" / "dist" / f"{page}.html").read_text()
        names = set(re.findall(r'(?:src|href)="/static/([^"]+\.js)"', html))
        size = sum(len(gzip.compress((ROOT / "web" / "dist" / name).read_bytes())) for name in names)
        print(f"  {page:<8} {size / 1000:6.1f} kB in {len(names)} files (target {target} kB)")


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        bench_analyse(Path(folder))
    bench_findings()
    bench_api()
    bench_first_load()


if __name__ == "__main__":
    main()
