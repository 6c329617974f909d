"""Results: totals with what changes them, figures without a student, and that students see nothing before release."""

import json
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import FULL, contents, findings, put
from tests.school.test_notices import enter
from versomark.core.giving import Rules
from versomark.core.scoring import LateRule, total_of
from versomark.school.classes.services import places_of
from versomark.school.delivery import services
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import Seat, SeatState, Sitting
from versomark.school.portal.models import Notice
from versomark.school.portal.notifications import tell_all

DUE = datetime(2026, 11, 3, 8, 0, tzinfo=UTC)


@given(st.floats(-100, 400), st.floats(0.5, 50), st.floats(0, 50), st.floats(0.5, 100))
def test_late_work_costs_more_the_later_and_never_more_than_was_earned(
    hours: float, per_day: float, earned: float, most: float
) -> None:
    rule = LateRule(DUE, timedelta(hours=1), per_day, most)
    lost = rule.lost(DUE + timedelta(hours=hours), earned, 50)
    assert 0 <= lost <= earned
    assert lost <= 50 * most / 100 + 1e-9
    assert lost <= rule.lost(DUE + timedelta(hours=hours + 5), earned, 50)
    assert hours > 1 or lost == 0
    assert total_of(earned, lost, None) >= 0
    assert total_of(earned, lost, 7) == 7


def test_a_worked_rule_about_late_work() -> None:
    """10% of 40 marks a day, at most 30%: 4 marks on the first day, 8 on the second, 12 from the third on. By hand."""
    rule = LateRule(DUE, timedelta(minutes=30), 10, 30)
    after = {0.4: 0, 0.6: 4, 24.4: 4, 24.6: 8, 60: 12, 500: 12}
    assert {h: rule.lost(DUE + timedelta(hours=h), 25, 40) for h in after} == after
    assert rule.lost(None, 25, 40) == 0


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    """Three handed in, a fourth never came; the first two wrote something that is marked in full."""
    sitting = school.open_sitting(contents=contents(), students=4)
    one, two, explain, draw, play = refs(sitting)
    for at, device in enumerate(devices(sitting)[:3]):
        device.join()
        device.answer(one, {"kind": "single_choice", "option": "b"}, 1)
        device.answer(two, {"kind": "true_false", "value": at == 0}, 2)
        if at < 2:
            device.answer(explain, {"kind": "written", "text": f"The secret of {at}."}, 3)
        device.post("hand-in")
    sitting = services.close_sitting(sitting)
    for ref in (draw, play):
        put(school.client, sitting, f"{ref}/waived", {"waived": True})
    return sitting


def call(client: Client, sitting: Sitting, method: str, path: str = "", body: Any = None) -> Any:
    address = f"/api/v1/sittings/{sitting.pk}/results{path}"
    return getattr(client, method)(address, body or {}, content_type="application/json").json()


def totals(client: Client, sitting: Sitting) -> list[float | None]:
    page = client.get(f"/api/v1/sittings/{sitting.pk}/results").json()
    return [student["total"] for student in page["students"]]


