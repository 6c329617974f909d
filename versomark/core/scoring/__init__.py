"""From responses and keys to points."""

from .table import NOT_CHOSEN, ItemColumn, OptionColumn, ResponseTable, corrected_totals, score

__all__ = ["NOT_CHOSEN", "ItemColumn", "OptionColumn", "ResponseTable", "corrected_totals", "score"]
