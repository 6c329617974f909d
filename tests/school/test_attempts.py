"""Several attempts at one test: each is kept, the last one counts, and nobody has more than the rules give."""

from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone

from tests.conftest import Device, Staffroom, devices, refs
from tests.school.test_marking import FULL, contents, put
from versomark.core.giving import Rules
from versomark.school.delivery import planning, services, supervising
from versomark.school.delivery.models import Seat, Sitting
from versomark.school.delivery.seats import begin
from versomark.school.findings.services import findings_of

pytestmark = pytest.mark.django_db


def open_with(school: Staffroom, attempts: int, **parts: Any) -> Sitting:
    sitting = school.sitting(students=2, **parts)
    plan = planning.Plan(rules=Rules(attempts=attempts, minutes=20))
    return services.open_sitting(planning.change_plan(school.teacher, sitting, plan))


def try_it(device: Device, sitting: Sitting, option: str) -> Any:
    page = device.seat().json()
    device.answer(refs(sitting)[0], {"kind": "single_choice", "option": option}, page["sequence"] + 1)
    return device.post("hand-in").json()


def test_each_attempt_begins_empty_the_earlier_ones_are_kept_and_the_last_counts(school: Staffroom) -> None:
    sitting = open_with(school, attempts=3)
    device = devices(sitting)[0]
    device.join()
    assert device.post("again").json()["stage"] == "working"  # nothing is handed in: nothing is begun anew
    left = []
    for option in ("b", "c", "b"):
        Seat.objects.filter(desk=1).update(started_at=timezone.now() - timedelta(minutes=5))
        left.append(try_it(device, sitting, option)["rules"]["attempts_left"])
        if left[-1]:
            fresh = device.post("again").json()
            assert (fresh["stage"], fresh["seconds_left"]) == ("working", 1200)
            assert [answer["response"] for answer in fresh["answers"]] == [None]
    assert left == [2, 1, 0]
    assert "no further attempt" in device.post("again").json()["detail"]

    seat = sitting.seats.get(desk=1)
    lines = school.client.get(f"/api/v1/sittings/{sitting.pk}/seats/{seat.pk}/attempts").json()
    assert [(line["number"], line["total"], line["of"]) for line in lines] == [(1, 1, 2), (2, 0, 2)]
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}").json()
    assert {line["desk"]: line["attempt"] for line in page["list"]} == {1: 3, 2: 1}
    services.close_sitting(sitting)
    findings = findings_of(sitting)
    assert findings is not None
    assert findings.body["totals"][str(seat.pk)] == 1
    # The log has everything that was ever given, in its order.
    sentences = [answer.response and answer.response["option"] for answer in seat.answers.order_by("pk")]
    assert sentences == ["b", None, "c", None, "b"]


def test_closing_a_mark_and_the_rules_end_it(school: Staffroom) -> None:
    one = open_with(school, attempts=1)
    device = devices(one)[0]
    device.join()
    assert try_it(device, one, "b")["rules"]["attempts_left"] == 0
    assert device.post("again").status_code == 410

    marked = open_with(school, attempts=2, contents=contents())
    device = devices(marked)[0]
    device.join()
    try_it(device, marked, "b")
    put(school.client, marked, f"{refs(marked)[4]}/1", {"points": FULL})
    # Work that was left empty and watched keeps its mark; what is written anew waits for one (test_marking.py).
    assert device.post("again").json()["stage"] == "working"

    closed = open_with(school, attempts=2)
    device = devices(closed)[0]
    device.join()
    try_it(device, closed, "b")
    services.close_sitting(closed)
    assert device.seat().json()["rules"]["attempts_left"] == 0
    assert device.post("again").status_code == 410
    assert closed.seats.get(desk=1).earlier_attempts.count() == 0


def test_a_device_that_asks_where_it_is_takes_nothing_back_that_the_teacher_did_meanwhile(school: Staffroom) -> None:
    """The seat was read, the teacher acts, and only then is it noted that the device is here."""
    sitting = open_with(school, attempts=1)
    device = devices(sitting)[0]
    device.join()
    seat = sitting.seats.get(desk=1)
    supervising.pause(school.teacher, supervising.seat_in(sitting, seat.pk))
    stale = Seat.objects.select_related("sitting__edition", "student").get(pk=seat.pk)
    supervising.resume(school.teacher, supervising.seat_in(sitting, seat.pk))
    begin(stale)
    assert sitting.seats.get(desk=1).state == stale.state == "working"
    # The same of a sitting that was closed in between: nobody begins in it.
    waiting = Seat.objects.select_related("sitting__edition", "student").get(sitting=sitting, desk=2)
    services.close_sitting(sitting)
    begin(waiting)
    assert sitting.seats.get(desk=2).state == "absent"
