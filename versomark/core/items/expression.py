"""An algebraic expression, right when it has the value of the key whatever the variables are."""

from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from versomark.core.language import _

from . import algebra
from .base import NOT_THIS_KIND, AnsweredOption, ContentBase, Frozen, Note, OnSheet, ResponseBase, StudentBase

Formula = Annotated[str, StringConstraints(strip_whitespace=True, max_length=algebra.LONGEST)]
Name = Annotated[str, StringConstraints(pattern=r"^[A-Za-zΑ-Ωα-ω]{1,12}$")]
RIGHT, ELSE, UNREADABLE = "right", "other", "unreadable"


class WrongFormula(Frozen):
    """A wrong expression that shows an idea."""

    formula: Formula = ""
    idea_note: Note = ""


class Expression(ContentBase):
    """names: variables of more than one letter, and letters such as e that would be read as constants."""

    kind: Literal["expression"] = "expression"
    key: Formula = ""
    names: Annotated[list[Name], Field(max_length=12)] = []
    positive: bool = False
    """Whether the variables stand for positive numbers."""
    wrong: Annotated[list[WrongFormula], Field(max_length=8)] = []

    def missing(self) -> list[str]:
        results = []
        for name, formula in [
            ("key", self.key),
            *((_("wrong answer {formula}", formula=w.formula), w.formula) for w in self.wrong),
        ]:
            try:
                algebra.parse(formula, self.names)
            except algebra.NotAlgebra as error:
                results.append(
                    _("The {name} cannot be read: {error}", name=name, error=error)
                    if formula
                    else _("The {value} is missing.", value=name.strip())
                )
        if not results:
            results = [
                _("The wrong answer {formula} has the same value as the key.", formula=wrong.formula)
                for wrong in self.wrong
                if _equal(self.key, wrong.formula, tuple(self.names), self.positive)
            ]
        return results

    def answers(self) -> list[AnsweredOption]:
        def option(id: str, letter: str, text: str, points: float = 0, note: str = "") -> AnsweredOption:
            return AnsweredOption(id=id, letter=letter, text=text, points=points, idea_note=note, offered=False)

        return [
            option(RIGHT, "right", self.key, self.marks),
            *(option(f"wrong-{at}", w.formula, w.formula, note=w.idea_note) for at, w in enumerate(self.wrong)),
            option(ELSE, "other", _("another expression")),
            option(UNREADABLE, "unreadable", _("not an expression")),
        ]

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, ExpressionResponse):
            raise ValueError(_(NOT_THIS_KIND))
        if not response.text:
            return ()
        names = tuple(self.names)
        try:
            algebra.parse(response.text, names)
        except algebra.NotAlgebra:
            return (UNREADABLE,)
        if _equal(self.key, response.text, names, self.positive):
            return (RIGHT,)
        for at, wrong in enumerate(self.wrong):
            if _equal(wrong.formula, response.text, names, self.positive):
                return (f"wrong-{at}",)
        return (ELSE,)

    def score(self, response: ResponseBase | None) -> float:
        return self.marks if response is not None and self.picks(response) == (RIGHT,) else 0.0

    def for_student(self) -> "ExpressionForStudent":
        return ExpressionForStudent(stem=self.stem, marks=self.marks)

    def on_sheet(self) -> OnSheet:
        return OnSheet("written", lines=1, typed=True)

    def from_sheet(self, answer: str) -> "ExpressionResponse":
        return ExpressionResponse(text=answer)

    def key_words(self) -> str:
        return self.key

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        return response.text if isinstance(response, ExpressionResponse) else ""


@lru_cache(maxsize=20_000)
def _equal(key: str, typed: str, names: tuple[str, ...], positive: bool) -> bool:
    try:
        return algebra.equal(algebra.parse(key, names), algebra.parse(typed, names), positive)
    except algebra.NotAlgebra:
        return False


class ExpressionResponse(ResponseBase):
    kind: Literal["expression"] = "expression"
    text: Formula = ""


class ExpressionForStudent(StudentBase):
    kind: Literal["expression"] = "expression"
