"""Several answers: any number of the options are right, and the student picks all that are."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from versomark.core.language import _

from .base import (
    NOT_THIS_KIND,
    AnsweredOption,
    Credit,
    OnSheet,
    OptionId,
    ResponseBase,
    ShownOption,
    StudentBase,
    letters_of,
    share_of_parts,
    sound_ids,
)
from .single_choice import MAX_OPTIONS, ChoiceBase


class SeveralAnswers(ChoiceBase):
    """Credit: `all` wants exactly the right options; `each` counts every option that is judged rightly, picked or
    left; `right_minus_wrong` counts the right picks less the wrong ones, out of the options that are right."""

    kind: Literal["several_answers"] = "several_answers"
    keys: list[OptionId] = []
    credit: Credit = "all"

    exclusive = False

    @model_validator(mode="after")
    def _ids_are_sound(self) -> Self:
        ids = [option.id for option in self.options]
        sound_ids(ids, "options")
        sound_ids(self.keys, "keys")
        if set(self.keys) - set(ids):
            raise ValueError(_("A key is not one of the options."))
        return self

    def missing(self) -> list[str]:
        no_key = [] if self.keys else [_("No option is marked as right.")]
        return [*self.option_problems(), *no_key]

    def answers(self) -> list[AnsweredOption]:
        letters = letters_of([option.id for option in self.options])
        return [
            AnsweredOption(
                id=option.id,
                letter=letters[option.id],
                text=option.text,
                points=self.marks / len(self.keys) if option.id in self.keys else 0,
                idea_note=option.idea_note,
            )
            for option in self.options
        ]

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, SeveralAnswersResponse):
            raise ValueError(_(NOT_THIS_KIND))
        sound_ids(response.options, "options")
        self.known(response.options)
        return tuple(response.options)

    def score(self, response: ResponseBase | None) -> float:
        picked = set(self.picks(response)) if response is not None else set()
        if not picked:
            return 0.0
        hits, false = len(picked & set(self.keys)), len(picked - set(self.keys))
        if self.credit == "each":
            judged = hits + len(self.options) - len(self.keys) - false
            return self.marks * judged / len(self.options)
        return self.marks * share_of_parts(hits, false, max(1, len(self.keys)), self.credit)

    def for_student(self) -> "SeveralAnswersForStudent":
        return SeveralAnswersForStudent(stem=self.stem, marks=self.marks, options=self.shown())

    def on_sheet(self) -> OnSheet:
        return OnSheet("multiple", options=len(self.options))

    def from_sheet(self, answer: str) -> "SeveralAnswersResponse":
        return SeveralAnswersResponse(options=self.lettered_ids(answer))

    def to_sheet(self, response: ResponseBase) -> str:
        return self.letters_said(self.picks(response))

    def key_words(self) -> str:
        return self.in_words(self.keys)

    def says(self, response: ResponseBase) -> str:
        return self.in_words(self.picks(response))


class SeveralAnswersResponse(ResponseBase):
    kind: Literal["several_answers"] = "several_answers"
    options: Annotated[list[OptionId], Field(max_length=MAX_OPTIONS)] = []


class SeveralAnswersForStudent(StudentBase):
    kind: Literal["several_answers"] = "several_answers"
    options: list[ShownOption]
