"""A point on a picture: the student marks a place, and regions of the picture say what it means."""

from collections.abc import Iterator
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, StringConstraints, model_validator

from versomark.core.language import _

from .base import (
    NOT_THIS_KIND,
    AnsweredOption,
    ContentBase,
    Frozen,
    Note,
    OptionId,
    ResponseBase,
    StudentBase,
    Words,
    letters_of,
    sound_ids,
)

Share = Annotated[float, Field(ge=0, le=1)]
ELSE = "elsewhere"
PictureId = Annotated[str, StringConstraints(pattern=r"^[0-9a-f-]{36}$")]


class Region(Frozen):
    """A box or the ellipse inside it; sides as shares of the picture's width and height, from its top left."""

    id: OptionId
    x: Share
    y: Share
    width: Share
    height: Share
    round: bool = False
    right: bool = False
    name: Words = ""
    idea_note: Note = ""

    def holds(self, x: float, y: float) -> bool:
        if not self.round:
            return self.x <= x <= self.x + self.width and self.y <= y <= self.y + self.height
        across, down = self.width / 2, self.height / 2
        if not across or not down:
            return False
        return ((x - self.x - across) / across) ** 2 + ((y - self.y - down) / down) ** 2 <= 1


class PicturePoint(ContentBase):
    kind: Literal["picture_point"] = "picture_point"
    picture: PictureId | None = None
    picture_words: Words = ""
    """What the picture shows, for those who hear it."""
    ratio: Annotated[float, Field(gt=0.05, lt=20), AfterValidator(lambda ratio: round(ratio, 3))] = 1.5
    """Width over height."""
    regions: Annotated[list[Region], Field(max_length=20)] = []

    @model_validator(mode="after")
    def _ids_are_sound(self) -> Self:
        sound_ids([region.id for region in self.regions], "regions")
        return self

    def missing(self) -> list[str]:
        results = [] if self.picture else [_("The picture is missing.")]
        if self.picture and not self.picture_words:
            results.append(_("Say what the picture shows, for students who cannot see it."))
        if not any(region.right for region in self.regions):
            results.append(_("No region of the picture is marked as right."))
        return results

    def answers(self) -> list[AnsweredOption]:
        letters = letters_of([region.id for region in self.regions])
        regions = [
            AnsweredOption(
                id=region.id,
                letter=letters.get(region.id, region.id),
                text=region.name or _("region {value}", value=letters.get(region.id, region.id)),
                points=self.marks if region.right else 0,
                idea_note="" if region.right else region.idea_note,
                offered=False,
            )
            for region in self.regions
        ]
        return [*regions, AnsweredOption(id=ELSE, letter="else", text=_("somewhere else"), points=0, offered=False)]

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, PicturePointResponse):
            raise ValueError(_(NOT_THIS_KIND))
        if response.x is None or response.y is None:
            return ()
        # A right region wins over a wrong one that it overlaps.
        for region in sorted(self.regions, key=lambda region: not region.right):
            if region.holds(response.x, response.y):
                return (region.id,)
        return (ELSE,)

    def score(self, response: ResponseBase | None) -> float:
        picked = self.picks(response) if response is not None else ()
        return self.marks if any(region.right and region.id in picked for region in self.regions) else 0.0

    def for_student(self) -> "PicturePointForStudent":
        return PicturePointForStudent(
            stem=self.stem,
            marks=self.marks,
            picture=self.picture,
            picture_words=self.picture_words,
            ratio=self.ratio,
        )

    def key_words(self) -> str:
        return " or ".join(answer.text for answer in self.answers() if answer.key)

    def says(self, response: ResponseBase) -> str:
        words = {answer.id: answer.text for answer in self.answers()}
        return "".join(words[picked] for picked in self.picks(response))

    def texts(self) -> Iterator[str]:
        yield self.stem
        yield self.picture_words
        yield from (region.name for region in self.regions)
        yield self.rationale


class PicturePointResponse(ResponseBase):
    kind: Literal["picture_point"] = "picture_point"
    x: Share | None = None
    y: Share | None = None


class PicturePointForStudent(StudentBase):
    kind: Literal["picture_point"] = "picture_point"
    picture: PictureId | None
    picture_words: str
    ratio: float
