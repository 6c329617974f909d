"""What is done while a device cannot reach the server: answers given in time count whenever they arrive, none counts
that was given after the end, and the teacher reads how far the time of either can be trusted."""

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone

from tests.conftest import Device, Staffroom, devices, refs
from tests.school.test_supervised import act, opened, step
from versomark.core.items import ItemResponse
from versomark.school.delivery import by_the_clock, steady
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import EventKind, Seat, SeatState, Sitting
from versomark.school.responses.models import Answer
from versomark.school.responses.services import responses_of

pytestmark = pytest.mark.django_db

Clock = Callable[[float], None]
CHOICE = {"kind": "single_choice", "option": "b"}


@pytest.fixture
def clock(monkeypatch: pytest.MonkeyPatch) -> Clock:
    """Noon, and so many minutes later when it is called."""
    noon = timezone.localtime().replace(hour=12, minute=0, second=0, microsecond=0)
    shows = [noon]
    monkeypatch.setattr(timezone, "now", lambda: shows[0])
    monkeypatch.setattr(steady, "now", lambda: shows[0])
    monkeypatch.setattr(steady.clock, "jump", lambda: None)

    def to(minute: float) -> None:
        shows[0] = noon + timedelta(minutes=minute)

    return to


def given(device: Device, sitting: Sitting, moment: str, minutes: float, sequence: int = 1) -> Any:
    """Sent now, and given so many minutes after that moment by the device's count."""
    return device.answer(refs(sitting)[0], CHOICE, sequence, moment=moment, seconds_since=60 * minutes)


def standing(sitting: Sitting, desk: int = 1) -> dict[str, ItemResponse]:
    seat = sitting.seats.get(desk=desk)
    return responses_of([seat.pk])[str(seat.pk)]


def told(sitting: Sitting, kind: EventKind) -> list[str]:
    return [event_words(event) for event in sitting.events.filter(kind=kind)]


def end(school: Staffroom, sitting: Sitting, how: str, clock: Clock) -> None:
    """Its end comes at ten minutes past noon, and at twenty past it is seen."""
    clock(10)
    if how == "closed":
        step(school, sitting, "close")
    elif how == "paused for all":
        step(school, sitting, "pause")
    elif how == "paused":
        assert act(school, sitting, 1, "pause").status_code == 200
    clock(20)
    if how == "time is over":
        by_the_clock.tick()


@pytest.mark.parametrize(
    "how", ["closed", "time is over", "time is over and nobody looked", "paused for all", "paused"]
)
def test_what_was_given_in_time_counts_and_what_was_given_later_does_not(
    school: Staffroom, clock: Clock, how: str
) -> None:
    clock(0)
    sitting = opened(school, minutes=10 if how.startswith("time") else None)
    device, other, _ = devices(sitting)
    moment = device.join().json()["moment"]
    theirs = other.join().json()["moment"]
    end(school, sitting, how, clock)

    for refused in (
        given(device, sitting, moment, 11),
        given(device, sitting, "", 5),
        given(device, sitting, theirs, 5),
    ):
        assert refused.status_code in (410, 423)
    altered = moment.replace(".", ".1", 1)
    assert given(device, sitting, altered, 5).status_code in (410, 423)
    assert standing(sitting) == {}

    kept = given(device, sitting, moment, 9)
    assert kept.status_code == 200, kept.content
    assert standing(sitting) != {}
    answer = Answer.objects.get(seat__sitting=sitting)
    assert answer.given_at is not None
    assert timezone.localtime(answer.given_at).strftime("%H:%M") == "12:09"
    # After a pause work goes on, so nothing of it is news to the teacher.
    words = told(sitting, EventKind.ARRIVED_LATER)
    if how in ("closed", "time is over"):
        assert ["12:09" in said and "12:00" in said and "1 answer" in said for said in words] == [True]
    else:
        assert words == []


