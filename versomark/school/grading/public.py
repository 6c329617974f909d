"""Marks, decisions about keys, totals, and what is released.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .key_decisions import is_of_weights, keys_in
from .models import (
    ExcludedStudent,
    HiddenNames,
    Lateness,
    ManualTotal,
    Mark,
    MarkingPass,
    MarkState,
    OverallComment,
    Release,
    Remark,
    ReturnedFile,
    SecondMarking,
)
from .numbers import names_hidden
from .offline_package import returned_to, stored_file
from .pile_desk import waiting_piles
from .piles import could_join
from .previews import page_of, preview_of
from .queries import (
    Moved,
    adjustments_in,
    by_hand,
    current_mark,
    current_marks,
    marks_by_pass,
    moved_by,
    overrides_in,
    overrides_position,
    rubric_item,
    scaled,
    waiting_in,
    waived_in,
)
from .release import Shown, release, shown_in, shown_to, withdraw
from .remarks import remarks_on
from .second_marking import levels_of, marked_twice
from .services import MarkGiven, give, number_of
from .totals import (
    MOST_SET,
    Filling,
    Missing,
    empty_in,
    end_lateness,
    fill_empty,
    leave_out,
    results_in,
    rule_from,
    set_lateness,
    set_total,
    take_in,
    take_total_back,
)
from .work import file_of, picture_of_work, work_of
from .work import handwriting as handwriting_of

__all__ = [
    "MOST_SET",
    "ExcludedStudent",
    "Filling",
    "HiddenNames",
    "Lateness",
    "ManualTotal",
    "Mark",
    "MarkGiven",
    "MarkState",
    "MarkingPass",
    "Missing",
    "Moved",
    "OverallComment",
    "Release",
    "Remark",
    "ReturnedFile",
    "SecondMarking",
    "Shown",
    "adjustments_in",
    "by_hand",
    "could_join",
    "current_mark",
    "current_marks",
    "empty_in",
    "end_lateness",
    "file_of",
    "fill_empty",
    "give",
    "handwriting_of",
    "is_of_weights",
    "keys_in",
    "leave_out",
    "levels_of",
    "marked_twice",
    "marks_by_pass",
    "moved_by",
    "names_hidden",
    "number_of",
    "overrides_in",
    "overrides_position",
    "page_of",
    "picture_of_work",
    "preview_of",
    "release",
    "remarks_on",
    "results_in",
    "returned_to",
    "rubric_item",
    "rule_from",
    "scaled",
    "set_lateness",
    "set_total",
    "shown_in",
    "shown_to",
    "stored_file",
    "take_in",
    "take_total_back",
    "waiting_in",
    "waiting_piles",
    "waived_in",
    "withdraw",
    "work_of",
]
