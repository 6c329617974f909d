"""What students gave: the answers that stand, files, time on questions, attempts and marks of tests given elsewhere.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .external_marks import EnteredMark, Mark, Presence, columns_of, current_marks, keep_marks
from .files import keep_evidence, path_of, stored_file
from .models import Answer, CurrentAnswer, HandedInFile
from .on_behalf import Source, keep_for, seat_is_in
from .services import (
    Change,
    LogPosition,
    current_answers,
    keep_answers,
    log_positions,
    newest_answer_at,
    responses_of,
    sign_of_life,
)
from .time_spent import TimeSpentOnItem, seconds_on_items

__all__ = [
    "Answer",
    "Change",
    "CurrentAnswer",
    "EnteredMark",
    "HandedInFile",
    "LogPosition",
    "Mark",
    "Presence",
    "Source",
    "TimeSpentOnItem",
    "columns_of",
    "current_answers",
    "current_marks",
    "keep_answers",
    "keep_evidence",
    "keep_for",
    "keep_marks",
    "log_positions",
    "newest_answer_at",
    "path_of",
    "responses_of",
    "seat_is_in",
    "seconds_on_items",
    "sign_of_life",
    "stored_file",
]
