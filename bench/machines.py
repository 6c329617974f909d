"""The same crowd on one process with a file, on one with PostgreSQL, and on two with PostgreSQL and Redis: how far each
goes on this machine, which the students' devices share with it. Loopback only; bounded in number, rate and time."""

import asyncio
import json
import os
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path

import numpy as np
import psycopg

from bench.online import STANDING, Crowd, Standing, in_file, sit, stolen
from tests import servers
from tests.e2e.serving import ROOT, environment, free_port, school_in, start

MOST_ANSWERS_A_SECOND = 70.0
"""The rate is bounded, so that more students answer more seldom."""
SIZES = [int(size) for size in os.environ.get("VERSO_CROWDS", "250,1000,2000").split(",")]


def crowd(students: int) -> Crowd:
    opening = max(12.0, students / 40)
    return Crowd(students, opening, 30.0, max(12.0, students / 60), max(5.0, students / MOST_ANSWERS_A_SECOND))


@contextmanager
def service(processes: int, postgresql: bool) -> Iterator[tuple[list[str], "str | Path"]]:
    """Addresses of its processes, and where its rows stand."""
    with ExitStack() as stack:
        data = Path(stack.enter_context(tempfile.TemporaryDirectory())) / "school"
        school_in(data, demo=True)
        more = {"VERSO_CONNECTIONS": "20000"}
        if postgresql:
            more["DATABASE_URL"] = stack.enter_context(servers.postgres(safe=True))
            subprocess.run(
                [sys.executable, "manage.py", "move_school", more["DATABASE_URL"]],
                cwd=ROOT, env=environment(data), check=True, stdout=subprocess.DEVNULL,
            )  # fmt: skip
            if processes > 1:
                more["REDIS_URL"] = stack.enter_context(servers.redis())
        ports = [free_port() for _ in range(processes)]
        running = [start(data, port, more) for port in ports]
        try:
            yield [f"127.0.0.1:{port}" for port in ports], more.get("DATABASE_URL", data)
        finally:
            for server in running:
                server.terminate()
            for server in running:
                server.wait()


def in_postgresql(address: str) -> Standing:
    with psycopg.connect(address) as database:
        rows = database.execute(STANDING).fetchall()
    return {(seat, item): json.loads(told) if isinstance(told, str) else told for seat, item, told in rows}


def run() -> None:
    print("one sitting in several classes at once, ms; devices and service share this machine")
    heads = ("", "students", "answers/s", "median", "p95", "p99", "kept", "stolen")
    print("  " + " ".join(f"{head:>12}" for head in heads))
    for name, processes, postgresql in (("file", 1, False), ("PostgreSQL", 1, True), ("two", 2, True)):
        with service(processes, postgresql) as (hosts, place):
            for students in SIZES:
                sat_by = crowd(students)
                before = stolen()
                sat = asyncio.run(
                    sit(hosts, sat_by, lambda: in_file(place) if isinstance(place, Path) else in_postgresql(place))
                )
                taken, ticks = (now - then for now, then in zip(stolen(), before, strict=True))
                p50, p95, p99 = np.percentile(sat.spent["answer"], [50, 95, 99])
                rate = len(sat.spent["answer"]) / sat_by.answering
                kept = f"{sat.standing}/{sat.acknowledged}"
                print(
                    f"  {name:>12} {students:>12} {rate:>12.0f} {p50:>12.0f} {p95:>12.0f} {p99:>12.0f} {kept:>12}"
                    f" {100 * taken / max(1, ticks):>11.0f}%",
                    flush=True,
                )
