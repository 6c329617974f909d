"""From measures to findings: flags with their firmness and evidence, in words."""

from . import words
from .analysis import Analysis, ItemFigures, TestFigures, analyse
from .flags import Finding, Flag, Thresholds
from .traces import OptionTrace, option_traces

__all__ = [
    "Analysis",
    "Finding",
    "Flag",
    "ItemFigures",
    "OptionTrace",
    "TestFigures",
    "Thresholds",
    "analyse",
    "option_traces",
    "words",
]
