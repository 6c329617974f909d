"""Sittings that are watched: the door, devices, time, pauses, work given back; and what is planned ahead."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils import timezone
from icalendar import Calendar

from tests.conftest import Device, Staffroom, devices, refs
from tests.school.test_teacher_side import send
from versomark.core.items.by_rubric import FileTask
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.delivery import by_the_clock, presence, timekeeping
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import EventKind, Seat, Sitting, SittingEvent, TimeAway
from versomark.school.delivery.queries import sitting_of
from versomark.school.responses.files import path_of
from versomark.school.responses.models import Answer, HandedInFile

pytestmark = pytest.mark.django_db


def planned(school: Staffroom, students: int = 3, **body: Any) -> Sitting:
    """A sitting under rules, planned over the API."""
    base = school.sitting(students=students)
    sent = send(
        school.client, "post", "sittings", {"edition": base.edition_id, "class_id": base.school_class_id, **body}
    )
    assert sent.status_code == 200, sent.content
    return Sitting.objects.get(pk=sent.json()["id"])


def opened(school: Staffroom, students: int = 3, **rules: Any) -> Sitting:
    sitting = planned(school, students, rules=rules)
    assert step(school, sitting, "open")["state"] == "open"
    sitting.refresh_from_db()
    return sitting


def step(school: Staffroom, sitting: Sitting, to: str, query: str = "") -> Any:
    return send(school.client, "post", f"sittings/{sitting.pk}/steps/{to}{query}").json()


def act(school: Staffroom, sitting: Sitting, desk: int, what: str, **more: Any) -> Any:
    seat = sitting.seats.get(desk=desk)
    return send(school.client, "post", f"sittings/{sitting.pk}/seats/{seat.pk}/acts", {"act": what, **more})


def line(school: Staffroom, sitting: Sitting, desk: int) -> Any:
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}").json()
    return next(entry for entry in page["list"] if entry["desk"] == desk)


def later(sitting: Sitting, **time: float) -> None:
    """As if so much time had passed: every moment that counts is moved back by it."""
    by = timedelta(**time)
    for model, name in ((Seat, "started_at"), (Seat, "paused_at")):
        for one in model.objects.filter(sitting=sitting).exclude(**{name: None}):
            model.objects.filter(pk=one.pk).update(**{name: getattr(one, name) - by})
    for name in ("paused_at", "closes_at", "planned_for"):
        for one in Sitting.objects.filter(pk=sitting.pk).exclude(**{name: None}):
            Sitting.objects.filter(pk=one.pk).update(**{name: getattr(one, name) - by})


def choose(device: Device, sitting: Sitting, option: str, sequence: int, question: int = 0) -> int:
    ref = refs(sitting)[question]
    response = (
        {"kind": "single_choice", "option": option} if question == 0 else {"kind": "true_false", "value": option == "t"}
    )
    return int(device.answer(ref, response, sequence).status_code)


def test_students_wait_at_the_door_until_they_are_let_in(school: Staffroom) -> None:
    sitting = opened(school, let_in=True, calculator=True)
    one, two, three = devices(sitting)
    page = one.join().json()
    assert (page["stage"], page["paper"], page["instructions"], page["rules"]["aids"]) == (
        "at the door", None, "Read well.", ["a calculator"],
    )  # fmt: skip
    two.join()
    assert choose(one, sitting, "a", 1) == 423
    watched = school.client.get(f"/api/v1/sittings/{sitting.pk}").json()["list"]
    assert [(seat["desk"], seat["state"]) for seat in watched] == [
        (1, "at the door"),
        (2, "at the door"),
        (3, "expected"),
    ]
    act(school, sitting, 1, "let in")
    assert one.seat().json()["stage"] == "working"
    assert two.seat().json()["stage"] == "at the door"
    # Someone on the wrong list is turned away, and told so on their side; looking again does not bring them back.
    act(school, sitting, 2, "turn away")
    for _ in range(2):
        assert two.seat().json()["stage"] == "sent back"
    assert (two.post("here").status_code, line(school, sitting, 2)["state"]) == (409, "expected")
    assert two.join().json()["stage"] == "at the door"  # the right one comes with code and pass
    three.join()
    send(school.client, "post", f"sittings/{sitting.pk}/acts", {"act": "let in"})
    assert [device.seat().json()["stage"] for device in (two, three)] == ["working", "working"]
    assert act(school, sitting, 1, "turn away").status_code == 409


def test_someone_with_anothers_pass_is_moved_with_what_they_answered(school: Staffroom) -> None:
    sitting = opened(school)
    device = devices(sitting)[0]
    device.join()
    assert choose(device, sitting, "b", 1) == 200
    to = sitting.seats.get(desk=3)
    assert act(school, sitting, 1, "move", to=to.pk).status_code == 200
    page = device.seat().json()
    assert (page["student"], page["stage"], page["answers"][0]["response"]["option"]) == ("Student3 F.", "working", "b")
    assert choose(device, sitting, "c", 9) == 200
    assert {row.answer.response["option"] for row in to.current.select_related("answer")} == {"c"}
    assert line(school, sitting, 1)["answered"] == 0
    real = devices(sitting)[0]
    assert real.join().json()["student"] == "Student1 F."
    assert (
        act(school, sitting, 1, "move", to=to.pk).json()["detail"]
        == "Student3 F. has begun; nobody else can be moved there."
    )
    assert act(school, sitting, 1, "move", to=10**9).status_code == 404


def test_a_file_that_was_handed_in_goes_along_with_whoever_is_moved(
    school: Staffroom, django_capture_on_commit_callbacks: Callable[..., Any]
) -> None:
    task = FileTask(stem="Hand in", rubric=Rubric(criteria=[Criterion(id="a", name="A")]), file_kinds=["pdf"])
    sitting = school.open_sitting(contents=[task], students=2)
    device, (ref,) = devices(sitting)[0], refs(sitting)
    device.join()
    upload = SimpleUploadedFile("drawn.pdf", b"%PDF-1.4 drawn")
    named = device.client.post(f"/api/v1/student/files/{ref}", {"file": upload}).json()
    device.answer(ref, {"kind": "file", "files": [named]}, 1)
    before = path_of(HandedInFile.objects.get())
    to = sitting.seats.get(desk=2)
    with django_capture_on_commit_callbacks(execute=True):
        assert act(school, sitting, 1, "move", to=to.pk).status_code == 200
    assert device.answer(ref, {"kind": "file", "files": [named]}, 2).status_code == 200  # it is still theirs
    device.post("hand-in")
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}/marking").json()
    (number,) = (entry["number"] for entry in page["entries"][ref] if entry["state"] == "waiting")
    sent = school.client.get(f"/api/v1/sittings/{sitting.pk}/marking/{ref}/{number}/files/1")
    assert (sent.status_code, b"".join(sent.streaming_content)) == (200, b"%PDF-1.4 drawn")
    assert not before.exists()


def test_a_second_device_sets_the_first_aside_and_both_are_told(school: Staffroom) -> None:
    sitting = opened(school)
    first = devices(sitting)[0]
    first.join()
    choose(first, sitting, "a", 1)
    presence.came(sitting.seats.get(desk=1).pk)
    second = devices(sitting)[0]
    assert second.join().json()["answers"][0]["response"]["option"] == "a"  # goes on where the first one was
    page = first.seat().json()
    assert (page["stage"], page["paper"], page["answers"]) == ("elsewhere", None, [])
    refused = first.answer(refs(sitting)[0], {"kind": "single_choice", "option": "d"}, 5)
    assert (refused.status_code, "another device" in refused.json()["detail"]) == (409, True)
    assert line(school, sitting, 1)["trouble"] == "went on with a second device"
    assert first.post("here").json()["stage"] == "working"
    assert choose(first, sitting, "d", 5) == 200  # what it had kept goes out now
    assert second.seat().json()["stage"] == "elsewhere"
    # Joining again on the device one is on is no second one, and an altered cookie is none at all.
    assert first.join().json()["stage"] == "working"
    assert first.seat().json()["stage"] == "working"
    forged = Client()
    forged.cookies["verso_seat"] = first.client.cookies["verso_seat"].value.replace(".", "x", 1)
    assert forged.get("/api/v1/student/seat").status_code == 401


@pytest.mark.usefixtures("still")
def test_working_time_with_what_a_student_needs_and_what_the_teacher_gives(school: Staffroom) -> None:
    sitting = opened(school, minutes=20)
    seat = sitting.seats.select_related("student").get(desk=2)
    seat.student.extra_time = 25
    seat.student.save()
    one, two, three = devices(sitting)
    for device in (one, two, three):
        device.join()
    left = [device.seat().json()["seconds_left"] for device in (one, two)]
    assert left == [1200, 1500]
    assert act(school, sitting, 3, "give time", minutes=5).status_code == 200
    later(sitting, minutes=20, seconds=1)
    assert choose(one, sitting, "a", 1) == 200  # was on its way
    later(sitting, seconds=5)
    refused = one.answer(refs(sitting)[0], {"kind": "single_choice", "option": "b"}, 2)
    assert (refused.status_code, refused.json()["detail"][:12]) == (410, "The time for")
    by_the_clock.tick()
    assert one.seat().json()["stage"] == "handed in"
    assert one.seat().json()["ended_by_time"]
    assert one.answer(refs(sitting)[0], None, 3).json()["detail"] == "Your time is over. What came in before counts."
    assert [two.seat().json()["stage"], three.seat().json()["stage"]] == ["working", "working"]
    assert choose(two, sitting, "b", 1) == 200
    # Given back only with time to use it.
    assert "Say how many minutes" in act(school, sitting, 1, "reopen").json()["detail"]
    assert act(school, sitting, 1, "reopen", minutes=10).status_code == 200
    assert 540 <= one.seat().json()["seconds_left"] <= 660
    assert [row.answer.response["option"] for row in sitting.seats.get(desk=1).current.all()] == ["a"]
    send(school.client, "post", f"sittings/{sitting.pk}/acts", {"act": "give time", "minutes": 5})
    assert line(school, sitting, 2)["extra_minutes"] == 5
    assert act(school, sitting, 2, "give time", minutes=0).status_code == 422
    later(sitting, minutes=60)
    by_the_clock.tick()
    assert {seat.state for seat in sitting.seats.all()} == {"handed in"}


def test_pauses_of_one_and_of_all_hold_the_time_and_minutes_given_meanwhile_count(school: Staffroom) -> None:
    sitting = opened(school, minutes=10)
    one, two, three = devices(sitting)
    one.join()
    two.join()
    later(sitting, minutes=4)
    assert act(school, sitting, 1, "pause").status_code == 200
    assert (one.seat().json()["stage"], choose(one, sitting, "a", 1)) == ("paused", 423)
    assert act(school, sitting, 1, "give time", minutes=3).status_code == 200
    later(sitting, minutes=5)
    step(school, sitting, "pause")
    three.join()
    later(sitting, minutes=30)
    by_the_clock.tick()
    assert round(line(school, sitting, 2)["seconds_left"] / 60) == 1  # held by the pause of all
    assert act(school, sitting, 1, "resume").status_code == 200
    step(school, sitting, "open")
    three.seat()
    assert [round(device.seat().json()["seconds_left"] / 60) for device in (one, two, three)] == [9, 1, 10]
    assert choose(one, sitting, "b", 1) == 200
    later(sitting, minutes=2)
    by_the_clock.tick()
    assert [device.seat().json()["stage"] for device in (one, two, three)] == ["working", "handed in", "working"]


def test_one_goes_on_another_day_and_one_who_was_absent_sits_it_later(school: Staffroom) -> None:
    sitting = opened(school, minutes=10)
    one, two, three = devices(sitting)
    one.join()
    two.join()
    choose(one, sitting, "a", 1)
    later(sitting, minutes=6)
    act(school, sitting, 1, "pause")
    assert step(school, sitting, "close", "?paused_go_on=true")["state"] == "closed"
    assert [seat.state for seat in sitting.seats.order_by("desk")] == ["paused", "handed in", "absent"]
    findings = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()
    assert (findings["body"]["test"]["students"], findings["still_working"]) == (1, ["Student1 F."])
    later(sitting, days=1)
    assert one.seat().json()["stage"] == "paused"
    act(school, sitting, 1, "resume")
    page = one.seat().json()
    assert (page["stage"], page["answers"][0]["response"]["option"]) == ("working", "a")
    assert round(page["seconds_left"] / 60) == 4
    assert one.post("hand-in").json()["stage"] == "handed in"
    # The others' sitting stays closed.
    assert three.join().json()["stage"] == "closed"
    assert act(school, sitting, 3, "sit now").status_code == 200
    assert three.seat().json()["stage"] == "working"
    assert (choose(three, sitting, "b", 1), choose(two, sitting, "b", 9)) == (200, 410)
    later(sitting, minutes=11)
    by_the_clock.tick()
    assert line(school, sitting, 3)["state"] == "handed in"
    assert school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()["body"]["test"]["students"] == 3
    assert act(school, sitting, 2, "sit now").status_code == 409
    # Without being asked for, closing takes in what is paused.
    again = opened(school)
    devices(again)[0].join()
    act(school, again, 1, "pause")
    step(school, again, "close")
    assert again.seats.get(desk=1).state == "handed in"


def test_a_window_opens_and_closes_by_itself_also_on_who_is_offline(school: Staffroom) -> None:
    now = timezone.now()
    window = {
        "planned_for": (now + timedelta(hours=1)).isoformat(),
        "closes_at": (now + timedelta(hours=2)).isoformat(),
    }
    sitting = planned(school, opens_itself=True, **window)
    by_the_clock.tick()
    one, two, _ = devices(sitting)
    assert one.join().json()["stage"] == "waiting"
    later(sitting, hours=1)
    by_the_clock.tick()
    assert one.seat().json()["stage"] == "working"
    two.join()
    choose(two, sitting, "a", 1)
    act(school, sitting, 2, "give time", minutes=10)
    assert choose(one, sitting, "b", 1) == 200
    later(sitting, hours=1, seconds=3)
    by_the_clock.tick()
    sitting.refresh_from_db()
    assert (one.seat().json()["stage"], sitting.state) == ("handed in", "open")  # somebody still has minutes
    late = one.answer(refs(sitting)[0], {"kind": "single_choice", "option": "c"}, 2)
    assert (late.status_code, late.json()["detail"][:18]) == (410, "Your time is over.")
    later(sitting, minutes=11)
    by_the_clock.tick()
    sitting.refresh_from_db()
    assert sitting.state == "closed"
    assert [seat.state for seat in sitting.seats.order_by("desk")] == ["handed in", "handed in", "absent"]
    assert SittingEvent.objects.filter(sitting=sitting, by=None).count() == 1


def test_handed_in_twice_taken_back_and_given_back(school: Staffroom) -> None:
    sitting = opened(school, take_back=True)
    device, other, _ = devices(sitting)
    device.join()
    other.join()
    choose(device, sitting, "a", 1)
    first = [device.post("hand-in").json()["stage"], sitting.seats.get(desk=1).handed_in_at]
    assert [device.post("hand-in").json()["stage"], sitting.seats.get(desk=1).handed_in_at] == first
    assert choose(device, sitting, "b", 2) == 410
    assert device.post("take-back").json()["stage"] == "working"
    assert choose(device, sitting, "b", 2) == 200
    assert act(school, sitting, 1, "hand in").status_code == 200
    assert act(school, sitting, 1, "hand in").status_code == 409
    assert act(school, sitting, 1, "reopen").status_code == 200
    step(school, sitting, "close")
    assert (device.seat().json()["rules"]["take_back"], device.post("take-back").status_code) == (False, 410)
    strict = opened(school)
    devices(strict)[0].join()
    strict_device = devices(strict)[0]
    strict_device.join()
    strict_device.post("hand-in")
    assert strict_device.post("take-back").status_code == 410


def test_without_going_back_a_question_that_was_left_stays_as_it_is(school: Staffroom) -> None:
    sitting = opened(school, going_back=False, all_at_once=True, own_order=True)
    device = devices(sitting)[0]
    page = device.join().json()
    assert page["rules"]["all_at_once"] is False  # the two do not go together
    order = [item["ref"] for item in page["paper"]["items"]]
    assert sorted(order) == sorted(refs(sitting))
    assert [item["ref"] for item in device.seat().json()["paper"]["items"]] == order
    place = {ref: at for at, ref in enumerate(refs(sitting))}

    def say(at: int, sequence: int, first: bool = True) -> int:
        question = place[order[at]]
        return choose(device, sitting, ("ab" if question == 0 else "tf")[not first], sequence, question)

    assert device.post("signs", {"at": order[0]}).status_code == 200
    assert say(0, 1) == 200
    device.post("signs", {"at": order[1]})
    assert line(school, sitting, 1)["at"] == place[order[1]] + 1
    assert say(0, 2, first=False) == 422
    assert say(1, 3) == 200
    device.post("signs", {"at": order[0]})  # looking back is no way back
    assert say(0, 4, first=False) == 422
    device.post("signs", {"at": "not-a-question"})
    orders = {
        tuple(i["ref"] for i in device.join().json()["paper"]["items"])
        for device in devices(opened(school, 12, own_order=True))
    }
    assert len(orders) == 2


def test_leaving_the_page_is_noted_once_and_nothing_follows(school: Staffroom) -> None:
    sitting = opened(school)
    device = devices(sitting)[0]
    device.join()
    later(sitting, minutes=10)
    gone = {"client_id": str(uuid4()), "left_at": timezone.now().isoformat(), "seconds": 40}
    wild = {"client_id": str(uuid4()), "left_at": "1999-01-01T00:00:00Z", "seconds": 999_999}
    for _ in range(2):
        assert device.post("signs", {"away": [gone, wild]}).status_code == 200
    seen = line(school, sitting, 1)
    assert seen["times_away"] == 2
    assert 600 <= seen["seconds_away"] <= 650  # a clock that runs wrong does not reach back before the test
    assert (seen["state"], seen["trouble"]) == ("working", "")
    seat = sitting.seats.get(desk=1)
    rows = school.client.get(f"/api/v1/sittings/{sitting.pk}/seats/{seat.pk}/away").json()
    assert len(rows) == TimeAway.objects.count() == 2
    Seat.objects.filter(pk=seat.pk).update(last_seen=timezone.now() - timedelta(minutes=7))
    assert line(school, sitting, 1)["trouble"] == "no sign for 7 min"


def test_planned_for_some_copied_moved_and_put_in_a_calendar(school: Staffroom) -> None:
    base, other = school.sitting(students=4), school.sitting()
    chosen = list(base.seats.order_by("desk").values_list("student_id", flat=True))[:2]
    body = {
        "edition": base.edition_id,
        "class_id": base.school_class_id,
        "students": chosen,
        "planned_for": "2031-11-03T09:40:00Z",
        "rules": {"minutes": 40, "let_in": True, "formula_sheet": "<script>x</script>U = RI"},
    }
    page = send(school.client, "post", "sittings", body).json()
    assert [seat["desk"] for seat in page["list"]] == [1, 2]
    assert page["rules"]["formula_sheet"] == "U = RI"
    assert page["name"] == f"{base.school_class.name}, A test, 3 Nov"
    group = send(
        school.client, "post", f"classes/{base.school_class_id}/groups", {"name": "G", "students": chosen[:1]}
    ).json()
    group_id = group["groups"][0]["id"]
    assert (
        len(send(school.client, "post", "sittings", {**body, "students": None, "group": group_id}).json()["list"]) == 1
    )
    assert send(school.client, "post", "sittings", {**body, "students": []}).status_code == 422
    copies = send(school.client, "post", f"sittings/{page['id']}/copies", {"class_ids": [other.school_class_id]}).json()
    assert [(line["class_name"], line["seats"]) for line in copies] == [(other.school_class.name, 3)]
    assert Sitting.objects.get(pk=copies[0]["id"]).read_rules().minutes == 40
    # Moved before it opens, and its end moved after: on record, and the students' devices know.
    move = {"planned_for": "2031-11-04T09:40:00Z", "closes_at": "2031-11-04T11:00:00Z", "rules": page["rules"]}
    moved = send(school.client, "put", f"sittings/{page['id']}", {**move, "name": " Circuits, second try "}).json()
    assert (moved["name"], moved["rules"]["minutes"]) == ("Circuits, second try", 40)
    ical = Calendar.from_ical(school.client.get(f"/api/v1/sittings/{page['id']}/calendar.ics").content)
    event = ical.walk("VEVENT")[0]
    assert (str(event["SUMMARY"]), event["DTSTART"].dt.isoformat()) == (
        "Circuits, second try",
        "2031-11-04T09:40:00+00:00",
    )
    whole = Calendar.from_ical(school.client.get("/api/v1/sittings/calendar.ics").content)
    assert len(whole.walk("VEVENT")) == 3
    step(school, Sitting.objects.get(pk=page["id"]), "open")
    device = devices(Sitting.objects.get(pk=page["id"]))[0]
    device.join()
    assert device.seat().json()["closes_at"][:16] == "2031-11-04T11:00"
    put = {**move, "name": "", "closes_at": "2031-11-04T12:00:00Z"}
    assert send(school.client, "put", f"sittings/{page['id']}", put).status_code == 200
    assert device.seat().json()["closes_at"][:16] == "2031-11-04T12:00"
    refused = send(school.client, "put", f"sittings/{page['id']}", {**put, "rules": {}})
    assert "its rules stay" in refused.json()["detail"]
    early = send(school.client, "put", f"sittings/{page['id']}", {**put, "closes_at": "2020-01-01T00:00:00Z"})
    assert early.status_code == 422
    says = [entry["says"] for entry in school.client.get(f"/api/v1/sittings/{page['id']}/events").json()]
    assert says[0] == "end: Tue 4 Nov, 11:00 → Tue 4 Nov, 12:00"
    assert "opened" in says


def test_a_student_of_another_class_and_hostile_ids_get_nowhere(school: Staffroom, staffroom: Any) -> None:
    sitting, other = opened(school), opened(school)
    stranger = devices(other)[0]
    assert Device(Client(), sitting.code, stranger.pass_phrase).join().status_code == 404
    stranger.join()
    for at in ("../../etc", "0" * 36, "' or 1=1"):
        assert stranger.post("signs", {"at": at}).status_code == 200
    assert Seat.objects.get(device=Seat.objects.get(sitting=other, desk=1).device).at_item == ""
    assert stranger.answer(refs(sitting)[0], {"kind": "single_choice", "option": "a"}, 1).status_code == 422
    foreign = opened(staffroom("other"))
    seat = foreign.seats.get(desk=1)
    path = f"sittings/{sitting.pk}/seats/{seat.pk}/acts"
    assert send(school.client, "post", path, {"act": "hand in"}).status_code == 404
    assert send(school.client, "post", f"sittings/{foreign.pk}/acts", {"act": "let in"}).status_code == 404
    assert Answer.objects.filter(seat__sitting=foreign).count() == 0
    assert sitting_of(school.teacher, sitting.pk).state == "open"
    assert timekeeping.timed_seats() == []


def test_every_kind_of_event_has_its_words_and_no_event_keeps_a_sentence() -> None:
    """Facts in the shape of each kind; a kind without words, or words that need another fact, would fail here."""
    facts: dict[str, Any] = {
        "words": "was so", "seconds": -90.0, "end_moved": True, "before": None, "after": "2026-11-03T08:00:00+00:00",
        "to": "Ada L.", "minutes": 5, "comment": "Say why.", "form": "B", "marks": 2.5, "answers": True,
        "per_day": 10.0, "most": 50.0, "total": 3.5, "reason": "I saw it.", "state": "excused", "number": 4,
        "everybody": False, "weights": [], "accepted": ["A", "C"], "rubric": True, "first": False,
        "which": "sample", "share": 20, "within": 5.0, "cut": 50.0, "mean": True, "tolerance": 1.0, "files": 2,
        "typed": "0.8", "students": 3, "of": 4.0, "markers": 3, "marker": "P. Varga", "points": 0.5, "changed": True,
        "until": "2026-11-10T20:00:00+00:00", "count": 2, "given": "2026-11-03T08:09:00+00:00",
        "not_before": "2026-11-03T08:00:00+00:00",
    }  # fmt: skip
    sentences = {kind: event_words(SittingEvent(kind=kind, facts=facts)) for kind in EventKind}
    assert all(words and "None" not in words for words in sentences.values())
    assert len(set(sentences.values())) == len(EventKind)
    assert sentences[EventKind.END_MOVED] == "end: when the teacher says → Tue 3 Nov, 08:00"
    assert sentences[EventKind.KEY_SETTLED] == "question 4: A and C are right: I saw it."
    assert sentences[EventKind.ANSWER_JUDGED] == "question 4: “0.8” (3): 2.5 of 4"
    assert sentences[EventKind.CLOCK_JUMPED].startswith("the clock of the school's machine jumped 90 seconds back")
