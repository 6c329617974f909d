"""Numeric: a value with a tolerance, with or without a unit, and ranges of wrong values that show an idea."""

import re
from fractions import Fraction
from functools import cache
from typing import TYPE_CHECKING, Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from versomark.core.language import _

from .base import (
    NOT_THIS_KIND,
    AnsweredOption,
    ContentBase,
    Frozen,
    Note,
    OnSheet,
    ResponseBase,
    Shares,
    StudentBase,
    TypedPart,
)
from .numbers import LONGEST, ReadNumber, exact, in_words, read_number, to_figures
from .short_text import shared
from .typography import caseless

if TYPE_CHECKING:
    from pint import UnitRegistry

Unit = Annotated[str, StringConstraints(strip_whitespace=True, max_length=24)]
Value = Annotated[float, Field(allow_inf_nan=False, ge=-1e15, le=1e15)]
MOST_DIGITS = 8
"""Columns of a digit grid."""
RIGHT, ELSE, NO_UNIT = "right", "other", "no-unit"
_NAME, _POWER = r"[A-Za-zµΩ°%]{1,16}", r"(?:\^|\*\*)?-?[1-9]"
_UNIT = re.compile(rf"{_NAME}(?:{_POWER})?(?:(?:\s*[*/]\s*|\s+){_NAME}(?:{_POWER})?)*")
"""Names with one-digit powers, and nothing else: pint would work out whatever arithmetic stands in a unit, and
9^9^9 takes it for ever."""
_PART = re.compile(rf"({_NAME})({_POWER})?")
_PLAIN = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻·×μ", "0123456789-**µ")
_PINT_NAMES = {"°": "degree", "°C": "degC", "°F": "degF", "%": "percent"}


class IdeaRange(Frozen):
    """Wrong values from `low` to `high` inclusive (open where None), and the idea that leads to them."""

    low: Value | None = None
    high: Value | None = None
    idea_note: Note = ""


