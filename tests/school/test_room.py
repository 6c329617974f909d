"""Asking in the room: rounds, what stands, who may answer when, and what wall and devices are told of the key."""

import json
from collections.abc import Callable
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone

from tests.conftest import Device, Staffroom, devices, names_given_back, refs, two_questions
from tests.school.test_teacher_side import send
from versomark.school.delivery import nudges
from versomark.school.delivery.models import Sitting
from versomark.school.delivery.timekeeping import GRACE
from versomark.school.responses.models import Answer
from versomark.school.room import answers, practice, setting_up
from versomark.school.room.models import Room, Round, RoundAnswer, RoundEvent

pytestmark = pytest.mark.django_db


def lesson(school: Staffroom, students: int = 3, **parts: Any) -> Room:
    planned = school.sitting(students=students, **parts)
    return setting_up.start(school.teacher, planned.edition, planned.school_class)


def act(school: Staffroom, room: Room, act: str, place: int | None = None) -> Any:
    return send(school.client, "post", f"sittings/{room.sitting_id}/room/acts", {"act": act, "place": place})


def joined(room: Room) -> list[Device]:
    found = devices(Sitting.objects.get(pk=room.sitting_id))
    for device in found:
        assert device.join().status_code == 200
    return found


def now(device: Device) -> Any:
    return device.client.get("/api/v1/student/room").json()


def choose(device: Device, option: str | None, round: int | None = None, client_id: str | None = None) -> Any:
    response = {"kind": "single_choice", "option": option} if option else None
    body = {"client_id": client_id or str(uuid4()), "round": round or now(device)["round_id"], "response": response}
    return device.post("room/answers", body)


def test_a_lesson_from_the_way_in_to_the_answer(school: Staffroom) -> None:
    room = lesson(school)
    first, second, third = joined(room)
    assert [now(device)["stage"] for device in (first, second)] == ["joining", "joining"]
    assert first.seat().json()["paper"] is None  # the paper is not sent ahead
    page = act(school, room, "go").json()
    assert (page["wall"]["stage"], page["wall"]["number"], page["wall"]["collecting"]) == ("question", 1, True)
    assert now(first)["stage"] == "asking"
    assert choose(first, "b").status_code == 200
    assert choose(second, "a").json()["response"]["option"] == "a"
    assert choose(second, "c").json()["response"]["option"] == "c"
    console = school.client.get(f"/api/v1/sittings/{room.sitting_id}/room").json()
    assert [line["desk"] for line in console["waiting"]] == [3]
    assert [(line["said"], line["right"]) for line in console["inside"]] == [("B", True), ("C", False)]
    assert act(school, room, "stop").json()["wall"]["collecting"] is False
    late = choose(third, "b")
    assert (late.status_code, late.json()["detail"]) == (410, "Your teacher has stopped collecting.")
    wall = act(school, room, "spread").json()["wall"]
    assert [(row["label"], row["students"], row["right"]) for row in wall["spread"]] == [
        ("A", 0, None), ("B", 1, None), ("C", 1, None), ("D", 0, None),
    ]  # fmt: skip
    assert now(first)["right"] is None
    wall = act(school, room, "answer").json()["wall"]
    assert [row["right"] for row in wall["spread"]] == [False, True, False, False]
    assert (now(first)["right"], now(second)["right"], now(third)["right"]) == (True, False, None)
    assert (now(first)["right_so_far"], now(first)["asked_so_far"]) == (1, 1)
    page = act(school, room, "end").json()
    assert page["state"] == "closed"
    assert now(first)["stage"] == "over"
    # Afterwards it is a sitting like any other: who took part is in the findings.
    findings = school.client.get(f"/api/v1/sittings/{room.sitting_id}/findings").json()
    assert findings["body"]["test"]["students"] == 3
    assert findings["body"]["paper"][0]["options"][1]["seats"] != []


