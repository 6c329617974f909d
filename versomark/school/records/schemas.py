"""What goes in and comes out as JSON."""

from datetime import date

from ninja import Field, Schema

from versomark.school.grading.public import MOST_SET

from . import manual_entries as typed
from .class_record import ScaleStep


class TermBody(Schema):
    id: int | None = None
    name: str = Field(max_length=200)
    starts: date
    ends: date


class TermsBody(Schema):
    terms: list[TermBody]


class UsualScale(Schema):
    name: str
    steps: list[ScaleStep]


class StepBody(Schema):
    least: float = Field(ge=0, le=1)
    word: str = Field(max_length=30)


class RulesBody(Schema):
    scale_name: str = Field("", max_length=40)
    """Empty for percent alone."""
    scale_steps: list[StepBody] = []
    missing_is_zero: bool = False
    other_weight: float = Field(1, ge=0, le=1000)
    everywhere: bool = False
    """Whether for all classes of the teacher."""


class CategoryBody(Schema):
    id: int | None = None
    name: str = Field(max_length=200)
    weight: float = Field(1, ge=0, le=1000)


class CategoriesBody(Schema):
    categories: list[CategoryBody]


class PlaceBody(Schema):
    category: int | None = None
    counts: bool = True
    baseline: bool = False


class StandingBody(Schema):
    share: float = Field(ge=0, le=10)
    reason: str = Field(max_length=300)


class TypedTotalBody(Schema):
    seat: int
    total: float | None = Field(ge=0, le=MOST_SET)


class TypedStandingBody(Schema):
    student: int
    term: int
    share: float | None = Field(ge=0, le=10)


class TypedAwayBody(Schema):
    seat: int
    how: typed.Away


class NumbersBody(Schema):
    reason: str = Field("", max_length=300)
    totals: list[TypedTotalBody] = Field([], max_length=4000)
    standings: list[TypedStandingBody] = Field([], max_length=4000)
    away: list[TypedAwayBody] = Field([], max_length=4000)
