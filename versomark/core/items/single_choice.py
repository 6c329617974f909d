"""Single choice: one key among two to eight options, each wrong one with the idea it may show."""

from string import ascii_uppercase
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .base import AnsweredOption, ContentBase, Frozen, Note, OptionId, OptionText, ResponseBase

MIN_OPTIONS = 2
MAX_OPTIONS = 8


class Option(Frozen):
    id: OptionId
    text: OptionText = ""
    idea_note: Note = ""
    """Completes “Whoever chooses this seems to think that …”. Kept for the key too, but only read on wrong options."""


class SingleChoice(ContentBase):
    kind: Literal["single_choice"] = "single_choice"
    options: Annotated[list[Option], Field(min_length=MIN_OPTIONS, max_length=MAX_OPTIONS)]
    key: OptionId | None = None

    @model_validator(mode="after")
    def _ids_are_sound(self) -> Self:
        ids = [option.id for option in self.options]
        if len(set(ids)) != len(ids):
            raise ValueError("Two options have the same id.")
        if self.key is not None and self.key not in ids:
            raise ValueError("The key is not one of the options.")
        return self

    def problems(self) -> list[str]:
        found = [] if self.stem else ["The question has no text yet."]
        seen: dict[str, str] = {}
        for letter, option in zip(ascii_uppercase, self.options, strict=False):
            words = " ".join(option.text.casefold().split())
            if not words:
                found.append(f"Option {letter} is empty.")
            elif words in seen:
                found.append(f"Options {seen[words]} and {letter} read the same.")
            else:
                seen[words] = letter
        if self.key is None:
            found.append("No option is marked as the key.")
        return found

    def answers(self) -> list[AnsweredOption]:
        return [
            AnsweredOption(
                id=option.id,
                letter=letter,
                text=option.text,
                points=self.marks if option.id == self.key else 0,
                idea_note=option.idea_note,
            )
            for letter, option in zip(ascii_uppercase, self.options, strict=False)
        ]

    def chosen(self, response: ResponseBase) -> str | None:
        if not isinstance(response, SingleChoiceResponse):
            raise ValueError("This question takes one option.")
        if response.option is not None and response.option not in {option.id for option in self.options}:
            raise ValueError("That option is not part of this question.")
        return response.option


class SingleChoiceResponse(ResponseBase):
    kind: Literal["single_choice"] = "single_choice"
    option: OptionId | None = None
