"""From measures to findings: explanations with their probabilities, flags and evidence, and words made of them."""

from . import words
from .analysis import Analysis, IdeaFigures, ItemFigures, TestFigures, analyse
from .explaining import explain
from .explanations import ItemExplanations
from .facts import FindingFacts, RivalFacts
from .flags import COST, Confidence, Finding, Flag, Thresholds, worth
from .traces import OptionTrace, option_traces

__all__ = [
    "COST",
    "Analysis",
    "Confidence",
    "Finding",
    "FindingFacts",
    "Flag",
    "IdeaFigures",
    "ItemExplanations",
    "ItemFigures",
    "OptionTrace",
    "RivalFacts",
    "TestFigures",
    "Thresholds",
    "analyse",
    "explain",
    "option_traces",
    "words",
    "worth",
]
