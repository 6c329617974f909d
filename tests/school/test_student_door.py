"""The student's side: what is sent to a device, and that nothing acknowledged is ever lost."""

import re
from itertools import product
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.test import Client

from tests.conftest import Device, Staffroom, devices, names_given_back, refs, two_questions
from versomark.school import guesses
from versomark.school.delivery import services, supervising
from versomark.school.delivery.models import Seat, SeatState, Sitting
from versomark.school.responses.models import Answer
from versomark.school.responses.services import responses_of
from versomark.site.api import student_api

pytestmark = pytest.mark.django_db
CHOICE = {"kind": "single_choice", "option": "b"}
FALSE = {"kind": "true_false", "value": False}


def every_byte(sitting: Sitting, device: Device, sent: list[str]) -> dict[str, bytes]:
    """Calls every operation of the student API, in every stage of a sitting, and keeps all that comes back.

    Bodies by name; the values of headers and cookies, which carry signatures and lengths, go to `sent`.
    """
    one, two = refs(sitting)
    calls = {
        ("get", "/api/v1/student/hello"): lambda: device.client.get("/api/v1/student/hello"),
        ("get", "/api/v1/student/seat"): device.seat,
        ("post", "/api/v1/student/join"): device.join,
        ("post", "/api/v1/student/answers"): lambda: device.answer(one, CHOICE, 1),
        ("post", "/api/v1/student/files/{item}"): lambda: device.client.post(
            f"/api/v1/student/files/{one}", {"file": SimpleUploadedFile("a.pdf", b"%PDF-1.4")}
        ),
        # A lesson in the room has proof of its own (test_room.py); here there is none to be asked about.
        ("get", "/api/v1/student/room"): lambda: device.client.get("/api/v1/student/room"),
        ("post", "/api/v1/student/room/answers"): lambda: device.post(
            "room/answers", {"client_id": str(uuid4()), "round": 1}
        ),
        ("get", "/api/v1/student/names"): lambda: device.client.get("/api/v1/student/names", {"code": sitting.code}),
        ("post", "/api/v1/student/pick"): lambda: device.post("pick", {"code": sitting.code, "seat": 1}),
        ("post", "/api/v1/student/signs"): lambda: device.post("signs", {"at": one}),
        ("get", "/api/v1/student/files/{file_id}"): lambda: device.client.get(f"/api/v1/student/files/{uuid4()}"),
        ("post", "/api/v1/student/hand-in"): lambda: device.post("hand-in"),
        ("post", "/api/v1/student/take-back"): lambda: device.post("take-back"),
        ("get", "/api/v1/student/next"): lambda: device.client.get("/api/v1/student/next"),
        ("post", "/api/v1/student/next"): lambda: device.post("next"),
        ("post", "/api/v1/student/break"): lambda: device.post("break"),
        ("post", "/api/v1/student/break/end"): lambda: device.post("break/end"),
        ("post", "/api/v1/student/again"): lambda: device.post("again"),
        ("post", "/api/v1/student/here"): lambda: device.post("here"),
        ("post", "/api/v1/student/leave"): lambda: device.post("leave"),
    }
    described = student_api.get_openapi_schema(path_prefix="/api/v1/student/")["paths"]
    assert set(calls) == {(method, path) for path, methods in described.items() for method in methods}

    seen: dict[str, bytes] = {}

    def note(stage: str, name: str, response: HttpResponse) -> None:
        seen[f"{stage} {name}"] = response.content
        seen[f"{stage} {name}: headers"] = " ".join(response.headers).encode()
        sent.append(" ".join(response.headers.values()) + response.cookies.output())

    steps = {
        "ready": lambda: None,
        "open": lambda: services.open_sitting(sitting),
        "paused": lambda: services.pause_sitting(sitting),
        "again": lambda: services.open_sitting(sitting),
        "closed": lambda: services.close_sitting(sitting),
    }
    order = [
        ("post", "/api/v1/student/join"),
        *[call for call in calls if "hand-in" not in call[1] and "leave" not in call[1]],
    ]
    for stage, step in steps.items():
        step()
        sitting.refresh_from_db()
        for call in order:
            note(stage, " ".join(call), calls[call]())
    services.open_sitting(sitting)
    device.join()
    note("end", "wrong kind", device.answer(two, CHOICE, 2))
    note("end", "foreign option", device.answer(one, {"kind": "single_choice", "option": "zz"}, 3))
    note("end", "foreign item", device.answer("0f", CHOICE, 4))
    note("end", "not JSON", device.client.post("/api/v1/student/answers", "{", content_type="application/json"))
    note("end", "right", device.answer(two, FALSE, 5))
    note("end", "hand in", device.post("hand-in"))
    note("end", "leave", device.post("leave"))
    return seen


