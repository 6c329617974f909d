"""Analyses of sittings and the flags they raise.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .dismissed_findings import dismissed_in, standing
from .flag_notes import FlagNote, flag_note
from .models import CachedAnalysis
from .refreshing import refresh_analyses
from .report import FoundFlag
from .services import findings_of_several, record_history, totals_of_several

__all__ = [
    "CachedAnalysis",
    "FlagNote",
    "FoundFlag",
    "dismissed_in",
    "findings_of_several",
    "flag_note",
    "record_history",
    "refresh_analyses",
    "standing",
    "totals_of_several",
]
