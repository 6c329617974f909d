"""Lessons in the room: what was asked in rounds, and what was answered.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .answers import Which, not_asked, said_in_rounds
from .models import Room, RoundAnswer

__all__ = [
    "Room",
    "RoundAnswer",
    "Which",
    "not_asked",
    "said_in_rounds",
]
