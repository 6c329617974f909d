"""The rules of a sitting: everything about giving a test that is not in the test."""

from typing import Annotated, Literal

from pydantic import Field

from versomark.core.items.base import Frozen
from versomark.core.language import _
from versomark.core.text import RichText

MOST_MINUTES = 600


class Rules(Frozen):
    """What a student may do, and for how long. The defaults are those of a test without fuss."""

    minutes: Annotated[int, Field(ge=1, le=MOST_MINUTES)] | None = None
    """Working time of each student, from when they begin; None where there is no limit but the end of the sitting."""
    let_in: bool = False
    """Whether students wait at the door, with the instructions before them, until the teacher lets them in."""
    all_at_once: bool = False
    """All questions on one page, rather than one at a time."""
    going_back: bool = True
    """Whether a question that was left can be changed; without it, questions come one at a time."""
    own_order: bool = False
    """Whether each student has the questions and options in an order of their own."""
    calculator: bool = False
    notes: bool = False
    formula_sheet: RichText = ""
    """Shown beside the questions; empty where there is none."""
    take_back: bool = False
    """Whether a student may take a test back that they have handed in, while the sitting is open."""

    attempts: Annotated[int, Field(ge=1, le=9)] = 1
    """How often a student may sit it while it is open; the last attempt counts."""
    tell: bool = False
    """Whether students are told of it ahead, on their own page and by mail."""

    results: Literal["released", "handed in", "closed"] = "released"
    """When students see their results: once the teacher releases them; as soon as they hand in, without the right
    answers until it is closed; or once it is closed."""

    def aids_in_words(self) -> list[str]:
        """What a student may use, for the door and the paper: “a calculator”, “your notes”."""
        sentences = [
            (self.calculator, _("a calculator")),
            (self.notes, _("your own notes")),
            (self.formula_sheet, _("the formula sheet")),
        ]
        return [words for allowed, words in sentences if allowed]
