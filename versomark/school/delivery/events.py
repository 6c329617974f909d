"""What was done with a sitting or a seat: kept as a kind and its facts, put into words when somebody reads it."""

from collections.abc import Callable
from datetime import datetime
from typing import Any

from django.utils import timezone

from versomark.core.language import N_, _, _n, in_figures, listed, moment
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
    return moment(timezone.localtime(datetime.fromisoformat(at))) if at else _("when the teacher says")


def _moved(template: str) -> Callable[[Facts], str]:
    return lambda facts: _(template, before=_moment(facts["before"]), after=_moment(facts["after"]))


def _clock_jumped(facts: Facts) -> str:
    seconds = abs(round(facts["seconds"]))
    amount = _("{hours} hours", hours=in_figures(seconds / 3600, ".1f"))
    if seconds < 120:
        amount = _n("{count} second", "{count} seconds", seconds, count=seconds)
    elif seconds < 7200:
        amount = _n("{count} minute", "{count} minutes", round(seconds / 60), count=round(seconds / 60))
    way = _("forward") if facts["seconds"] > 0 else _("back")
    end = _(", its end is moved with it") if facts["end_moved"] else ""
    return _(
        "the clock of the school's machine jumped {amount} {way}: everybody keeps their time{end}",
        amount=amount,
        way=way,
        end=end,
    )


def _given_back(facts: Facts) -> str:
    minutes, comment = facts["minutes"], facts["comment"]
    return (
        (
            _("given back, with {minutes} minutes: {comment}", minutes=minutes, comment=comment)
            if comment
            else _("given back, with {minutes} minutes", minutes=minutes)
        )
        if minutes
        else (_("given back: {comment}", comment=comment) if comment else _("given back"))
    )


def _released(facts: Facts) -> str:
    how = _("with marks") if facts["marks"] else _("in words")
    return (
        _("results released {how}, with the right answers", how=how)
        if facts["answers"]
        else _("results released {how}", how=how)
    )


def _key_settled(facts: Facts) -> str:
    return _(
        "question {number}: {decision_words}: {reason}",
        number=facts["number"],
        decision_words=decision_words(facts),
        reason=facts["reason"],
    )


def decision_words(facts: Facts) -> str:
    """How a question is scored in place of its key. facts: everybody, weights (names with numbers), accepted."""
    if facts["everybody"]:
        return _("everybody has the marks")
    if facts["weights"]:
        return _("weights {list}", list=", ".join((f"{name} {weight:g}" for name, weight in facts["weights"])))
    letters = facts["accepted"]
    return _n("{letters} is right", "{letters} are right", len(letters), letters=listed(letters))


def second_marking_words(facts: Facts) -> str:
    """Which answers get a second mark, and what counts."""
    which = {
        "all": _("all answers"),
        "sample": _("{share}% of the answers to each question", share=facts["share"]),
        "near": _(
            "students within {within} of {cut}%",
            within=in_figures(facts["within"], "g"),
            cut=in_figures(facts["cut"], "g"),
        ),
    }[facts["which"]]
    counts = _("their mean counts") if facts["mean"] else _("the first counts")
    return _(
        "{which}; up to {tolerance} apart {counts}",
        which=which,
        tolerance=in_figures(facts["tolerance"], "g"),
        counts=counts,
    )


def _judged(facts: Facts) -> str:
    earned = (
        _("as the key has it")
        if facts["marks"] is None
        else _("{marks} of {of}", marks=in_figures(facts["marks"], "g"), of=in_figures(facts["of"], "g"))
    )
    return _(
        "question {number}: “{typed}” ({students}): {earned}",
        number=facts["number"],
        typed=facts["typed"],
        students=facts["students"],
        earned=earned,
    )


def _arrived_later(facts: Facts) -> str:
    return _n(
        "{count} answer arrived after the end and counts: by the device's clock it was given by {given},"
        " and certainly not before {not_before}",
        "{count} answers arrived after the end and count: by the device's clock they were given by {given},"
        " and certainly not before {not_before}",
        facts["count"],
        count=facts["count"],
        given=_moment(facts["given"]),
        not_before=_moment(facts["not_before"]),
    )


def _handed_in_unheard(facts: Facts) -> str:
    return _(
        "handed in without a connection: at {given} by the device's clock, and certainly not before {not_before}",
        given=_moment(facts["given"]),
        not_before=_moment(facts["not_before"]),
    )


def _waived(facts: Facts) -> str:
    return _(
        "question {number} waived{value}",
        number=facts["number"],
        value=": " + facts["reason"] if facts["reason"] else "",
    )


def _same(template: str) -> Callable[[Facts], str]:
    return lambda facts: _(template)


