"""What survives: students answer and a teacher marks while the service is killed at random moments, its disk fills up,
its database is locked by somebody else, and connections break off before the reply. Whatever was acknowledged must be
there afterwards, once. Loopback only; bounded in number and time.

The devices here do what the product's own pages do: what was not acknowledged is sent again, under the number it had.
"""

import json
import os
import random
import resource
import sqlite3
import tempfile
import threading
import time
from collections import Counter
from contextlib import closing
from dataclasses import dataclass, field
from http.client import HTTPConnection, HTTPException
from pathlib import Path
from typing import Any
from uuid import uuid4

from bench.online import prepared
from bench.room import Client, teacher_at
from tests.e2e.serving import Server, free_port, school_in, start

KILLS = int(os.environ.get("VERSO_KILLS", "200"))
STUDENTS, MARKERS = 16, 2
BROKEN_OFF = 0.1
"""Share of requests whose reply nobody waits for."""
MOST_SECONDS = 1_500


@dataclass
class Sender(Client):
    """A device that sends until it is told that it was kept."""

    rng: random.Random = field(default_factory=random.Random)
    stop: threading.Event = field(default_factory=threading.Event)
    told: dict[str, Any] = field(default_factory=dict)
    refused: Counter[int] = field(default_factory=Counter)
    tries: int = 0

    def send(self, method: str, path: str, body: object) -> bool:
        """Until it is acknowledged, or the bench is over."""
        while not self.stop.is_set():
            self.tries += 1
            line = HTTPConnection(self.host, timeout=30)
            try:
                headers = {"Cookie": self.cookie, "Content-Type": "application/json"}
                headers["X-Verso-Csrf"] = self.cookies.get("verso_csrf", "")
                line.request(method, path, json.dumps(body), headers)
                if self.rng.random() < BROKEN_OFF:
                    # The request is out; whether it was carried out is not known here.
                    time.sleep(self.rng.random() * 0.01)
                    continue
                reply = line.getresponse()
                reply.read()
                if reply.status == 200:
                    return True
                self.refused[reply.status] += 1
            except (OSError, HTTPException):
                pass
            finally:
                line.close()
            time.sleep(0.05)
        return False


def answers(phone: Sender, item: str) -> None:
    sequence = 0
    while not phone.stop.is_set():
        sequence += 1
        change = {
            "client_id": str(uuid4()),
            "sequence": sequence,
            "item": item,
            "response": {"kind": "written", "text": f"words {uuid4()}"},
        }
        if phone.send("POST", "/api/v1/student/answers", {"changes": [change]}):
            phone.told[change["client_id"]] = change["response"]
        time.sleep(phone.rng.random() * 0.05)


def marks(marker: Sender, path: str, criteria: dict[str, float]) -> None:
    while not marker.stop.is_set():
        comment = f"mark {uuid4()}"
        if marker.send("PUT", path, {"points": criteria, "comment": comment}):
            marker.told[comment] = criteria
        time.sleep(marker.rng.random() * 0.1)


@dataclass
class Machine:
    data: Path
    port: int
    server: Server | None = None

    def start(self) -> None:
        self.server = start(self.data, self.port)

    def kill(self) -> None:
        assert self.server is not None
        self.server.kill()
        self.server.wait()

    def fill_disk(self, seconds: float) -> None:
        """No file of the service can grow past where it is now: to SQLite that is a full disk."""
        assert self.server is not None
        largest = max(path.stat().st_size for path in self.data.glob("*.sqlite3*"))
        before = resource.prlimit(self.server.pid, resource.RLIMIT_FSIZE)
        resource.prlimit(self.server.pid, resource.RLIMIT_FSIZE, (largest + 40_960, before[1]))
        time.sleep(seconds)
        resource.prlimit(self.server.pid, resource.RLIMIT_FSIZE, before)

    def lock(self, seconds: float) -> None:
        with closing(sqlite3.connect(self.data / "verso.sqlite3", timeout=20)) as other:
            other.execute("BEGIN IMMEDIATE")
            time.sleep(seconds)
            other.rollback()


def to_mark(data: Path) -> tuple[int, str, dict[str, float]]:
    """A sitting of the demo with something written in it, the question, and points for its criteria."""
    with closing(sqlite3.connect(data / "verso.sqlite3")) as database:
        rows = database.execute(
            "select s.sitting_id, a.item, e.content from responses_answer a join delivery_seat s on s.id = a.seat_id"
            " join delivery_sitting d on d.id = s.sitting_id join editions_edition e on e.id = d.edition_id"
            " where a.response like '%\"written\"%' and s.state = 'handed in' order by a.id"
        ).fetchall()
    for sitting, item, content in rows:
        for section in json.loads(content)["sections"]:
            for entry in section["items"]:
                if entry["ref"] == item and entry["content"].get("rubric"):
                    return sitting, item, {one["id"]: 1.0 for one in entry["content"]["rubric"]["criteria"]}
    raise RuntimeError("the demo has nothing written to mark")


