"""Measures of items and tests, vectorised over students. No words and no thresholds here."""

from .groups import ScoreBlocks, trace_groups
from .intervals import all_known, known, part_mark_intervals, wilson
from .items import (
    ItemMeasures,
    item_measures,
    not_reached,
    omitted_and_not_reached,
    option_shares_by_group,
    rest_discrimination,
)
from .raters import (
    Agreement,
    Estimate,
    Intraclass,
    agreement,
    cohen_kappa,
    intraclass,
    krippendorff_alpha,
    severity,
)
from .rounds import Move, RoundAnswer, RoundsCompared, compare_rounds
from .taking_part import TakingPart, taking_part
from .whole_test import Distribution, Reliability, distribution, reliability

__all__ = [
    "Agreement",
    "Distribution",
    "Estimate",
    "Intraclass",
    "ItemMeasures",
    "Move",
    "Reliability",
    "RoundAnswer",
    "RoundsCompared",
    "ScoreBlocks",
    "TakingPart",
    "agreement",
    "all_known",
    "cohen_kappa",
    "compare_rounds",
    "distribution",
    "intraclass",
    "item_measures",
    "known",
    "krippendorff_alpha",
    "not_reached",
    "omitted_and_not_reached",
    "option_shares_by_group",
    "part_mark_intervals",
    "reliability",
    "rest_discrimination",
    "severity",
    "taking_part",
    "trace_groups",
    "wilson",
]
