"""Ordering: entries to be put in their right order."""

from collections.abc import Iterator
from itertools import combinations
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from versomark.core.language import _
from versomark.core.text import RichLine, plain

from .base import (
    NOT_THIS_KIND,
    AnsweredOption,
    ContentBase,
    Frozen,
    OnSheet,
    OptionId,
    ResponseBase,
    StudentBase,
    letters_of,
    placed_letters,
    sound_ids,
    texts_missing,
)
from .matching import ShownRow


class Entry(Frozen):
    id: OptionId
    text: RichLine = ""


class Ordering(ContentBase):
    """`entries` stand in the right order. Credit: `all`; `places`, a share for each entry in its place; `pairs`, the
    share of pairs in the right order, counted from half: guessing earns about nothing (Kendall's tau where positive).
    """

    kind: Literal["ordering"] = "ordering"
    entries: Annotated[list[Entry], Field(min_length=2, max_length=12)]
    credit: Literal["all", "places", "pairs"] = "pairs"

    exclusive = False

    @model_validator(mode="after")
    def _ids_are_sound(self) -> Self:
        sound_ids([entry.id for entry in self.entries], "entries")
        return self

    def part_ids(self) -> list[str]:
        return [entry.id for entry in self.entries]

    def missing(self) -> list[str]:
        return texts_missing([(str(at), entry.text) for at, entry in enumerate(self.entries, start=1)], _("Entry"))

    def answers(self) -> list[AnsweredOption]:
        places = range(1, len(self.entries) + 1)
        return [
            AnsweredOption(
                id=f"{entry.id}@{place}",
                letter=str(place),
                text=_("in place {place}", place=place),
                points=self.marks / len(self.entries) if place == own else 0,
                part=plain(entry.text) or str(own),
            )
            for own, entry in enumerate(self.entries, start=1)
            for place in places
        ]

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, OrderingResponse):
            raise ValueError(_(NOT_THIS_KIND))
        if not response.order:
            return ()
        if sorted(response.order) != sorted(entry.id for entry in self.entries):
            raise ValueError(_("An order holds every entry once."))
        return tuple(f"{id}@{place}" for place, id in enumerate(response.order, start=1))

    def score(self, response: ResponseBase | None) -> float:
        if response is None or not self.picks(response) or not isinstance(response, OrderingResponse):
            return 0.0
        right = [entry.id for entry in self.entries]
        if self.credit == "all":
            return self.marks * (response.order == right)
        if self.credit == "places":
            return self.marks * sum(a == b for a, b in zip(response.order, right, strict=True)) / len(right)
        place = {id: at for at, id in enumerate(response.order)}
        pairs = list(combinations(right, 2))
        pairs_in_order = sum(place[a] < place[b] for a, b in pairs)
        return self.marks * max(0.0, (2 * pairs_in_order - len(pairs)) / len(pairs))

    def for_student(self) -> "OrderingForStudent":
        # By id: ids are random, so the order shown says nothing about the right one.
        shown = sorted(self.entries, key=lambda entry: entry.id)
        return OrderingForStudent(
            stem=self.stem, marks=self.marks, entries=[ShownRow(id=entry.id, text=entry.text) for entry in shown]
        )

    def on_sheet(self) -> OnSheet:
        """A row a place, with the letters of the entries as they are shown."""
        return OnSheet("matching", options=len(self.entries), rows=len(self.entries))

    def from_sheet(self, answer: str) -> "OrderingResponse":
        shown = sorted(entry.id for entry in self.entries)
        places = placed_letters(answer, len(shown), shown)
        if places and (len(places) < len(shown) or len(set(places.values())) < len(shown)):
            raise ValueError(_("Every place needs an entry, and every entry one place."))
        return OrderingResponse(order=[places[at] for at in sorted(places)])

    def to_sheet(self, response: ResponseBase) -> str:
        order = response.order if isinstance(response, OrderingResponse) else []
        letters = letters_of(sorted(entry.id for entry in self.entries))
        return "+".join(f"{at}:{letters[id]}" for at, id in enumerate(order, start=1))

    def key_words(self) -> str:
        return ", ".join(f"{at} {plain(entry.text)}" for at, entry in enumerate(self.entries, start=1))

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        words = {entry.id: plain(entry.text) for entry in self.entries}
        order = response.order if isinstance(response, OrderingResponse) else []
        return ", ".join(f"{at} {words[id]}" for at, id in enumerate(order, start=1))

    def texts(self) -> Iterator[str]:
        yield self.stem
        yield from (entry.text for entry in self.entries)
        yield self.rationale


class OrderingResponse(ResponseBase):
    kind: Literal["ordering"] = "ordering"
    order: Annotated[list[OptionId], Field(max_length=12)] = []


class OrderingForStudent(StudentBase):
    kind: Literal["ordering"] = "ordering"
    entries: list[ShownRow]