def run() -> None:
    rng = random.Random(24)
    with tempfile.TemporaryDirectory() as folder:
        machine = Machine(Path(folder) / "school", free_port())
        school_in(machine.data, demo=True)
        machine.start()
        host = f"127.0.0.1:{machine.port}"
        teacher = teacher_at(host)
        _id, code, passes = prepared(teacher, STUDENTS)
        sitting, item, criteria = to_mark(machine.data)
        phones, threads = list[Sender](), list[threading.Thread]()
        stop = threading.Event()
        for n, pass_phrase in enumerate(passes):
            phone = Sender(host, rng=random.Random(n), stop=stop)
            phone.call("GET", "/api/v1/student/hello")
            page = phone.call("POST", "/api/v1/student/join", {"code": code, "pass_phrase": pass_phrase})
            if page["stage"] == "ready":
                phone.call("POST", "/api/v1/student/begin", {})
            written = next(q["ref"] for q in page["paper"]["items"] if q["item"]["kind"] == "written")
            phones.append(phone)
            threads.append(threading.Thread(target=answers, args=(phone, written), daemon=True))
        markers = list[Sender]()
        for n in range(MARKERS):
            marker = Sender(host, rng=random.Random(100 + n), stop=stop, cookies=dict(teacher.cookies))
            path = f"/api/v1/sittings/{sitting}/marking/{item}/{n + 1}"
            markers.append(marker)
            threads.append(threading.Thread(target=marks, args=(marker, path, criteria), daemon=True))
        for thread in threads:
            thread.start()
        began, kills, filled, locked = time.monotonic(), 0, 0, 0
        while kills < KILLS and time.monotonic() - began < MOST_SECONDS:
            time.sleep(rng.uniform(0.02, 2.5))
            if kills % 20 == 10 and filled <= kills // 20:
                machine.fill_disk(1.0)
                filled += 1
            if kills % 20 == 5 and locked <= kills // 20:
                machine.lock(2.0)
                locked += 1
            machine.kill()
            kills += 1
            machine.start()
        time.sleep(1.0)
        stop.set()
        for thread in threads:
            thread.join(timeout=40)
        machine.kill()
        _report(machine.data, phones, markers, kills, filled, locked, time.monotonic() - began)


def _report(
    data: Path, phones: list[Sender], markers: list[Sender], kills: int, filled: int, locked: int, seconds: float
) -> None:
    with closing(sqlite3.connect(data / "verso.sqlite3")) as database:
        assert database.execute("pragma integrity_check").fetchone() == ("ok",)
        assert database.execute("pragma foreign_key_check").fetchone() is None
        there = Counter[str]()
        text: dict[str, Any] = {}
        for client_id, response in database.execute("select client_id, response from responses_answer"):
            number = client_id if "-" in client_id else _with_dashes(client_id)
            there[number] += 1
            text[number] = json.loads(response or "null")
        comments = Counter(
            comment for (comment,) in database.execute("select comment from grading_mark where state = 'kept'")
        )
    told = {key: value for phone in phones for key, value in phone.told.items()}
    lost = [key for key in told if there[key] == 0]
    twice = [key for key in told if there[key] > 1]
    other = [key for key, value in told.items() if key in text and text[key]["text"] != value["text"]]
    given = [comment for marker in markers for comment in marker.told]
    tries = sum(sender.tries for sender in [*phones, *markers])
    refused = sum((sender.refused for sender in [*phones, *markers]), Counter[int]())
    print(f"faults: {kills} kills, {filled} full disks, {locked} locked databases in {seconds:.0f} s")
    print(f"  {tries} requests, one in ten broken off before the reply; refused {dict(sorted(refused.items()))}")
    print(f"  answers acknowledged {len(told)}, lost {len(lost)}, twice {len(twice)}, other than sent {len(other)}")
    print(
        f"  marks acknowledged {len(given)}, lost {sum(comments[entry] == 0 for entry in given)},"
        f" twice {sum(comments[entry] > 1 for entry in given)}"
    )


def _with_dashes(number: str) -> str:
    return f"{number[:8]}-{number[8:12]}-{number[12:16]}-{number[16:20]}-{number[20:]}"
