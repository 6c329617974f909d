"""Answers judged together as JSON."""

from ninja import Field, Schema

from versomark.core.text import RichText


class SameLine(Schema):
    """One answer, equal after cleaning."""

    part: str
    compared: str
    typed: list[str]
    """As it was written, the most frequent way first."""
    numbers: list[int]
    """Of the students who gave it."""
    share: float
    by_key: float
    judged: bool


class AlikeLine(Schema):
    part: str
    marks: float
    students: int
    answers: list[SameLine]


class TypedQuestion(Schema):
    ref: str
    number: int


class SamePage(Schema):
    sitting: int
    title: str
    class_name: str
    names: dict[int, str]
    questions: list[TypedQuestion]
    """All of the sitting in which something is typed that a key judges."""
    ref: str
    number: int
    stem: RichText
    text: str
    """The text with the gaps, where there is one."""
    marks: float
    key: str
    compares: str
    """What counts as the same answer."""
    groups: list[AlikeLine]
    for_the_key: int
    """Answers judged right that the key does not know yet."""


class TypedAnswer(Schema):
    part: str = Field("", max_length=24)
    compared: str = Field(max_length=400)


class SameBody(Schema):
    answers: list[TypedAnswer] = Field(min_length=1, max_length=400)
    share: float | None = Field(None, ge=0, le=1)
    """None leaves it to the key again."""


class AddedToKey(Schema):
    added: list[str]
