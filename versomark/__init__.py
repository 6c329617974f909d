"""Verso Mark: tests built, given, marked, and looked at for what was misunderstood."""

__version__ = "0.9.0"