def test_no_byte_a_student_receives_depends_on_key_skill_or_idea(school: Staffroom) -> None:
    """Non-interference: the same sitting with every key, with other skills and notes, sends the very same bytes."""
    secrets = ["Zebrafish-skill", "zebrafish-note"]
    runs = []
    for key, truth in product("ad", [True, False]):
        note, skill = (secrets[1], secrets[0]) if key == "a" else ("another note", "another skill")
        sitting = school.sitting(two_questions(key, truth, note), students=1, skill=skill)
        device = devices(sitting)[0]
        sent: list[str] = []
        seen = every_byte(sitting, device, sent)
        assert any(b"Option c" in body for body in seen.values())  # the questions did arrive
        text = b"".join(seen.values()).decode() + "".join(sent)
        for secret in secrets:
            assert secret not in text
        runs.append({name: neutral(body) for name, body in seen.items()})
        names_given_back()
    assert all(run == runs[0] for run in runs)


def neutral(body: bytes) -> bytes:
    """Without what differs between any two sittings: item and change ids, by order of appearance, the seat, and the
    link to the own pages of its class, and the time."""
    seen: dict[bytes, bytes] = {}
    body = re.sub(
        rb"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}", lambda m: seen.setdefault(m[0], b"%d" % len(seen)), body
    )
    body = re.sub(rb'"/mine/[\w-]+"', b'"/mine/"', body)
    body = re.sub(rb'"moment": ?"[^"]*"', b'"moment": ""', body)
    return re.sub(rb'"seat": ?\d+', b'"seat": 0', body)


def test_answers_are_acknowledged_once_they_are_kept_and_resending_changes_nothing(school: Staffroom) -> None:
    sitting = school.open_sitting()
    device, item = devices(sitting)[0], refs(sitting)[0]
    device.join()
    change = {"client_id": str(uuid4()), "sequence": 1, "item": item, "response": CHOICE}
    for _ in range(3):
        reply = device.post("answers", {"changes": [change]})
        assert reply.json()["kept"] == [change["client_id"]]
    assert Answer.objects.count() == 1


def test_the_later_change_stands_whatever_order_the_network_delivers(school: Staffroom) -> None:
    sitting = school.open_sitting()
    device, item = devices(sitting)[0], refs(sitting)[0]
    device.join()
    for sequence, option in [(3, "c"), (1, "a"), (2, "b")]:
        device.answer(item, {"kind": "single_choice", "option": option}, sequence, come_back=option == "c")
    page = device.seat().json()
    assert page["answers"] == [{"item": item, "response": {"kind": "single_choice", "option": "c"}, "come_back": True}]
    assert page["sequence"] == 3
    assert Answer.objects.count() == 3  # every change stays on record


def test_a_change_that_does_not_fit_is_refused_whole(school: Staffroom) -> None:
    sitting = school.open_sitting()
    device, (one, two) = devices(sitting)[0], refs(sitting)
    device.join()
    changes = [
        {"client_id": str(uuid4()), "sequence": 1, "item": one, "response": CHOICE},
        {"client_id": str(uuid4()), "sequence": 2, "item": two, "response": CHOICE},
    ]
    reply = device.post("answers", {"changes": changes})
    assert reply.status_code == 422
    assert "does not belong" in reply.json()["detail"]
    assert Answer.objects.count() == 0


