"""Levels of rubrics that change, as the API speaks of them."""

from datetime import datetime

from ninja import Field, Schema

from versomark.core.items.rubric import Criterion, Level


class RubricBody(Schema):
    levels: dict[str, list[Level]] = Field(max_length=12)
    """By criterion, all of its levels as they should be."""


class RubricChange(RubricBody):
    reason: str = Field(max_length=300)
    look_again: bool = True


class TouchedLine(Schema):
    criterion: str
    marker: str
    marks: int


class RubricEffect(Schema):
    marks: int
    """How many given marks would be looked at again."""
    lines: list[TouchedLine]
    """Of which criterion, and by whom; a mark that is touched in two stands in two."""


class RevisionLine(Schema):
    reason: str
    by: str
    at: datetime


class RubricPage(Schema):
    criteria: list[Criterion]
    revisions: list[RevisionLine]
    """That hold, the latest first."""
    sittings: int
    """How many are marked by it."""


class RubricChanged(Schema):
    asked: int
    """How many marks are to be looked at again."""
