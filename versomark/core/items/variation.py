"""Items with numbers that vary: named values drawn from ranges or lists, and constraints between them.

A text shows a value as `@(a)` or a computed one as `@(a*b)`; a numeric key is computed by its `value_rule`. The same
seed always draws the same values: the draws come from Python's `random.Random`, whose sequence is fixed by its
documentation for a given seed and version 2 seeding.
"""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from random import Random
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from versomark.core.language import _

from . import algebra
from .numbers import exact

MOST_TRIES = 200
PLACE = re.compile(r"@\(([^()]*(?:\([^()]*\)[^()]*)*)\)")
_RELATION = re.compile(r"(.+?)(<=|>=|!=|≤|≥|≠|<|>|=)(.+)")
_CHECKS: dict[str, Callable[[float, float], bool]] = {
    "<": lambda a, b: a < b,
    ">": lambda a, b: a > b,
    "=": lambda a, b: a == b,
    "≤": lambda a, b: a <= b,
    "≥": lambda a, b: a >= b,
    "≠": lambda a, b: a != b,
}
_SPELLED = {"<=": "≤", ">=": "≥", "!=": "≠"}

ValueName = Annotated[str, StringConstraints(pattern=r"^[A-Za-z][A-Za-z0-9]{0,11}$")]
Bound = Annotated[float, Field(allow_inf_nan=False, ge=-1e9, le=1e9)]
Rule = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]


class _Value(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class FromRange(_Value):
    draw: Literal["range"] = "range"
    name: ValueName
    low: Bound = 1
    high: Bound = 10
    step: Annotated[float, Field(gt=0, le=1e9)] = 1

    @model_validator(mode="after")
    def _has_values(self) -> Self:
        if self.low > self.high:
            raise ValueError(_("The range of {name} runs backwards.", name=self.name))
        if (self.high - self.low) / self.step > 1_000_000:
            raise ValueError(_("The range of {name} has more than a million values.", name=self.name))
        return self

    def pick(self, random: Random) -> Fraction:
        low, step = exact(self.low), exact(self.step)
        return low + step * random.randrange(int((exact(self.high) - low) / step) + 1)


class FromList(_Value):
    draw: Literal["list"] = "list"
    name: ValueName
    values: Annotated[list[Bound], Field(min_length=1, max_length=60)]

    def pick(self, random: Random) -> Fraction:
        return exact(self.values[random.randrange(len(self.values))])


NamedValue = Annotated[FromRange | FromList, Field(discriminator="draw")]


@dataclass(frozen=True)
class Refused:
    """A draw that broke a rule."""

    values: dict[str, Fraction]
    why: str


class Variation(_Value):
    values: Annotated[list[NamedValue], Field(max_length=12)] = []
    constraints: Annotated[list[Rule], Field(max_length=12)] = []
    """Relations such as `a > b` or `a/b != 2`, all of which must hold."""

    @property
    def names(self) -> list[str]:
        return [value.name for value in self.values]

    def problems(self) -> list[str]:
        problems = [] if self.values else [_("No value is named to vary.")]
        if len(set(self.names)) < len(self.names):
            problems.append(_("Two values have the same name."))
        for rule in self.constraints:
            try:
                self._relation(rule)
            except algebra.NotAlgebra as error:
                problems.append(_("The rule “{rule}” cannot be read: {error}", rule=rule, error=error))
        if not problems and isinstance(drawn := self.draw(0), list):
            problems.append(
                _("None of {most_tries} draws keeps the rules: {why}", most_tries=MOST_TRIES, why=drawn[0].why)
            )
        return problems

    def draw(self, seed: int) -> dict[str, Fraction] | list[Refused]:
        """The values of a seed; the refused draws where `MOST_TRIES` did not find any that keep the rules."""
        random, refused = Random(seed), list[Refused]()
        for _time in range(MOST_TRIES):
            values = {value.name: value.pick(random) for value in self.values}
            why = self.broken(values)
            if not why:
                return values
            refused.append(Refused(values, why))
        return refused

    def attempts(self, seed: int) -> list[Refused]:
        """The refused draws before the one that a seed gives."""
        random, refused = Random(seed), list[Refused]()
        for _time in range(MOST_TRIES):
            values = {value.name: value.pick(random) for value in self.values}
            why = self.broken(values)
            if not why:
                break
            refused.append(Refused(values, why))
        return refused

    def broken(self, values: Mapping[str, Fraction]) -> str:
        """The first rule that these values break, in words; empty when all hold."""
        for rule in self.constraints:
            try:
                left, sign, right = self._relation(rule)
                a, b = algebra.evaluate(left, values), algebra.evaluate(right, values)
            except algebra.NotAlgebra as error:
                return f"{rule}: {error}"
            if not _CHECKS[sign](a, b):  # type: ignore[arg-type]  # fractions and floats compare with one another
                return _("{rule} does not hold.", rule=rule)
        return ""

    def compute(self, rule: str, values: Mapping[str, Fraction]) -> Fraction | float:
        """A rule worked out with drawn values. Raises algebra.NotAlgebra."""
        return algebra.evaluate(algebra.parse(rule, self.names), values)

    def fill(self, text: str, values: Mapping[str, Fraction]) -> str:
        """A text with every `@(…)` worked out. Raises algebra.NotAlgebra."""
        return PLACE.sub(lambda place: shown(self.compute(place[1], values)), text)

    def fill_all(self, stored: Any, values: Mapping[str, Fraction]) -> Any:  # any JSON
        """Every text inside a stored content, filled."""
        if isinstance(stored, str):
            return self.fill(stored, values)
        if isinstance(stored, list):
            return [self.fill_all(part, values) for part in stored]
        if isinstance(stored, dict):
            return {name: self.fill_all(part, values) for name, part in stored.items()}
        return stored

    def _relation(self, rule: str) -> tuple[algebra.Node, str, algebra.Node]:
        match = _RELATION.fullmatch(rule)
        if match is None:
            raise algebra.NotAlgebra(_("it compares nothing; write something like a > b."))
        left, right = (algebra.parse(side, self.names) for side in (match[1], match[3]))
        return left, _SPELLED.get(match[2], match[2]), right


def shown(value: Fraction | float) -> str:
    """A drawn or computed value as it is printed: whole numbers whole, else at most six figures."""
    whole = isinstance(value, Fraction) and value.denominator == 1
    text = str(value) if whole else f"{float(value):.6g}"
    return text.replace("-", "−", 1) if text.startswith("-") else text
