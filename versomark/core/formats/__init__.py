"""Open formats in and out."""

from .responses_csv import MAX_STUDENTS, BadFile, read_groups, read_key, read_responses

__all__ = ["MAX_STUDENTS", "BadFile", "read_groups", "read_key", "read_responses"]