def test_asking_again_is_a_round_of_its_own_and_the_first_stays(school: Staffroom) -> None:
    room = lesson(school, students=4)
    device = joined(room)
    act(school, room, "go")
    for one, option in zip(device, "abca", strict=True):
        choose(one, option)
    act(school, room, "spread")
    page = act(school, room, "again").json()
    assert (page["wall"]["round"], page["wall"]["inside"], page["wall"]["stage"]) == (2, 0, "question")
    for one, option in zip(device, "bbbc", strict=True):
        choose(one, option)
    page = act(school, room, "answer").json()
    compared = page["compared"]
    assert (compared["students"], compared["right_before"], compared["right_after"]) == (4, 1, 3)
    assert (compared["gained"], compared["lost"], compared["p"]) == (2, 0, 0.5)
    assert {(m["before"], m["after"], m["students"]) for m in compared["moves"]} == {
        ("A", "B", 1), ("B", "B", 1), ("C", "B", 1), ("A", "C", 1),
    }  # fmt: skip
    assert "asking again moved the class from 1 to 3 right of 4" in page["so_far"]
    # The figures of the sitting are about what each thought before the talk.
    seats = list(room.sitting.seats.order_by("desk"))
    assert [seat.current.get().answer.response["option"] for seat in seats] == list("abca")
    assert RoundAnswer.objects.count() == 8


def test_a_round_reopened_keeps_both_states_and_not_after_the_answer(school: Staffroom) -> None:
    room = lesson(school)
    device = joined(room)[0]
    act(school, room, "go")
    choose(device, "a")
    act(school, room, "stop")
    assert act(school, room, "reopen").json()["wall"]["collecting"]
    assert choose(device, "b").status_code == 200
    act(school, room, "answer")
    refused = act(school, room, "reopen")
    assert refused.status_code == 409
    assert "Ask again instead" in refused.json()["detail"]
    assert list(RoundEvent.objects.values_list("what", flat=True)) == [
        "asked",
        "stopped",
        "reopened",
        "stopped",
        "answer",
    ]
    stopped = RoundEvent.objects.filter(what="stopped")[0].at
    stood = RoundAnswer.objects.filter(kept_at__lte=stopped).last()
    assert stood is not None
    assert stood.response["option"] == "a"
    assert answers.standing(Round.objects.all())[Round.objects.get().pk][stood.seat_id].response.option == "b"  # type: ignore[union-attr]


def test_nobody_answers_for_another_twice_or_out_of_turn(
    school: Staffroom, staffroom: Callable[[str], Staffroom]
) -> None:
    room, other = lesson(school), lesson(staffroom("other"))
    device, stranger = joined(room)[0], joined(other)[0]
    act(school, room, "go")
    round = now(device)["round_id"]
    assert choose(stranger, "a", round=round).status_code == 404
    once = str(uuid4())
    assert choose(device, "a", client_id=once).status_code == 200
    assert choose(device, "c", client_id=once).status_code == 200  # the same change again is only acknowledged
    assert RoundAnswer.objects.filter(round=round).count() == 1
    assert choose(device, "zz").status_code == 422
    assert choose(device, "a", round=10**6).status_code == 404
    # The door of the whole paper stays shut in a lesson.
    ref = refs(room.sitting)[0]
    paper = device.answer(ref, {"kind": "single_choice", "option": "b"}, 1)
    assert (paper.status_code, paper.json()["detail"]) == (423, "Your teacher asks the questions one by one.")
    assert device.post("hand-in").status_code == 423
    act(school, room, "go")
    gone = choose(device, "b", round=round)
    assert (gone.status_code, gone.json()["detail"]) == (410, "Another question is on by now.")
    assert Answer.objects.count() == 1


def test_time_is_the_servers_with_a_moment_for_the_network(school: Staffroom) -> None:
    room = lesson(school)
    device = joined(room)[0]
    send(school.client, "put", f"sittings/{room.sitting_id}/room/wall", {"seconds": 30})
    page = act(school, room, "go").json()
    assert page["wall"]["ends_at"] > page["wall"]["asked_at"]
    round = Round.objects.get()
    Round.objects.update(ends_at=timezone.now() - GRACE / 2)
    assert choose(device, "a", round.pk).status_code == 200
    assert now(device)["stage"] == "stopped"
    Round.objects.update(ends_at=timezone.now() - 2 * GRACE)
    assert choose(device, "b", round.pk).json()["detail"] == "The time for this question is over."


