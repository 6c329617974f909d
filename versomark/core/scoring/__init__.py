"""From responses, keys and marks to points."""

from .judged import Judged, Marks, Settled
from .table import (
    NOT_CHOSEN,
    ItemColumn,
    OptionColumn,
    Responses,
    ResponseTable,
    corrected_totals,
    score,
    to_mark,
    with_item,
)
from .two_marks import apart, counted

__all__ = [
    "NOT_CHOSEN",
    "ItemColumn",
    "Judged",
    "Marks",
    "OptionColumn",
    "ResponseTable",
    "Responses",
    "Settled",
    "apart",
    "corrected_totals",
    "counted",
    "score",
    "to_mark",
    "with_item",
]
