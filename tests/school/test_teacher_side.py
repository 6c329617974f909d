"""The teacher's side through the API: accounts, classes, bank, tests, sittings, findings, desk."""

import re
from collections import Counter
from collections.abc import Callable
from typing import Any

import pytest
from django.db import connection, transaction
from django.test import Client
from ninja import Schema

from tests.conftest import PASSWORD, Staffroom, devices, problems_of, refs
from tests.core.every_kind import CONTENTS
from versomark.demo import loading
from versomark.demo.sign_in import PASSWORD as DEMO_PASSWORD
from versomark.school import guesses
from versomark.school.accounts.first_code import first_code
from versomark.school.accounts.models import Teacher
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.findings.models import CachedAnalysis
from versomark.school.grading import second_marking
from versomark.school.grading.models import Mark, SecondMarking
from versomark.site.api import teacher_api

pytestmark = pytest.mark.django_db


def send(client: Client, method: str, path: str, body: Any = None) -> Any:
    return getattr(client, method)(f"/api/v1/{path}", body, content_type="application/json")


def layout(*refs: str) -> dict[str, Any]:
    return {"sections": [{"ref": "1", "entries": [{"entry": "item", "ref": ref} for ref in refs]}]}


@pytest.mark.django_db(transaction=True)
def test_the_database_is_set_up_for_many_writers() -> None:
    if connection.vendor == "postgresql":
        with connection.cursor() as cursor, transaction.atomic():
            cursor.execute("SELECT count(*) FROM pg_locks WHERE locktype = 'advisory' AND pid = pg_backend_pid()")
            assert cursor.fetchone()[0] > 0
        return
    assert connection.settings_dict["OPTIONS"]["transaction_mode"] == "IMMEDIATE"
    with connection.cursor() as cursor:
        values = {}
        for pragma in ("foreign_keys", "synchronous", "busy_timeout"):
            cursor.execute(f"PRAGMA {pragma}")
            values[pragma] = cursor.fetchone()[0]
    assert values == {"foreign_keys": 1, "synchronous": 2, "busy_timeout": 20000}


def test_an_empty_school_makes_its_first_account_once() -> None:
    client = Client()
    assert client.get("/api/v1/me").json()["empty"] is True
    account = {"school": "Bay", "name": "O. Brandt", "username": "Brandt", "password": "short"}
    # Whoever merely reaches the port does not know the code.
    wrong = send(client, "post", "first-account", account | {"code": "0000-0000-0000", "password": PASSWORD})
    assert (wrong.status_code, "not the code" in wrong.json()["detail"]) == (403, True)
    account["code"] = first_code()
    assert "too short" in send(client, "post", "first-account", account).json()["detail"]
    account["password"] = PASSWORD
    assert send(client, "post", "first-account", account).json() == {
        "empty": False,
        "id": Teacher.objects.get().pk,
        "name": "O. Brandt",
        "school": "Bay",
        "email": "",
        "demo": False,
        "language": "",
        "school_language": "en",
        "address": "http://testserver",
        "is_admin": True,
        "has_second_factor": False,
        "mails": False,
        "disk": "fine",
    }
    assert send(Client(), "post", "first-account", account).status_code == 409
    other = Client()
    wrong = send(other, "post", "sign-in", {"username": "brandt", "password": "wrong"})
    assert (wrong.status_code, wrong.json()["detail"]) == (401, "That name and password do not belong together.")
    assert send(other, "post", "sign-in", {"username": " BRANDT ", "password": PASSWORD}).json()["name"] == "O. Brandt"
    send(other, "post", "sign-out")
    assert other.get("/api/v1/me").json()["name"] is None


