"""Coming in by picking one's name: only where the teacher allows it, and never into a seat that somebody holds."""

from typing import Any

import pytest
from django.test import Client

from tests.conftest import Staffroom, devices
from tests.school.test_room import act, choose, lesson, now
from tests.school.test_teacher_side import send
from versomark.school import guesses
from versomark.school.classes.services import change_student
from versomark.school.delivery import presence
from versomark.school.delivery.models import Seat
from versomark.school.room.models import Room

pytestmark = pytest.mark.django_db


def allow(school: Staffroom, room: Room, names_to_pick: bool = True) -> Any:
    return send(school.client, "put", f"sittings/{room.sitting_id}/room/wall", {"names_to_pick": names_to_pick}).json()


def names(room: Room, code: str = "") -> Any:
    return Client().get("/api/v1/student/names", {"code": code or room.sitting.code}).json()


def pick(room: Room, seat: int) -> tuple[Client, Any]:
    client = Client()
    body = {"code": room.sitting.code, "seat": seat}
    return client, client.post("/api/v1/student/pick", body, content_type="application/json")


def test_a_name_is_picked_and_answers(school: Staffroom) -> None:
    room = lesson(school)
    seats = list(room.sitting.seats.order_by("desk"))
    assert names(room) == {"names": None}
    assert pick(room, seats[0].pk)[1].status_code == 403
    assert allow(school, room)["names_to_pick"] is True
    assert [entry["name"] for entry in names(room)["names"]] == ["Student1 F.", "Student2 F.", "Student3 F."]
    client, reply = pick(room, seats[0].pk)
    assert (reply.status_code, reply.json()["student"]) == (200, "Student1 F.")
    act(school, room, "go")
    device = devices(room.sitting)[0]
    device.client = client
    assert choose(device, "b").status_code == 200
    assert now(device)["response"]["option"] == "b"
    # Taken while a device holds its connection; free again for who lost it, and the answer is still there.
    presence.came(seats[0].pk)
    assert [entry["taken"] for entry in names(room)["names"]] == [True, False, False]
    assert pick(room, seats[0].pk)[1].json()["detail"].startswith("Someone is in as Student1 F. already.")
    presence.went(seats[0].pk)
    again, reply = pick(room, seats[0].pk)
    assert reply.status_code == 200
    assert again.get("/api/v1/student/room").json()["response"]["option"] == "b"
    act(school, room, "end")
    assert names(room) == {"names": None}


def test_no_name_is_told_where_it_must_not_be(school: Staffroom, staffroom: Any) -> None:
    room, other = lesson(school), lesson(staffroom("other"))
    plain = school.open_sitting()
    allow(school, room)
    assert names(other)["names"] is None
    assert names(plain_room(plain), plain.code)["names"] is None
    assert names(room, "no-such-code")["detail"] == "No sitting has that code. Look at the board again."
    # A seat of another lesson is not to be had with this code.
    foreign = Seat.objects.filter(sitting=other.sitting).first()
    assert foreign is not None
    assert pick(room, foreign.pk)[1].status_code == 404
    assert pick(room, 10**12)[1].status_code == 404
    allow(school, room, False)
    assert names(room) == {"names": None}


def plain_room(sitting: Any) -> Room:
    return Room(sitting=sitting)


def test_two_of_the_same_name_are_told_apart(school: Staffroom) -> None:
    room = lesson(school)
    for seat, family in zip(
        room.sitting.seats.select_related("student").order_by("desk"), ("Abt", "Ahn", "Zed"), strict=True
    ):
        change_student(seat.student, "Ines", family)
    allow(school, room)
    assert [entry["name"] for entry in names(room)["names"]] == ["Ines Ab.", "Ines Ah.", "Ines Z."]


def test_guessing_codes_for_names_is_counted_like_guessing_passes(school: Staffroom) -> None:
    room = lesson(school)
    allow(school, room)
    for _ in range(guesses.FROM_ONE_ADDRESS + 1):
        names(room, "word-1")
    reply = names(room)
    assert "Very many wrong tries" in reply["detail"]
