"""From responses, keys and marks to points."""

from .table import (
    NOT_CHOSEN,
    ItemColumn,
    Marks,
    OptionColumn,
    Responses,
    ResponseTable,
    corrected_totals,
    score,
    to_mark,
)

__all__ = [
    "NOT_CHOSEN",
    "ItemColumn",
    "Marks",
    "OptionColumn",
    "ResponseTable",
    "Responses",
    "corrected_totals",
    "score",
    "to_mark",
]
