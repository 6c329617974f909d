"""Measures of items and tests, vectorised over students. No words and no thresholds here."""

from .groups import ScoreBlocks, trace_groups
from .intervals import bootstrap_means, resample_weights, wilson
from .items import ItemMeasures, item_measures, omitted_and_not_reached, option_shares_by_group
from .rounds import Move, RoundAnswer, RoundsCompared, compare_rounds
from .taking_part import TakingPart, taking_part
from .whole_test import Distribution, Reliability, distribution, reliability

__all__ = [
    "Distribution",
    "ItemMeasures",
    "Move",
    "Reliability",
    "RoundAnswer",
    "RoundsCompared",
    "ScoreBlocks",
    "TakingPart",
    "bootstrap_means",
    "compare_rounds",
    "distribution",
    "item_measures",
    "omitted_and_not_reached",
    "option_shares_by_group",
    "reliability",
    "resample_weights",
    "taking_part",
    "trace_groups",
    "wilson",
]
