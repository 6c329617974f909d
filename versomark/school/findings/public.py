"""Analyses of sittings and the flags they raise.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .analysis_filter import AnalysisFilter, FilteredAnalysis, looked
from .dismissed_findings import dismissed_in, standing
from .flag_notes import FlagNote, flag_note
from .models import CachedAnalysis
from .refreshing import refresh_analyses
from .report import FoundFlag
from .services import findings_of_several, record_history, school_shares, totals_of_several
from .views import ways_to_divide

__all__ = [
    "AnalysisFilter",
    "CachedAnalysis",
    "FilteredAnalysis",
    "FlagNote",
    "FoundFlag",
    "dismissed_in",
    "findings_of_several",
    "flag_note",
    "looked",
    "record_history",
    "refresh_analyses",
    "school_shares",
    "standing",
    "totals_of_several",
    "ways_to_divide",
]
