"""A school that is looked after: back-ups made while students answer, restored and compared row by row; one service a
folder; what probes and logs say. Everything through the commands and ports that a technician uses."""

import json
import random
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
import zipfile
from pathlib import Path
from typing import Any

import pytest

from .serving import ROOT, environment, free_port, school_in, served
from .test_many_at_once import Phone, crowd_of, sit

RELEASES = ROOT / "tests" / "releases"
"""The demo school as each release loaded it."""


def command(data: Path, *arguments: str, **more: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "manage.py", *arguments],
        cwd=ROOT, env=environment(data) | more, capture_output=True, text=True, timeout=120,
    )  # fmt: skip


def everything(database: Path) -> dict[str, set[tuple[Any, ...]]]:
    with sqlite3.connect(database) as open_one:
        names = [name for (name,) in open_one.execute("select name from sqlite_master where type = 'table'")]
        return {name: set(open_one.execute(f'select * from "{name}"')) for name in names}


def test_a_back_up_made_while_students_answer_holds_what_was_acknowledged_and_comes_back(tmp_path: Path) -> None:
    data, back = tmp_path / "school", tmp_path / "back"
    (data / "pictures").mkdir(parents=True)
    (data / "pictures" / "a picture").write_bytes(b"\x00\x01 not a database")
    with served(data, demo=True) as address:
        _sitting, passes = crowd_of(Phone(address), 12)
        kept: dict[int, dict[str, str]] = {}
        failed: list[str] = []
        threads = [
            threading.Thread(target=sit, args=(address, _sitting["code"], passes[n], n, kept, failed))
            for n in range(12)
        ]
        for thread in threads:
            thread.start()
        while sum(map(len, list(kept.values()))) < 8:
            time.sleep(0.01)
        told = {seat: dict(answers) for seat, answers in list(kept.items())}  # before the back-up began
        made = command(data, "backup_school", "--to", str(tmp_path))
        assert made.returncode == 0, made.stderr
        for thread in threads:
            thread.join(timeout=60)
        assert failed == []
        assert "Stop it first" in command(data, "restore_school", made.stdout.splitlines()[0]).stderr
    archive = Path(made.stdout.splitlines()[0])
    assert archive.stat().st_mode & 0o077 == 0

    restored = command(back, "restore_school", str(archive))
    assert restored.returncode == 0, restored.stderr
    assert "put" not in restored.stdout  # nothing stood there
    assert (back / "pictures" / "a picture").read_bytes() == b"\x00\x01 not a database"
    assert (back / "secret_key").read_text() == (data / "secret_key").read_text()
    with sqlite3.connect(back / "verso.sqlite3") as database:
        rows = database.execute(
            "select a.seat_id, a.item, a.response from responses_answer a"
            " join responses_currentanswer c on a.id = c.answer_id"
        ).fetchall()
    stored: dict[int, dict[str, str]] = {}
    for seat, item, response in rows:
        given = json.loads(response) or {}
        stored.setdefault(seat, {})[item] = given.get("option") or str(given.get("value")).lower()
    assert all(stored[seat].items() >= answers.items() for seat, answers in told.items())
    # Of what is only ever added to, every row is one of the live school, as it is there.
    before, after = everything(back / "verso.sqlite3"), everything(data / "verso.sqlite3")
    assert before.keys() == after.keys()
    for table in ("responses_answer", "editions_edition", "bank_itemversion", "classes_student", "grading_mark"):
        assert before[table] <= after[table], table
    # A second one, with nothing going on, is the school to the row; and what stood in the folder is put aside.
    again = command(data, "backup_school", "--to", str(tmp_path / "quiet.zip"))
    assert again.returncode == 0, again.stderr
    restored = command(back, "restore_school", str(tmp_path / "quiet.zip"))
    assert everything(back / "verso.sqlite3") == after
    (aside,) = tmp_path.glob("back.before-*")
    assert everything(aside / "verso.sqlite3") == before
    assert command(back, "check_school").returncode == 0
    with served_as_is(back) as address:
        teacher = Phone(address)
        teacher.call("me")
        teacher.call("sign-in", {"username": "brandt", "password": "kestrel-bay"})
        assert teacher.call(f"sittings/{_sitting['id']}/findings")["body"]["test"]["students"] == 12


