"""Analyses of sittings and the flags they raise.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .analysis_filter import AnalysisFilter, FilteredAnalysis, looked
from .dismissed_findings import dismissed_in, standing
from .flag_notes import FindingsPageBody, FlagNote, flag_note
from .models import CachedAnalysis
from .other_sittings import OtherSittings
from .other_sittings import side_by_side as other_sittings_of
from .reading import findings_read
from .refreshing import refresh_analyses
from .report import FoundFlag
from .school_shares import school_shares
from .services import findings_of_several, record_history, totals_of_several
from .time_on_items import TimePage, time_of
from .views import GroupsPage, TotalsPage, groups_of, scale_of, table_of, totals_of, ways_to_divide

__all__ = [
    "AnalysisFilter",
    "CachedAnalysis",
    "FilteredAnalysis",
    "FindingsPageBody",
    "FlagNote",
    "FoundFlag",
    "GroupsPage",
    "OtherSittings",
    "TimePage",
    "TotalsPage",
    "dismissed_in",
    "findings_of_several",
    "findings_read",
    "flag_note",
    "groups_of",
    "looked",
    "other_sittings_of",
    "record_history",
    "refresh_analyses",
    "scale_of",
    "school_shares",
    "standing",
    "table_of",
    "time_of",
    "totals_of",
    "totals_of_several",
    "ways_to_divide",
]
