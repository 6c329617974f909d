"""What students gave: the answers that stand, files, time on questions, attempts and marks of tests given elsewhere.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .external_marks import Mark, Presence, StandingMark, columns_of, keep_marks, standing_marks
from .files import path_of, stored_file
from .models import CurrentAnswer, HandedInFile
from .on_behalf import Source, keep_for, seat_is_in
from .services import Change, LogPosition, current_answers, keep_answers, log_positions, responses_of, sign_of_life
from .time_spent import Spent, seconds_on_items

__all__ = [
    "Change",
    "CurrentAnswer",
    "HandedInFile",
    "LogPosition",
    "Mark",
    "Presence",
    "Source",
    "Spent",
    "StandingMark",
    "columns_of",
    "current_answers",
    "keep_answers",
    "keep_for",
    "keep_marks",
    "log_positions",
    "path_of",
    "responses_of",
    "seat_is_in",
    "seconds_on_items",
    "sign_of_life",
    "standing_marks",
    "stored_file",
]
