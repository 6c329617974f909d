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
from .queries import by_hand, current_mark, marks_by_pass, overrides_in, overrides_position, waiting_in, waived_in
from .release import Shown, release, shown_in, shown_to, withdraw
from .remarks import remarks_on
from .second_marking import levels_of, marked_twice
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

__all__ = [
    "MOST_SET",
    "ExcludedStudent",
    "Filling",
    "HiddenNames",
    "Lateness",
    "ManualTotal",
    "Mark",
    "MarkState",
    "MarkingPass",
    "Missing",
    "OverallComment",
    "Release",
    "Remark",
    "ReturnedFile",
    "SecondMarking",
    "Shown",
    "by_hand",
    "current_mark",
    "empty_in",
    "end_lateness",
    "fill_empty",
    "is_of_weights",
    "keys_in",
    "leave_out",
    "levels_of",
    "marked_twice",
    "marks_by_pass",
    "names_hidden",
    "overrides_in",
    "overrides_position",
    "release",
    "remarks_on",
    "results_in",
    "returned_to",
    "rule_from",
    "set_lateness",
    "set_total",
    "shown_in",
    "shown_to",
    "stored_file",
    "take_in",
    "take_total_back",
    "waiting_in",
    "waived_in",
    "withdraw",
]
