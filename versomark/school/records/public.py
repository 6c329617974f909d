"""Records of classes over a year.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .class_record import RecordStudent, RecordTerm, record_of
from .growth import Growth, growth_in
from .not_tested import NotTestedPage, not_tested_in
from .rules import TermDates, keep_terms, place_sitting, rules_of, scale_in
from .side_by_side import SideBySide, SideMean, side_by_side
from .standing import RecordCell, sittings_over

__all__ = [
    "Growth",
    "NotTestedPage",
    "RecordCell",
    "RecordStudent",
    "RecordTerm",
    "SideBySide",
    "SideMean",
    "TermDates",
    "growth_in",
    "keep_terms",
    "not_tested_in",
    "place_sitting",
    "record_of",
    "rules_of",
    "scale_in",
    "side_by_side",
    "sittings_over",
]