class Numeric(ContentBase):
    """Right when the value lies within the tolerance of the key: `exact`; `absolute`, ± so much; `percent` of the key;
    `figures`, equal once both are rounded to so many significant figures.

    unit_rule: `none`, a bare number is wanted; `accepted`, a unit may stand behind it and is then converted;
    `required`, without one the value earns `without_unit` (a share) of the marks. Units are those of pint.
    """

    kind: Literal["numeric"] = "numeric"
    value: Value | None = None
    tolerance: Literal["exact", "absolute", "percent", "figures"] = "exact"
    amount: Annotated[float, Field(ge=0, le=1e15)] = 0
    unit: Unit = ""
    unit_rule: Literal["none", "accepted", "required"] = "none"
    without_unit: Annotated[float, Field(ge=0, le=1)] = 0
    ideas: Annotated[list[IdeaRange], Field(max_length=8)] = []
    value_rule: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] = ""
    """For an item with varied numbers: how the value is computed from them."""

    @model_validator(mode="after")
    def _figures_are_whole(self) -> Self:
        if self.tolerance == "figures" and self.amount and not 1 <= self.amount <= 12:
            raise ValueError(_("Significant figures go from 1 to 12."))
        return self

    def missing(self) -> list[str]:
        results = []
        if self.value is None and not self.value_rule:
            results.append(_("The right value is missing."))
        if self.tolerance != "exact" and not self.amount:
            results.append(_("Say how far from the right value an answer may be."))
        if self.unit_rule != "none" and not self.unit:
            results.append(_("The unit is missing."))
        elif self.unit and unit_factor(self.unit, self.unit) is None:
            results.append(_("“{unit}” is not a unit that can be checked.", unit=self.unit))
        for at, idea in enumerate(self.ideas, start=1):
            if idea.low is None and idea.high is None:
                results.append(_("The range of wrong values {at} has no limits.", at=at))
            elif idea.low is not None and idea.high is not None and idea.low > idea.high:
                results.append(_("The range of wrong values {at} runs backwards.", at=at))
        return results

    def answers(self) -> list[AnsweredOption]:
        right = AnsweredOption(id=RIGHT, letter="right", text=self.key_words(), points=self.marks, offered=False)
        ideas = [
            AnsweredOption(
                id=f"idea-{at}",
                letter=_range_words(idea),
                text=f"{_range_words(idea)} {self.unit}".strip(),
                points=0,
                idea_note=idea.idea_note,
                offered=False,
            )
            for at, idea in enumerate(self.ideas)
        ]
        bare = (
            [
                AnsweredOption(
                    id=NO_UNIT,
                    letter="no unit",
                    text=_("the right value without its unit"),
                    points=self.marks * self.without_unit,
                    offered=False,
                )
            ]
            if self.unit_rule == "required"
            else []
        )
        other = AnsweredOption(id=ELSE, letter="other", text=_("another value"), points=0, offered=False)
        return [right, *bare, *ideas, other]

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, NumericResponse):
            raise ValueError(_(NOT_THIS_KIND))
        if not response.text:
            return ()
        read = read_number(response.text)
        values = self._in_key_unit(read) if read else []
        if read and any(self._is_right(value) for value in values):
            return (NO_UNIT,) if self.unit_rule == "required" and not read.unit else (RIGHT,)
        for at, idea in enumerate(self.ideas):
            if any(_within(value, idea) for value in values):
                return (f"idea-{at}",)
        return (ELSE,)

    def value_given(self, response: ResponseBase) -> float | None:
        """The number in the unit of the key; None where there is none, or in a unit that is not one of it."""
        read = read_number(response.text) if isinstance(response, NumericResponse) else None
        values = self._in_key_unit(read) if read else []
        return float(values[0]) if values else None

    def score(self, response: ResponseBase | None) -> float:
        picked = self.picks(response) if response is not None else ()
        return self.marks * {RIGHT: 1.0, NO_UNIT: self.without_unit}.get(picked[0] if picked else "", 0.0)

    def typed(self, response: ResponseBase) -> tuple[TypedPart, ...]:
        if not isinstance(response, NumericResponse) or not response.text:
            return ()
        share = self.score(response) / self.marks
        return (TypedPart("", response.text, self._compared(response.text), share, self.marks),)

    def with_shares(self, response: ResponseBase, shares: Shares) -> tuple[float, tuple[str, ...]]:
        return shared(self.typed(response), self.picks(response), shares)

    def compares(self) -> str:
        unit = _(" or in another unit") if self.unit else ""
        return _("The same value is the same answer, however it is written{unit}.", unit=unit)

    def _compared(self, text: str) -> str:
        """The value in the unit of the key, where that can be told; else the letters that were typed."""
        read = read_number(text)
        values = self._in_key_unit(read) if read else []
        if read is None or not values:
            return caseless(text)
        return f"{in_words(float(values[0]))} {self.unit if read.unit else ''}".strip()

    def for_student(self) -> "NumericForStudent":
        # A required unit is part of the answer, so it is not shown; one that is merely accepted is printed behind.
        shown = self.unit if self.unit_rule != "required" else ""
        return NumericForStudent(stem=self.stem, marks=self.marks, unit=shown, unit_wanted=self.unit_rule == "required")

    def on_sheet(self) -> OnSheet:
        """A digit grid with a column more than the key needs; a box where a unit belongs to it or it is too long."""
        longest = len(in_words(self.value)) if self.value is not None else 5
        if self.unit_rule == "required" or longest > MOST_DIGITS - 1:
            return OnSheet("written", lines=1, typed=True)
        return OnSheet("numeric", digits=max(4, longest + 1))

    def from_sheet(self, answer: str) -> "NumericResponse":
        return NumericResponse(text=answer)

    def key_words(self) -> str:
        if self.value is None:
            return self.value_rule
        slack = {
            "exact": "",
            "absolute": f" ± {in_words(self.amount)}",
            "percent": f" ± {in_words(self.amount)}%",
            "figures": _(" to {in_words} significant figures", in_words=in_words(self.amount)),
        }[self.tolerance]
        value = self.value
        if self.tolerance == "figures" and self.amount:
            value = float(to_figures(exact(value), int(self.amount)))
        return f"{in_words(value)} {self.unit}".strip() + slack

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        return response.text if isinstance(response, NumericResponse) else ""

    def _in_key_unit(self, read: ReadNumber) -> list[Fraction]:
        if not read.unit:
            return list(read.readings)
        factor = unit_factor(read.unit, self.unit) if self.unit else None
        return [] if factor is None else [value * factor for value in read.readings]

    def _is_right(self, value: Fraction) -> bool:
        if self.value is None:
            return False
        key, amount = exact(self.value), exact(self.amount)
        if self.tolerance == "figures":
            return to_figures(value, int(self.amount)) == to_figures(key, int(self.amount))
        slack = {"exact": Fraction(0), "absolute": amount, "percent": abs(key) * amount / 100}[self.tolerance]
        return abs(value - key) <= slack