def test_a_quick_question_is_asked_at_once_and_gets_its_key_later(school: Staffroom) -> None:
    room = lesson(school)
    device = joined(room)
    act(school, room, "go")
    path = f"sittings/{room.sitting_id}/room"
    page = send(school.client, "post", f"{path}/quick", {"options": 3}).json()
    assert [step["kind"] for step in page["steps"]] == ["question", "quick", "question"]
    assert (page["place"], page["wall"]["number"], page["wall"]["of"], page["has_key"]) == (2, 2, 3, False)
    shown = now(device[0])["question"]["item"]
    assert [(option["letter"], option["text"]) for option in shown["options"]] == [("A", ""), ("B", ""), ("C", "")]
    choose(device[0], "c")
    page = send(school.client, "put", f"{path}/quick/key", {"letter": "C"}).json()
    assert page["has_key"]
    act(school, room, "answer")
    assert now(device[0])["right"] is True
    assert Answer.objects.count() == 0  # it is no question of the edition
    assert send(school.client, "put", f"{path}/quick/key", {"letter": "E"}).status_code == 422


def test_steps_are_skipped_reordered_and_gone_back_to(school: Staffroom) -> None:
    room = lesson(school)
    path = f"sittings/{room.sitting_id}/room"
    page = act(school, room, "go", 2).json()
    assert (page["wall"]["number"], page["steps"][0]["rounds"]) == (2, 0)
    order = [step["ref"] for step in page["steps"]]
    page = send(school.client, "put", f"{path}/order", {"refs": order[::-1]}).json()
    assert (page["place"], page["wall"]["number"]) == (1, 1)  # the one that is on stays on
    assert send(school.client, "put", f"{path}/order", {"refs": order[:1]}).status_code == 409
    act(school, room, "answer")
    act(school, room, "go", 2)
    page = act(school, room, "go", 1).json()
    # Gone back to: it shows what it showed, and is not asked anew by itself.
    assert (page["wall"]["stage"], page["wall"]["round"], page["wall"]["collecting"]) == ("answer", 1, False)
    assert act(school, room, "go", 9).status_code == 422
    assert act(school, room, "go", 0).json()["wall"]["stage"] == "joining"
    assert act(school, room, "stop").status_code == 200
    assert act(school, room, "again").status_code == 409


def test_the_teacher_answers_for_someone_and_it_is_on_record(school: Staffroom) -> None:
    room = lesson(school)
    act(school, room, "go")
    seat = room.sitting.seats.order_by("desk")[2]
    path = f"sittings/{room.sitting_id}/room/answers"
    page = send(school.client, "post", path, {"seat": seat.pk, "letter": "b"}).json()
    assert [(line["desk"], line["said"], line["source"]) for line in page["inside"]] == [(3, "B", "teacher")]
    assert send(school.client, "post", path, {"seat": seat.pk, "letter": "x"}).status_code == 422
    assert send(school.client, "post", path, {"seat": 10**6, "letter": "b"}).status_code == 404
    assert Answer.objects.get().source == "teacher"


def everything_before_the_answer(school: Staffroom, key: str, run_commits: Any, anies: list[Any]) -> dict[str, str]:
    """All that wall, devices and sockets are sent until the answer is shown, with what differs by nature left out."""
    room = lesson(school, contents=two_questions(key=key, truth=key == "b", note=f"note {key}"), skill=f"skill {key}")
    device = joined(room)[0]
    seen: dict[str, str] = {}

    def do(stage: str, what: str, place: int | None = None) -> None:
        anies.clear()
        with run_commits(execute=True):
            act(school, room, what, place)
        assert anies
        wall = school.client.get(f"/api/v1/sittings/{room.sitting_id}/wall").json()
        for name, body in (("wall", wall), ("room", now(device)), ("seat", device.seat().json()), ("sockets", anies)):
            seen[f"{stage} {name}"] = json.dumps(body, sort_keys=True, default=str)

    do("joining", "go", 0)
    for place in (1, 2):
        do(f"asked {place}", "go", place)
        if place == 1:
            choose(device, "a")
        do(f"stopped {place}", "stop")
        do(f"spread {place}", "spread")
        do(f"again {place}", "again")
    seat = device.seat().json()["seat"]
    swaps = [(ref, f"ref{at}") for at, ref in enumerate(refs(room.sitting))]
    swaps += [(room.sitting.code, "code"), (f'"sitting": {room.sitting_id},', ""), (f'"seat": {seat},', "")]
    for name, text in seen.items():
        for results, put in swaps:
            text = text.replace(results, put)
        seen[name] = "\n".join(
            part for part in text.split(", ") if not any(t in part for t in ("_at", '"now"', '"round_id"', '"moment"'))
        )
    names_given_back()
    return seen


