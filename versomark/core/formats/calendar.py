"""Sittings as iCalendar (RFC 5545), for the calendar a teacher uses."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from icalendar import Calendar, Event

AN_HOUR = timedelta(hours=1)
"""What a sitting without an end takes in a calendar."""


@dataclass(frozen=True)
class Entry:
    """uid: the same for the same sitting for ever, so that a calendar moves it rather than adding it again.
    Every moment knows its zone."""

    uid: str
    name: str
    starts: datetime
    ends: datetime | None = None
    description: str = ""
    address: str = ""


def calendar(entries: Iterable[Entry], made_at: datetime) -> bytes:
    result = Calendar()
    result.add("prodid", "-//Verso Mark//sittings//EN")
    result.add("version", "2.0")
    for entry in entries:
        event = Event()
        event.add("uid", entry.uid)
        event.add("dtstamp", made_at)
        event.add("dtstart", entry.starts)
        event.add("dtend", entry.ends if entry.ends and entry.ends > entry.starts else entry.starts + AN_HOUR)
        event.add("summary", entry.name)
        if entry.description:
            event.add("description", entry.description)
        if entry.address:
            event.add("url", entry.address)
        result.add_component(event)
    return bytes(result.to_ical())
