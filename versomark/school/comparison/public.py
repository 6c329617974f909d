"""Comparisons of answers in pairs: which wait for a judge.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .services import judging

__all__ = ["judging"]