def test_guessing_a_password_is_locked_out_but_not_out_of_the_teachers_own_browser(school: Staffroom) -> None:
    own = Client()
    right = {"username": "brandt", "password": PASSWORD}
    assert send(own, "post", "sign-in", right).status_code == 200
    send(own, "post", "sign-out")
    for _ in range(8):
        reply = send(Client(), "post", "sign-in", {"username": "brandt", "password": "guess"})
    assert (reply.status_code, "Too many wrong tries" in reply.json()["detail"]) == (429, True)
    assert send(Client(), "post", "sign-in", right).status_code == 429
    # A student at the next machine, behind the same address, does not keep the teacher out.
    assert send(own, "post", "sign-in", right).status_code == 200
    forged = Client()
    forged.cookies["verso_known"] = "brandt:x"
    assert send(forged, "post", "sign-in", right).status_code == 429


def test_one_password_tried_on_many_names_is_noticed(school: Staffroom, caplog: pytest.LogCaptureFixture) -> None:
    own, right = Client(), {"username": "brandt", "password": PASSWORD}
    send(own, "post", "sign-in", right)
    for n in range(guesses.NAMES_FROM_ONE_ADDRESS):
        send(Client(), "post", "sign-in", {"username": f"teacher{n}", "password": "spring-2026"})
    assert "names in ten minutes" in caplog.text
    refused = send(Client(), "post", "sign-in", right)
    assert (refused.status_code, "many names" in refused.json()["detail"]) == (429, True)
    assert send(own, "post", "sign-in", right).status_code == 200


