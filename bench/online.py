"""Five hundred students at once, on loopback: they open their papers together, answer every five seconds with drafts of
a long answer between, and hand in within a minute, while the teacher watches. Every answer is looked for afterwards."""

import asyncio
import json
import sqlite3
import tempfile
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from dataclasses import dataclass, field
from http.client import HTTPConnection
from pathlib import Path
from typing import Any, NamedTuple
from urllib.parse import urlsplit
from uuid import uuid4

import numpy as np
from websockets.asyncio.client import connect

from bench.room import Client, class_of, teacher_at
from tests.e2e.serving import served


@dataclass(frozen=True)
class Crowd:
    """How many sit a test, and the seconds over which they come in, work (an answer every so often) and hand in."""

    students: int = 500
    opening: float = 20.0
    answering: float = 60.0
    handing_in: float = 60.0
    every: float = 5.0


MOST_IN_A_CLASS = 400
WATCHES_EVERY = 1.0
"""The teacher's page asks again after a nudge at most so often, in seconds."""
THREADS = 48


Standing = dict[tuple[int, str], Any]
"""Seat and question -> the answer that stands in the database."""


@dataclass
class Phone(Client):
    """A student's browser: one connection that stays, and what it sent."""

    sent: dict[str, Any] = field(default_factory=dict)
    seat: int = 0
    sequence: int = 0
    line: HTTPConnection | None = None
    used: float = 0.0

    def call(self, method: str, path: str, body: object = None) -> Any:
        # The server closes what is idle for 75 seconds; a browser opens another connection then.
        if self.line is None or time.monotonic() - self.used > 70:
            self.line = HTTPConnection(self.host, timeout=60)
        self.used = time.monotonic()
        headers = {"Cookie": self.cookie, "Content-Type": "application/json"}
        if "verso_csrf" in self.cookies:
            headers["X-Verso-Csrf"] = self.cookies["verso_csrf"]
        self.line.request(method, path, json.dumps(body) if body is not None else None, headers)
        reply = self.line.getresponse()
        for entry in reply.headers.get_all("Set-Cookie") or []:
            name, _, value = entry.partition(";")[0].partition("=")
            self.cookies[name] = value
        data = reply.read()
        assert reply.status == 200, (path, reply.status, data[:200])
        return json.loads(data)


def prepared(teacher: Client, students: int) -> tuple[int, str, list[str]]:
    """An open sitting of a test with a long answer in it: its id, code and the students' passes."""
    class_id, passes = class_of(teacher, students)
    editions = teacher.call("GET", "/api/v1/editions")
    edition = next(edition["id"] for edition in editions if "everything" in edition["title"])
    sitting = teacher.call(
        "POST", "/api/v1/sittings", {"edition": edition, "class_id": class_id, "rules": {"minutes": 60}}
    )
    page = teacher.call("POST", f"/api/v1/sittings/{sitting['id']}/steps/open")
    return sitting["id"], page["code"], passes


class Sat(NamedTuple):
    """Milliseconds of each kind of request; answers that were acknowledged last, and how many of them stand."""

    spent: dict[str, list[float]]
    acknowledged: int
    standing: int


