"""One student's time. Every moment knows its zone and only differences count, so summer time changes nothing."""

from dataclasses import dataclass
from datetime import datetime, timedelta


@dataclass(frozen=True)
class Clock:
    """What a student's end depends on.

    started: when they began. minutes: working time that the rules give. extra_percent: what the student needs beyond
    it. extra_minutes: what the teacher gave on top, which also moves the end of the sitting for this student.
    paused: time spent in pauses that are over. paused_at: since when a pause is on. closes_at: the end of the sitting.
    """

    started: datetime | None = None
    minutes: int | None = None
    extra_percent: int = 0
    extra_minutes: int = 0
    paused: timedelta = timedelta(0)
    paused_at: datetime | None = None
    closes_at: datetime | None = None


def ends_at(clock: Clock) -> datetime | None:
    """When this student's time is over, were no pause on; None where it has no end.

    The working time begins with the student, and is longer by what the student needs, by what the teacher gave and by
    every pause. The end of the sitting is the same for all, but for what the teacher gave.
    """
    given = timedelta(minutes=clock.extra_minutes)
    ends = [] if clock.closes_at is None else [clock.closes_at + given]
    if clock.minutes is not None and clock.started is not None:
        working = timedelta(minutes=clock.minutes) * (100 + clock.extra_percent) / 100
        ends.append(clock.started + working + given + clock.paused)
    return min(ends, default=None)


def seconds_left(clock: Clock, now: datetime) -> float | None:
    """Seconds until the end, never below 0; None where there is none. While a pause is on, working time stands still,
    and the end of the sitting does not."""
    at = clock.paused_at if clock.paused_at is not None else now
    own = ends_at(Clock(clock.started, clock.minutes, clock.extra_percent, clock.extra_minutes, clock.paused))
    common = ends_at(Clock(extra_minutes=clock.extra_minutes, closes_at=clock.closes_at))
    left = [(end - moment).total_seconds() for end, moment in ((own, at), (common, now)) if end is not None]
    return max(0.0, min(left)) if left else None
