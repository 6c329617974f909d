"""Accounts, ways in and ways back, second factors, sign-ins that end, and the log of them.

Figures of a second factor are checked against the test vectors of RFC 6238, appendix B.
"""

import json
import re
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pyotp
import pytest
from django.contrib.sessions.models import Session
from django.core import mail
from django.core.management import CommandError, call_command
from django.test import Client
from django.utils import timezone

from tests.conftest import PASSWORD, Staffroom
from tests.school.test_teacher_side import send
from versomark.school.accounts import second_factor, sign_ins
from versomark.school.accounts.models import OneTimeCode, Role, SecurityEvent, SignedIn, Teacher
from versomark.school.accounts.security_log import KEPT, Kind, forget_old_events
from versomark.school.bank.models import Skill
from versomark.school.classes.services import make_class, share_class

pytestmark = pytest.mark.django_db


def invited(school: Staffroom, username: str = "varga", **more: Any) -> tuple[int, str]:
    reply = send(school.client, "post", "people", {"name": "P. Varga", "username": username, **more})
    assert reply.status_code == 200, reply.content
    return reply.json()["person"]["id"], reply.json()["code"]


def with_code(client: Client, username: str, code: str, password: str = "a-new-word-7") -> Any:
    return send(client, "post", "with-code", {"username": username, "code": code, "password": password})


def signed_in(username: str, password: str, **more: Any) -> tuple[Client, Any]:
    client = Client(HTTP_USER_AGENT="Mozilla/5.0 (Windows NT 10.0) Gecko/20100101 Firefox/140.0")
    return client, send(client, "post", "sign-in", {"username": username, "password": password, **more})


def kinds(of: Staffroom) -> list[str]:
    return [event["kind"] for event in of.client.get("/api/v1/security-log").json()]


def test_an_invitation_lets_in_once_and_a_way_back_ends_what_was_open(school: Staffroom) -> None:
    person, code = invited(school)
    assert signed_in("varga", "")[1].status_code == 401
    assert with_code(Client(), "varga", code, "short").status_code in (409, 422)
    assert with_code(Client(), "varga", "aaaa-bbbb-cccc-dddd").status_code == 403
    varga = Client()
    assert with_code(varga, "Varga ", code.replace("-", " ").upper()).status_code == 200
    assert varga.get("/api/v1/me").json()["name"] == "P. Varga"
    assert with_code(Client(), "varga", code).status_code == 403  # used
    assert code not in json.dumps(list(OneTimeCode.objects.values_list("digest", flat=True)))
    first, second = (send(school.client, "post", f"people/{person}/code").json()["code"] for _ in range(2))
    assert with_code(Client(), "varga", first).status_code == 403  # a newer one was made
    assert varga.get("/api/v1/me").json()["name"] == "P. Varga"
    assert with_code(Client(), "varga", second, "another-word-8").status_code == 200
    assert varga.get("/api/v1/me").json()["name"] is None
    third = send(school.client, "post", f"people/{person}/code").json()["code"]
    OneTimeCode.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
    assert with_code(Client(), "varga", third).status_code == 403
    for _ in range(20):
        with_code(Client(), "varga", "zzzz-zzzz-zzzz-zzzz")
    assert with_code(Client(), "varga", "zzzz-zzzz-zzzz-zzzz").status_code == 429
    assert {"invited", "code made", "code used", "password changed", "signed in"} <= set(kinds(school))


def test_who_is_no_administrator_or_of_another_school_reaches_no_account(
    school: Staffroom, staffroom: Callable[[str], Staffroom]
) -> None:
    person, code = invited(school)
    varga = Client()
    with_code(varga, "varga", code)
    stranger = staffroom("stranger")
    for path, body in (
        (f"people/{school.teacher.pk}/code", None),
        (f"people/{school.teacher.pk}/deactivate", {}),
        (f"people/{school.teacher.pk}/restore", None),
        ("people", {"name": "X", "username": "xx"}),
    ):
        assert send(varga, "post", path, body).status_code == 403
        assert send(stranger.client, "post", path, body).status_code in (404, 200)  # 200: one of their own school
    assert send(varga, "put", f"people/{person}/role", {"role": "admin"}).status_code == 403
    assert varga.get("/api/v1/people").status_code == varga.get("/api/v1/security-log").status_code == 403
    assert varga.get("/api/v1/admins").json() == [school.teacher.name]
    assert {entry["username"] for entry in stranger.client.get("/api/v1/people").json()} == {"stranger", "xx"}
    assert Teacher.objects.get(pk=school.teacher.pk).is_active
    assert send(stranger.client, "post", f"people/{person}/deactivate", {}).status_code == 404


