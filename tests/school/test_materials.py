"""Materials by skill: on the shelf, beside a weak skill, on the feedback sheet, and to the student whom they help."""

import base64
from typing import Any

import pypdfium2
import pytest
from django.test import Client

from tests.conftest import Staffroom, refs
from tests.school.test_marking import FULL, put
from tests.school.test_record import lark, sat
from tests.school.test_teacher_side import send
from versomark.school.bank.materials import MOST_BYTES
from versomark.school.bank.models import Material
from versomark.school.classes.models import SchoolClass, Student
from versomark.school.delivery.models import Sitting

__all__ = ["lark"]
pytestmark = pytest.mark.django_db
FILE = base64.b64encode(b"<script>alert(1)</script>").decode()


def shelve(school: Staffroom, **parts: Any) -> Any:
    body = {"title": "The loop, in 3 minutes", "skills": ["A skill"], "link": "https://loops.example/3", **parts}
    return send(school.client, "post", "materials", body)


@pytest.fixture
def sitting(school: Staffroom, lark: SchoolClass) -> Sitting:
    """Three marks on one skill, so that something can be said of it: Ada has them, Ben has none."""
    found = sat(school, lark, ["b", "a", "a", None], written=True)
    for desk, points in ((1, FULL), (2, dict.fromkeys(FULL, 0)), (3, dict.fromkeys(FULL, 0))):
        assert put(school.client, found, f"{refs(found)[2]}/{desk}", {"points": points}).status_code == 200
    return found


def own(sitting: Sitting, name: str) -> Client:
    client = Client()
    phrase = Student.objects.get(given_name=name).pass_phrase
    body = {"link": sitting.school_class.link, "pass_phrase": phrase}
    assert client.post("/api/v1/portal/enter", body, content_type="application/json").status_code == 200
    return client


def test_who_is_weak_is_offered_what_helps(school: Staffroom, sitting: Sitting) -> None:
    body = shelve(school, note="Watch, then draw it.", keywords=["loop", " loop "]).json()
    shelve(school, title="Of another skill", skills=["Else"])
    filed = send(school.client, "put", f"materials/{body['id']}/file", {"name": "C:\\x\\loop.html", "data": FILE})
    assert (filed.json()["file"], filed.json()["keywords"]) == ("loop.html", ["loop"])
    assert [entry["title"] for entry in school.client.get("/api/v1/materials?search=LOOP").json()] == [body["title"]]
    assert [entry["title"] for entry in school.client.get("/api/v1/materials?skill=Else").json()] == [
        "Of another skill"
    ]
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/skills").json()
    assert [student["whole"] for student in page["students"]] == [5 / 6, 0, 0]
    assert [material["title"] for material in page["skills"][0]["materials"]] == [body["title"]]
    # On the sheet of who needs it, and on no other.
    pdf = pypdfium2.PdfDocument(school.client.get(f"/api/v1/sittings/{sitting.pk}/results/feedback.pdf").content)
    sheets = dict.fromkeys(("Ada Ash", "Ben Birch"), "")
    for sheet in pdf:
        text = sheet.get_textpage().get_text_range()
        for name in sheets:
            sheets[name] += text if name in text else ""
    assert "loops.example/3" in sheets["Ben Birch"]
    assert "loops.example/3" not in sheets["Ada Ash"]
    # To the student after release, and the file to whom it is offered alone.
    address = f"/api/v1/portal/sittings/{sitting.pk}/materials/{body['id']}"
    ada, ben = own(sitting, "Ada"), own(sitting, "Ben")
    assert ben.get(address).status_code == 404
    send(school.client, "put", f"sittings/{sitting.pk}/results/release", {"marks": False, "answers": False})
    shown = ben.get(f"/api/v1/portal/sittings/{sitting.pk}/result").json()
    assert [material["note"] for material in shown["skills"][0]["materials"]] == ["Watch, then draw it."]
    reply = ben.get(address)
    assert reply.status_code == 200
    assert b"".join(reply) == b"<script>alert(1)</script>"  # type: ignore[arg-type]
    assert reply["Content-Disposition"].startswith("attachment")
    assert (reply["Content-Type"], reply["X-Content-Type-Options"]) == ("application/octet-stream", "nosniff")
    assert (ada.get(address).status_code, Client().get(address).status_code) == (404, 401)


def test_what_cannot_stand_on_the_shelf_and_what_goes(school: Staffroom, staffroom: Any) -> None:
    assert shelve(school, title=" ").status_code == 422
    assert shelve(school, link="javascript:alert(1)").status_code == 422
    body = shelve(school).json()
    path = f"materials/{body['id']}"
    big = base64.b64encode(b"x" * (MOST_BYTES + 1)).decode()
    assert send(school.client, "put", f"{path}/file", {"name": "big", "data": big}).status_code in (413, 422)
    assert send(school.client, "put", f"{path}/file", {"name": "x", "data": "no base64!"}).status_code == 422
    assert school.client.get(f"/api/v1/{path}/file").status_code == 404
    stranger = staffroom("stranger")
    assert send(stranger.client, "put", path, {"title": "Mine"}).status_code == 404
    assert stranger.client.get("/api/v1/materials").json() == []
    assert send(school.client, "delete", path).status_code == 200
    assert not Material.objects.exists()
