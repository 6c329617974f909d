"""From responses, keys and marks to points."""

from .adjusting import LateRule, total_of
from .answer_groups import Alike, AnswerGroup, same_answers
from .bands import Band, band_of
from .likeness import LikeOrder, NearestAgree, like_order, likeness, nearest, nearest_agree
from .pair_choice import next_pair
from .scoring_overrides import KeyOverride, Marks, ScoringOverrides
from .sharing_out import Hands, Way, shared_out, with_checks
from .table import Responses, corrected_totals, formula_scored, score, to_mark
from .two_marks import apart, counted

__all__ = [
    "Alike",
    "AnswerGroup",
    "Band",
    "Hands",
    "KeyOverride",
    "LateRule",
    "LikeOrder",
    "Marks",
    "NearestAgree",
    "Responses",
    "ScoringOverrides",
    "Way",
    "apart",
    "band_of",
    "corrected_totals",
    "counted",
    "formula_scored",
    "like_order",
    "likeness",
    "nearest",
    "nearest_agree",
    "next_pair",
    "same_answers",
    "score",
    "shared_out",
    "to_mark",
    "total_of",
    "with_checks",
]
