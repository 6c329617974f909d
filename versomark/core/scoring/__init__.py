"""From responses, keys and marks to points."""

from .adjusting import LateRule, total_of
from .answer_groups import Alike, AnswerGroup, same_answers
from .bands import Band, band_of
from .scoring_overrides import KeyOverride, Marks, ScoringOverrides
from .table import (
    NOT_CHOSEN,
    ItemColumn,
    OptionColumn,
    Responses,
    ResponseTable,
    corrected_totals,
    put_together,
    score,
    to_mark,
    with_item,
)
from .two_marks import apart, counted

__all__ = [
    "NOT_CHOSEN",
    "Alike",
    "AnswerGroup",
    "Band",
    "ItemColumn",
    "KeyOverride",
    "LateRule",
    "Marks",
    "OptionColumn",
    "ResponseTable",
    "Responses",
    "ScoringOverrides",
    "apart",
    "band_of",
    "corrected_totals",
    "counted",
    "put_together",
    "same_answers",
    "score",
    "to_mark",
    "total_of",
    "with_item",
]