@pytest.mark.django_db
def test_totals_are_partial_late_set_filled_and_out_of_the_figures(school: Staffroom, sat: Sitting) -> None:
    explain = refs(sat)[2]
    seats = {seat.desk: seat for seat in sat.seats.all()}
    put(school.client, sat, f"{explain}/1", {"points": FULL})
    page = school.client.get(f"/api/v1/sittings/{sat.pk}/results").json()
    # The second one's answer waits: it is in neither their marks nor what they are out of.
    assert [(student["total"], student["of"], student["waiting"]) for student in page["students"]] == [
        (8, 8, 0),
        (1, 2, 1),
        (1, 8, 0),
        (None, 8, 0),
    ]
    assert page["waiting"] == 1

    # Late by two days begun, 10% each of what one is out of; tried first, then done, then taken back.
    Seat.objects.filter(pk=seats[1].pk).update(handed_in_at=DUE + timedelta(hours=30))
    Seat.objects.filter(pk__in=[seats[2].pk, seats[3].pk]).update(handed_in_at=DUE)
    rule = {"due": DUE.isoformat(), "per_day": 10, "most": 100}
    effect = call(school.client, sat, "post", "/lateness/effect", rule)
    assert effect == [{"name": "Student1 F.", "lost": pytest.approx(1.6), "total": pytest.approx(6.4)}]
    assert totals(school.client, sat)[0] == 8
    call(school.client, sat, "put", "/lateness", rule)
    assert totals(school.client, sat)[0] == pytest.approx(6.4)
    where = f"/seats/{seats[1].pk}/total"
    assert "reason" in json.dumps(call(school.client, sat, "put", where, {"total": 7.5, "reason": "  "}))
    call(school.client, sat, "put", where, {"total": 7.5, "reason": "The bus."})
    assert totals(school.client, sat)[0] == 7.5
    call(school.client, sat, "delete", where)
    assert totals(school.client, sat)[0] == pytest.approx(6.4)
    call(school.client, sat, "delete", "/lateness")
    assert totals(school.client, sat)[0] == 8

    # What is empty, and all of it filled at once.
    assert call(school.client, sat, "get", "/empty") == {
        "waiting": [{"number": 3, "answers": 1}],
        "missing": ["Student4 F."],
    }
    fill = {"waiting": 0, "missing": "total", "total": 0, "reason": "Not made up for."}
    page = call(school.client, sat, "post", "/empty", fill)
    assert [(student["total"], student["of"]) for student in page["students"]] == [(8, 8), (1, 8), (1, 8), (0, 8)]
    assert call(school.client, sat, "get", "/empty") == {"waiting": [], "missing": []}
    call(school.client, sat, "delete", f"/seats/{seats[4].pk}/total")
    call(school.client, sat, "post", "/empty", fill | {"missing": "excused"})
    assert sat.seats.get(desk=4).state == SeatState.EXCUSED

    # Out of the figures, and in again; the student's own result stays.
    assert findings(sat).test.students == 3
    call(school.client, sat, "put", f"/seats/{seats[3].pk}/left-out", {"reason": "Was ill."})
    assert findings(sat).test.students == 2
    assert set(findings(sat).totals) == {seats[1].pk, seats[2].pk}
    assert totals(school.client, sat)[2] == 1
    call(school.client, sat, "delete", f"/seats/{seats[3].pk}/left-out")
    assert findings(sat).test.students == 3
    says = [event_words(event) for event in sat.events.all()]
    assert {"total set to 7.5: The bus.", "left out of the figures: Was ill."} <= set(says)


def own(sitting: Sitting, desk: int) -> Client:
    place = places_of(sitting.school_class)[desk - 1]
    return enter(sitting, place.student.pass_phrase)[0]


def own_result(client: Client, sitting: Sitting) -> Any:
    return client.get(f"/api/v1/portal/sittings/{sitting.pk}/result")


@pytest.mark.django_db
def test_students_see_nothing_before_release_then_their_own_and_as_much_as_was_said(
    school: Staffroom, sat: Sitting
) -> None:
    explain = refs(sat)[2]
    put(school.client, sat, f"{explain}/1", {"points": {"idea": 2, "words": 1}, "comment": "Say why."})
    first, second, absent = own(sat, 1), own(sat, 2), own(sat, 4)
    before = first.get("/api/v1/portal/page").content
    for client in (first, second, absent):
        assert own_result(client, sat).status_code == 404
        assert not any(sitting["results"] for sitting in client.get("/api/v1/portal/page").json()["sittings"])
    assert b"Say why" not in before
    assert tell_all() == 0

    # To one student, in words: no number of marks in any byte.
    seats = {seat.desk: seat.pk for seat in sat.seats.all()}
    call(school.client, sat, "put", "/release", {"marks": False, "seats": [seats[1]]})
    shown = own_result(first, sat).json()
    assert (shown["total"], shown["of"], shown["lost"]) == (None, None, None)
    assert [question["verdict"] for question in shown["questions"]] == [
        "right",
        "right",
        "partly right",
        "left out",
        "left out",
    ]
    assert {question["marks"] for question in shown["questions"]} == {
        question["right"] for question in shown["questions"]
    } - {""} | {None}
    assert [level["points"] for level in shown["questions"][2]["levels"]] == [None, None]
    assert shown["questions"][2]["comment"] == "Say why."
    assert own_result(second, sat).status_code == 404
    assert tell_all() == 1
    assert Notice.objects.get().student_id == sat.seats.get(desk=1).student_id

    # To all, with marks and right answers; what is not marked yet says so.
    call(school.client, sat, "put", "/release", {"marks": True, "answers": True})
    sat.refresh_from_db()
    assert sat.state == "released"
    mine = own_result(first, sat).json()
    assert (mine["total"], mine["of"]) == (6.5, 8)
    assert mine["questions"][0]["right"].startswith("B")
    theirs = own_result(second, sat).json()
    assert (theirs["waiting"], theirs["questions"][2]["verdict"]) == (1, "to be marked")
    assert "The secret of 0." in json.dumps(mine)
    assert "The secret of 0." not in json.dumps(theirs)
    # The teacher sees what the student sees.
    eyes = f"/api/v1/sittings/{sat.pk}/results/seats/{seats[1]}?marks=true&answers=true"
    assert school.client.get(eyes).json() == mine

    # Taken back for one, then for all.
    call(school.client, sat, "post", "/withdraw", {"seats": [seats[2]]})
    assert [own_result(client, sat).status_code for client in (first, second)] == [200, 404]
    call(school.client, sat, "post", "/withdraw", {})
    assert [own_result(client, sat).status_code for client in (first, second)] == [404, 404]


