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
from .marker_severity import Closeness, adjusted, closeness, shrunk
from .pairs import MarkLine, Misfit, PairMeasures, marks_through, measure_pairs, misfits
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
    "Closeness",
    "Distribution",
    "Estimate",
    "Intraclass",
    "ItemMeasures",
    "MarkLine",
    "Misfit",
    "Move",
    "PairMeasures",
    "Reliability",
    "RoundAnswer",
    "RoundsCompared",
    "ScoreBlocks",
    "TakingPart",
    "adjusted",
    "agreement",
    "all_known",
    "closeness",
    "cohen_kappa",
    "compare_rounds",
    "distribution",
    "intraclass",
    "item_measures",
    "known",
    "krippendorff_alpha",
    "marks_through",
    "measure_pairs",
    "misfits",
    "not_reached",
    "omitted_and_not_reached",
    "option_shares_by_group",
    "part_mark_intervals",
    "reliability",
    "rest_discrimination",
    "severity",
    "shrunk",
    "taking_part",
    "trace_groups",
    "wilson",
]
