"""What a student’s device is sent and sends: built from what a student may see, and knows no other field."""

from datetime import date, datetime

from ninja import Field, Schema

from . import services as student_portal


class Enter(Schema):
    link: str = Field(max_length=40)
    pass_phrase: str = Field(max_length=60)


class NoticeLine(Schema):
    kind: str
    says: str
    at: datetime
    new: bool


class OwnSittingLine(Schema):
    id: int
    title: str
    stage: student_portal.Stage
    when: str
    closes_at: datetime | None
    may_go: bool
    results: bool
    """Whether they may see their results."""


class OwnPage(Schema):
    student: str
    sittings: list[OwnSittingLine]
    notices: list[NoticeLine]


class OwnPointLine(Schema):
    sitting: int
    title: str
    held_on: date
    share: float


class AskBody(Schema):
    reason: str = Field(max_length=1000)
    """What their teacher should look at."""