def test_wall_devices_and_sockets_are_told_nothing_of_the_key_before_the_answer(
    school: Staffroom, django_capture_on_commit_callbacks: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Non-interference: with another key, other notes and other skills, every byte until then is the same."""
    anies: list[Any] = []
    monkeypatch.setattr(nudges, "shown_to_all", lambda _, shown: anies.append(shown))
    runs = [everything_before_the_answer(school, key, django_capture_on_commit_callbacks, anies) for key in "bc"]
    assert runs[0].keys() == runs[1].keys()
    for name, text in runs[0].items():
        assert text == runs[1][name], name
        assert "note " not in text
        assert "skill " not in text


def test_start_from_a_test_a_question_and_again_with_the_next_class(school: Staffroom) -> None:
    planned = school.sitting()
    test, item = planned.edition.test, school.teacher.items.all()[0]
    class_id = planned.school_class_id
    from_test = send(school.client, "post", "room", {"class_id": class_id, "test": test.pk}).json()
    assert (from_test["title"], len(from_test["steps"]), from_test["state"]) == ("A test", 2, "open")
    again = send(school.client, "post", "room", {"class_id": class_id, "edition": from_test["edition"]}).json()
    assert again["sitting"] != from_test["sitting"]
    assert again["edition"] == from_test["edition"]  # apart, and comparable
    from_item = send(school.client, "post", "room", {"class_id": class_id, "item": str(item.pk)}).json()
    assert len(from_item["steps"]) == 1
    assert len(school.client.get("/api/v1/tests").json()) == 1  # the test it needed does not stand among the others
    assert send(school.client, "post", "room", {"class_id": class_id}).status_code == 422
    assert school.client.get(f"/api/v1/sittings/{planned.pk}/room").status_code == 404


def test_two_rooms_at_once_know_nothing_of_each_other(school: Staffroom, staffroom: Callable[[str], Staffroom]) -> None:
    other = staffroom("other")
    one, two = lesson(school), lesson(other)
    for room, who in ((one, school), (two, other)):
        act(who, room, "go")
    choose(joined(one)[0], "b")
    assert other.client.get(f"/api/v1/sittings/{two.sitting_id}/room").json()["inside"] == []
    assert other.client.get(f"/api/v1/sittings/{one.sitting_id}/room").status_code == 404
    assert other.client.get(f"/api/v1/sittings/{one.sitting_id}/wall").status_code == 404
    assert act(other, one, "answer").status_code == 404


def test_a_practice_class_comes_to_the_demo_school_only_and_answers_by_the_model(
    school: Staffroom, monkeypatch: pytest.MonkeyPatch
) -> None:
    room = lesson(school, students=40)
    path = f"sittings/{room.sitting_id}/room/practice"
    refused = send(school.client, "post", path)
    assert (refused.status_code, refused.json()["detail"]) == (403, "A practice class comes to the demo school only.")
    school.teacher.school.is_demo = True
    school.teacher.school.save()
    real = devices(room.sitting)[0]  # somebody who is really there keeps their seat
    real.join()
    page = send(school.client, "post", path).json()
    assert 30 <= page["wall"]["here"] <= 40
    act(school, room, "go")
    act(school, room, "again")
    room.refresh_from_db()
    assert real.seat().json()["seat"] not in practice.seats_by(room, "device")
    first, second = room.rounds.all()
    for round in (first, second):
        soon = practice.answers_of(round, "device")
        assert len(soon) > 20
        assert soon == practice.answers_of(round, "device")
        assert [entry.after for entry in soon] == sorted(entry.after for entry in soon)
        assert {entry.seat for entry in soon} <= set(practice.seats_by(room, "device"))
    monkeypatch.setattr(practice, "SECONDS", 0.51)
    monkeypatch.setattr(practice.time, "sleep", lambda _: None)
    monkeypatch.setattr(practice, "close_old_connections", lambda: None)  # the test's own connection is used
    practice._answer(second.pk)
    assert {row.seat_id for row in RoundAnswer.objects.filter(round=second)} == {
        answer.seat for answer in practice.answers_of(second, "device")
    }
    practice._answer(first.pk)  # it does not collect any more, so nobody gets in
    assert not RoundAnswer.objects.filter(round=first).exists()
    content = answers.content_of(room, first.item)
    right = [0, 0]
    for code in range(60):  # of one class chance may say otherwise; a code is a seed
        for at, asked in enumerate((first, second)):
            asked.room.sitting.code = f"CODE{code}"
            right[at] += sum(answers.is_right(content, a.response) for a in practice.answers_of(asked, "device"))
    assert right[1] > right[0]  # talk helps, in the model
