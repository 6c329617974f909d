"""The periods of a school.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .services import PeriodWanted, keep_periods

__all__ = ["PeriodWanted", "keep_periods"]