@pytest.mark.parametrize("path", ["sign-in", "first-account", "student/join", "student/hello", "own/enter", "classes"])
def test_no_other_sites_page_can_ask_for_a_change(path: str) -> None:
    for headers in (
        {"Origin": "https://elsewhere.example"},
        {"Origin": "null"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
    ):
        reply = Client().post(f"/api/v1/{path}", {}, content_type="application/json", headers=headers)
        assert (reply.status_code, "own pages" in reply.json()["detail"]) == (403, True)
    # What a plain form can send without asking is not taken either.
    assert Client().post(f"/api/v1/{path}", "{}", content_type="text/plain").status_code == 415
    own = {"Origin": "http://testserver", "Sec-Fetch-Site": "same-origin"}
    assert Client().post(f"/api/v1/{path}", {}, content_type="application/json", headers=own).status_code not in (
        403,
        415,
    )


def test_nothing_but_the_way_in_is_open_to_strangers() -> None:
    described = teacher_api.get_openapi_schema(path_prefix="/api/v1/")["paths"]
    open_to_all = {"/api/v1/me", "/api/v1/first-account", "/api/v1/sign-in", "/api/v1/with-code", "/api/v1/forgotten"}
    open_to_all |= {"/api/v1/sign-in/passkey", "/api/v1/sign-in/passkey/offer"}
    for path, methods in described.items():
        if path in open_to_all:
            continue
        filled = path.replace("{item_id}", "0" * 8 + "-0000-4000-8000-" + "0" * 12).replace("{step}", "open")
        filled = (
            filled.replace("{stimulus_id}", "0" * 8 + "-0000-4000-8000-" + "0" * 12)
            .replace("{form}", "csv")
            .replace("{what}", "booklet")
        )
        filled = re.sub(r"\{(scan|page|upload|file|material)_id\}", "0" * 8 + "-0000-4000-8000-" + "0" * 12, filled)
        filled = re.sub(r"\{\w+\}", "1", filled)
        for method in methods:
            assert getattr(Client(), method)(filled).status_code == 401, (method, path)


def test_two_teachers_never_see_each_others_things(staffroom: Callable[[str], Staffroom]) -> None:
    one, other = staffroom("one"), staffroom("other")
    sitting = one.open_sitting()
    item = refs(sitting)[0]
    for path in (
        f"classes/{sitting.school_class_id}",
        f"items/{item}",
        f"tests/{sitting.edition.test_id}",
        f"sittings/{sitting.pk}",
        f"sittings/{sitting.pk}/findings",
    ):
        assert one.client.get(f"/api/v1/{path}").status_code == 200
        assert other.client.get(f"/api/v1/{path}").status_code == 404
    assert other.client.get("/api/v1/items").json() == {"total": 0, "items": []}
    for path in ("classes", "tests", "sittings", "editions", "skills", "stimuli"):
        assert other.client.get(f"/api/v1/{path}").json() == []
    assert other.client.get("/api/v1/find?typed=a").json() == []
    body = {"edition": sitting.edition_id, "class_id": sitting.school_class_id}
    assert send(other.client, "post", "sittings", body).status_code == 404
    test = send(other.client, "post", "tests", {"title": "Mine"}).json()
    assert (
        send(other.client, "put", f"tests/{test['id']}", {"title": "Mine", "layout": layout(item)}).status_code == 404
    )


def test_a_class_gives_desk_numbers_in_order_and_never_again(school: Staffroom) -> None:
    body = send(school.client, "post", "classes", {"name": " 8  Heron "}).json()
    assert body["name"] == "8 Heron"
    assert send(school.client, "post", "classes", {"name": "8 Heron"}).status_code == 409
    path = f"classes/{body['id']}/students"
    page = send(school.client, "post", path, {"lines": ["Wren Okafor", "", "de Vries, Bram", "Cher"]}).json()
    assert [(s["desk"], s["short_name"]) for s in page["list"]] == [(1, "Wren O."), (2, "Bram V."), (3, "Cher")]
    assert len({s["pass_phrase"] for s in page["list"]}) == 3
    last = page["list"][2]
    send(school.client, "delete", f"{path}/{last['id']}")
    page = send(school.client, "post", path, {"lines": ["Ines Almeida"]}).json()
    assert [(s["desk"], s["short_name"]) for s in page["list"]] == [(1, "Wren O."), (2, "Bram V."), (4, "Ines A.")]
    wren = page["list"][0]
    change = {"given_name": "Wren", "family_name": "Ojo", "extra_time": 25, "tags": ["choir"]}
    renamed = send(school.client, "put", f"{path}/{wren['id']}", change).json()
    assert (renamed["extra_time"], renamed["tags"]) == (25, ["choir"])
    assert (renamed["family_name"], renamed["pass_phrase"]) == ("Ojo", wren["pass_phrase"])
    assert send(school.client, "post", f"{path}/{wren['id']}/new-pass").json()["pass_phrase"] != wren["pass_phrase"]
    assert send(school.client, "post", path, {"lines": ["  "]}).json()["detail"] == "Type at least one name."


def test_a_question_is_kept_found_and_not_overwritten_from_two_windows(school: Staffroom) -> None:
    content = {"kind": "true_false", "stem": "Lamps use current up", "key": False}
    body = send(school.client, "post", "items", {"content": content, "skills": ["Loops", "Loops"]}).json()
    assert (body["skills"], body["problems"], body["revision"]) == (["Loops"], [], 1)
    path = f"items/{body['id']}"
    change = {"content": {**content, "stem": "Lamps use energy"}, "skills": [], "revision": 1}
    assert send(school.client, "put", path, change).json()["revision"] == 2
    refused = send(school.client, "put", path, change)
    assert (refused.status_code, "another window" in refused.json()["detail"]) == (409, True)

    def found(query: str) -> list[str]:
        return [item["id"] for item in school.client.get(f"/api/v1/items?{query}").json()["items"]]

    assert found("search=ENERGY lam") == [body["id"]]
    assert found("search=current") == found("skill=Loops") == found("kind=written") == []
    assert found("kind=true_false&used=unused&difficulty=unknown&flagged=clean") == [body["id"]]
    assert send(school.client, "post", "items/archive", {"ids": [body["id"]]}).json() == {"count": 1}
    assert found("") == []
    assert send(school.client, "post", "items/restore", {"ids": [body["id"]]}).json() == {"count": 1}
    send(school.client, "post", "items/tag", {"ids": [body["id"]], "add_skills": ["Loops"], "add_keywords": ["exam"]})
    assert found("skill=Loops") == found("search=exam") == [body["id"]]
    bad = send(school.client, "post", "items", {"content": {**content, "marks": 0}})
    assert bad.status_code == 422
    assert problems_of(bad)


def test_an_edition_is_frozen_and_the_test_goes_on(school: Staffroom) -> None:
    body = send(school.client, "post", "tests", {"title": "Circuits"}).json()
    path = f"tests/{body['id']}"
    refused = send(school.client, "post", f"{path}/freeze")
    assert problems_of(refused) == ["The test has no questions yet."]
    content = {"kind": "true_false", "stem": "One", "key": True}
    items = [send(school.client, "post", "items", {"content": content}).json() for _ in range(2)]
    ids = [item["id"] for item in items]
    send(school.client, "put", path, {"title": "Circuits", "instructions": "Go.", "layout": layout(*ids)})
    first = send(school.client, "post", f"{path}/freeze").json()
    assert (first["number"], first["questions"], first["marks"]) == (1, 2, 2)
    assert send(school.client, "post", f"{path}/freeze").json()["id"] == first["id"]
    change = {"content": {**content, "stem": "Changed"}, "revision": items[0]["revision"]}
    send(school.client, "put", f"items/{ids[0]}", change)
    send(school.client, "put", path, {"title": "Circuits", "layout": layout(*ids[::-1])})
    second = send(school.client, "post", f"{path}/freeze").json()
    assert second["number"] == 2
    paper = school.client.get(f"/api/v1/{path}/preview").json()
    assert [question["item"]["stem"] for question in paper["items"]] == ["One", "Changed"]
    twice = send(school.client, "put", path, {"title": "Circuits", "layout": layout(ids[0], ids[0])})
    assert twice.json()["detail"] == "The same question stands in the test twice."
    changes = school.client.get(f"/api/v1/editions/{second['id']}/changes").json()
    assert [(line["number"], line["change"]) for line in changes] == [(1, "moved, was 2"), (2, "changed: the question")]
    assert send(school.client, "delete", path).status_code == 200
    assert (school.client.get(f"/api/v1/{path}").status_code, len(school.client.get("/api/v1/tests").json())) == (
        404,
        0,
    )
    assert send(school.client, "post", f"{path}/restore").json()["title"] == "Circuits"


def test_a_sitting_says_what_is_missing_and_cannot_be_opened_without_it(school: Staffroom) -> None:
    sitting = school.sitting(students=0)
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}").json()
    assert page["state"] == "planned"
    assert "has no students yet" in page["missing"][0]
    refused = send(school.client, "post", f"sittings/{sitting.pk}/steps/open")
    assert problems_of(refused) == page["missing"]
    path = f"classes/{sitting.school_class_id}/students"
    send(school.client, "post", path, {"lines": ["Late Comer"]})
    opened = send(school.client, "post", f"sittings/{sitting.pk}/steps/open").json()
    assert (opened["state"], [seat["name"] for seat in opened["list"]]) == ("open", ["Late C."])
    assert send(school.client, "delete", f"sittings/{sitting.pk}").status_code == 409
    moved = {"planned_for": "2031-05-01T09:40:00Z"}
    assert send(school.client, "put", f"sittings/{sitting.pk}", moved).status_code == 409
    assert send(school.client, "post", f"sittings/{sitting.pk}/steps/dance").status_code == 422


