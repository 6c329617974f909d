"""True or false: one statement, and the idea that the wrong answer may show."""

from typing import Literal, Self

from versomark.core.language import N_, _

from .base import NOT_THIS_KIND, AnsweredOption, ContentBase, Note, OnSheet, ResponseBase, StudentBase

TRUE, FALSE = "true", "false"
WORDS = {TRUE: N_("True"), FALSE: N_("False")}


class TrueFalse(ContentBase):
    kind: Literal["true_false"] = "true_false"
    key: bool | None = None
    idea_note: Note = ""

    stem_name = "statement"

    def keyed_to(self, answer: str) -> Self | None:
        return self.model_copy(update={"key": answer == "true"}) if answer in ("true", "false") else None

    @property
    def guessed_of(self) -> int | None:
        return 2

    def missing(self) -> list[str]:
        return [_("Neither true nor false is marked as the key.")] if self.key is None else []

    def answers(self) -> list[AnsweredOption]:
        return [
            AnsweredOption(
                id=TRUE if value else FALSE,
                letter="T" if value else "F",
                text=_("True") if value else _("False"),
                points=self.marks if self.key is value else 0,
                idea_note="" if self.key is value else self.idea_note,
            )
            for value in (True, False)
        ]

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, TrueFalseResponse):
            raise ValueError(_(NOT_THIS_KIND))
        return () if response.value is None else (TRUE if response.value else FALSE,)

    def score(self, response: ResponseBase | None) -> float:
        right = response is not None and self.picks(response) == ((TRUE if self.key else FALSE),)
        return self.marks if right and self.key is not None else 0.0

    def for_student(self) -> "TrueFalseForStudent":
        return TrueFalseForStudent(stem=self.stem, marks=self.marks)

    def on_sheet(self) -> OnSheet:
        return OnSheet("true-false")

    def from_sheet(self, answer: str) -> "TrueFalseResponse":
        if answer not in ("", "T", "F"):
            raise ValueError(_("The answer is T or F."))
        return TrueFalseResponse(value=answer == "T" if answer else None)

    def to_sheet(self, response: ResponseBase) -> str:
        return "".join(picked[0].upper() for picked in self.picks(response))

    def key_words(self) -> str:
        return "" if self.key is None else _(WORDS[TRUE if self.key else FALSE])

    def says(self, response: ResponseBase) -> str:
        return "".join(_(WORDS[picked]) for picked in self.picks(response))


class TrueFalseResponse(ResponseBase):
    kind: Literal["true_false"] = "true_false"
    value: bool | None = None


class TrueFalseForStudent(StudentBase):
    kind: Literal["true_false"] = "true_false"
