"""A class that answers and hands in at the same moment, over real sockets on the loopback: nobody's answer is lost.

Bounded: 30 students, 8 questions, one minute at most.
"""

import http.cookiejar
import json
import re
import sqlite3
import threading
import urllib.request
import uuid
from pathlib import Path
from typing import Any

from .serving import ROOT, served

STUDENTS = 30


class Phone:
    """A device that speaks plain HTTP, with its own cookies."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.call("student/hello")

    def call(self, path: str, body: dict[str, Any] | None = None, tries: int = 1) -> Any:
        token = next((cookie.value for cookie in self.jar if cookie.name == "verso_csrf"), "") or ""
        headers = {"Content-Type": "application/json", "X-Verso-Csrf": token, "Referer": self.address}
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(f"{self.address}/api/v1/{path}", data, headers)
        for _ in range(tries):  # a flaky network: the same request, sent again
            with self.opener.open(request, timeout=30) as reply:
                answer = json.loads(reply.read())
        return answer


def sit(
    address: str, code: str, pass_phrase: str, place: int, kept: dict[int, dict[str, str]], failed: list[str]
) -> None:
    try:
        phone = Phone(address)
        page = phone.call("student/join", {"code": code, "pass_phrase": pass_phrase})
        mine = kept.setdefault(page["seat"], {})
        for sequence, question in enumerate(page["paper"]["items"], start=1):
            kind = question["item"]["kind"]
            ids = (
                ["true", "false"] if kind == "true_false" else [option["id"] for option in question["item"]["options"]]
            )
            option = ids[(place + sequence) % 2]
            response = (
                {"kind": kind, "value": option == "true"} if kind == "true_false" else {"kind": kind, "option": option}
            )
            change = {
                "client_id": str(uuid.uuid4()),
                "sequence": sequence,
                "item": question["ref"],
                "response": response,
            }
            assert phone.call("student/answers", {"changes": [change]}, tries=2)["kept"] == [change["client_id"]]
            mine[question["ref"]] = option
        assert phone.call("student/hand-in", {}, tries=2)["stage"] == "handed in"
    except Exception as error:
        failed.append(f"{place}: {error!r}")


def crowd_of(teacher: Phone, students: int) -> tuple[Any, list[str]]:
    """A sitting of the demo's quick check with a class of so many, open; and their passes."""
    teacher.call("me")
    teacher.call("sign-in", {"username": "brandt", "password": "kestrel-bay"})
    crowd = teacher.call("classes", {"name": "Crowd"})["id"]
    teacher.call(f"classes/{crowd}/students", {"lines": [f"Student{n} Crowd" for n in range(students)]})
    edition = next(line["id"] for line in teacher.call("editions") if "quick check" in line["title"])
    sitting = teacher.call("sittings", {"edition": edition, "class_id": crowd})
    teacher.call(f"sittings/{sitting['id']}/steps/open", {})
    return sitting, [student["pass_phrase"] for student in teacher.call(f"classes/{crowd}")["list"]]


def test_thirty_students_at_once_lose_nothing(tmp_path: Path) -> None:
    with served(tmp_path, demo=True) as address:
        teacher = Phone(address)
        sitting, passes = crowd_of(teacher, STUDENTS)
        kept: dict[int, dict[str, str]] = {}
        failed: list[str] = []
        threads = [
            threading.Thread(target=sit, args=(address, sitting["code"], passes[n], n, kept, failed))
            for n in range(STUDENTS)
        ]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(timeout=60)
        assert failed == []

        page = teacher.call(f"sittings/{sitting['id']}/findings")
        assert (page["body"]["test"]["students"], page["partial"]) == (STUDENTS, False)
        chosen: dict[int, set[str]] = {}
        for question in page["body"]["paper"]:
            for option in question["options"]:
                for seat in option["seats"]:
                    chosen.setdefault(seat, set()).add(f"{question['ref']} {option['option']}")
        assert {seat: len(answers) for seat, answers in chosen.items()} == dict.fromkeys(kept, 8)

    # What stands in the database is what each device was told, and each change is there once.
    with sqlite3.connect(tmp_path / "verso.sqlite3") as database:
        rows = database.execute(
            "select a.seat_id, a.item, a.response from responses_answer a"
            " join responses_currentanswer c on a.id = c.answer_id"
            f" where a.seat_id in ({','.join(map(str, kept))})"
        ).fetchall()
        count = database.execute(f"select count(*) from responses_answer where seat_id in ({','.join(map(str, kept))})")
        assert count.fetchone()[0] == STUDENTS * 8
        assert database.execute("pragma journal_mode").fetchone()[0] == "wal"
    stored: dict[int, dict[str, str]] = {}
    for seat, item, response in rows:
        given = json.loads(response)
        stored.setdefault(seat, {})[item] = given.get("option") or str(given.get("value")).lower()
    assert stored == kept


def test_pages_promise_the_browser_what_they_should(tmp_path: Path) -> None:
    with served(tmp_path) as address:
        for path in ("/", "/join", "/findings/1"):
            with urllib.request.urlopen(address + path) as page:
                html = page.read().decode()
                assert "default-src 'self'" in page.headers["Content-Security-Policy"]
                assert page.headers["Cache-Control"] == "no-cache"
                assert (
                    page.headers["X-Frame-Options"]
                    or "frame-ancestors 'none'" in page.headers["Content-Security-Policy"]
                )
            assert re.findall(r'(?:src|href)="(?:https?:)?//', html) == []
        script = re.search(r'src="(/static/assets/[^"]+\.js)"', html)
        assert script is not None
        request = urllib.request.Request(address + script[1], headers={"Accept-Encoding": "gzip"})
        with urllib.request.urlopen(request) as sent:
            assert sent.headers["Content-Encoding"] == "gzip"
    built = "".join(path.read_text(encoding="utf-8") for path in (ROOT / "web" / "dist").rglob("*.css"))
    assert re.findall(r"url\((?!['\"]?/static/|['\"]?data:)[^)]*\)", built) == []
