"""Lessons set up ahead, at everyone's own pace, as homework; and afterwards: the record, and answers brought over."""

from datetime import timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone

from tests.conftest import Device, Staffroom, devices, refs, two_questions
from tests.school.test_room import act, choose, joined, lesson, now
from tests.school.test_teacher_side import send
from tests.school.whole import everything
from versomark.core.items import ItemContent
from versomark.school.delivery import by_the_clock
from versomark.school.delivery import services as sittings
from versomark.school.delivery.models import Sitting
from versomark.school.delivery.timekeeping import GRACE
from versomark.school.responses.models import Answer
from versomark.school.room import answers, practice
from versomark.school.room.models import Room

pytestmark = pytest.mark.django_db


def four_choices() -> list[ItemContent]:
    return [two_questions(key=key)[0] for key in "abcd"]


def record(school: Staffroom, room: Room) -> Any:
    return school.client.get(f"/api/v1/sittings/{room.sitting_id}/room/record").json()


def in_turn(school: Staffroom, room: Room, said: list[str]) -> list[Device]:
    """A lesson as it is answered: for each step of it a letter a student, `.` where one gives nothing; `+` before it
    asks the same question again."""
    found = joined(room)
    for letters in said:
        act(school, room, "again" if letters[0] == "+" else "go")
        for device, letter in zip(found, letters.lstrip("+"), strict=True):
            if letter != ".":
                assert choose(device, letter).status_code == 200
    return found


def test_set_up_ahead_for_two_classes_and_opened_when_they_walk_in(school: Staffroom) -> None:
    planned, other = school.sitting(), school.sitting()
    classes = [planned.school_class_id, other.school_class_id]
    body = {"class_ids": classes, "test": planned.edition.test_id, "planned_for": "2031-02-03T08:00:00Z"}
    made = send(school.client, "post", "room/ahead", body).json()
    assert [line["class_name"] for line in made] == [planned.school_class.name, other.school_class.name]
    path = f"sittings/{made[0]['sitting']}/room"
    page = school.client.get(f"/api/v1/{path}").json()
    assert (page["state"], page["wall"]["stage"], page["missing"]) == ("ready", "joining", [])
    assert act(school, Room.objects.get(sitting=made[0]["sitting"]), "go").status_code == 409
    # The order is settled and the class comes to the door before it opens.
    order = [step["ref"] for step in page["steps"]][::-1]
    assert [
        step["ref"] for step in send(school.client, "put", f"{path}/order", {"refs": order}).json()["steps"]
    ] == order
    device = devices(Sitting.objects.get(pk=made[0]["sitting"]))[0]
    assert device.join().json()["stage"] == "waiting"
    opened = send(school.client, "post", f"{path}/acts", {"act": "open"}).json()
    assert opened["state"] == "open"
    device.seat()
    assert send(school.client, "post", f"{path}/acts", {"act": "go"}).json()["wall"]["question"]["ref"] == order[0]
    assert choose(device, None).status_code == 200
    assert send(school.client, "post", "room/ahead", {**body, "class_ids": []}).status_code == 422


def test_the_same_with_another_class_takes_order_time_and_quick_questions(school: Staffroom) -> None:
    room, other = lesson(school), school.sitting()
    path = f"sittings/{room.sitting_id}/room"
    send(school.client, "put", f"{path}/wall", {"seconds": 45})
    send(school.client, "post", f"{path}/quick", {"options": 3})
    send(school.client, "put", f"{path}/quick/key", {"letter": "c"})
    act(school, room, "end")
    again = send(school.client, "post", "room", {"class_id": other.school_class_id, "like": room.sitting_id}).json()
    assert again["edition"] == room.sitting.edition_id
    assert [step["kind"] for step in again["steps"]] == ["quick", "question", "question"]
    assert again["seconds"] == 45
    page = send(school.client, "post", f"sittings/{again['sitting']}/room/acts", {"act": "go"}).json()
    assert (page["letters"], page["has_key"]) == (["A", "B", "C"], True)
    assert page["place"] == 1


