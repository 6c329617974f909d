"""Placement: bands of a score, each recommending a level or a group, as the teacher set them."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from versomark.core.items.base import Frozen
from versomark.core.language import _

MOST_BANDS = 12


class Band(Frozen):
    """From `least` percent upwards, up to the next band."""

    least: Annotated[float, Field(ge=0, le=100)]
    recommends: Annotated[str, Field(min_length=1, max_length=60)]
    says: Annotated[str, Field(max_length=1000)] = ""
    """To the student, in their letter."""


class PlacementTable(Frozen):
    """Lowest band first. The lowest begins at 0, so that nobody is without a recommendation."""

    bands: Annotated[tuple[Band, ...], Field(min_length=1, max_length=MOST_BANDS)]

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        starts = [band.least for band in self.bands]
        if starts != sorted(set(starts)):
            raise ValueError(_("Each band must begin higher than the one before."))
        if starts[0] != 0:
            raise ValueError(_("The lowest band must begin at 0, or somebody is without a recommendation."))
        if len({band.recommends.casefold() for band in self.bands}) < len(self.bands):
            raise ValueError(_("Two bands recommend the same."))
        return self

    def place(self, total: float, of: float) -> int:
        """The place of the band in which `total` marks of `of` fall; a total below 0 is in the lowest.

        A share that is a cut in exact arithmetic is at the cut: 7 of 10 is 70 %, whatever binary fractions make of it.
        Raises ValueError where there are no marks to be had.
        """
        if of <= 0:
            raise ValueError(_("There are no marks to be had."))
        share = 100 * total / of
        return max((at for at, band in enumerate(self.bands) if share >= band.least - 1e-9), default=0)
