"""True or false: one statement, and the idea that the wrong answer may show."""

from typing import Literal

from .base import AnsweredOption, ContentBase, Note, ResponseBase

TRUE, FALSE = "true", "false"


class TrueFalse(ContentBase):
    kind: Literal["true_false"] = "true_false"
    key: bool | None = None
    idea_note: Note = ""

    def problems(self) -> list[str]:
        found = [] if self.stem else ["The statement has no text yet."]
        if self.key is None:
            found.append("Neither true nor false is marked as the key.")
        return found

    def answers(self) -> list[AnsweredOption]:
        return [
            AnsweredOption(
                id=TRUE if value else FALSE,
                letter="T" if value else "F",
                text="True" if value else "False",
                points=self.marks if self.key is value else 0,
                idea_note="" if self.key is value else self.idea_note,
            )
            for value in (True, False)
        ]

    def chosen(self, response: ResponseBase) -> str | None:
        if not isinstance(response, TrueFalseResponse):
            raise ValueError("This question takes true or false.")
        return None if response.value is None else (TRUE if response.value else FALSE)


class TrueFalseResponse(ResponseBase):
    kind: Literal["true_false"] = "true_false"
    value: bool | None = None