async def sit(hosts: Sequence[str], crowd: Crowd, rows: Callable[[], Standing]) -> Sat:
    """A crowd over these processes of one service; `rows` reads what stands in its database afterwards."""
    teacher = teacher_at(hosts[0])
    shares = -(-crowd.students // MOST_IN_A_CLASS)
    sizes = [crowd.students // shares + (at < crowd.students % shares) for at in range(shares)]
    sittings = [prepared(teacher, students) for students in sizes]
    everybody = [(code, pass_) for _, code, passes in sittings for pass_ in passes]
    coming = [(Phone(hosts[at % len(hosts)]), code, pass_) for at, (code, pass_) in enumerate(everybody)]
    phones, pool = [phone for phone, _, _ in coming], ThreadPoolExecutor(THREADS)
    spent: dict[str, list[float]] = {"come in": [], "answer": [], "hand in": [], "watch": []}
    loop, rng, done = asyncio.get_running_loop(), np.random.default_rng(4), asyncio.Event()

    async def timed(kind: str, client: Client, *request: Any) -> Any:
        def go() -> tuple[float, Any]:
            # From when the request goes out: how long it waits for a thread of this generator is none of the server's.
            begun = time.perf_counter()
            reply = client.call(*request)
            return 1000 * (time.perf_counter() - begun), reply

        took, reply = await loop.run_in_executor(pool, go)
        spent[kind].append(took)
        return reply

    async def answer(phone: Phone, item: str, response: Any) -> None:
        phone.sequence += 1
        change = {"client_id": str(uuid4()), "sequence": phone.sequence, "item": item, "response": response}
        await timed("answer", phone, "POST", "/api/v1/student/answers", {"changes": [change]})
        phone.sent[item] = response

    async def student(phone: Phone, code: str, pass_phrase: str) -> None:
        await asyncio.sleep(float(rng.uniform(0, crowd.opening)))
        await timed("come in", phone, "GET", "/api/v1/student/hello")
        body = {"code": code, "pass_phrase": pass_phrase}
        page = await timed("come in", phone, "POST", "/api/v1/student/join", body)
        phone.seat, paper = page["seat"], page["paper"]
        choices = [item for item in paper["items"] if item["item"]["kind"] == "single_choice"]
        long = next(item for item in paper["items"] if item["item"]["kind"] == "written")
        async with connect(f"ws://{phone.host}/ws/seat", additional_headers={"Cookie": phone.cookie}, max_queue=None):
            until = time.perf_counter() + crowd.answering
            await asyncio.sleep(float(rng.uniform(0, crowd.every)))
            while time.perf_counter() < until:
                one = choices[int(rng.integers(len(choices)))]
                option = str(rng.choice([option["id"] for option in one["item"]["options"]]))
                if phone.sequence % 2:
                    await answer(phone, one["ref"], {"kind": "single_choice", "option": option})
                else:
                    draft = {"kind": "written", "text": f"{'words ' * 60}{phone.sequence}", "picture": ""}
                    await answer(phone, long["ref"], draft)
                await asyncio.sleep(crowd.every)
            await asyncio.sleep(float(rng.uniform(0, crowd.handing_in)))
            page = await timed("hand in", phone, "POST", "/api/v1/student/hand-in")
            assert page["stage"] == "handed in"

    async def watch(sitting: int) -> None:
        socket = f"ws://{hosts[-1]}/ws/sittings/{sitting}"
        async with connect(socket, additional_headers={"Cookie": teacher.cookie}, max_queue=None) as nudges:
            while not done.is_set():
                await nudges.recv()
                await timed("watch", teacher, "GET", f"/api/v1/sittings/{sitting}")
                await asyncio.sleep(WATCHES_EVERY)

    watching = [asyncio.create_task(watch(sitting)) for sitting, _, _ in sittings]
    await asyncio.gather(*(student(*entry) for entry in coming))
    done.set()
    for entry in watching:
        entry.cancel()
    acknowledged = sum(len(phone.sent) for phone in phones)
    stands = rows()
    standing = sum(_same(stands.get((phone.seat, item)), sent) for phone in phones for item, sent in phone.sent.items())
    return Sat(spent, acknowledged, standing)


STANDING = (
    "SELECT c.seat_id, c.item, a.response FROM responses_currentanswer c JOIN responses_answer a ON a.id = c.answer_id"
)


def in_file(data: Path) -> Standing:
    with closing(sqlite3.connect(data / "verso.sqlite3")) as database:
        return {(seat, item): json.loads(response) for seat, item, response in database.execute(STANDING)}


def _same(stands: Any, sent: Any) -> bool:
    return bool(stands) and all(stands.get(key) == value for key, value in sent.items() if key in ("option", "text"))


def stolen() -> tuple[int, int]:
    """Ticks of the processor that other machines on the same host took, and all ticks, since it started."""
    ticks = [int(entry) for entry in Path("/proc/stat").read_text(encoding="ascii").split("\n", 1)[0].split()[1:9]]
    return ticks[7], sum(ticks)


def run() -> None:
    crowd = Crowd()
    print(
        f"online, on loopback: {crowd.students} students send an answer or a draft every {crowd.every:.0f} s,"
        " and are watched"
    )
    with tempfile.TemporaryDirectory() as data, served(Path(data), demo=True) as address:
        before = stolen()
        host, folder = urlsplit(address).netloc, Path(data)
        spent, acknowledged, standing = asyncio.run(sit([host], crowd, lambda: in_file(folder)))
        taken, ticks = (now - then for now, then in zip(stolen(), before, strict=True))
    for kind, times in spent.items():
        p50, p95, p99 = np.percentile(times, [50, 95, 99])
        target = " (target p95 150, p99 500)" if kind == "answer" else ""
        print(f"  {kind:<8} {len(times):>6} requests   median {p50:5.0f}   p95 {p95:5.0f}   p99 {p99:5.0f} ms{target}")
    print(f"  other machines on the same host took {100 * taken / max(1, ticks):.1f} % of the processors meanwhile")
    print(f"  {acknowledged} answers acknowledged last, {standing} of them found")