def test_absence_is_for_who_has_not_begun(school: Staffroom) -> None:
    sitting = school.open_sitting()
    devices(sitting)[0].join()
    seats = sorted(school.client.get(f"/api/v1/sittings/{sitting.pk}").json()["list"], key=lambda seat: seat["desk"])
    path = f"sittings/{sitting.pk}/seats"
    refused = send(school.client, "put", f"{path}/{seats[0]['id']}", {"state": "absent"})
    assert "has begun" in refused.json()["detail"]
    page = send(school.client, "put", f"{path}/{seats[1]['id']}", {"state": "excused"}).json()
    assert [seat["state"] for seat in page["list"]] == ["working", "expected", "excused"]
    assert send(school.client, "put", f"{path}/999999", {"state": "absent"}).status_code == 404


def test_findings_count_who_handed_in_and_are_kept_by_content(school: Staffroom) -> None:
    sitting = school.open_sitting()
    path = f"/api/v1/sittings/{sitting.pk}/findings"
    assert school.client.get(path).json()["body"] is None
    one, _two = refs(sitting)
    for device, option in zip(devices(sitting)[:2], "ba", strict=True):
        device.join()
        device.answer(one, {"kind": "single_choice", "option": option}, 1)
        device.post("hand-in")
    page = school.client.get(path).json()
    assert (page["partial"], page["away"]) == (True, ["Student3 F."])
    assert page["body"]["test"]["mean"] == 0.5
    assert [option["seats"] for option in page["body"]["paper"][0]["options"]] == [
        [page["students"][1]["seat"]],
        [page["students"][0]["seat"]],
        [],
        [],
    ]
    assert len(page["body"]["paper"][1]["not_given"]) == 2
    assert [student["total"] for student in page["students"]] == [1, 0, None]
    again = school.client.get(path).json()
    assert (again, CachedAnalysis.objects.count()) == (page, 1)
    services.close_sitting(sitting)
    assert school.client.get(path).json()["partial"] is False


