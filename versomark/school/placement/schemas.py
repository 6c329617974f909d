"""What goes in and comes out as JSON."""

from ninja import Field, Schema

from versomark.core.giving.placement import Band


class BandLine(Band):
    goes_on: int | None = None
    """The edition that follows at once."""


class PlacedLine(Schema):
    seat: int
    desk: int
    name: str
    total: float
    band: int


class PlacementPage(Schema):
    sitting: int
    title: str
    class_id: int
    class_name: str
    bands: list[BandLine]
    """Empty while no table is set."""
    of: float
    waiting: int
    """Questions that a person has to mark and that are not counted."""
    all_by_key: bool
    """Whether a second part can follow at once."""
    placed: list[PlacedLine]
    not_in: int
    """Students who have not handed in."""


class BandsBody(Schema):
    bands: list[BandLine] = Field(min_length=1, max_length=12)


class GroupsMade(Schema):
    groups: list[str]