def test_at_their_own_pace_and_together_again(school: Staffroom) -> None:
    room = lesson(school, contents=four_choices())
    one, two, _ = in_turn(school, room, ["ab."])
    page = act(school, room, "let go").json()
    assert (page["alone"], page["wall"]["stage"], page["wall"]["question"]) == (True, "alone", None)
    assert [line["answered"] for line in page["progress"]] == [1, 1, 0]
    seat = one.seat().json()
    assert (seat["in_the_room"], len(seat["paper"]["items"])) == (False, 4)
    assert [answer["response"]["option"] for answer in seat["answers"]] == ["a"]
    assert choose(one, "c").status_code == 410  # the round is over
    second = refs(room.sitting)[1]
    assert one.answer(second, {"kind": "single_choice", "option": "b"}, seat["sequence"] + 1).status_code == 200
    assert one.post("hand-in").status_code == 200
    assert act(school, room, "spread").json()["detail"].startswith("Everyone works at their own pace now.")
    page = act(school, room, "gather").json()
    assert (page["alone"], page["wall"]["here"]) == (False, 3)
    assert one.seat().json()["stage"] == "working"  # who had handed in takes part again
    act(school, room, "go")
    assert now(one)["stage"] == "asking"
    assert choose(two, "c").status_code == 200
    act(school, room, "end")
    body = school.client.get(f"/api/v1/sittings/{room.sitting_id}/findings").json()["body"]
    assert [question["asked"] for question in body["paper"]] == [True, True, False, False]
    assert body["test"]["items"] == 2
    started = send(school.client, "post", "room", {"class_id": room.sitting.school_class_id, "like": room.sitting_id})
    alone = send(
        school.client,
        "post",
        "room",
        {"class_id": room.sitting.school_class_id, "edition": started.json()["edition"], "pace": "alone"},
    ).json()
    assert (alone["alone"], alone["state"]) == (True, "open")


def test_a_practice_class_goes_on_at_its_own_pace(school: Staffroom, monkeypatch: pytest.MonkeyPatch) -> None:
    school.teacher.school.is_demo = True
    school.teacher.school.save()
    room = lesson(school, students=12, contents=four_choices())
    send(school.client, "post", f"sittings/{room.sitting_id}/room/practice", {"by": "device"})
    act(school, room, "let go")
    monkeypatch.setattr(practice.time, "sleep", lambda _: None)
    monkeypatch.setattr(practice, "close_old_connections", lambda: None)
    practice._go_on_alone(room.pk)
    progress = school.client.get(f"/api/v1/sittings/{room.sitting_id}/room").json()["progress"]
    done = [line for line in progress if line["state"] == "handed in"]
    assert len(done) > 6
    assert all(line["answered"] >= 2 for line in done)
    again = act(school, room, "gather").json()
    assert again["wall"]["here"] == len(done)
    practice._go_on_alone(room.pk)  # the class is together: nobody gets in by themselves
    assert not room.sitting.seats.filter(state="handed in").exists()


def test_homework_of_the_same_pages_closes_by_itself(school: Staffroom) -> None:
    room = lesson(school)
    in_turn(school, room, ["b.."])
    path = f"sittings/{room.sitting_id}/room/homework"
    late = send(school.client, "post", path, {"closes_at": (timezone.now() - timedelta(hours=1)).isoformat()})
    assert (late.status_code, "later than now" in late.json()["detail"]) == (422, True)
    ends = timezone.now() + timedelta(hours=1)
    given = send(school.client, "post", path, {"closes_at": ends.isoformat(), "who": "missed"}).json()
    assert given["students"] == 2
    homework = Sitting.objects.get(pk=given["sitting"])
    assert (homework.edition_id, homework.way, homework.state) == (room.sitting.edition_id, "online", "open")
    # Who was in the lesson has no seat in it, and a newcomer of the class does not get one.
    first, second, _ = devices(homework)
    assert first.join().status_code == 404
    assert second.join().json()["closes_at"]
    assert second.seat().json()["paper"]["items"]
    assert by_the_clock.close_overdue() == []
    Sitting.objects.filter(pk=homework.pk).update(closes_at=timezone.now() - GRACE / 2)
    ref = refs(homework)[0]
    assert second.answer(ref, {"kind": "single_choice", "option": "a"}, 1).status_code == 200  # was on its way
    Sitting.objects.filter(pk=homework.pk).update(closes_at=timezone.now() - 2 * GRACE)
    refused = second.answer(ref, {"kind": "single_choice", "option": "b"}, 2)
    assert (refused.status_code, refused.json()["detail"][:8]) == (410, "The time")
    assert [closed.pk for closed in by_the_clock.close_overdue()] == [homework.pk]
    homework.refresh_from_db()
    assert homework.state == "closed"
    assert homework.seats.get(student__given_name="Student2").state == "handed in"
    # Opened again after its end it stays open until the teacher closes it.
    sittings.open_sitting(homework)
    assert by_the_clock.close_overdue() == []
    whole = send(school.client, "post", path, {"closes_at": None}).json()
    assert whole["students"] == 3


