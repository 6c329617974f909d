"""Periods of the school's day, and calendars that read what is planned; read back by the icalendar library."""

from datetime import timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone
from icalendar import Calendar

from tests.conftest import Staffroom, problems_of
from versomark.core.giving import Rules
from versomark.school.classes.signals import student_erasing
from versomark.school.delivery import planning
from versomark.school.delivery.planning import Plan


def put(school: Staffroom, *periods: tuple[str, str, str]) -> Any:
    body = {"periods": [{"name": name, "starts": starts, "ends": ends} for name, starts, ends in periods]}
    return school.client.put("/api/v1/timetable", body, content_type="application/json")


def events(address: str) -> list[Any]:
    answer = Client().get(address.removeprefix("http://testserver"))
    assert answer.status_code == 200, address
    assert "no-store" in answer["Cache-Control"]
    return list(Calendar.from_ical(answer.content).walk("VEVENT"))


def test_periods_are_the_schools_and_set_by_an_administrator(school: Staffroom, staffroom: Any) -> None:
    assert put(school, ("2", "09:35:00", "10:20:00"), ("1", "08:45:00", "09:30:00")).status_code == 200
    page = school.client.get("/api/v1/timetable").json()
    assert [period["name"] for period in page["periods"]] == ["1", "2"]  # as the day goes
    refused = put(school, ("1", "09:00:00", "08:00:00"), ("1", "10:00:00", "11:00:00"), (" ", "12:00:00", "13:00:00"))
    assert refused.status_code == 422
    assert len(problems_of(refused)) == 3
    assert school.client.get("/api/v1/timetable").json() == page, "what is refused changes nothing"
    school.teacher.role = "teacher"
    school.teacher.save()
    assert put(school).status_code == 403
    assert staffroom("stranger").client.get("/api/v1/timetable").json()["periods"] == []


def test_a_calendar_reads_what_is_planned_moves_it_and_ends_with_its_address(school: Staffroom) -> None:
    sitting = school.sitting()
    monday = timezone.now().replace(microsecond=0) + timedelta(days=3)
    planning.change_plan(school.teacher, sitting, Plan(planned_for=monday, rules=Rules(minutes=40)))
    address = school.client.get("/api/v1/calendar").json()["address"]
    (event,) = events(address)
    assert event["summary"].startswith(f"{sitting.school_class.name}, A test")
    assert (event.decoded("dtstart"), event.decoded("dtend")) == (monday, monday + timedelta(minutes=40))
    planning.change_plan(school.teacher, sitting, Plan(planned_for=monday + timedelta(hours=1)))
    (moved,) = events(address)
    assert (moved["uid"], moved.decoded("dtstart")) == (event["uid"], monday + timedelta(hours=1))
    assert school.client.get("/api/v1/calendar").json()["address"] == address
    anew = school.client.post("/api/v1/calendar").json()["address"]
    assert anew != address
    assert Client().get(address.removeprefix("http://testserver")).status_code == 404
    assert len(events(anew)) == 1
    school.teacher.is_active = False
    school.teacher.save()
    assert Client().get(anew.removeprefix("http://testserver")).status_code == 404


def test_a_student_reads_what_their_own_page_says_and_nothing_of_others(school: Staffroom) -> None:
    told, untold = school.sitting(), school.sitting()
    when = timezone.now().replace(microsecond=0) + timedelta(days=2)
    planning.change_plan(school.teacher, told, Plan(planned_for=when, rules=Rules(tell=True)))
    planning.change_plan(school.teacher, untold, Plan(planned_for=when))
    seat = told.seats.select_related("student").order_by("desk")[0]
    own = Client()
    own.get("/api/v1/portal/hello")
    body = {"link": told.school_class.link, "pass_phrase": seat.student.pass_phrase}
    assert own.post("/api/v1/portal/enter", body, content_type="application/json").status_code == 200
    address = own.post("/api/v1/portal/calendar").json()["address"]
    (event,) = events(address)
    assert (event["summary"], event.decoded("dtstart")) == ("A test", when)
    assert told.code not in str(event), "the code is on the board"
    student_erasing.send(type(seat.student), student=seat.student, names=[])
    assert Client().get(address.removeprefix("http://testserver")).status_code == 404


@pytest.mark.django_db
def test_a_guessed_address_leads_nowhere() -> None:
    for token in ("x", "a" * 500, "%00"):
        assert Client().get(f"/calendar/{token}.ics").status_code == 404
