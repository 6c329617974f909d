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


@dataclass(frozen=True)
class Table:
    """rows: as said on the screen, each as long as `heads`."""

    caption: str
    heads: Sequence[str]
    rows: Sequence[Sequence[str]]


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
CUTS = (0.8, 0.5)


def tone_of(text: str) -> str:
    """How a cell is coloured; nothing for most. Colour repeats what the words say."""
    word = text.strip("●◐○ ").casefold()
    if word in _BANDS:
        return _BANDS[word]
    number = number_in(text)
    if number is None or not number.percent:
        return ""
    return GOOD if number.value >= CUTS[0] else POOR if number.value < CUTS[1] else ""


WASH = {GOOD: "DDEBE6", MIDDLING: "F6EBD3", POOR: "F7E1D8", QUIET: "ECE9DF"}
"""Our teal, ochre, clay and paper, pale enough to print over."""
