"""How long a question took: told by the device once, whatever it sends; in the room from the asking to the answer."""

from datetime import timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone

from tests.conftest import Staffroom, refs
from tests.school.test_room import act, choose, joined, lesson
from tests.school.test_supervised import choose as choose_alone
from tests.school.test_supervised import devices, later, opened
from versomark.school.delivery.models import Seat, Sitting
from versomark.school.responses.models import TimeOnItem
from versomark.school.room.models import Round, RoundAnswer

pytestmark = pytest.mark.django_db


def spent(ref: str, seconds: float) -> dict[str, Any]:
    return {"client_id": str(uuid4()), "item": ref, "seconds": seconds}


def times(school: Staffroom, sitting_id: int, query: str = "") -> dict[str, Any]:
    page = school.client.get(f"/api/v1/sittings/{sitting_id}/findings/time{query}").json()
    return {item["id"]: item for item in page["figures"]["items"]} | {"opening": page["opening"]}


def test_stretches_add_up_once_and_no_clock_outruns_the_test(school: Staffroom) -> None:
    sitting = opened(school)
    first, second = refs(sitting)[:2]
    for at, device in enumerate(devices(sitting)[:2]):
        device.join()
        choose_alone(device, sitting, "a", 1)
        later(sitting, minutes=10)
        stretches = [spent(first, 20 + at), spent(second, 40), spent(first, 10), spent(second, 1e6), spent("none", 5)]
        for _ in range(2):
            assert device.post("signs", {"at": second, "spent": stretches}).status_code == 200
        assert device.post("hand-in").status_code == 200
        # What was in sight at the end comes after it.
        assert device.post("signs", {"spent": [spent(first, 2)]}).status_code == 200
    result = times(school, sitting.pk)
    assert result[first]["students"] == 2
    assert result[first]["median"] == pytest.approx(32.5)
    assert 640 <= result[second]["q1"] <= 1260
    assert "Half of the class took between" in result["opening"]
    assert TimeOnItem.objects.count() == 10
    for nonsense in (-1, "NaN", 1e9):
        assert devices(sitting)[2].join().status_code == 200
        assert devices(sitting)[2].post("signs", {"spent": [spent(first, nonsense)]}).status_code in (401, 422)  # type: ignore[arg-type]


def test_who_tries_again_is_timed_anew_and_who_is_left_out_is_out(school: Staffroom) -> None:
    sitting = opened(school, attempts=2)
    (first, *_), device = refs(sitting), devices(sitting)[0]
    device.join()
    later(sitting, minutes=5)
    device.post("signs", {"spent": [spent(first, 100)]})
    device.post("hand-in")
    TimeOnItem.objects.update(kept_at=timezone.now() - timedelta(minutes=1))
    assert device.post("again").status_code == 200
    assert device.post("signs", {"spent": [spent(first, 0.2)]}).status_code == 200
    device.post("hand-in")
    assert times(school, sitting.pk)[first]["median"] < 1
    other = devices(sitting)[1]
    other.join()
    other.post("hand-in")
    seat = Seat.objects.get(sitting=sitting, desk=1)
    assert times(school, sitting.pk, f"?out={seat.pk}")[first]["median"] is None


def test_in_the_room_time_runs_from_the_asking(school: Staffroom) -> None:
    room = lesson(school)
    sitting = Sitting.objects.get(pk=room.sitting_id)
    ref, seats = refs(sitting)[0], joined(room)
    act(school, room, "go")
    for device in seats[:2]:
        assert choose(device, "a").status_code == 200
    Round.objects.update(asked_at=timezone.now() - timedelta(seconds=50))
    assert RoundAnswer.objects.count() == 2
    assert act(school, room, "end").status_code == 200
    assert times(school, sitting.pk)[ref]["median"] == pytest.approx(50, abs=5)