def test_what_was_given_later_keeps_nothing_back_that_was_given_in_time(school: Staffroom, clock: Clock) -> None:
    clock(0)
    sitting = opened(school)
    device, _, _ = devices(sitting)
    moment = device.join().json()["moment"]
    end(school, sitting, "closed", clock)
    first, second = (
        {
            "client_id": str(uuid4()), "sequence": number, "item": refs(sitting)[0], "response": response,
            "moment": moment, "seconds_since": 60 * minutes,
        }
        for number, response, minutes in ((1, CHOICE, 9), (2, None, 11))
    )  # fmt: skip
    assert device.post("answers", {"changes": [first, second]}).json()["kept"] == [first["client_id"]]
    assert standing(sitting) != {}
    # Sent again, what is kept is said to be, and the other is refused when it comes alone.
    assert device.post("answers", {"changes": [first]}).json()["kept"] == [first["client_id"]]
    assert device.post("answers", {"changes": [second]}).status_code == 410
    assert ["1 answer arrived" in said for said in told(sitting, EventKind.ARRIVED_LATER)] == [True]


def test_a_fast_clock_gives_nothing_before_it_arrives_and_a_slow_one_reaches_not_behind_the_last_reply(
    school: Staffroom, clock: Clock
) -> None:
    clock(0)
    sitting = opened(school)
    device, _, _ = devices(sitting)
    moment = device.join().json()["moment"]
    clock(5)
    assert given(device, sitting, moment, 600).status_code == 200
    assert Answer.objects.get().given_at is None
    later = device.seat().json()["moment"]
    clock(8)
    assert given(device, sitting, later, 0, sequence=2).status_code == 200
    assert given(device, sitting, later, -1, sequence=3).status_code == 422
    assert timezone.localtime(Answer.objects.get(sequence=2).given_at).strftime("%H:%M") == "12:05"


def test_nothing_comes_in_behind_a_release_and_everything_once_it_is_taken_back(
    school: Staffroom, clock: Clock
) -> None:
    clock(0)
    sitting = opened(school)
    device, other, _ = devices(sitting)
    moment = device.join().json()["moment"]
    other.join()
    end(school, sitting, "closed", clock)
    Sitting.objects.filter(pk=sitting.pk).update(state="released")
    assert given(device, sitting, moment, 9).status_code == 410
    Sitting.objects.filter(pk=sitting.pk).update(state="closed")
    assert given(device, sitting, moment, 9).status_code == 200
    # Locked by the teacher, nothing more is taken.
    Seat.objects.filter(sitting=sitting, desk=1).update(locked=True)
    assert given(device, sitting, moment, 9, sequence=2).status_code == 423


def handed_in_at(sitting: Sitting) -> tuple[str, datetime | None, bool, bool]:
    seat = sitting.seats.get(desk=1)
    return seat.state, seat.handed_in_at, seat.ended_by_closing, seat.ended_by_time


@pytest.mark.parametrize("how", ["still open", "closed", "time is over"])
def test_handing_in_counts_from_when_it_was_said(school: Staffroom, clock: Clock, how: str) -> None:
    clock(0)
    sitting = opened(school, minutes=10 if how == "time is over" else None)
    device, _, _ = devices(sitting)
    moment = device.join().json()["moment"]
    end(school, sitting, how, clock)
    noon = sitting.seats.get(desk=1).started_at
    assert noon is not None

    sent = device.post("hand-in", {"moment": moment, "seconds_since": 60 * 8})
    assert sent.json()["stage"] == "handed in"
    assert handed_in_at(sitting) == (SeatState.HANDED_IN, noon + timedelta(minutes=8), False, False)
    assert ["12:08" in said and "12:00" in said for said in told(sitting, EventKind.HANDED_IN_UNHEARD)] == [True]
    # The same again changes nothing, and nothing is given after one's own handing in.
    clock(30)
    device.post("hand-in", {"moment": moment, "seconds_since": 60 * 9})
    assert handed_in_at(sitting)[1] == noon + timedelta(minutes=8)
    assert given(device, sitting, moment, 7).status_code == 410
    # A page of an earlier release says nothing with it.
    bare = device.client.post("/api/v1/student/hand-in", "", content_type="application/json")
    assert bare.json()["stage"] == "handed in"


def test_handing_in_after_the_end_is_the_end(school: Staffroom, clock: Clock) -> None:
    clock(0)
    sitting = opened(school)
    device, _, _ = devices(sitting)
    moment = device.join().json()["moment"]
    end(school, sitting, "closed", clock)
    device.post("hand-in", {"moment": moment, "seconds_since": 60 * 12})
    assert handed_in_at(sitting)[2:] == (True, False)
    assert told(sitting, EventKind.HANDED_IN_UNHEARD) == []