WORDS: dict[EventKind, Callable[[Facts], str]] = {
    EventKind.EARLIER: lambda facts: str(facts["words"]),
    EventKind.OPENED: _same(N_("opened")),
    EventKind.OPENED_AS_PLANNED: _same(N_("opened at the time that was planned")),
    EventKind.PAUSED_FOR_ALL: _same(N_("paused for all")),
    EventKind.CLOSED: _same(N_("closed")),
    EventKind.CLOCK_JUMPED: _clock_jumped,
    EventKind.END_MOVED: _moved(N_("end: {before} → {after}")),
    EventKind.BEGINNING_MOVED: _moved(N_("beginning: {before} → {after}")),
    EventKind.LET_IN: _same(N_("let in")),
    EventKind.SENT_BACK: _same(N_("sent back from the door")),
    EventKind.SEAT_MOVED: lambda facts: _("moved to the seat of {to}", to=facts["to"]),
    EventKind.PAUSED: _same(N_("paused")),
    EventKind.GOES_ON: _same(N_("goes on")),
    EventKind.TIME_GIVEN: lambda facts: (
        _("{abs} minutes more", abs=abs(facts["minutes"]))
        if facts["minutes"] > 0
        else _("{abs} minutes less", abs=abs(facts["minutes"]))
    ),
    EventKind.GIVEN_BACK: _given_back,
    EventKind.LOCKED: _same(N_("locked")),
    EventKind.UNLOCKED: _same(N_("unlocked")),
    EventKind.HANDED_IN_BY_TEACHER: _same(N_("handed in by the teacher")),
    EventKind.MAY_SIT_NOW: lambda facts: _(
        "may sit it now{value}", value=", form " + facts["form"] if facts["form"] else ""
    ),
    EventKind.RELEASED: _released,
    EventKind.RELEASE_TAKEN_BACK: _same(N_("the release is taken back")),
    EventKind.LATENESS_SET: lambda facts: _(
        "late work: {per_day}% of the marks for every day begun, at most {most}%",
        per_day=in_figures(facts["per_day"], "g"),
        most=in_figures(facts["most"], "g"),
    ),
    EventKind.LATENESS_ENDED: _same(N_("late work costs nothing")),
    EventKind.TOTAL_SET: lambda facts: _(
        "total set to {total}: {reason}", total=in_figures(facts["total"], "g"), reason=facts["reason"]
    ),
    EventKind.TOTAL_TAKEN_BACK: _same(N_("the total is worked out again")),
    EventKind.LEFT_OUT: lambda facts: _("left out of the figures: {reason}", reason=facts["reason"]),
    EventKind.TAKEN_IN: _same(N_("in the figures again")),
    EventKind.ABSENCE_SET: lambda facts: f"{facts['state']}: {facts['reason']}",
    EventKind.WAIVED: _waived,
    EventKind.WAIVED_NO_MORE: lambda facts: _("question {number} no longer waived", number=facts["number"]),
    EventKind.KEY_SETTLED: _key_settled,
    EventKind.KEY_HOLDS_AGAIN: lambda facts: (
        _("question {number}: the rubric holds again", number=facts["number"])
        if facts["rubric"]
        else _("question {number}: the key holds again", number=facts["number"])
    ),
    EventKind.SECOND_PLANNED: lambda facts: (
        _("second marks planned: {second_marking_words}", second_marking_words=second_marking_words(facts))
        if facts["first"]
        else _("second marks changed: {second_marking_words}", second_marking_words=second_marking_words(facts))
    ),
    EventKind.SECOND_ENDED: _same(N_("second marks ended: the first marks count")),
    EventKind.NAMES_HIDDEN: _same(N_("names hidden for marking")),
    EventKind.NAMES_SHOWN: _same(N_("names shown")),
    EventKind.MARKED_AWAY: lambda facts: _(
        "marked away from the desk: {marks} marks and {files} files put in", marks=facts["marks"], files=facts["files"]
    ),
    EventKind.ANSWER_JUDGED: _judged,
    EventKind.PILE_SHARED: lambda facts: _n(
        "answers shared out to {count} marker",
        "answers shared out to {count} markers",
        facts["markers"],
        count=facts["markers"],
    ),
    EventKind.PILE_ENDED: _same(N_("the shared pile is ended")),
    EventKind.SEVERITY_ADJUSTED: lambda facts: _(
        "question {number}: {points} points on the marks of {marker}, for how strictly they mark",
        number=facts["number"],
        points=in_figures(facts["points"], "+.2f"),
        marker=facts["marker"],
    ),
    EventKind.SEVERITY_AS_MARKED: lambda facts: _(
        "question {number}: the marks of {marker} count as they were given",
        number=facts["number"],
        marker=facts["marker"],
    ),
    EventKind.RUBRIC_CHANGED: lambda facts: _(
        "question {number}: levels of the rubric changed: {reason}", number=facts["number"], reason=facts["reason"]
    ),
    EventKind.EVIDENCE_TAKEN_AWAY: lambda facts: _(
        "question {number}: a file that was kept with it was taken away", number=facts["number"]
    ),
    EventKind.RUBRIC_AS_BEFORE: lambda facts: _(
        "question {number}: levels of the rubric as they were before", number=facts["number"]
    ),
    EventKind.BREAK_BEGAN: _same(N_("began a break of their own")),
    EventKind.BREAK_ENDED: lambda facts: _(
        "came back from a break of {minutes} min", minutes=in_figures(facts["seconds"] / 60, ".1f")
    ),
    EventKind.ARRIVED_LATER: _arrived_later,
    EventKind.HANDED_IN_UNHEARD: _handed_in_unheard,
    EventKind.QUESTIONS_OPENED: lambda facts: (
        _("students may ask about their marks until {until}", until=_moment(facts["until"]))
        if facts["until"]
        else _("students may ask about their marks no more")
    ),
    EventKind.MARK_QUESTION_ANSWERED: lambda facts: (
        _("question {number}: a mark was changed after its student asked", number=facts["number"])
        if facts["changed"]
        else _("question {number}: a mark stays after its student asked", number=facts["number"])
    ),
}
