"""What goes in and comes out as JSON."""

from ninja import Field, Schema


class CardSaid(Schema):
    item: str = Field(max_length=36)
    known: bool | None
    """None where it was not asked after all."""
    note: str | None = Field(None, max_length=300)


class AnotherTry(Schema):
    sitting: int