def test_pausing_handing_in_and_closing_stop_answers_but_lose_none(school: Staffroom) -> None:
    sitting = school.open_sitting()
    first, second, third = devices(sitting)
    item = refs(sitting)[0]
    for device in (first, second):
        device.join()
        assert device.answer(item, CHOICE, 1).status_code == 200
    services.pause_sitting(sitting)
    paused = first.answer(item, None, 2)
    assert (paused.status_code, "paused" in paused.json()["detail"]) == (423, True)
    services.open_sitting(sitting)
    assert first.post("hand-in").json()["stage"] == "handed in"
    assert first.post("hand-in").status_code == 200
    assert first.answer(item, None, 3).status_code == 410
    services.close_sitting(sitting)
    assert second.answer(item, None, 2).status_code == 410
    assert third.join().json()["stage"] == "closed"
    states = list(sitting.seats.values_list("state", flat=True))
    assert states == ["handed in", "handed in", "absent"]
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).values_list("pk", flat=True))
    assert [len(given) for given in responses_of(seats).values()] == [1, 1]
    services.open_sitting(sitting)
    assert list(sitting.seats.values_list("state", flat=True)) == ["handed in", "working", "expected"]


def test_who_comes_early_waits_at_the_door_without_the_questions(school: Staffroom) -> None:
    sitting = school.sitting()
    device = devices(sitting)[0]
    page = device.join().json()
    assert (page["stage"], page["paper"]) == ("waiting", None)
    assert Seat.objects.get(sitting=sitting, desk=1).state == "at the door"
    services.open_sitting(sitting)
    assert device.seat().json()["stage"] == "working"


@pytest.mark.parametrize("typed", ["{word} {digits}", "{WORD}{digits}", " {word}-{digits} "])
def test_code_and_pass_as_students_type_them(school: Staffroom, typed: str) -> None:
    sitting = school.open_sitting()
    device = devices(sitting)[0]
    for name in ("code", "pass_phrase"):
        word, digits = getattr(device, name).split("-")
        setattr(device, name, typed.format(word=word, WORD=word.upper(), digits=digits))
    assert device.join().json()["stage"] == "working"


def test_wrong_codes_and_passes_say_which_and_cannot_be_guessed_at_length(school: Staffroom) -> None:
    sitting = school.open_sitting()
    device = devices(sitting)[0]
    assert "No sitting has that code" in Device(Client(), "nowhere-11", device.pass_phrase).join().json()["detail"]
    assert "not on the list" in Device(Client(), sitting.code, "nobody-111").join().json()["detail"]
    for _ in range(guesses.AT_ONE_SITTING):
        Device(Client(), sitting.code, "nobody-111").join()
    # A right pass always gets in; where passes are guessed, to the door, where the teacher sees who comes.
    assert device.join().json()["stage"] == "at the door"
    supervising.let_in(school.teacher, sitting, [sitting.seats.get(desk=1)])
    assert device.seat().json()["stage"] == "working"
    # Nobody else is kept out: another sitting of the same school, behind the same address, opens as ever.
    other = school.open_sitting()
    assert devices(other)[0].join().json()["stage"] == "working"
    for _ in range(guesses.FROM_ONE_ADDRESS):
        refused = Device(Client(), "nowhere-11", device.pass_phrase).join()
    assert (refused.status_code, "letter by letter" in refused.json()["detail"]) == (429, True)
    assert devices(other)[1].join().json()["stage"] == "working"


def test_a_seat_cannot_be_reached_without_its_own_cookie(school: Staffroom) -> None:
    sitting = school.open_sitting()
    one, two, _ = devices(sitting)
    one.join()
    two.join()
    assert one.seat().json()["student"] != two.seat().json()["student"]
    stranger = Client()
    stranger.cookies["verso_seat"] = one.client.cookies["verso_seat"].value.replace("1", "2", 1) + "x"
    refused = stranger.get("/api/v1/student/seat")
    assert (refused.status_code, "the code and your pass" in refused.json()["detail"]) == (401, True)
    assert Client(enforce_csrf_checks=True).post("/api/v1/student/hand-in").status_code in (401, 403)
    me = one.client.get("/api/v1/me").json()
    assert (me["empty"], me["name"], me["school"], me["email"]) == (False, None, None, "")
    assert one.client.get(f"/api/v1/sittings/{sitting.pk}").status_code == 401
