"""Tests heard one student at a time.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .models import CardNote

__all__ = [
    "CardNote",
]