def test_the_record_of_a_lesson(school: Staffroom) -> None:
    room = lesson(school, students=4, contents=four_choices())
    in_turn(school, room, ["abb.", "+aab.", "b.b.", "c..c", "d..d"])
    path = f"sittings/{room.sitting_id}/room"
    send(school.client, "post", f"{path}/quick", {"options": 2})
    act(school, room, "end")
    page = record(school, room)
    assert (page["came"], page["of"], page["over"]) == (4, 4, True)
    assert [(question["number"], len(question["rounds"]), question["quick"]) for question in page["questions"]] == [
        (1, 2, False), (2, 1, False), (3, 1, False), (4, 1, False), (5, 1, True),
    ]  # fmt: skip
    first = page["questions"][0]
    assert [(round["answered"], round["right"]) for round in first["rounds"]] == [(3, 1), (3, 2)]
    assert (first["compared"]["gained"], first["compared"]["lost"]) == (1, 0)
    assert first["rounds"][0]["collected"] == ["asked", "stopped"]
    assert page["questions"][4]["rounds"][0]["right"] is None  # nobody has said which letter was right
    students = {student["desk"]: student for student in page["students"]}
    assert [cell["said"] for cell in students[1]["cells"]] == ["A", "A", "B", "C", "D", ""]
    assert [cell["right"] for cell in students[3]["cells"]][:3] == [False, False, True]
    assert {desk: student["dropped_after"] for desk, student in students.items()} == {
        1: "", 2: "question 1", 3: "question 2", 4: "",
    }  # fmt: skip
    assert {desk: student["came_late"] for desk, student in students.items()} == {1: False, 2: False, 3: False, 4: True}
    # The same with the next class stands beside it.
    other = school.sitting(students=2)
    again = send(school.client, "post", "room", {"class_id": other.school_class_id, "like": room.sitting_id}).json()
    second = Room.objects.get(sitting=again["sitting"])
    in_turn(school, second, ["ab"])
    beside = record(school, room)["beside"]
    ref = first["ref"]
    assert [(entry["class_name"], entry["shares"][ref]) for entry in beside] == [(other.school_class.name, [0.5, None])]
    assert record(school, room)["shares"][ref] == [1 / 3, 2 / 3]


def test_findings_of_first_and_last_answers_leave_out_what_was_not_asked(school: Staffroom) -> None:
    room = lesson(school, students=4, contents=four_choices())
    in_turn(school, room, ["abbb", "+aab.", "bbbb"])
    act(school, room, "end")
    path = f"/api/v1/sittings/{room.sitting_id}/findings"
    first, last = (school.client.get(f"{path}?which={which}").json() for which in ("first", "last"))
    assert (first["asked_again"], first["body"]["test"]["max"], first["body"]["test"]["items"]) == (True, 2, 2)
    assert first["body"]["test"]["mean"] == 1.25
    assert last["body"]["test"]["mean"] == 1.5  # who gave nothing the second time is held to the first
    assert [len(option["seats"]) for option in last["body"]["paper"][0]["options"]] == [2, 2, 0, 0]
    assert first["body"]["paper"][2]["figures"] is None
    # The history of the questions is of the first answers, and has none of what was not asked.
    uses = [item.uses.count() for item in school.teacher.items.order_by("pk")]
    assert sorted(uses) == [0, 0, 1, 1]
    assert answers.not_asked([room.sitting])[room.sitting_id] == set(refs(room.sitting)[2:])


