"""What goes in and comes out as JSON."""

from typing import Literal

from ninja import Field, Schema


class StudentKept(Schema):
    id: int
    name: str
    number: str
    classes: list[str]


class EraseBody(Schema):
    results: Literal["keep", "delete"] = "keep"
    """Whether answers and marks stay, without a name."""
    typed: str = Field(max_length=200)
    """The student's name once more."""


class TypedBody(Schema):
    typed: str = Field(max_length=300)
    """The name of what goes, once more."""


class KeepBody(Schema):
    years: int = Field(ge=0, le=30)


class KeptLine(Schema):
    years: int
    students: int
    erased: int
    due: int
