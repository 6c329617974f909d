"""A student's time: pauses, extra time and ends, against second by second counting; and sittings in a calendar."""

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from versomark.core.formats.calendar import Entry, calendar
from versomark.core.giving import Clock, Rules, ends_at, seconds_left

START = datetime(2026, 11, 3, 9, 40, tzinfo=UTC)
PAUSES = st.lists(st.tuples(st.integers(1, 300), st.integers(1, 300)), max_size=4)
"""Seconds at work, then seconds in a pause, again and again."""


@given(minutes=st.integers(1, 9), percent=st.sampled_from([0, 10, 25, 50]), extra=st.integers(0, 5), pauses=PAUSES)
def test_time_is_what_is_worked_second_by_second(
    minutes: int, percent: int, extra: int, pauses: list[tuple[int, int]]
) -> None:
    """Counted plainly: the second in which as much has been worked as is due."""
    due = minutes * 60 * (100 + percent) / 100 + extra * 60
    on = [True] * 0
    for work, rest in pauses:
        on += [True] * work + [False] * rest
    paused = timedelta(seconds=on.count(False))
    clock = Clock(START, minutes, percent, extra, paused)
    end = ends_at(clock)
    assert end is not None
    assert (end - START).total_seconds() == due + paused.total_seconds()
    # In the middle of a pause as much is left as when it began, however long it lasts.
    worked = on.count(True)
    during = Clock(START, minutes, percent, extra, paused, paused_at=START + paused + timedelta(seconds=worked))
    for later in (0, 77, 100_000):
        left = seconds_left(during, START + paused + timedelta(seconds=worked + later))
        assert left == max(0.0, due - worked)


def test_the_end_of_a_sitting_is_the_same_for_all_but_for_what_the_teacher_gave() -> None:
    closes = START + timedelta(minutes=30)
    assert ends_at(Clock(START, 45, closes_at=closes)) == closes
    assert ends_at(Clock(START, 20, extra_percent=25, closes_at=closes)) == START + timedelta(minutes=25)
    assert ends_at(Clock(START, 60, extra_percent=50, extra_minutes=5, closes_at=closes)) == closes + timedelta(
        minutes=5
    )
    assert ends_at(Clock(None, 45, closes_at=closes)) == closes  # who has not begun
    assert ends_at(Clock(START)) is None
    assert seconds_left(Clock(START), START) is None
    # A pause does not hold the end of the sitting up.
    paused = Clock(START, 45, closes_at=closes, paused_at=START + timedelta(minutes=1))
    assert seconds_left(paused, START + timedelta(minutes=29)) == 60
    assert seconds_left(paused, START + timedelta(minutes=31)) == 0


def test_an_hour_of_work_over_a_change_of_clocks_is_an_hour() -> None:
    """Berlin, 25 October 2026: 3:00 becomes 2:00 again (Directive 2000/84/EC, last Sunday of October)."""
    berlin = ZoneInfo("Europe/Berlin")
    began = datetime(2026, 10, 25, 2, 30, tzinfo=berlin, fold=0)
    end = ends_at(Clock(began.astimezone(UTC), 60))
    assert end is not None
    shown = end.astimezone(berlin)
    assert (shown.hour, shown.minute, shown.fold) == (2, 30, 1)
    assert seconds_left(Clock(began.astimezone(UTC), 60), began.astimezone(UTC)) == 3600


def test_what_may_be_used_is_said_in_words() -> None:
    assert Rules().aids_in_words() == []
    assert Rules(calculator=True, formula_sheet="U = RI").aids_in_words() == ["a calculator", "the formula sheet"]


NAMES = st.text(st.characters(exclude_categories=["Cs", "Cc"]), min_size=1, max_size=120)


@given(name=NAMES, minutes=st.integers(0, 600) | st.none())
def test_a_calendar_reads_what_was_written(name: str, minutes: int | None) -> None:
    """Read by the same library in the other direction, lines folded and signs escaped by RFC 5545."""
    ends = START + timedelta(minutes=minutes) if minutes is not None else None
    written = calendar([Entry("a@b", name, START, ends, "Code: kelp-47", "http://localhost/sittings/1")], START)
    assert all(len(line) <= 75 for line in written.split(b"\r\n"))
    event = Calendar.from_ical(written).walk("VEVENT")[0]
    assert str(event["SUMMARY"]) == name
    assert event["DTSTART"].dt == START
    assert event["DTEND"].dt == (ends if minutes else START + timedelta(hours=1))
