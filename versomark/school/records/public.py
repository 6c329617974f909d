"""Records of classes over a year.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .class_record import RecordStudent, RecordTerm, record_of
from .rules import TermDates, keep_terms, place_sitting, rules_of, scale_in
from .standing import RecordCell, sittings_over

__all__ = [
    "RecordCell",
    "RecordStudent",
    "RecordTerm",
    "TermDates",
    "keep_terms",
    "place_sitting",
    "record_of",
    "rules_of",
    "scale_in",
    "sittings_over",
]
