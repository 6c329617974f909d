"""What goes in and comes out as JSON."""

from datetime import time

from ninja import Field, Schema


class PeriodLine(Schema):
    name: str = Field(max_length=40)
    starts: time
    ends: time


class Timetable(Schema):
    periods: list[PeriodLine]
    may_change: bool
    """Whether it is an administrator who looks."""


class PeriodsBody(Schema):
    periods: list[PeriodLine]


class CalendarLine(Schema):
    address: str
