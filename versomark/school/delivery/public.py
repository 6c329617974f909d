"""Giving a test: sittings and seats, the door, the clock, supervision, and nudges to open pages.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from . import breaks, nudges, presence, steady, tokens
from .events import decision_words, event_words, record, second_marking_words
from .models import (
    AFTER,
    BEFORE,
    RUNNING,
    EventKind,
    Seat,
    SeatState,
    Sitting,
    SittingEvent,
    SittingState,
    TimeAway,
    Way,
)
from .moments import DoneAt, done_at, moment_for
from .nudges import seat_changed
from .planning import Plan, as_calendar, name_of, plan_ahead, time_of
from .queries import (
    is_marks_only,
    many_sittings_of,
    markable,
    seat_counts,
    seat_now,
    seats_with_progress,
    sitting_of,
    sittings_of,
)
from .seats import (
    begin,
    find_seat,
    hand_in,
    may_answer,
    may_answer_or_could,
    may_work,
    paper_for,
    sitting_with,
    take_back,
)
from .services import (
    begin_without_devices,
    close_sitting,
    mark_absence,
    missing,
    open_sitting,
    plan,
    settle_readiness,
    settled_sitting_of,
    settled_sittings_of,
)
from .signals import sitting_deleting
from .supervising import seat_in
from .timekeeping import GRACE, is_over, left
from .watching import watched

__all__ = [
    "AFTER",
    "BEFORE",
    "GRACE",
    "RUNNING",
    "DoneAt",
    "EventKind",
    "Plan",
    "Seat",
    "SeatState",
    "Sitting",
    "SittingEvent",
    "SittingState",
    "TimeAway",
    "Way",
    "as_calendar",
    "begin",
    "begin_without_devices",
    "breaks",
    "close_sitting",
    "decision_words",
    "done_at",
    "event_words",
    "find_seat",
    "hand_in",
    "is_marks_only",
    "is_over",
    "left",
    "many_sittings_of",
    "mark_absence",
    "markable",
    "may_answer",
    "may_answer_or_could",
    "may_work",
    "missing",
    "moment_for",
    "name_of",
    "nudges",
    "open_sitting",
    "paper_for",
    "plan",
    "plan_ahead",
    "presence",
    "record",
    "seat_changed",
    "seat_counts",
    "seat_in",
    "seat_now",
    "seats_with_progress",
    "second_marking_words",
    "settle_readiness",
    "settled_sitting_of",
    "settled_sittings_of",
    "sitting_deleting",
    "sitting_of",
    "sitting_with",
    "sittings_of",
    "steady",
    "take_back",
    "time_of",
    "tokens",
    "watched",
]