@pytest.mark.parametrize("how", ["add", "replace"])
def test_answers_go_into_an_earlier_sitting_only_after_asking_and_come_back(school: Staffroom, how: str) -> None:
    earlier = school.open_sitting(students=3)
    one, two, _ = devices(earlier)
    first, second = refs(earlier)
    for device, option in ((one, "a"), (two, "c")):
        device.join()
        assert device.answer(first, {"kind": "single_choice", "option": option}, 1).status_code == 200
    one.answer(second, {"kind": "true_false", "value": True}, 2)
    sittings.close_sitting(earlier)
    school.client.get(f"/api/v1/sittings/{earlier.pk}/findings")
    body = {"class_id": earlier.school_class_id, "edition": earlier.edition_id}
    room = Room.objects.get(sitting=send(school.client, "post", "room", body).json()["sitting"])
    turn = in_turn(school, room, ["b.b"])
    act(school, room, "go")
    for device in turn[1:]:
        response = {"kind": "true_false", "value": False}
        body = {"client_id": str(uuid4()), "round": now(device)["round_id"], "response": response}
        assert device.post("room/answers", body).status_code == 200
    path = f"sittings/{room.sitting_id}/room/brought"
    wanted = {"into": earlier.pk, "how": how}
    refused = send(school.client, "post", path, wanted)
    assert refused.json()["detail"] == "End the lesson first; then its answers stand."
    act(school, room, "end")
    places = school.client.get(f"/api/v1/{path}").json()
    assert [place["sitting"] for place in places["earlier"]] == [earlier.pk]
    before = everything()
    effect = send(school.client, "post", f"{path}/look", wanted).json()
    assert everything() == before  # looking changes nothing
    counts = (effect["filled"], effect["replaced"], effect["taken_away"])
    assert counts == ((3, 0, 0) if how == "add" else (3, 1, 2))
    stood = current(earlier)
    done = send(school.client, "post", path, wanted).json()
    assert (done["brought"][0]["answers"], done["brought"][0]["how"]) == (sum(counts), how)
    assert current(earlier) == {
        (1, first): "a" if how == "add" else "b",
        (1, second): True if how == "add" else None,
        (2, first): "c" if how == "add" else None,
        (2, second): False,
        (3, first): "b",
        (3, second): False,
    }
    assert earlier.seats.get(desk=3).state == "handed in"
    assert Answer.objects.filter(source="lesson").count() == sum(counts)
    assert send(school.client, "post", path, wanted).json()["detail"].startswith("Nothing would change")
    # The lesson is as it was; and what was brought over can be taken back, but for what was changed since.
    assert record(school, room)["came"] == 3
    number = done["brought"][0]["number"]
    back = send(school.client, "post", f"{path}/{number}/back").json()
    assert back["brought"][0]["taken_back_at"]
    assert {at: said for at, said in current(earlier).items() if said is not None} == stood
    assert earlier.seats.get(desk=3).state == "absent"
    assert send(school.client, "post", f"{path}/{number}/back").status_code == 404


def current(sitting: Sitting) -> dict[tuple[int, str], Any]:
    result = {}
    for seat in sitting.seats.prefetch_related("current__answer"):
        for row in seat.current.all():
            response = row.answer.response
            result[seat.desk, row.item] = response and response.get("option", response.get("value"))
    return result


def test_answers_go_nowhere_else(school: Staffroom, staffroom: Any) -> None:
    room, other = lesson(school), lesson(staffroom("other"))
    in_turn(school, room, ["bbb"])
    act(school, room, "end")
    path = f"sittings/{room.sitting_id}/room/brought"
    assert send(school.client, "post", path, {"into": other.sitting_id, "how": "add"}).status_code == 404
    apart = school.open_sitting()
    refused = send(school.client, "post", path, {"into": apart.pk, "how": "add"})
    assert (refused.status_code, "same test, edition and class" in refused.json()["detail"]) == (422, True)
