"""Decisions about a key as JSON."""

from datetime import date, datetime

from ninja import Field, Schema

from versomark.core.scoring import Band


class AnswerToDecide(Schema):
    id: str
    letter: str
    text: str
    right: bool
    """As it is scored now."""


class CriterionToDecide(Schema):
    id: str
    name: str
    max: float
    weight: float
    """As it counts now."""


class OtherSittingToDecide(Schema):
    """Another sitting of the same paper, which this teacher may settle too."""

    sitting: int
    class_name: str
    held_on: date


class KeyDecisionPage(Schema):
    """How a question is scored now, and by whose word."""

    answers: list[AnswerToDecide]
    """Empty where no other answer can be made right."""
    criteria: list[CriterionToDecide]
    """Of a question that a person marks."""
    others: list[OtherSittingToDecide]
    in_bank: bool
    """Whether the question stands in this teacher's bank, whose key is another decision."""
    bank_follows: bool
    """Whether the key in the bank can be made the one answer that is settled."""
    everybody: bool
    left_out: bool
    by_key: bool
    reason: str
    by: str
    at: datetime | None


class DecisionBody(Schema):
    accepted: list[str] = Field([], max_length=60)
    everybody: bool = False
    left_out: bool = False
    weights: dict[str, float] = Field({}, max_length=12)


class KeyDecisionRequest(DecisionBody):
    reason: str = Field(max_length=300)
    also: list[int] = Field([], max_length=60)
    """Other sittings of the same edition that are settled the same way."""
    bank: bool = False
    """Whether the key in the bank is to follow."""


class MovedLine(Schema):
    desk: int
    name: str
    before: float
    after: float
    band_before: Band | None
    band_after: Band | None


class EffectPage(Schema):
    moved: list[MovedLine]
    students: int
    mean_before: float
    mean_after: float
    alpha_before: float | None
    alpha_after: float | None
    of_before: float
    of_after: float
