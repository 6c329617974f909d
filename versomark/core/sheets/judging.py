"""What the darkness of a row's bubbles says: an answer, nothing, or a doubt. Nothing doubtful is guessed."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from versomark.core.language import _

from .marks import Darkness, Plan, Row

Floats = NDArray[np.float64]
State = Literal["answer", "blank", "several", "faint", "unreadable", "by hand"]
"""`by hand` is no doubt of the reader: something is written in a box that a person has to read."""

EMPTY_ABOVE = 0.028
"""Darkness above the page's empty bubbles up to which a bubble is empty: ten times the noise of JPEG 60 at 150 dpi."""
EMPTY_AT_MOST = 0.05
"""Darkness no empty bubble exceeds, whatever the scanner: it is measured against the paper beside it."""
MARK_ABOVE = 0.085
"""Least darkness above the empty ones of anything that counts as a mark."""
MARK_UNKNOWN = 0.105
"""The same on a page with too few marks to say what is usual on it."""
MARK_SHARE = 0.45
"""Share of the page's usual mark a mark must reach: who fills firmly does not answer with a smudge, and what an eraser
leaves is a third of what was there."""
RIVAL_SHARE = 0.30
"""Share of a row's darkest bubble that no other may reach beside an answer."""
EMPTY_ABOVE_TWO = 0.004
"""The same on a scan in black and white, where an empty bubble has no ink at all: a few points are a mark that the
scanner all but lost."""
THIN_TWO = 0.35
"""Below this usual darkness of a page's marks in black and white, others on it may have been lost altogether."""
ON_A_LETTER, ON_ANOTHER = 0.045, 0.10
"""Darkness on a letter, beyond the letter, at which an empty row, or a filled one, is in doubt: some tick letters."""
WHOLE_ROW_SHARE = 0.75
"""Share of the page's usual mark that every bubble must reach where all of a row are filled: a stain or a fold is
evenly grey, and hardly anybody means all of them."""
NEAR, AROUND = 0.10, 0.22
"""Darkness of the paper beside a bubble, above its usual, at which an empty row, or a filled one, is in doubt."""
WEAK_SHARE = 0.4
"""Share of a row's darkest mark that the weakest must reach, where several may be filled."""


@dataclass(frozen=True)
class RowRead:
    """What a row says. `options` are the filled ones, several where several may be."""

    row: Row
    options: tuple[str, ...]
    state: State
    confidence: float
    """0 to 1: how clear the answer stands of everything else, or how empty a blank row is."""
    note: str = ""
    """What the reader saw, in words, where it is in doubt."""


@dataclass(frozen=True)
class Levels:
    """What counts as empty and as a mark on one page."""

    empty: float
    mark: float
    base: float
    usual: float
    """Darkness of the page's marks above its empty bubbles; 0 where it has too few to say."""

    @staticmethod
    def of(inside: Floats, rows: Sequence[Row], two_levels: bool = False) -> "Levels":
        """From the page's own bubbles: the empty ones set the floor, the darkest of the rows what a mark is here."""
        # Bounded, since on a sheet with few bubbles every one may be filled.
        base = min(float(np.quantile(inside, 0.2)), EMPTY_AT_MOST)
        noise = max(base - float(np.quantile(inside, 0.02)), 0.0)
        tops = np.array([inside[list(row.bubbles)].max() for row in rows if row.kind != "written"])
        tops = tops[tops > base + MARK_ABOVE] - base
        usual = float(np.median(tops)) if len(tops) >= 4 else 0.0
        mark = base + max(MARK_ABOVE, MARK_SHARE * usual if usual else MARK_UNKNOWN)
        empty = base + (EMPTY_ABOVE_TWO if two_levels else max(EMPTY_ABOVE, 3.5 * noise))
        return Levels(empty, mark, base, usual)


def read_rows(plan: Plan, measured: Darkness) -> list[RowRead]:
    """Every row of a page: an answer, or why not."""
    levels = Levels.of(measured.inside, plan.rows, measured.two_levels)
    inside: list[float] = measured.inside.tolist()
    beside: list[float] = (measured.beside - np.median(measured.beside)).tolist()
    letter: list[float] = measured.letter.tolist()
    rows = [
        _on_a_letter(plan, _drawn_around(plan, _read_row(plan, row, inside, beside, levels), beside), letter)
        for row in plan.rows
    ]
    if not measured.two_levels:
        return rows
    # Black and white keeps a firm mark and drops a pale one: there no blank row proves that nothing was filled, and
    # where marks are broken neither do those beside them.
    return _mistrusted(rows, whole=_marks_lost(rows, levels))


