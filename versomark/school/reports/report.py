"""What is said in a file that leaves the program: a title, sentences, a picture, tables. Every format is written from
this, so that what one opens elsewhere is what was on the screen."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

NOTHING = ("", "–")
_PERCENT = re.compile(r"([−-]?[0-9]+(?:\.[0-9]+)?)%")
_NUMBER = re.compile(r"([−-]?)([0-9]*)(?:\.([0-9]+))?")
_LONGEST = 15


class Number(NamedTuple):
    """A number as a spreadsheet takes it, and how it was said."""

    value: float
    places: int
    percent: bool = False


class Cell(NamedTuple):
    """What is printed, the number behind it, unrounded, where there is one, and how it is coloured."""

    text: str
    number: Number | None = None
    tone: str = ""


@dataclass(frozen=True)
class Table:
    """rows: each as long as `heads`.

    names: leading columns that say whom a row is about; they stand again on every part of a table too wide for a page.
    foot: rows at the end that sum up the others. mastery: places of columns of shares that are coloured by `cuts`, the
    lower ends of *secure* and *nearly*. signs: places of columns that hold a sign or two, which stand in their middle.
    """

    caption: str
    heads: Sequence[str]
    rows: Sequence[Sequence[Cell]]
    names: int = 1
    foot: int = 0
    signs: frozenset[int] = frozenset()
    mastery: frozenset[int] = frozenset()
    cuts: tuple[float, float] = (0.8, 0.5)

    @property
    def body(self) -> Sequence[Sequence[Cell]]:
        return self.rows[: len(self.rows) - self.foot]


def shown_table(caption: str, heads: Sequence[str], rows: Sequence[Sequence[str]]) -> Table:
    """A table of what is printed alone: what reads as a number is one, and bands are coloured."""
    return Table(caption, heads, [[Cell(text, number_in(text), tone_of(text)) for text in row] for row in rows])


@dataclass(frozen=True)
class Report:
    """picture: a PNG, where there is a chart; `pictured` says what it shows to who cannot see it."""

    title: str
    opening: str = ""
    tables: Sequence[Table] = field(default=())
    picture: bytes | None = None
    pictured: str = ""
    about: str = ""
    """Class, day, and whatever tells one report from another."""


def number_in(said: str) -> Number | None:
    """`57%`, `.84`, `−1.5`, `12`: a number; anything else is not, a desk code with leading zeros least of all."""
    text = said.strip()
    if match := _PERCENT.fullmatch(text):
        digits = match[1].replace("−", "-")
        return Number(float(digits) / 100, len(digits.partition(".")[2]), percent=True)
    match = _NUMBER.fullmatch(text)
    if not match or not (match[2] or match[3]) or len(text) > _LONGEST:
        return None
    if len(match[2]) > 1 and match[2].startswith("0"):
        return None
    return Number(float(text.replace("−", "-")), len(match[3] or ""))


GOOD, MIDDLING, POOR, QUIET = "good", "middling", "poor", "quiet"
_BANDS = {"secure": GOOD, "nearly": MIDDLING, "not yet": POOR, "missing": POOR, "absent": QUIET, "excused": QUIET}


def tone_of(text: str) -> str:
    """How a cell is coloured; nothing for most. Colour repeats what the words say: a share by itself has none, since
    one of those who chose a wrong option is no better for being high."""
    return _BANDS.get(text.strip("●◐○ ").casefold(), "")


def tone_of_share(share: float, cuts: tuple[float, float]) -> str:
    """Of a share that is mastered or not."""
    return GOOD if share >= cuts[0] else MIDDLING if share >= cuts[1] else POOR


WASH = {GOOD: "DDEBE6", MIDDLING: "F6EBD3", POOR: "F7E1D8", QUIET: "ECE9DF"}
"""Our teal, ochre, clay and paper, pale enough to print over."""