def test_work_is_handed_over_whole_and_the_last_administrator_stays(school: Staffroom) -> None:
    assert send(school.client, "post", f"people/{school.teacher.pk}/deactivate", {}).status_code == 409
    assert send(school.client, "put", f"people/{school.teacher.pk}/role", {"role": "teacher"}).status_code == 409
    person, code = invited(school, role="admin")
    varga = Client()
    with_code(varga, "varga", code)
    sitting = school.open_sitting()
    shared = make_class(Teacher.objects.get(pk=person), "Theirs")
    share_class(shared, school.teacher.pk, may_mark=True, may_run=False)
    share_class(sitting.school_class, person, may_mark=True, may_run=False)
    Skill.objects.create(owner_id=person, name="A skill")  # one of the same name
    before = {
        path: school.client.get(f"/api/v1/{path}").json()
        for path in ("classes", "tests", f"sittings/{sitting.pk}/results")
    }
    reply = send(varga, "post", f"people/{school.teacher.pk}/deactivate", {"hand_to": person})
    assert (reply.status_code, reply.json()["is_active"]) == (200, False), reply.content
    assert school.client.get("/api/v1/me").json()["name"] is None  # here and now
    assert signed_in("brandt", PASSWORD)[1].status_code == 401
    assert {entry["name"] for entry in varga.get("/api/v1/classes").json()} == {"Theirs", sitting.school_class.name}
    assert [entry["title"] for entry in varga.get("/api/v1/tests").json()] == [
        entry["title"] for entry in before["tests"]
    ]
    results = varga.get(f"/api/v1/sittings/{sitting.pk}/results").json()
    assert results["students"] == before[f"sittings/{sitting.pk}/results"]["students"]
    items = varga.get("/api/v1/items").json()
    assert items["total"] == 2 if "total" in items else len(items["items"]) == 2
    assert [skill.name for skill in Skill.objects.all()] == ["A skill"]
    assert Skill.objects.get().items.count() == 2
    assert not shared.co_teachers.exists()
    restored = send(varga, "post", f"people/{school.teacher.pk}/restore")
    assert restored.json()["is_active"]
    assert signed_in("brandt", PASSWORD)[1].status_code == 200
    assert SecurityEvent.objects.filter(kind=Kind.HANDED_OVER, subject=f"teacher {school.teacher.pk}").count() == 1


def test_a_forgotten_password_comes_by_mail_and_nobody_learns_who_is_there(school: Staffroom, settings: Any) -> None:
    Teacher.objects.filter(pk=school.teacher.pk).update(email="brandt@school.example")
    outside = Client()
    replies = []
    settings.EMAIL_HOST, settings.ADDRESS = "mail.school.example", "https://marks.school.example"
    from django.test.utils import override_settings

    with override_settings(EMAIL_BACKEND="django.core.mail.backends.locmem.EmailBackend"):
        from django.db import transaction

        assert transaction.get_connection().in_atomic_block
        for name in ("brandt", "nobody"):
            with pytest.MonkeyPatch.context() as patch:
                patch.setattr(transaction, "on_commit", lambda then: then())
                replies.append(send(outside, "post", "forgotten", {"username": name}))
    assert replies[0].content == replies[1].content
    (letter,) = mail.outbox
    assert letter.to == ["brandt@school.example"]
    (code,) = re.findall(r"^(?:[a-z0-9]{4}-){3}[a-z0-9]{4}$", letter.body, re.MULTILINE)
    assert "https://marks.school.example/with-code" in letter.body
    assert with_code(outside, "brandt", code).status_code == 200


def test_a_second_factor_is_the_one_of_the_standard_and_is_taken_once(
    school: Staffroom, monkeypatch: pytest.MonkeyPatch
) -> None:
    # RFC 6238, appendix B, SHA-1: the last six of the eight figures.
    secret = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ"
    for seconds, figures in ((59, "287082"), (1111111109, "081804"), (1234567890, "005924"), (20000000000, "353130")):
        assert pyotp.TOTP(secret).at(seconds) == figures
        monkeypatch.setattr(second_factor.time, "time", lambda seconds=seconds: seconds)
        assert second_factor._step_of(secret, figures) == seconds // 30
    monkeypatch.setattr(second_factor.time, "time", lambda: 1111111109)
    offer = school.client.get("/api/v1/me/second-factor").json()
    assert 'fill="#fff"' in offer["picture"]  # a ground of its own: on a dark page black alone is read by no phone
    wrong = send(school.client, "put", "me/second-factor", {"secret": secret, "figures": "000000"})
    assert wrong.status_code == 422
    on = send(school.client, "put", "me/second-factor", {"secret": secret, "figures": "081 804"}).json()
    assert len(set(on["codes"])) == 8
    _, reply = signed_in("brandt", PASSWORD)
    assert (reply.status_code, reply.json()["code"]) == (401, "second_factor_wanted")
    assert signed_in("brandt", PASSWORD, figures="081804")[1].status_code == 401  # those turned it on
    monkeypatch.setattr(second_factor.time, "time", lambda: 1111111111)  # the next step: 050471
    assert signed_in("brandt", PASSWORD, figures="050471")[1].status_code == 200
    assert signed_in("brandt", PASSWORD, figures="050471")[1].status_code == 401
    assert signed_in("brandt", PASSWORD, figures=on["codes"][0])[1].status_code == 200
    assert signed_in("brandt", PASSWORD, figures=on["codes"][0])[1].status_code == 401
    assert signed_in("brandt", "wrong-word-1", figures=on["codes"][1])[1].json()["code"] != "second_factor_wanted"
    for _ in range(10):
        signed_in("brandt", PASSWORD, figures="123456")
    assert signed_in("brandt", PASSWORD, figures=on["codes"][1])[1].status_code == 429
    assert send(school.client, "delete", "me/second-factor", {"password": "no"}).status_code == 422
    assert send(school.client, "delete", "me/second-factor", {"password": PASSWORD}).status_code == 200
    assert signed_in("brandt", PASSWORD)[1].status_code == 200


