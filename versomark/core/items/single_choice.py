"""Single choice: one key among two to eight options, each wrong one with the idea it may show."""

from collections.abc import Mapping, Sequence
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from versomark.core.language import _
from versomark.core.text import RichLine, plain

from .base import (
    NOT_THIS_KIND,
    AnsweredOption,
    ContentBase,
    Frozen,
    Note,
    OnSheet,
    OptionId,
    ResponseBase,
    ShownOption,
    StudentBase,
    lettered,
    letters_of,
    sound_ids,
    texts_missing,
)

MIN_OPTIONS = 2
MAX_OPTIONS = 8


class Option(Frozen):
    id: OptionId
    text: RichLine = ""
    idea_note: Note = ""
    """Completes “Whoever chooses this seems to think that …”. Kept for the key too, but only read on wrong options."""
    stays_last: bool = False
    """“None of these” keeps its place at the end when a form shuffles the others."""


class ChoiceBase(ContentBase):
    """What single choice and several answers share: lettered options that a form may shuffle."""

    options: Annotated[list[Option], Field(min_length=MIN_OPTIONS, max_length=MAX_OPTIONS)]

    def option_problems(self) -> list[str]:
        letters = letters_of([option.id for option in self.options])
        return texts_missing([(letters[option.id], option.text) for option in self.options], _("Option"))

    def known(self, chosen: Sequence[str]) -> None:
        if set(chosen) - {option.id for option in self.options}:
            raise ValueError(_("That option is not part of this question."))

    def shown(self) -> list[ShownOption]:
        return lettered([(option.id, option.text) for option in self.options])

    def part_ids(self) -> list[str]:
        return [option.id for option in self.options]

    def movable(self) -> tuple[list[str], list[str]]:
        return (
            [option.id for option in self.options if not option.stays_last],
            [option.id for option in self.options if option.stays_last],
        )

    def in_order(self, order: Sequence[str]) -> Self:
        by_id = {option.id: option for option in self.options}
        return self.model_copy(update={"options": [by_id[id] for id in order]})

    def lettered_ids(self, answer: str) -> list[str]:
        """The ids behind letters joined with +."""
        ids = {letter: id for id, letter in letters_of([option.id for option in self.options]).items()}
        return _known_letters(answer, ids)

    def letters_said(self, chosen: Sequence[str]) -> str:
        letters = letters_of([option.id for option in self.options])
        return "+".join(sorted(letters[id] for id in chosen))

    def in_words(self, chosen: Sequence[str]) -> str:
        letters = letters_of([option.id for option in self.options])
        return ", ".join(f"{letters[o.id]} {plain(o.text)}" for o in self.options if o.id in chosen)


def _known_letters(answer: str, ids: Mapping[str, str]) -> list[str]:
    letters = [letter for letter in answer.split("+") if letter]
    unknown = [letter for letter in letters if letter not in ids]
    if unknown:
        raise ValueError(_("There is no option {unknown}.", unknown=unknown[0]))
    return [ids[letter] for letter in letters]


class SingleChoice(ChoiceBase):
    kind: Literal["single_choice"] = "single_choice"
    key: OptionId | None = None

    @model_validator(mode="after")
    def _ids_are_sound(self) -> Self:
        ids = [option.id for option in self.options]
        sound_ids(ids, "options")
        if self.key is not None and self.key not in ids:
            raise ValueError(_("The key is not one of the options."))
        return self

    def keyed_to(self, answer: str) -> Self | None:
        known = answer in {option.id for option in self.options}
        return self.model_copy(update={"key": answer}) if known else None

    @property
    def guessed_of(self) -> int | None:
        return len(self.options)

    def missing(self) -> list[str]:
        no_key = [_("No option is marked as the key.")] if self.key is None else []
        return [*self.option_problems(), *no_key]

    def answers(self) -> list[AnsweredOption]:
        letters = letters_of([option.id for option in self.options])
        return [
            AnsweredOption(
                id=option.id,
                letter=letters[option.id],
                text=option.text,
                points=self.marks if option.id == self.key else 0,
                idea_note=option.idea_note,
            )
            for option in self.options
        ]

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, SingleChoiceResponse):
            raise ValueError(_(NOT_THIS_KIND))
        picked = () if response.option is None else (response.option,)
        self.known(picked)
        return picked

    def score(self, response: ResponseBase | None) -> float:
        return self.marks if response is not None and self.key in self.picks(response) else 0.0

    def for_student(self) -> "SingleChoiceForStudent":
        return SingleChoiceForStudent(stem=self.stem, marks=self.marks, options=self.shown())

    def key_words(self) -> str:
        return self.in_words([self.key or ""])

    def on_sheet(self) -> OnSheet:
        return OnSheet("choice", options=len(self.options))

    def from_sheet(self, answer: str) -> "SingleChoiceResponse":
        ids = self.lettered_ids(answer)
        if len(ids) > 1:
            raise ValueError(_("Only one option can be chosen here."))
        return SingleChoiceResponse(option=ids[0] if ids else None)

    def to_sheet(self, response: ResponseBase) -> str:
        return self.letters_said(self.picks(response))

    def says(self, response: ResponseBase) -> str:
        return self.in_words(self.picks(response))


class SingleChoiceResponse(ResponseBase):
    kind: Literal["single_choice"] = "single_choice"
    option: OptionId | None = None


class SingleChoiceForStudent(StudentBase):
    kind: Literal["single_choice"] = "single_choice"
    options: list[ShownOption]
