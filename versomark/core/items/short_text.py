"""Short text: a word or a few, typed."""

from collections.abc import Sequence
from typing import Literal

from versomark.core.language import _

from .base import (
    NOT_THIS_KIND,
    AnsweredOption,
    ContentBase,
    OnSheet,
    ResponseBase,
    Shares,
    StudentBase,
    TypedPart,
)
from .wording import Typed, Wording

RIGHT, ELSE = "right", "other"


def answers_to(wording: Wording, points: float, prefix: str = "", part: str = "") -> list[AnsweredOption]:
    """The classes of typed answers that analysis tells apart: right, each named wrong one, another."""

    def option(id: str, letter: str, text: str, points: float = 0, note: str = "") -> AnsweredOption:
        return AnsweredOption(
            id=prefix + id, letter=letter, text=text, points=points, idea_note=note, offered=False, part=part
        )

    return [
        option(RIGHT, "right", wording.in_words(), points),
        *(option(f"wrong-{at}", w.text, w.text, note=w.idea_note) for at, w in enumerate(wording.wrong)),
        option(ELSE, "other", _("something else")),
    ]


def pick_from(wording: Wording, typed: str, prefix: str = "") -> tuple[str, ...]:
    if not typed:
        return ()
    if wording.is_right(typed):
        return (prefix + RIGHT,)
    place = wording.wrong_place(typed)
    return (prefix + (ELSE if place is None else f"wrong-{place}"),)


def shared(typed: Sequence[TypedPart], picked: tuple[str, ...], shares: Shares) -> tuple[float, tuple[str, ...]]:
    """Points and pick of an item with one place to type in: judged right is the right answer, less is another."""
    if not typed or (typed[0].part, typed[0].compared) not in shares:
        return sum(entry.share * entry.marks for entry in typed), picked
    share = shares[typed[0].part, typed[0].compared]
    picks = (RIGHT,) if share >= 1 else (ELSE,) if picked == (RIGHT,) else picked
    return share * typed[0].marks, picks


class ShortText(ContentBase):
    kind: Literal["short_text"] = "short_text"
    wording: Wording = Wording()

    def missing(self) -> list[str]:
        return self.wording.problems()

    def answers(self) -> list[AnsweredOption]:
        return answers_to(self.wording, self.marks)

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, ShortTextResponse):
            raise ValueError(_(NOT_THIS_KIND))
        return pick_from(self.wording, response.text)

    def score(self, response: ResponseBase | None) -> float:
        return self.marks if response is not None and self.picks(response) == (RIGHT,) else 0.0

    def typed(self, response: ResponseBase) -> tuple[TypedPart, ...]:
        if not isinstance(response, ShortTextResponse) or not response.text:
            return ()
        share = float(self.picks(response) == (RIGHT,))
        return (TypedPart("", response.text, self.wording.cleaned(response.text), share, self.marks),)

    def with_shares(self, response: ResponseBase, shares: Shares) -> tuple[float, tuple[str, ...]]:
        return shared(self.typed(response), self.picks(response), shares)

    def accepting(self, part: str, words: Sequence[str]) -> "ShortText":
        return self.model_copy(update={"wording": self.wording.also(words)})

    def compares(self) -> str:
        return self.wording.compares()

    def for_student(self) -> "ShortTextForStudent":
        return ShortTextForStudent(stem=self.stem, marks=self.marks)

    def on_sheet(self) -> OnSheet:
        return OnSheet("written", lines=1, typed=True)

    def from_sheet(self, answer: str) -> "ShortTextResponse":
        return ShortTextResponse(text=answer)

    def key_words(self) -> str:
        return self.wording.in_words()

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        return response.text if isinstance(response, ShortTextResponse) else ""


class ShortTextResponse(ResponseBase):
    kind: Literal["short_text"] = "short_text"
    text: Typed = ""


class ShortTextForStudent(StudentBase):
    kind: Literal["short_text"] = "short_text"
