"""Matching: each row on the left has its partner among the choices on the right; some choices may fit nowhere."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from versomark.core.language import _
from versomark.core.text import RichLine, plain

from .base import (
    NOT_THIS_KIND,
    AnsweredOption,
    ContentBase,
    Credit,
    Frozen,
    Note,
    OnSheet,
    OptionId,
    ResponseBase,
    ShownOption,
    StudentBase,
    lettered,
    letters_of,
    placed_letters,
    share_of_parts,
    sound_ids,
    texts_missing,
)


class MatchRow(Frozen):
    id: OptionId
    text: RichLine = ""
    key: OptionId | None = None


class MatchChoice(Frozen):
    id: OptionId
    text: RichLine = ""
    idea_note: Note = ""
    """What putting this choice in a wrong row suggests."""


class Matching(ContentBase):
    kind: Literal["matching"] = "matching"
    rows: Annotated[list[MatchRow], Field(min_length=1, max_length=12)]
    choices: Annotated[list[MatchChoice], Field(min_length=2, max_length=15)]
    credit: Credit = "each"

    exclusive = False

    @model_validator(mode="after")
    def _ids_are_sound(self) -> Self:
        choices = [choice.id for choice in self.choices]
        sound_ids([row.id for row in self.rows], "rows")
        sound_ids(choices, "choices")
        if {row.key for row in self.rows if row.key is not None} - set(choices):
            raise ValueError(_("The partner of a row is not one of the choices."))
        return self

    def missing(self) -> list[str]:
        problems = texts_missing([(str(at), row.text) for at, row in enumerate(self.rows, start=1)], "Row")
        letters = letters_of([choice.id for choice in self.choices])
        problems += texts_missing([(letters[choice.id], choice.text) for choice in self.choices], _("Choice"))
        return problems + [
            _("Row {at} has no partner yet.", at=at) for at, row in enumerate(self.rows, start=1) if not row.key
        ]

    def answers(self) -> list[AnsweredOption]:
        letters = letters_of([choice.id for choice in self.choices])
        return [
            AnsweredOption(
                id=f"{row.id}>{choice.id}",
                letter=letters[choice.id],
                text=choice.text,
                points=self.marks / len(self.rows) if row.key == choice.id else 0,
                idea_note="" if row.key == choice.id else choice.idea_note,
                part=plain(row.text) or str(at),
            )
            for at, row in enumerate(self.rows, start=1)
            for choice in self.choices
        ]

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, MatchingResponse):
            raise ValueError(_(NOT_THIS_KIND))
        unknown_rows = set(response.pairs) - {row.id for row in self.rows}
        if unknown_rows or set(response.pairs.values()) - {choice.id for choice in self.choices}:
            raise ValueError(_("That pair is not part of this question."))
        return tuple(f"{row.id}>{response.pairs[row.id]}" for row in self.rows if row.id in response.pairs)

    def score(self, response: ResponseBase | None) -> float:
        picked = self.picks(response) if response is not None else ()
        if not picked:
            return 0.0
        right = sum(f"{row.id}>{row.key}" in picked for row in self.rows)
        return self.marks * share_of_parts(right, len(picked) - right, len(self.rows), self.credit)

    def for_student(self) -> "MatchingForStudent":
        return MatchingForStudent(
            stem=self.stem,
            marks=self.marks,
            rows=[ShownRow(id=row.id, text=row.text) for row in self.rows],
            choices=lettered([(choice.id, choice.text) for choice in self.choices]),
        )

    def on_sheet(self) -> OnSheet:
        return OnSheet("matching", options=len(self.choices), rows=len(self.rows))

    def from_sheet(self, answer: str) -> "MatchingResponse":
        pairs = placed_letters(answer, len(self.rows), [choice.id for choice in self.choices])
        return MatchingResponse(pairs={self.rows[row].id: choice for row, choice in pairs.items()})

    def to_sheet(self, response: ResponseBase) -> str:
        pairs = response.pairs if isinstance(response, MatchingResponse) else {}
        letters = letters_of([choice.id for choice in self.choices])
        return "+".join(
            f"{at}:{letters[pairs[row.id]]}" for at, row in enumerate(self.rows, start=1) if row.id in pairs
        )

    def key_words(self) -> str:
        letters = letters_of([choice.id for choice in self.choices])
        return ", ".join(f"{at} {letters[row.key]}" for at, row in enumerate(self.rows, start=1) if row.key)

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        pairs = response.pairs if isinstance(response, MatchingResponse) else {}
        letters = letters_of([choice.id for choice in self.choices])
        return ", ".join(
            f"{at} {letters[pairs[row.id]]}" for at, row in enumerate(self.rows, start=1) if row.id in pairs
        )

    def says_fully(self, response: ResponseBase) -> str:
        self.picks(response)
        return self._pairs_in_words(response.pairs if isinstance(response, MatchingResponse) else {})

    def key_fully(self) -> str:
        return self._pairs_in_words({row.id: row.key for row in self.rows if row.key})

    def _pairs_in_words(self, pairs: Mapping[str, str]) -> str:
        words = {choice.id: plain(choice.text) for choice in self.choices}
        rows = ((plain(row.text) or str(at), row.id) for at, row in enumerate(self.rows, start=1))
        return "; ".join(f"{row}: {words[pairs[id]]}" for row, id in rows if id in pairs)

    def texts(self) -> Iterator[str]:
        yield self.stem
        yield from (row.text for row in self.rows)
        yield from (choice.text for choice in self.choices)
        yield self.rationale

    def part_ids(self) -> list[str]:
        return [*(row.id for row in self.rows), *(choice.id for choice in self.choices)]

    def movable(self) -> tuple[list[str], list[str]]:
        return [choice.id for choice in self.choices], []

    def in_order(self, order: Sequence[str]) -> Self:
        by_id = {choice.id: choice for choice in self.choices}
        return self.model_copy(update={"choices": [by_id[id] for id in order]})


class MatchingResponse(ResponseBase):
    """row id -> choice id."""

    kind: Literal["matching"] = "matching"
    pairs: Annotated[dict[OptionId, OptionId], Field(max_length=12)] = {}


class ShownRow(Frozen):
    id: OptionId
    text: RichLine


class MatchingForStudent(StudentBase):
    kind: Literal["matching"] = "matching"
    rows: list[ShownRow]
    choices: list[ShownOption]
