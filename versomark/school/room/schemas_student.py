"""What a student’s device is sent and sends: built from what a student may see, and knows no other field."""

from uuid import UUID

from ninja import Field, Schema

from versomark.core.items import ItemResponse


class RoundChange(Schema):
    """A change a student made in a round; the id is the device's own, so that sending again changes nothing."""

    client_id: UUID
    round: int
    response: ItemResponse | None = None


class NameToPick(Schema):
    seat: int
    name: str
    taken: bool


class NamesToPick(Schema):
    names: list[NameToPick] | None
    """Null where one comes in with a pass."""


class Pick(Schema):
    code: str = Field(max_length=60)
    seat: int
