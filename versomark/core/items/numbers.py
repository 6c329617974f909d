"""Numbers as students write them, read exactly."""

import re
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from .typography import number_letters

LONGEST = 60
_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
_DIGITS = r"\d+(?:[   '’]\d{3})*"
_NUMBER = re.compile(
    rf"\s*(?P<sign>[-+−–]?)\s*(?P<whole>{_DIGITS}|)(?P<rest>(?:[.,]\d*)*)"
    r"(?:(?:\s+(?P<over>\d+)(?=\s*/\s*\d))?\s*/\s*(?P<under>\d+))?"
    r"(?:\s*(?:[×x*·]\s*10\s*\^?\s*\(?(?P<ten>[-+−–]?\d+|[⁻]?[⁰¹²³⁴⁵⁶⁷⁸⁹]+)\)?|[eE](?P<e>[-+−–]?\d+)(?![a-zA-Z])))?"
    r"\s*(?P<unit>.*?)\s*"
)
MOST_EXPONENT = 60


@dataclass(frozen=True)
class ReadNumber:
    """A number and what stands behind it. `readings` has two values where a comma may be decimal or thousands."""

    readings: tuple[Fraction, ...]
    unit: str


def exact(value: float) -> Fraction:
    """A float as the decimal it was typed as: 0.1 is one tenth."""
    return Fraction(Decimal(repr(float(value))))


def read_number(typed: str) -> ReadNumber | None:
    """`−3,5 mA`, `1 200`, `3/4`, `1½`, `2.5×10^-3`, `2e3`, `٣٫٥`: the number and its unit; None for what starts
    with none.

    A single comma with exactly three digits behind it is read both ways (1,234).
    """
    if len(typed) > LONGEST:
        return None
    match = _NUMBER.fullmatch(number_letters(typed))
    if match is None or not (match["whole"] or re.search(r"\d", match["rest"])):
        return None
    if match["over"] is not None and (match["rest"] or int(match["under"]) == 0):
        return None
    bodies = _bodies(re.sub(r"[   '’]", "", match["whole"]), match["rest"])
    exponent = int((match["ten"] or match["e"] or "0").translate(_SUPERSCRIPTS).replace("−", "-").replace("–", "-"))
    under = int(match["under"] or 1)
    if not bodies or abs(exponent) > MOST_EXPONENT or under == 0:
        return None
    sign = -1 if match["sign"] and match["sign"] in "-−–" else 1
    if match["over"] is not None:
        # One and a half: 1 1/2, 1½.
        mixed = Fraction(bodies[0]) + Fraction(int(match["over"]), under)
        return ReadNumber((sign * mixed * Fraction(10) ** exponent,), match["unit"])
    readings = dict.fromkeys(sign * Fraction(Decimal(body)) * Fraction(10) ** exponent / under for body in bodies)
    return ReadNumber(tuple(readings), match["unit"])


def _bodies(whole: str, rest: str) -> list[str]:
    """The possible decimals behind digits with points and commas."""
    marks = re.findall(r"[.,]", rest)
    groups = re.split(r"[.,]", rest)[1:]
    if not marks:
        return [whole]
    if len(marks) == 1:
        decimal = f"{whole or '0'}.{groups[0] or '0'}"
        ambiguous = marks == [","] and len(groups[0]) == 3 and 1 <= len(whole) <= 3 and whole != "0"
        return [decimal, whole + groups[0]] if ambiguous else [decimal]
    thousands = marks[0]
    if not (1 <= len(whole) <= 3) or any(mark != thousands for mark in marks[:-1]):
        return []
    if marks[-1] == thousands:
        return [whole + "".join(groups)] if all(len(group) == 3 for group in groups) else []
    if any(len(group) != 3 for group in groups[:-1]):
        return []
    return [f"{whole}{''.join(groups[:-1])}.{groups[-1] or '0'}"]


def to_figures(value: Fraction, figures: int) -> Fraction:
    """A value rounded to so many significant figures, halves away from zero as schools do."""
    if value == 0:
        return value
    magnitude = len(str(abs(value.numerator))) - len(str(value.denominator))
    if abs(value) < Fraction(10) ** magnitude:
        magnitude -= 1
    step = Fraction(10) ** (magnitude - figures + 1)
    half = Fraction(1, 2)
    steps = abs(value) / step + half
    return (1 if value > 0 else -1) * (steps.numerator // steps.denominator) * step


def in_words(value: float) -> str:
    """A value as a teacher writes it: no trailing zeros, a true minus."""
    text = f"{value:.12g}"
    return text.replace("-", "−", 1) if text.startswith("-") else text
