"""Nobody takes over a student by bringing in a list with their number: whoever looks after them is asked."""

from collections.abc import Callable
from typing import Any

import pytest

from tests.conftest import Staffroom
from versomark.school.classes.models import Student
from versomark.school.classes.services import add_students, make_class, share_class

pytestmark = pytest.mark.django_db


@pytest.fixture
def other(school: Staffroom, staffroom: Callable[[str], Staffroom]) -> Staffroom:
    """A colleague of the same school."""
    made = staffroom("varga")
    made.teacher.school = school.teacher.school
    made.teacher.save()
    return made


@pytest.fixture
def ines(school: Staffroom) -> Student:
    tern = make_class(school.teacher, "8 Tern")
    add_students(tern, ["Ines Abt"])
    student = tern.places.get().student
    student.number, student.email, student.guardian_email = "4711", "ines@school.example", "abt@home.example"
    student.save()
    return student


def send(room: Staffroom, method: str, path: str, body: Any = None) -> Any:
    return getattr(room.client, method)(f"/api/v1/{path}", body or {}, content_type="application/json")


def listed(room: Staffroom, class_id: int, name: str = "Somebody Else", preview: bool = False) -> Any:
    body = {
        "rows": [[name, "4711", "taken@evil.example"]],
        "columns": ["full_name", "number", "email"],
        "header": None,
        "first_line": 1,
    }
    return send(room, "post", f"classes/{class_id}/list{'/preview' if preview else ''}", body)


def test_a_number_in_a_list_asks_and_shows_nothing(school: Staffroom, other: Staffroom, ines: Student) -> None:
    mine = make_class(other.teacher, "9 Lark")
    for reply in (listed(other, mine.pk, preview=True), listed(other, mine.pk)):
        assert reply.status_code == 200
        assert b"Ines" not in reply.content
        assert b"Tern" not in reply.content
        assert reply.json()["lines"] == [
            {"line": 1, "name": "Somebody Else", "outcome": "asked", "changes": [], "also_in": []}
        ]
    before = (ines.given_name, ines.pass_phrase, ines.email)
    ines.refresh_from_db()
    assert (ines.given_name, ines.pass_phrase, ines.email) == before
    assert not mine.places.exists()

    # Whoever keeps her is asked, once, and nobody else can answer.
    tern = ines.places.get().school_class
    listed(other, mine.pk)
    (asked,) = send(school, "get", f"classes/{tern.pk}").json()["requests"]
    assert (asked["student"], asked["by"], asked["into"]) == ("Ines Abt", "Varga", "9 Lark")
    answer = f"student-requests/{asked['id']}"
    assert send(other, "post", f"classes/{mine.pk}/{answer}", {"granted": True}).status_code == 404
    assert send(school, "post", f"classes/{tern.pk}/{answer}", {"granted": False}).json()["requests"] == []
    assert not mine.places.exists()
    listed(other, mine.pk)
    (asked,) = send(school, "get", f"classes/{tern.pk}").json()["requests"]
    send(school, "post", f"classes/{tern.pk}/student-requests/{asked['id']}", {"granted": True})

    # Granted: a place and the pass; name, pass and addresses stay her keeper's to see and to change.
    (line,) = send(other, "get", f"classes/{mine.pk}").json()["list"]
    assert (line["given_name"], line["pass_phrase"], line["is_kept"]) == ("Ines", ines.pass_phrase, False)
    assert (line["email"], line["guardian_email"]) == ("", "")
    change = {"given_name": "Taken", "family_name": "Over"}
    for method, path in (("put", ""), ("post", "/new-pass")):
        reply = send(other, method, f"classes/{mine.pk}/students/{ines.pk}{path}", change)
        assert (reply.status_code, "looked after by Brandt" in reply.json()["detail"]) == (403, True)
    assert listed(other, mine.pk, "Taken Over").json()["lines"][0]["changes"] == []
    send(other, "post", f"classes/{mine.pk}/new-passes")
    ines.refresh_from_db()
    assert (ines.given_name, ines.pass_phrase, ines.email) == before
    assert send(school, "put", f"classes/{tern.pk}/students/{ines.pk}", change).json()["given_name"] == "Taken"


def test_passes_and_addresses_are_not_every_colleagues_to_see(
    school: Staffroom, other: Staffroom, ines: Student
) -> None:
    tern = ines.places.get().school_class
    for run, expected in ((False, ""), (True, ines.pass_phrase)):
        share_class(tern, other.teacher.pk, may_mark=True, may_run=run)
        (line,) = send(other, "get", f"classes/{tern.pk}").json()["list"]
        assert (line["pass_phrase"], line["email"], line["guardian_email"]) == (expected, "", "")
    (line,) = send(school, "get", f"classes/{tern.pk}").json()["list"]
    assert (line["email"], line["is_kept"]) == ("ines@school.example", True)