def test_sign_ins_are_listed_ended_and_end_by_themselves(school: Staffroom) -> None:
    other, _ = signed_in("brandt", PASSWORD)
    shared, reply = signed_in("brandt", PASSWORD, is_shared=True)
    assert reply.cookies["verso_teacher"]["max-age"] == ""  # until the browser is closed
    listed = school.client.get("/api/v1/me/sign-ins").json()
    assert [(entry["device"], entry["is_shared"]) for entry in listed if not entry["is_this"]] == [
        ("Firefox, Windows", True),
        ("Firefox, Windows", False),
    ]
    (plain,) = [entry["id"] for entry in listed if not entry["is_this"] and not entry["is_shared"]]
    assert len(send(school.client, "delete", f"me/sign-ins/{plain}").json()) == 2
    assert other.get("/api/v1/me").json()["name"] is None
    assert send(shared, "delete", f"me/sign-ins/{plain}").status_code == 404
    # The clock moves: a shared device is signed out after half an hour, the other after a week.
    SignedIn.objects.update(seen_at=timezone.now() - sign_ins.SHARED_IDLE - timedelta(seconds=9))
    assert shared.get("/api/v1/me").json()["name"] is None
    assert school.client.get("/api/v1/me").json()["name"] == "Brandt"
    SignedIn.objects.update(began_at=timezone.now() - sign_ins.LONGEST - timedelta(seconds=9))
    assert school.client.get("/api/v1/me").json()["name"] is None
    again, _ = signed_in("brandt", PASSWORD)
    third, _ = signed_in("brandt", PASSWORD)
    assert len(send(again, "delete", "me/sign-ins").json()) == 1
    assert third.get("/api/v1/classes").status_code == 401
    # A new password leaves this browser in, and no other.
    third, _ = signed_in("brandt", PASSWORD)
    assert send(again, "put", "me/password", {"now": PASSWORD, "new": "quite-another-1"}).status_code == 200
    assert third.get("/api/v1/me").json()["name"] is None
    assert again.get("/api/v1/me").json()["name"] == "Brandt"
    assert Session.objects.count() == SignedIn.objects.count()


def test_the_log_says_who_saw_whose_data_and_what_was_taken_out(school: Staffroom) -> None:
    sitting = school.open_sitting()
    for _ in range(3):
        school.client.get(f"/api/v1/sittings/{sitting.pk}/results")
    school.client.get(f"/api/v1/sittings/{sitting.pk}/results.csv")
    student = sitting.school_class.places.all()[0].student_id
    school.client.get(f"/api/v1/classes/{sitting.school_class_id}/students/{student}/report")
    send(school.client, "put", f"sittings/{sitting.pk}/results/release", {})
    signed_in("brandt", "wrong-word-1")
    signed_in("nobody", "wrong-word-1")
    school.client.get("/api/v1/sittings/999999/results")
    log = [(e["kind"], e["actor"], e["subject"]) for e in school.client.get("/api/v1/security-log").json()]
    assert log.count(("saw", "Brandt", f"sitting {sitting.pk}")) == 1
    assert log.count(("took out", "Brandt", f"sitting {sitting.pk}")) == 1
    assert ("saw", "Brandt", f"student {student}") in log
    assert [entry for entry in log if entry[0] == "sign-in failed"] == [
        ("sign-in failed", "", ""),
        ("sign-in failed", "", f"teacher {school.teacher.pk}"),
    ]
    assert not any("999999" in subject for *_, subject in log)
    only = school.client.get("/api/v1/security-log?kinds=took out").json()
    assert [event["kind"] for event in only] == ["took out"]
    assert school.client.get(f"/api/v1/security-log?before={only[0]['id']}").json()[0]["id"] < only[0]["id"]
    SecurityEvent.objects.filter(kind="saw").update(at=timezone.now() - KEPT - timedelta(days=1))
    assert forget_old_events() == len([entry for entry in log if entry[0] == "saw"])
    assert school.client.get("/api/v1/people").json()[0]["role"] == Role.ADMIN


def test_whoever_has_the_machine_brings_an_administrator_back(
    school: Staffroom, capsys: pytest.CaptureFixture[str]
) -> None:
    Teacher.objects.update(role="teacher", is_active=False, second_factor="GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ")
    with pytest.raises(CommandError, match="Administrators are: none"):
        call_command("admin_code", "nobody")
    call_command("admin_code", "Brandt")
    code = capsys.readouterr().out.split()[0]
    back = Client()
    assert with_code(back, "brandt", code).status_code == 200
    assert back.get("/api/v1/me").json()["is_admin"]