@pytest.mark.django_db
def test_results_by_themselves_and_hidden_names(school: Staffroom) -> None:
    sitting = school.sitting(students=2)
    sitting.rules = Rules(results="handed in").model_dump(mode="json")
    sitting.save()
    services.open_sitting(sitting)
    device = devices(sitting)[0]
    device.join()
    device.answer(refs(sitting)[0], {"kind": "single_choice", "option": "a"}, 1)
    client = own(sitting, 1)
    assert own_result(client, sitting).status_code == 404
    device.post("hand-in")
    shown = own_result(client, sitting).json()
    # The right answer stays away while others are still at work.
    assert (shown["questions"][0]["verdict"], shown["questions"][0]["right"]) == ("not right", "")
    services.close_sitting(Sitting.objects.get(pk=sitting.pk))
    assert own_result(client, sitting).json()["questions"][0]["right"].startswith("B")

    hidden = school.open_sitting(contents=contents(), students=1)
    services.close_sitting(hidden)
    put(school.client, hidden, "names", {"hidden": True})
    assert "hidden" in call(school.client, hidden, "put", "/release", {})["detail"]
    assert "hidden" in call(school.client, hidden, "get")["detail"]


@pytest.mark.django_db
def test_a_late_sitter_sees_no_total_while_something_of_theirs_waits_and_may_get_another_form(
    school: Staffroom, sat: Sitting
) -> None:
    call(school.client, sat, "put", "/release", {"marks": True, "answers": True})
    seat = sat.seats.get(desk=4)
    path = f"/api/v1/sittings/{sat.pk}/seats/{seat.pk}/acts"
    act = {"act": "sit now", "minutes": 0, "comment": "", "form": "Z"}
    refused = school.client.post(path, act, content_type="application/json")
    assert (refused.status_code, refused.json()["detail"]) == (422, "This test has no form Z.")
    assert school.client.post(path, act | {"form": "A"}, content_type="application/json").status_code == 200
    device = devices(sat)[3]
    assert device.join().json()["stage"] == "working"
    assert own_result(own(sat, 4), sat).status_code == 404
    one, _, explain, *_ = refs(sat)
    device.answer(one, {"kind": "single_choice", "option": "b"}, 1)
    device.answer(explain, {"kind": "written", "text": "So."}, 2)
    device.post("hand-in")
    seen = own_result(own(sat, 4), sat).json()
    assert (seen["total"], seen["of"], seen["waiting"]) == (None, None, 1)

    def held() -> dict[int, bool]:
        return {line["desk"]: line["total_held"] for line in call(school.client, sat, "get")["students"]}

    assert held() == {1: False, 2: False, 3: False, 4: True}
    # The teacher may want it all the same, and says so for this student.
    call(school.client, sat, "put", "/release", {"marks": True, "answers": True, "seats": [seat.pk]})
    seen = own_result(own(sat, 4), sat).json()
    assert (seen["total"] is not None, seen["waiting"], held()[4]) == (True, 1, False)
    put(school.client, sat, f"{explain}/4", {"points": {"idea": 3, "words": 1}})
    seen = own_result(own(sat, 4), sat).json()
    assert (seen["total"] is not None, seen["waiting"]) == (True, 0)