def served_as_is(data: Path) -> Any:
    """A school that is there already."""
    from contextlib import contextmanager

    from .serving import start

    @contextmanager
    def running() -> Any:
        port = free_port()
        server = start(data, port)
        yield f"http://127.0.0.1:{port}"
        server.terminate()
        server.wait()

    return running()


def test_a_damaged_back_up_is_refused_and_changes_nothing(tmp_path: Path) -> None:
    data, back = tmp_path / "school", tmp_path / "back"
    school_in(data, demo=True)
    school_in(back)
    made = command(data, "backup_school", "--to", str(tmp_path / "whole.zip"))
    assert made.returncode == 0, made.stderr
    whole, before = (tmp_path / "whole.zip").read_bytes(), everything(back / "verso.sqlite3")
    from versomark.upkeep import archive

    rng, refused = random.Random(24), 0
    for at in sorted(rng.sample(range(len(whole)), 24)):
        damaged = tmp_path / "damaged.zip"
        damaged.write_bytes(whole[:at] + bytes([whole[at] ^ 0x55]) + whole[at + 1 :])
        folder = tmp_path / f"unpacked-{at}"
        folder.mkdir()
        try:
            archive.unpack(damaged, folder)
        except archive.BadBackup:
            refused += 1
        else:  # a byte that says nothing, a date in the archive's own list: then all of it is as it was
            assert everything(folder / "verso.sqlite3") == everything(data / "verso.sqlite3")
    assert refused >= 18
    for name, content in (
        ("half.zip", whole[: len(whole) // 2]),
        ("empty.zip", b""),
        ("other.zip", b"PK\x05\x06" + bytes(18)),
    ):
        (tmp_path / name).write_bytes(content)
        said = command(back, "restore_school", str(tmp_path / name))
        assert (said.returncode, "is no back-up" in said.stderr) == (1, True), said.stderr
    with zipfile.ZipFile(tmp_path / "whole.zip", "a") as packed:
        packed.writestr("files/../../../evil", b"x")
    assert "not in its list" in command(back, "restore_school", str(tmp_path / "whole.zip")).stderr
    assert not list(tmp_path.rglob("evil"))
    assert everything(back / "verso.sqlite3") == before


def get(address: str, **headers: str) -> tuple[int, str, Any]:
    try:
        with urllib.request.urlopen(urllib.request.Request(address, headers=headers)) as reply:
            return reply.status, reply.read().decode(), reply.headers
    except urllib.error.HTTPError as error:
        return error.code, error.read().decode(), error.headers


def test_probes_figures_and_logs_say_how_it_is_and_not_who_it_was(tmp_path: Path) -> None:
    data = tmp_path / "school"
    school_in(data, demo=True)
    with sqlite3.connect(data / "verso.sqlite3") as database:
        (own,) = database.execute("select pass_phrase from classes_student limit 1").fetchone()
    port, log = free_port(), (tmp_path / "log").open("w+")
    more = {"VERSO_LOG": "json", "VERSO_METRICS_TOKEN": "a-token"}
    arguments = ["-m", "versomark.site.serve", "--port", str(port), "--pads", "0"]
    server = subprocess.Popen(
        [sys.executable, *arguments],
        cwd=ROOT,
        env=environment(data) | more,
        stdout=subprocess.PIPE,
        stderr=log,
        text=True,
    )
    assert server.stdout is not None
    server.stdout.readline()
    address = f"http://127.0.0.1:{port}"
    try:
        assert get(f"{address}/healthz")[0] == 200
        ready = get(f"{address}/readyz")
        assert (ready[0], json.loads(ready[1])["state"]) == (200, "well")
        status, _, headers = get(f"{address}/api/v1/me", **{"X-Request-Id": "my-own-number-1"})
        assert (status, headers["Cache-Control"], headers["X-Request-Id"]) == (200, "no-store", "my-own-number-1")
        assert len(get(f"{address}/api/v1/me", **{"X-Request-Id": "<script>"})[2]["X-Request-Id"]) == 32
        get(f"{address}/mine/{own}")
        get(f"{address}/api/v1/people?name=Secretname")
        assert get(f"{address}/metrics")[0] == 404
        assert get(f"{address}/metrics", Authorization="Bearer b-token")[0] == 404
        figures = get(f"{address}/metrics", Authorization="Bearer a-token")[1]
        assert 'verso_requests_total{method="GET",route="mine/<str:link>",status="200"} 1.0' in figures
        assert "verso_disk_free_bytes" in figures
        # A second service on the same folder does not start, and the first goes on.
        second = subprocess.run(
            [sys.executable, "-m", "versomark.site.serve", "--port", str(free_port()), "--pads", "0"],
            cwd=ROOT, env=environment(data), capture_output=True, text=True, timeout=60,
        )  # fmt: skip
        assert second.returncode == 1
        assert f"runs on this folder already (process {server.pid})" in second.stderr
        assert get(f"{address}/healthz")[0] == 200
        assert data.stat().st_mode & 0o077 == (data / "verso.sqlite3").stat().st_mode & 0o077 == 0
    finally:
        server.terminate()
        assert server.wait(timeout=30) in (0, -15)
    log.seek(0)
    lines = [json.loads(line) for line in log.read().splitlines() if line.startswith("{")]
    answered = [line for line in lines if line["message"] == "answered"]
    assert {"route", "status", "milliseconds", "request_id", "at", "method"} <= answered[0].keys()
    assert "my-own-number-1" in {line["request_id"] for line in answered}
    everything_said = json.dumps([lines, figures])
    assert own not in everything_said
    assert "Secretname" not in everything_said
    assert "127.0.0.1" not in everything_said


def test_the_doctor_names_what_is_ill_and_changes_nothing(tmp_path: Path) -> None:
    data = tmp_path / "school"
    school_in(data, demo=True)
    with sqlite3.connect(data / "verso.sqlite3") as database:
        database.execute("update accounts_school set is_demo = 0")
        database.execute("update responses_answer set kept_at = '2091-01-01 00:00:00'")
    said = command(data, "doctor", VERSO_SMTP_HOST="127.0.0.1", VERSO_SMTP_PORT=str(free_port()))
    assert said.returncode == 1
    for expected in (
        " ill  back-ups: There is none",
        " ill  clock: The newest answer is of 01.01.2091",
        " ill  mail: The SMTP server",
    ):
        assert expected in said.stdout, said.stdout
    with (data / "verso.sqlite3").open("r+b") as file:  # a page is overwritten
        file.seek(40_960)
        file.write(b"\xff" * 4096)
    said = command(data, "doctor")
    assert " ill  every page of it" in said.stdout
    assert "There is no back-up" in command(data, "backup_school").stderr
    assert not list((data / "backups").glob("*.zip"))


@pytest.mark.parametrize("release", sorted(path.stem for path in RELEASES.glob("*.zip")))
def test_the_demo_school_of_every_release_opens_with_all_that_was_in_it(release: str, tmp_path: Path) -> None:
    """Brought to this version with a back-up before; every value of every column that was there is there."""
    data = tmp_path / "school"
    data.mkdir()
    with zipfile.ZipFile(RELEASES / f"{release}.zip") as packed:
        packed.extract("verso.sqlite3", data)
    before = columns_of(data / "verso.sqlite3")
    brought = command(data, "bring_up_to_date")
    assert brought.returncode == 0, brought.stderr
    assert "How it was is kept in" in brought.stdout
    after = columns_of(data / "verso.sqlite3")
    for (table, column), values in before.items():
        if table not in ("django_migrations", "django_content_type", "sqlite_sequence", "auth_permission"):
            assert after[table, column] == values, (table, column)
    assert command(data, "bring_up_to_date").stdout == ""  # there is nothing more to do
    with served_as_is(data) as address:
        teacher = Phone(address)
        teacher.call("me")
        assert teacher.call("sign-in", {"username": "brandt", "password": "kestrel-bay"})["is_admin"]
        for sitting in teacher.call("sittings"):
            teacher.call(f"sittings/{sitting['id']}/findings")
    # The way back: the back-up that was made is the school as it was.
    (kept,) = (data / "backups").glob("*before-migration.zip")
    back = tmp_path / "back"
    assert command(back, "restore_school", str(kept)).returncode == 0
    assert columns_of(back / "verso.sqlite3") == before


def columns_of(database: Path) -> dict[tuple[str, str], list[Any]]:
    with sqlite3.connect(database) as opened:
        tables = [name for (name,) in opened.execute("select name from sqlite_master where type = 'table'")]
        return {
            (table, column): sorted(map(repr, opened.execute(f'select "{column}" from "{table}"')))
            for table in tables
            if not table.startswith("bank_fulltext")
            for (_at, column, *_rest) in opened.execute(f'pragma table_info("{table}")')
        }