def test_the_demo_school_is_whole_and_loads_once() -> None:
    teacher = loading.load()
    assert loading.load() == teacher
    assert Teacher.objects.count() == 2
    client = Client()
    assert send(client, "post", "sign-in", {"username": "brandt", "password": DEMO_PASSWORD}).status_code == 200
    classes = {line["name"]: line["students"] for line in client.get("/api/v1/classes").json()}
    assert classes == {"8 Heron": 26, "8 Tern": 24, "Rhythm Club": 9}
    items = client.get("/api/v1/items?most=200").json()["items"]
    assert len(items) >= 24
    assert all(item["skills"] and item["ready"] for item in items)
    assert {item["kind"] for item in items} == set(CONTENTS)
    states = Counter(Sitting.objects.values_list("state", flat=True))
    # This term, and the year before it.
    assert states == {"closed": 5 + 6, "released": 6, "open": 1, "paused": 2, "ready": 1}
    (twice,) = SecondMarking.objects.all()
    assert {mark.by.username for mark in Mark.objects.filter(seat__sitting=twice.sitting)} == {"brandt", "varga"}
    assert second_marking.left_in(twice.sitting) == (0, 0), "what two did not agree on was settled"
    assert all(sitting.edition.frozen_at < sitting.closed_at for sitting in Sitting.objects.exclude(closed_at=None))
    desk = client.get("/api/v1/desk").json()
    assert (len(desk["open"]), len(desk["waiting"]), len(desk["news"])) == (3, 1, 4)
    results = {new["first"]["flag"] for new in desk["news"] if new["first"]}
    assert "check the key" in results  # the slip of circuits.toml
    kinds = {
        line["kind"]
        for typed in ("heron", "circuits", "lamp")
        for line in client.get(f"/api/v1/find?typed={typed}").json()
    }
    assert kinds == {"class", "test", "sitting", "question"}
    assert client.get("/api/v1/find?typed=okafor").json()[0]["kind"] == "student"


def test_no_two_bodies_of_the_api_are_called_alike() -> None:
    """The description of the API names them by class: of two that are called alike it would show one in both places."""

    def every(model: type[Schema]) -> set[type[Schema]]:
        return {model}.union(*(every(below) for below in model.__subclasses__()))

    named: dict[str, set[str]] = {}
    for model in every(Schema):
        # Students' devices have an API, and names, of their own.
        if model.__module__.startswith("versomark.") and not model.__module__.endswith("_student"):
            named.setdefault(model.__name__, set()).add(model.__module__)
    assert {name: modules for name, modules in named.items() if len(modules) > 1} == {}