class NumericResponse(ResponseBase):
    kind: Literal["numeric"] = "numeric"
    text: Annotated[str, StringConstraints(strip_whitespace=True, max_length=LONGEST)] = ""


class NumericForStudent(StudentBase):
    kind: Literal["numeric"] = "numeric"
    unit: str
    unit_wanted: bool


def _within(value: Fraction, idea: IdeaRange) -> bool:
    above = idea.low is None or value >= exact(idea.low)
    return above and (idea.high is None or value <= exact(idea.high))


def _range_words(idea: IdeaRange) -> str:
    if idea.low is not None and idea.high is not None:
        return (
            in_words(idea.low)
            if idea.low == idea.high
            else _("{in_words} to {in_words_2}", in_words=in_words(idea.low), in_words_2=in_words(idea.high))
        )
    if idea.low is not None:
        return _("{in_words} or more", in_words=in_words(idea.low))
    return _("{in_words} or less", in_words=in_words(idea.high)) if idea.high is not None else _("any value")


@cache
def _registry() -> "UnitRegistry[float]":
    # Imported when the first unit is read: pint takes a third of a second to load its definitions.
    from pint import UnitRegistry

    return UnitRegistry(autoconvert_offset_to_baseunit=False, cache_folder=None)


@cache
def unit_factor(given: str, wanted: str) -> Fraction | None:
    """What a value in `given` is multiplied by to stand in `wanted`; None where it cannot be.

    Scales with another zero (°C against K) do not convert by a factor and answer None unless they are the same.
    """
    if not given and not wanted:
        return Fraction(1)
    from_unit, to_unit = _spelled(given), _spelled(wanted)
    if from_unit is None or to_unit is None:
        return None
    try:
        unit, other = _registry().Unit(from_unit), _registry().Unit(to_unit)
        if unit == other:
            return Fraction(1)
        quantity = _registry().Quantity(1.0, unit)
        if not (quantity._is_multiplicative and _registry().Quantity(1.0, other)._is_multiplicative):
            return None
        return _simple(quantity.to(other).magnitude)
    except Exception:  # pint raises its own errors, tokenize's and Python's for text that is no unit
        return None


def _simple(factor: float) -> Fraction:
    """The fraction a conversion stands for: 1/3.6 is 5/18, whatever the float says."""
    if factor >= 1:
        return Fraction(factor).limit_denominator(10**6)
    return 1 / Fraction(1 / factor).limit_denominator(10**6)


def _spelled(unit: str) -> str | None:
    """A unit as pint reads it, put together from its names and powers; None for anything else."""
    unit = unit.replace("℃", "°C").translate(_PLAIN).strip()
    unit = re.sub(r"°\s+([CF])\b", r"°\1", unit)
    if not _UNIT.fullmatch(unit):
        return None

    def part(match: re.Match[str]) -> str:
        name = match[1].replace("Ω", "ohm")
        power = (match[2] or "").lstrip("^*")
        return _PINT_NAMES.get(name, name) + (f"**{power}" if power else "")

    # A space between names is a product, as the SI writes it.
    return re.sub(r"(?<=[\w%])\s+(?=[\w°%])", "*", _PART.sub(part, unit))
