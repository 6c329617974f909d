"""What is said in a file that leaves the program: a title, sentences, a picture, tables. Every format is written from
this, so that what one opens elsewhere is what was on the screen."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

NOTHING = ("", "–")


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


GOOD, MIDDLING, POOR, QUIET = "good", "middling", "poor", "quiet"
BAND_TONES: Mapping[str, str] = {"secure": GOOD, "nearly": MIDDLING, "not yet": POOR}
"""By the code of a band: colour repeats what the words say."""


def tone_of_share(share: float, cuts: tuple[float, float]) -> str:
    """Of a share that is mastered or not."""
    return GOOD if share >= cuts[0] else MIDDLING if share >= cuts[1] else POOR


WASH = {GOOD: "DDEBE6", MIDDLING: "F6EBD3", POOR: "F7E1D8", QUIET: "ECE9DF"}
"""Our teal, ochre, clay and paper, pale enough to print over."""
