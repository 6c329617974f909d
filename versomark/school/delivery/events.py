"""What was done with a sitting or a seat: kept as a kind and its facts, put into words when somebody reads it."""

from collections.abc import Callable
from datetime import datetime
from typing import Any

from django.utils import timezone

from versomark.school.accounts.public import Teacher

from . import nudges
from .models import EventKind, Seat, Sitting, SittingEvent

Facts = dict[str, Any]


def record(sitting: Sitting, by: Teacher | None, kind: EventKind, seat: Seat | None = None, **facts: Any) -> None:
    """by: None where the clock did it. Moments are kept as ISO 8601."""
    kept_facts = {name: value.isoformat() if isinstance(value, datetime) else value for name, value in facts.items()}
    SittingEvent.objects.create(sitting=sitting, seat=seat, by=by, kind=kind, facts=kept_facts)
    if seat is None:
        nudges.sitting_changed(sitting.pk)
    else:
        nudges.seat_told(sitting.pk, seat.pk)


def event_words(event: SittingEvent) -> str:
    return WORDS[EventKind(event.kind)](event.facts)


def _moment(at: str | None) -> str:
    return f"{timezone.localtime(datetime.fromisoformat(at)):%a %-d %b, %H:%M}" if at else "when the teacher says"


def _moved(name: str) -> Callable[[Facts], str]:
    return lambda facts: f"{name}: {_moment(facts['before'])} → {_moment(facts['after'])}"


def _clock_jumped(facts: Facts) -> str:
    seconds = abs(round(facts["seconds"]))
    amount = f"{seconds / 3600:.1f} hours"
    if seconds < 7200:
        amount = f"{seconds} seconds" if seconds < 120 else f"{round(seconds / 60)} minutes"
    way = "forward" if facts["seconds"] > 0 else "back"
    end = ", its end is moved with it" if facts["end_moved"] else ""
    return f"the clock of the school's machine jumped {amount} {way}: everybody keeps their time{end}"


def _given_back(facts: Facts) -> str:
    minutes, comment = facts["minutes"], facts["comment"]
    return f"given back{f', with {minutes} minutes' if minutes else ''}{f': {comment}' if comment else ''}"


def _released(facts: Facts) -> str:
    how = "with marks" if facts["marks"] else "in words"
    return f"results released {how}{', with the right answers' if facts['answers'] else ''}"


def _key_settled(facts: Facts) -> str:
    return f"question {facts['number']}: {decision_words(facts)}: {facts['reason']}"


def decision_words(facts: Facts) -> str:
    """How a question is scored in place of its key. facts: everybody, weights (names with numbers), accepted."""
    if facts["everybody"]:
        return "everybody has the marks"
    if facts["weights"]:
        return f"weights {', '.join(f'{name} {weight:g}' for name, weight in facts['weights'])}"
    letters = facts["accepted"]
    return f"{' and '.join(letters)} {'is' if len(letters) == 1 else 'are'} right"


def second_marking_words(facts: Facts) -> str:
    """Which answers get a second mark, and what counts."""
    which = {
        "all": "all answers",
        "sample": f"{facts['share']}% of the answers to each question",
        "near": f"students within {facts['within']:g} of {facts['cut']:g}%",
    }[facts["which"]]
    counts = "their mean counts" if facts["mean"] else "the first counts"
    return f"{which}; up to {facts['tolerance']:g} apart {counts}"


def _judged(facts: Facts) -> str:
    earned = "as the key has it" if facts["marks"] is None else f"{facts['marks']:g} of {facts['of']:g}"
    return f"question {facts['number']}: “{facts['typed']}” ({facts['students']}): {earned}"


def _waived(facts: Facts) -> str:
    return f"question {facts['number']} waived{': ' + facts['reason'] if facts['reason'] else ''}"


def _same(words: str) -> Callable[[Facts], str]:
    return lambda facts: words


WORDS: dict[EventKind, Callable[[Facts], str]] = {
    EventKind.EARLIER: lambda facts: str(facts["words"]),
    EventKind.OPENED: _same("opened"),
    EventKind.OPENED_AS_PLANNED: _same("opened at the time that was planned"),
    EventKind.PAUSED_FOR_ALL: _same("paused for all"),
    EventKind.CLOSED: _same("closed"),
    EventKind.CLOCK_JUMPED: _clock_jumped,
    EventKind.END_MOVED: _moved("end"),
    EventKind.BEGINNING_MOVED: _moved("beginning"),
    EventKind.LET_IN: _same("let in"),
    EventKind.SENT_BACK: _same("sent back from the door"),
    EventKind.SEAT_MOVED: lambda facts: f"moved to the seat of {facts['to']}",
    EventKind.PAUSED: _same("paused"),
    EventKind.GOES_ON: _same("goes on"),
    EventKind.TIME_GIVEN: lambda facts: f"{abs(facts['minutes'])} minutes {'more' if facts['minutes'] > 0 else 'less'}",
    EventKind.GIVEN_BACK: _given_back,
    EventKind.LOCKED: _same("locked"),
    EventKind.UNLOCKED: _same("unlocked"),
    EventKind.HANDED_IN_BY_TEACHER: _same("handed in by the teacher"),
    EventKind.MAY_SIT_NOW: lambda facts: f"may sit it now{', form ' + facts['form'] if facts['form'] else ''}",
    EventKind.RELEASED: _released,
    EventKind.RELEASE_TAKEN_BACK: _same("the release is taken back"),
    EventKind.LATENESS_SET: lambda facts: (
        f"late work: {facts['per_day']:g}% of the marks for every day begun, at most {facts['most']:g}%"
    ),
    EventKind.LATENESS_ENDED: _same("late work costs nothing"),
    EventKind.TOTAL_SET: lambda facts: f"total set to {facts['total']:g}: {facts['reason']}",
    EventKind.TOTAL_TAKEN_BACK: _same("the total is worked out again"),
    EventKind.LEFT_OUT: lambda facts: f"left out of the figures: {facts['reason']}",
    EventKind.TAKEN_IN: _same("in the figures again"),
    EventKind.ABSENCE_SET: lambda facts: f"{facts['state']}: {facts['reason']}",
    EventKind.WAIVED: _waived,
    EventKind.WAIVED_NO_MORE: lambda facts: f"question {facts['number']} no longer waived",
    EventKind.KEY_SETTLED: _key_settled,
    EventKind.KEY_HOLDS_AGAIN: lambda facts: (
        f"question {facts['number']}: the {'rubric' if facts['rubric'] else 'key'} holds again"
    ),
    EventKind.SECOND_PLANNED: lambda facts: (
        f"second marks {'planned' if facts['first'] else 'changed'}: {second_marking_words(facts)}"
    ),
    EventKind.SECOND_ENDED: _same("second marks ended: the first marks count"),
    EventKind.NAMES_HIDDEN: _same("names hidden for marking"),
    EventKind.NAMES_SHOWN: _same("names shown"),
    EventKind.MARKED_AWAY: lambda facts: (
        f"marked away from the desk: {facts['marks']} marks and {facts['files']} files put in"
    ),
    EventKind.ANSWER_JUDGED: _judged,
}
