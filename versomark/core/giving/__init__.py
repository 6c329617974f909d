"""How a test is given: the rules a sitting is under, and the time each student has."""

from .clock import Clock, ends_at, seconds_left
from .rules import Rules

__all__ = ["Clock", "Rules", "ends_at", "seconds_left"]
