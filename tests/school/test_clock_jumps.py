"""The machine's clock is set, corrected, or stands still while a laptop sleeps: nobody's work is handed in by it, and
nobody is given hours."""

from datetime import datetime, timedelta

import pytest
from django.utils import timezone

from tests.conftest import Staffroom, devices
from versomark.school.delivery import by_the_clock, services, steady, supervising
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import EventKind, SeatState, Sitting
from versomark.school.delivery.timekeeping import left


@pytest.fixture
def jumped(monkeypatch: pytest.MonkeyPatch) -> list[timedelta]:
    """By how much the wall clock is off; the monotonic one goes on."""
    off = [timedelta(0)]
    real = timezone.now
    monkeypatch.setattr(steady, "clock", steady.SteadyClock())

    def now() -> datetime:
        return real() + off[0]

    monkeypatch.setattr(timezone, "now", now)
    return off


@pytest.mark.django_db
@pytest.mark.parametrize("hours", [3, -3, 0.02, -0.02, 24 * 300])
def test_a_jump_neither_hands_in_nor_gives_time(school: Staffroom, jumped: list[timedelta], hours: float) -> None:
    sitting = school.sitting()
    sitting.rules = {"minutes": 40}
    sitting.save()
    services.open_sitting(sitting)
    Sitting.objects.filter(pk=sitting.pk).update(closes_at=timezone.now() + timedelta(minutes=50))
    one, two, _ = devices(sitting)
    one.join()
    two.join()
    second = sitting.seats.select_related("sitting", "student").get(desk=2)
    supervising.pause(school.teacher, second)
    before = [left(seat) for seat in sitting.seats.select_related("sitting", "student").order_by("desk")[:2]]

    jumped[0] = timedelta(hours=hours)
    # Between the jump and the second in which it is noticed a student's request already keeps its time.
    assert one.seat().json()["stage"] == "working"
    by_the_clock.tick()
    by_the_clock.tick()
    seats = list(sitting.seats.select_related("sitting", "student").order_by("desk")[:2])
    assert [seat.state for seat in seats] == [SeatState.WORKING, SeatState.PAUSED]
    for seat, seconds in zip(seats, before, strict=True):
        assert left(seat) == pytest.approx(seconds, abs=3)
    told = [
        event_words(event) for event in Sitting.objects.get(pk=sitting.pk).events.filter(kind=EventKind.CLOCK_JUMPED)
    ]
    assert len(told) == 1
    assert ("forward" if hours > 0 else "back") in told[0]
    # The wall is the wall again, and time runs out as it should.
    assert abs(steady.now() - timezone.now()) < timedelta(seconds=1)
    Sitting.objects.filter(pk=sitting.pk).update(closes_at=timezone.now() - timedelta(minutes=1))
    by_the_clock.tick()
    assert sitting.seats.get(desk=1).state == SeatState.HANDED_IN


@pytest.mark.django_db
def test_a_clock_that_is_kept_right_bit_by_bit_is_followed(school: Staffroom, jumped: list[timedelta]) -> None:
    sitting = school.open_sitting()
    for step in range(1, 20):
        jumped[0] = timedelta(seconds=3 * step)
        by_the_clock.tick()
        assert abs(steady.now() - timezone.now()) < timedelta(seconds=1)
    assert not sitting.events.filter(kind=EventKind.CLOCK_JUMPED).exists()
