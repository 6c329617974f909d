"""From responses and keys to points."""

from .table import NOT_CHOSEN, ItemColumn, OptionColumn, ResponseTable, score

__all__ = ["NOT_CHOSEN", "ItemColumn", "OptionColumn", "ResponseTable", "score"]
