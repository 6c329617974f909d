"""From responses, keys and marks to points."""

from .adjusting import LateRule, total_of
from .answer_groups import Alike, AnswerGroup, same_answers
from .bands import Band, band_of
from .scoring_overrides import KeyOverride, Marks, ScoringOverrides
from .table import Responses, corrected_totals, formula_scored, score, to_mark
from .two_marks import apart, counted

__all__ = [
    "Alike",
    "AnswerGroup",
    "Band",
    "KeyOverride",
    "LateRule",
    "Marks",
    "Responses",
    "ScoringOverrides",
    "apart",
    "band_of",
    "corrected_totals",
    "counted",
    "formula_scored",
    "same_answers",
    "score",
    "to_mark",
    "total_of",
]
