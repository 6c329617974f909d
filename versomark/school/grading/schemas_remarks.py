"""What a marker puts on an answer, as the API speaks of it."""

from uuid import UUID

from ninja import Field, Schema

from versomark.core.ink import Place

from .schemas import RemarkLine, TurnName


class RemarkToMake(Schema):
    key: UUID
    """Made by the browser; the same twice is the same remark."""
    place: Place
    text: str = Field("", max_length=1000)
    criterion: str = Field("", max_length=36)
    """Of the rubric; empty where it belongs to none."""
    replaces: UUID | None = None
    """The one that was moved or reworded into this one."""


class RemarkChanges(Schema):
    turn: TurnName = "first"
    added: list[RemarkToMake] = Field([], max_length=2000)
    gone: list[UUID] = Field([], max_length=2000)
    work: str = Field("", max_length=32)
    """That of the answer that was looked at."""


class RemarksChanged(Schema):
    added: list[RemarkLine]
    """Of those that were sent, the ones that stand."""
    gone: list[UUID]


class StampBody(Schema):
    words: str = Field(min_length=1, max_length=40)


class StampLine(Schema):
    id: int
    words: str
