"""From responses, keys and marks to points."""

from .adjusting import LateRule, total_of
from .bands import Band, band_of
from .judged import Judged, Marks, Settled
from .same import Alike, Same, same_answers
from .table import (
    NOT_CHOSEN,
    ItemColumn,
    OptionColumn,
    Responses,
    ResponseTable,
    corrected_totals,
    put_together,
    score,
    to_mark,
    with_item,
)
from .two_marks import apart, counted

__all__ = [
    "NOT_CHOSEN",
    "Alike",
    "Band",
    "ItemColumn",
    "Judged",
    "LateRule",
    "Marks",
    "OptionColumn",
    "ResponseTable",
    "Responses",
    "Same",
    "Settled",
    "apart",
    "band_of",
    "corrected_totals",
    "counted",
    "put_together",
    "same_answers",
    "score",
    "to_mark",
    "total_of",
    "with_item",
]
