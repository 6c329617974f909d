"""A school on PostgreSQL: brought there from its file and back, and one sitting over two processes of which one is
killed. What stands in the two databases is read by their own drivers, without Django."""

import json
import sqlite3
import subprocess
import sys
import threading
import time
import zipfile
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import ExitStack, closing, contextmanager
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from http.client import HTTPException
from pathlib import Path
from typing import Any
from urllib.error import HTTPError
from uuid import UUID, uuid4

import psycopg
import pytest
from websockets.sync.client import connect

from tests import servers

from .serving import ROOT, Server, environment, free_port, school_in, start
from .test_many_at_once import Phone, crowd_of

STUDENTS = 12


@pytest.fixture(scope="module")
def cluster(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A PostgreSQL whose first database has the tables of this version, for others to be made like it."""
    with servers.postgres() as address:
        made = manage(tmp_path_factory.mktemp("tables"), "migrate", "--verbosity", "0", DATABASE_URL=address)
        assert made.returncode == 0, made.stderr
        yield address


@contextmanager
def database_of_its_own(cluster: str) -> Iterator[str]:
    name = f"school_{uuid4().hex[:8]}"
    with psycopg.connect(cluster.replace("/verso?", "/postgres?"), autocommit=True) as admin:
        admin.execute(f"CREATE DATABASE {name} TEMPLATE verso")
    yield cluster.replace("/verso?", f"/{name}?")


def manage(data: Path, *arguments: str, **more: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "manage.py", *arguments],
        cwd=ROOT, env={**environment(data), **more}, capture_output=True, text=True, check=False,
    )  # fmt: skip


def in_file(path: Path) -> dict[str, Counter[str]]:
    """Table -> its rows, in a writing that both databases can be put into."""
    with closing(sqlite3.connect(path)) as database:
        database.row_factory = sqlite3.Row
        tables = database.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()
        names = [name for (name,) in tables if not name.startswith(("sqlite_", "bank_fulltext"))]
        return {
            name: Counter(written(dict(row)) for row in database.execute(f'SELECT * FROM "{name}"')) for name in names
        }


def in_postgresql(address: str) -> dict[str, Counter[str]]:
    with psycopg.connect(address, row_factory=psycopg.rows.dict_row) as database:
        tables = database.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'").fetchall()
        names = [row["tablename"] for row in tables if row["tablename"] != "bank_fulltext"]
        return {name: Counter(written(row) for row in database.execute(f'SELECT * FROM "{name}"')) for name in names}


def written(row: dict[str, Any]) -> str:
    return json.dumps({name: plain(value) for name, value in row.items()}, sort_keys=True, default=str)


def plain(value: Any) -> Any:
    """SQLite knows numbers and texts only."""
    if isinstance(value, bool):
        return int(value)
    if isinstance(value, UUID):
        return value.hex
    if isinstance(value, Decimal):
        return float(value)
    if isinstance(value, datetime | date):
        return a_time(value.isoformat())
    if isinstance(value, str):
        for read in (json.loads, a_time):
            try:
                result = read(value)
            except ValueError:
                continue
            return result if isinstance(result, dict | list | str) else value
    return value


def a_time(text: str) -> str:
    read = datetime.fromisoformat(text)
    return read.replace(tzinfo=read.tzinfo or UTC).astimezone(UTC).replace(tzinfo=None).isoformat(" ")


def same(before: dict[str, Counter[str]], after: dict[str, Counter[str]]) -> None:
    # What a database notes of its own steps is its own.
    for name in sorted(set(before) | set(after) - {"django_migrations"}):
        if name != "django_migrations":
            assert before[name] == after[name], name


def test_a_school_goes_to_postgresql_and_comes_back_row_by_row(tmp_path: Path, cluster: str) -> None:
    data = tmp_path / "school"
    school_in(data, demo=True)
    before = in_file(data / "verso.sqlite3")
    with database_of_its_own(cluster) as address:
        moved = manage(data, "move_school", address)
        assert moved.returncode == 0, moved.stderr
        there = in_postgresql(address)
        same(before, there)
        assert sum(there["responses_answer"].values()) > 1_000
        # Once more: there is a school by now, and it stays as it is.
        assert "There is a school in that database" in manage(data, "move_school", address).stderr
        # It is searched there, and new rows get numbers that nobody has.
        port = free_port()
        server = start(data, port, {"DATABASE_URL": address})
        teacher = Phone(f"http://127.0.0.1:{port}")
        teacher.call("me")
        teacher.call("sign-in", {"username": "brandt", "password": "kestrel-bay"})
        assert teacher.call("items?search=resist%20BATT")["total"] > 0
        teacher.call("classes", {"name": "9 Ñandú தமிழ்"})
        (data / "verso.sqlite3").rename(tmp_path / "aside.sqlite3")
        assert "Somebody is connected" in manage(data, "move_school", "sqlite", DATABASE_URL=address).stderr
        server.terminate()
        server.wait()
        # A back-up of it is the same archive as ever, and is opened without PostgreSQL.
        kept = manage(data, "backup_school", "--to", str(tmp_path / "kept.zip"), DATABASE_URL=address)
        assert kept.returncode == 0, kept.stderr
        with zipfile.ZipFile(tmp_path / "kept.zip") as packed:
            packed.extract("verso.sqlite3", tmp_path / "again")
        there = in_postgresql(address)
        same(in_file(tmp_path / "again" / "verso.sqlite3"), there)
        with database_of_its_own(cluster) as other:
            back = manage(tmp_path / "third", "restore_school", str(tmp_path / "kept.zip"), DATABASE_URL=other)
            assert back.returncode == 0, back.stderr
            same(in_postgresql(other), there)
        home = manage(data, "move_school", "sqlite", DATABASE_URL=address)
        assert home.returncode == 0, home.stderr
        same(in_file(data / "verso.sqlite3"), there)
        doctor = manage(data, "doctor", DATABASE_URL=address)
        assert "PostgreSQL" in doctor.stdout
        assert "acknowledges before it writes" in doctor.stdout  # as the servers of tests do


class Roaming:
    """A student's device behind a proxy: what one process does not answer goes to the other, under the same number."""

    def __init__(self, addresses: list[str]) -> None:
        self.addresses = addresses
        self.phone = Phone(addresses[0])

    def call(self, path: str, body: dict[str, Any] | None = None) -> Any:
        for _ in range(40):
            try:
                return self.phone.call(path, body)
            except (OSError, HTTPException):
                self.addresses = self.addresses[1:] + self.addresses[:1]
                self.phone.address = self.addresses[0]
                time.sleep(0.1)
        raise AssertionError("nobody answers")


def within(seconds: float, holds: Callable[[], bool]) -> bool:
    end = time.monotonic() + seconds
    while not holds():
        if time.monotonic() > end:
            return False
        time.sleep(0.2)
    return True


def test_one_sitting_over_two_processes_outlives_one_of_them(tmp_path: Path, cluster: str) -> None:
    data = tmp_path / "school"
    school_in(data, demo=True)
    with ExitStack() as until_away, database_of_its_own(cluster) as database:
        redis = until_away.enter_context(servers.redis())
        assert manage(data, "move_school", database).returncode == 0
        more = {"DATABASE_URL": database, "REDIS_URL": redis}
        ports = free_port(), free_port()
        first, second = (start(data, port, more) for port in ports)
        addresses = [f"http://127.0.0.1:{port}" for port in ports]
        try:
            _over_both(addresses, first, database)
            # Without Redis nobody is told at once, and everybody still gets in and is refused in words.
            until_away.close()
            phone = Phone(addresses[1])
            with pytest.raises(HTTPError) as refused:
                phone.call("student/join", {"code": "none", "pass_phrase": "kelp-1"})
            assert refused.value.code == 404
            assert phone.call("sign-in", {"username": "brandt", "password": "kestrel-bay"})["name"]
        finally:
            for server in (first, second):
                server.terminate()


def _over_both(addresses: list[str], first: Server, database: str) -> None:
    teacher = Phone(addresses[1])
    sitting, passes = crowd_of(teacher, STUDENTS)
    told: dict[str, str] = {}
    failed: list[str] = []
    half, killed = threading.Event(), threading.Event()

    def sit(at: int) -> None:
        try:
            device = Roaming(addresses if at % 2 else addresses[::-1])
            page = device.call("student/join", {"code": sitting["code"], "pass_phrase": passes[at]})
            for sequence, question in enumerate(page["paper"]["items"], start=1):
                if sequence == 4:
                    if at == 1:
                        half.set()
                    assert killed.wait(60)
                kind = question["item"]["kind"]
                ids = [option["id"] for option in question["item"].get("options", [])]
                response = {"kind": kind, "value": True} if kind == "true_false" else {"kind": kind, "option": ids[0]}
                change = {
                    "client_id": str(uuid4()),
                    "sequence": sequence,
                    "item": question["ref"],
                    "response": response,
                }
                assert device.call("student/answers", {"changes": [change]})["kept"] == [change["client_id"]]
                told[change["client_id"]] = question["ref"]
            assert device.call("student/hand-in", {})["stage"] == "handed in"
        except Exception as error:
            failed.append(f"{at}: {error!r}")

    cookies = {cookie.name: cookie.value for cookie in teacher.jar}
    header = "; ".join(f"{name}={value}" for name, value in cookies.items())
    socket = f"ws://{addresses[1][7:]}/ws/sittings/{sitting['id']}"
    with connect(socket, additional_headers={"Cookie": header}) as nudges:
        threads = [threading.Thread(target=sit, args=(at,)) for at in range(STUDENTS)]
        for thread in threads:
            thread.start()
        # The teacher's page hears through the second process what the first one keeps.
        assert json.loads(nudges.recv(timeout=20)) == {"changed": True}
        assert half.wait(60)
        # It is the first that opens and closes by the clock. It is killed; whoever was talking to it goes on.
        first.kill()
        first.wait()
        killed.set()
        for thread in threads:
            thread.join(timeout=90)
    assert failed == []
    with psycopg.connect(database) as rows:
        seats = "SELECT id FROM delivery_seat WHERE sitting_id = %s"
        kept = rows.execute(
            f"SELECT client_id, item FROM responses_answer WHERE seat_id IN ({seats})", [sitting["id"]]
        ).fetchall()
    assert {str(client_id): item for client_id, item in kept} == told
    assert len(kept) == len(told) == STUDENTS * 8
    # The other one has taken the clock over: a sitting closes by itself.
    closes_at = (datetime.now(UTC) + timedelta(seconds=3)).isoformat()
    later = teacher.call(
        "sittings", {"edition": sitting["edition"], "class_id": sitting["class_id"], "closes_at": closes_at}
    )
    teacher.call(f"sittings/{later['id']}/steps/open", {})
    assert within(40, lambda: teacher.call(f"sittings/{later['id']}")["state"] == "closed")