def _on_a_letter(plan: Plan, row: RowRead, letter: Sequence[float]) -> RowRead:
    """A tick on a letter, or a ring around it, is no mark in a circle and yet an answer: it is asked about."""
    others = [k for k in row.row.bubbles if plan.options[k] not in row.options]
    if row.state not in ("blank", "answer") or not others:
        return row
    at = max(others, key=lambda k: letter[k])
    if letter[at] <= (ON_A_LETTER if row.state == "blank" else ON_ANOTHER):
        return row
    name = _shown(plan.options[at])
    if row.state == "blank":
        note = _("nothing in the circles, but something on the letter {name}", name=name)
    else:
        note = _("{shown} is filled, and something is on {name}", shown=_shown(row.options[0]), name=name)
    return replace(row, state="faint", confidence=0.3, note=note)


def _drawn_around(plan: Plan, row: RowRead, beside: Sequence[float]) -> RowRead:
    """An answer is in doubt where something stands around another bubble of its row."""
    if row.state != "answer":
        return row
    others = [k for k in row.row.bubbles if plan.options[k] not in row.options and beside[k] > AROUND]
    if not others:
        return row
    note = _(
        "{shown} is filled, and something is drawn at {shown_2}",
        shown=_shown(row.options[0]),
        shown_2=_shown(plan.options[others[0]]),
    )
    return replace(row, state="faint", confidence=0.3, note=note)


def _marks_lost(rows: Sequence[RowRead], levels: Levels) -> bool:
    """Whether a page in black and white has only thin marks, broken ones, or none: then its blanks prove nothing."""
    faint = sum(row.state == "faint" for row in rows)
    filled = sum(row.state == "answer" for row in rows)
    return levels.usual < THIN_TWO or faint > 0.1 * max(filled, 1)


def _mistrusted(rows: Sequence[RowRead], whole: bool) -> list[RowRead]:
    """Blank rows; on a page whose marks are broken as a whole, also those where one of several may be lost."""
    note = _("perhaps more than can be seen: the scan is black and white, and light pencil may be lost")
    return [
        replace(row, state="faint", confidence=0.1, note=row.note or note)
        # Where several may be filled, one of them may be lost beside another.
        if (row.state == "blank" and row.row.kind not in ("written", "number") and (whole or _asks_one(row)))
        or (whole and row.row.kind == "multiple")
        else row
        for row in rows
    ]


def _asks_one(row: RowRead) -> bool:
    """Whether a blank means that a student left something out, rather than a column that a number does not need."""
    return row.row.kind in ("choice", "true-false", "matching", "multiple")


def _read_row(plan: Plan, row: Row, inside: Sequence[float], beside: Sequence[float], levels: Levels) -> RowRead:
    # Plain numbers: a row has a dozen of them, and a page a hundred rows.
    order = sorted(row.bubbles, key=lambda k: -inside[k])
    dark = [inside[k] - levels.base for k in order]
    options = [plan.options[k] for k in order]
    mark = levels.mark - levels.base
    top, second = dark[0], dark[1] if len(dark) > 1 else 0.0
    count = sum(entry >= mark for entry in dark)
    filled = tuple(plan.options[k] for k in row.bubbles if inside[k] >= levels.mark)
    if inside[order[0]] <= levels.empty:
        if max(beside[k] for k in order) > NEAR:
            return RowRead(row, (), "faint", 0.3, _("nothing in the circles, but something beside them"))
        return RowRead(row, (), "blank", _share(levels.empty - levels.base - top, levels.empty - levels.base))
    if not count:
        return RowRead(row, (), "faint", 0.2, _("a faint mark at {shown}", shown=_shown(options[0])))
    if row.kind == "multiple":
        weakest, rest = dark[count - 1], dark[count] if count < len(dark) else 0.0
        if weakest < WEAK_SHARE * top:
            return RowRead(row, (), "faint", 0.3, _("a weak mark at {shown}", shown=_shown(options[count - 1])))
        if rest > RIVAL_SHARE * weakest:
            return RowRead(row, (), "faint", 0.3, _("a faint mark at {shown}", shown=_shown(options[count])))
        if count == len(dark) > 1 and weakest < WHOLE_ROW_SHARE * (levels.usual or 0.6):
            return RowRead(row, (), "faint", 0.2, _("the whole row is grey: a stain, a fold, or all of them"))
        return RowRead(row, filled, "answer", 1 - _share(rest, weakest))
    rival = second > RIVAL_SHARE * top
    if count > 1 and rival:
        return RowRead(row, filled, "several", 0.3, _("marks at {list}", list=" and ".join(map(_shown, filled))))
    if count > 1 or rival:
        return RowRead(
            row,
            (options[0],),
            "faint",
            0.4,
            _("{shown}, and something at {shown_2}", shown=_shown(options[0]), shown_2=_shown(options[1])),
        )
    return RowRead(row, (options[0],), "answer", 1 - _share(second, top))


def _shown(option: str) -> str:
    return option.split(":")[-1].replace("-", "−")


def _share(part: float, whole: float) -> float:
    return min(max(part / whole, 0.0), 1.0) if whole > 0 else 0.0
