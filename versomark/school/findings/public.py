"""Analyses of sittings and the flags they raise.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .dismissed_findings import dismissed_in, standing
from .models import CachedAnalysis
from .report import FlagNote
from .services import findings_of_several, record_history, totals_of_several

__all__ = [
    "CachedAnalysis",
    "FlagNote",
    "dismissed_in",
    "findings_of_several",
    "record_history",
    "standing",
    "totals_of_several",
]
