"""Breaks that a student takes by themselves: the time stands still, and only for as long as their needs allow."""

import pytest

from tests.conftest import Device, Staffroom, devices
from tests.school.test_supervised import act, line, opened, step
from tests.school.test_without_a_connection import Clock, clock, given
from versomark.school.classes.models import Student
from versomark.school.delivery import by_the_clock, timekeeping
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import EventKind, Seat, SeatState, Sitting

__all__ = ["clock"]

pytestmark = pytest.mark.django_db


def sat(school: Staffroom, clock: Clock, breaks: int = 10, minutes: int | None = 30) -> tuple[Sitting, Device]:
    """A sitting at noon, and the first student at work, who may take so many minutes of breaks."""
    clock(0)
    sitting = opened(school, minutes=minutes)
    Student.objects.filter(seats__sitting=sitting, seats__desk=1).update(break_minutes=breaks)
    device = devices(sitting)[0]
    assert device.join().json()["break_seconds_left"] == 60 * breaks
    return sitting, device


def seat(sitting: Sitting) -> Seat:
    return sitting.seats.select_related("sitting", "student").get(desk=1)


def minutes_left(sitting: Sitting) -> float:
    left = timekeeping.left(seat(sitting))
    assert left is not None
    return left / 60


def test_the_time_stands_still_and_no_question_is_shown(school: Staffroom, clock: Clock) -> None:
    sitting, device = sat(school, clock)
    clock(5)
    page = device.post("break").json()
    assert (page["stage"], page["on_break"], page["paper"]) == ("paused", True, None)
    assert line(school, sitting, 1)["on_break"]
    moment = page["moment"]
    clock(9)
    assert minutes_left(sitting) == 25
    assert device.seat().json()["break_seconds_left"] == 6 * 60
    assert given(device, sitting, moment, 2).status_code == 423
    page = device.post("break/end").json()
    assert (page["stage"], page["on_break"], page["break_seconds_left"]) == ("working", False, 6 * 60)
    clock(10)
    assert minutes_left(sitting) == 24
    # Once more, and the rest is used up: it goes on by the clock, from when it was.
    device.post("break")
    clock(20)
    by_the_clock.tick()
    assert seat(sitting).state == SeatState.WORKING
    assert minutes_left(sitting) == 20
    assert device.seat().json()["break_seconds_left"] == 0
    assert device.post("break").status_code == 409
    words = [event_words(event) for event in sitting.events.filter(kind=EventKind.BREAK_ENDED).order_by("pk")]
    assert words == ["came back from a break of 4.0 min", "came back from a break of 6.0 min"]


def test_coming_back_after_it_was_used_up_gives_no_more_time_than_there_was(school: Staffroom, clock: Clock) -> None:
    sitting, device = sat(school, clock, breaks=5)
    device.post("break")
    clock(12)
    device.post("break/end")
    assert minutes_left(sitting) == 30 - 7
    # Doing either twice is the same as once.
    device.post("break/end")
    assert minutes_left(sitting) == 23


def test_nobody_else_has_one(school: Staffroom, clock: Clock) -> None:
    sitting, _ = sat(school, clock)
    other = devices(sitting)[1]
    assert other.join().json()["break_seconds_left"] == 0
    assert other.post("break").status_code == 409
    assert sitting.seats.get(desk=2).state == SeatState.WORKING


def test_a_pause_of_all_and_a_break_are_counted_once(school: Staffroom, clock: Clock) -> None:
    sitting, device = sat(school, clock)
    clock(4)
    device.post("break")
    clock(6)
    step(school, sitting, "pause")
    clock(8)
    device.post("break/end")
    assert device.seat().json()["stage"] == "paused"
    clock(16)
    step(school, sitting, "open")
    assert minutes_left(sitting) == 26


def test_a_teacher_takes_a_break_over_and_closing_hands_in_who_rests(school: Staffroom, clock: Clock) -> None:
    sitting, device = sat(school, clock)
    device.post("break")
    clock(3)
    assert act(school, sitting, 1, "pause").status_code == 200
    page = device.seat().json()
    assert (page["stage"], page["on_break"], page["break_seconds_left"]) == ("paused", False, 7 * 60)
    device.post("break/end")
    assert seat(sitting).state == SeatState.PAUSED
    clock(30)
    by_the_clock.tick()
    assert seat(sitting).state == SeatState.PAUSED
    assert act(school, sitting, 1, "resume").status_code == 200
    assert minutes_left(sitting) == 30
    device.post("break")
    step(school, sitting, "close")
    assert (seat(sitting).state, seat(sitting).break_since) == (SeatState.HANDED_IN, None)
