"""Items as a table, for writing many at once in a spreadsheet: CSV or XLSX with the header of `HEADER`.

kind: single choice, several answers, true or false, numeric, short text (empty: told from the key).
key: `B`; `A+C`; `true`; `12.5 ± 0.1`, `12.5 ± 2%` or `12.5`; `ammeter | amp meter`.
`A` to `H` are options, `A means` to `H means` what choosing each shows. Skills and keywords are apart by `;`.
"""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from string import ascii_uppercase
from typing import Any

from pydantic import ValidationError

from versomark.core.items import ItemContent, read_content
from versomark.core.items.numbers import in_words, read_number
from versomark.core.text import escaped

from .class_lists import Wrong, column_letter
from .tables import Sheet

LETTERS = ascii_uppercase[:8]
HEADER = [
    "kind", "question", "marks", "key", *LETTERS, *(f"{letter} means" for letter in LETTERS),
    "why", "skills", "keywords", "source", "author",
]  # fmt: skip
_KINDS = {
    "single choice": "single_choice",
    "several answers": "several_answers",
    "true or false": "true_false",
    "numeric": "numeric",
    "short text": "short_text",
}
_NAMES = {kind: name for name, kind in _KINDS.items()}
_TRUE, _FALSE = {"true", "t", "yes"}, {"false", "f", "no"}
_TOLERANCE = re.compile(r"(.+?)\s*(?:±|\+/-|\+-)\s*([\d.,]+)\s*(%?)")


@dataclass(frozen=True)
class TableItem:
    """An item of a table. `line` as a spreadsheet counts it."""

    line: int
    content: ItemContent
    skills: list[str] = field(default_factory=list)
    keywords: list[str] = field(default_factory=list)
    source: str = ""
    author: str = ""


@dataclass(frozen=True)
class ReadItems:
    items: list[TableItem]
    wrong: list[Wrong]


def looks_like_items(sheet: Sheet) -> bool:
    return bool(sheet.rows) and {"question", "key"} <= {cell.casefold().strip() for cell in sheet.rows[0]}


def read_items(sheet: Sheet) -> ReadItems:
    """The items of a sheet whose first row is the header, in any order of columns; what cannot be read by place."""
    heads = [cell.casefold().strip() for cell in sheet.rows[0]] if sheet.rows else []
    if not looks_like_items(sheet):
        return ReadItems([], [Wrong(sheet.first_line, "", "The first row needs the headings question and key.")])
    known = {head.casefold() for head in HEADER}
    wrong = [
        Wrong(sheet.first_line, column_letter(at), f"“{head}” is not a column of this table; it is left out.")
        for at, head in enumerate(heads)
        if head and head not in known
    ]
    items = []
    for offset, row in enumerate(sheet.rows[1:], start=1):
        if not any(row):
            continue
        cells, line = dict(zip(heads, row, strict=False)), sheet.first_line + offset
        try:
            items.append(_item(line, cells))
        except _Unusable as error:
            place = column_letter(heads.index(error.column)) if error.column in heads else ""
            wrong.append(Wrong(line, place, str(error)))
    return ReadItems(items, wrong)


class _Unusable(Exception):
    def __init__(self, column: str, says: str) -> None:
        super().__init__(says)
        self.column = column


def _item(line: int, cells: dict[str, str]) -> TableItem:
    options = [(letter, cells.get(letter.casefold(), "")) for letter in LETTERS]
    given = [(letter, text) for letter, text in options if text]
    key = cells.get("key", "").strip()
    kind = _kind(cells.get("kind", ""), key, given)
    stored = {"stem": _rich(cells.get("question", "")), "rationale": _rich(cells.get("why", ""))}
    stored |= _READ[kind](key, given, {letter: cells.get(f"{letter.casefold()} means", "") for letter in LETTERS})
    marks = cells.get("marks", "").strip()
    read = read_number(marks) if marks else None
    if marks and (read is None or read.unit):
        raise _Unusable("marks", f"“{marks}” is not a number of marks.")
    try:
        content = read_content({"kind": kind, **stored, "marks": float(read.readings[0]) if read else 1})
    except ValidationError as error:
        first = error.errors()[0]
        column = "marks" if "marks" in first["loc"] else "question"
        raise _Unusable(column, str(first["msg"]).removeprefix("Value error, ") + ".") from None
    if problems := content.problems():
        raise _Unusable("key" if "key" in problems[0] or "right" in problems[0] else "question", problems[0])
    return TableItem(
        line,
        content,
        _several(cells.get("skills", "")),
        _several(cells.get("keywords", "")),
        cells.get("source", "")[:300],
        cells.get("author", "")[:120],
    )


def _kind(stated: str, key: str, options: Sequence[tuple[str, str]]) -> str:
    if stated.strip():
        kind = _KINDS.get(stated.casefold().strip())
        if kind is None:
            raise _Unusable("kind", f"“{stated}” cannot stand in a table: write {', '.join(_KINDS)}.")
        return kind
    if options:
        return "several_answers" if "+" in key else "single_choice"
    if key.casefold() in _TRUE | _FALSE:
        return "true_false"
    return "numeric" if _number(key) else "short_text"


def _rich(text: str) -> str:
    """Cells hold plain words, or rich text that was sent from here."""
    return text if re.search(r"<(p|br|strong|em|sub|sup|ul|ol|li|table|img)\b", text) else escaped(text)


def _several(text: str) -> list[str]:
    return list(dict.fromkeys(part.strip()[:120] for part in text.split(";") if part.strip()))


def _options(given: Sequence[tuple[str, str]], means: dict[str, str]) -> list[dict[str, str]]:
    if len(given) < 2:
        raise _Unusable("a", "It needs at least two options.")
    return [{"id": letter.casefold(), "text": _rich(text), "idea_note": means[letter][:500]} for letter, text in given]


def _letters(key: str, given: Sequence[tuple[str, str]]) -> list[str]:
    wanted = [part.strip().upper() for part in key.split("+") if part.strip()]
    there = [letter for letter, _ in given]
    foreign = [letter for letter in wanted if letter not in there]
    if foreign or not wanted:
        raise _Unusable("key", f"The key “{key}” is not one of the options." if key else "The key is missing.")
    return [letter.casefold() for letter in dict.fromkeys(wanted)]


def _single_choice(key: str, given: Sequence[tuple[str, str]], means: dict[str, str]) -> dict[str, Any]:
    letters = _letters(key, given)
    if len(letters) > 1:
        raise _Unusable("key", "A single choice has one key; several answers are another kind.")
    return {"options": _options(given, means), "key": letters[0]}


def _several_answers(key: str, given: Sequence[tuple[str, str]], means: dict[str, str]) -> dict[str, Any]:
    return {"options": _options(given, means), "keys": _letters(key, given), "credit": "right_minus_wrong"}


def _true_false(key: str, given: Sequence[tuple[str, str]], means: dict[str, str]) -> dict[str, Any]:
    if key.casefold() not in _TRUE | _FALSE:
        raise _Unusable("key", f"“{key}” is neither true nor false.")
    return {"key": key.casefold() in _TRUE, "idea_note": means["A"][:500]}


def _number(text: str) -> tuple[float, str, float, str] | None:
    """Value, rule, amount and unit of `12.5 V ± 2%`."""
    match = _TOLERANCE.fullmatch(text)
    value, amount = read_number(match[1] if match else text), read_number(match[2]) if match else None
    if value is None or (match and amount is None):
        return None
    rule = "exact" if amount is None else "percent" if match and match[3] else "absolute"
    return float(value.readings[0]), rule, float(amount.readings[0]) if amount else 0, value.unit


def _numeric(key: str, given: Sequence[tuple[str, str]], means: dict[str, str]) -> dict[str, Any]:
    read = _number(key)
    if read is None:
        raise _Unusable("key", f"“{key}” is not a number.")
    value, rule, amount, unit = read
    return {
        "value": value,
        "tolerance": rule,
        "amount": amount,
        "unit": unit,
        "unit_rule": "accepted" if unit else "none",
    }


def _short_text(key: str, given: Sequence[tuple[str, str]], means: dict[str, str]) -> dict[str, Any]:
    return {"wording": {"accepted": [part.strip() for part in key.split("|") if part.strip()]}}


_READ = {
    "single_choice": _single_choice,
    "several_answers": _several_answers,
    "true_false": _true_false,
    "numeric": _numeric,
    "short_text": _short_text,
}


def write_items(items: Sequence[TableItem]) -> tuple[list[list[str]], list[str]]:
    """Header and rows, and what a table cannot say, by item. Kinds that do not fit a row are left out and listed."""
    rows, lost = [list(HEADER)], list[str]()
    for item in items:
        cells = _cells(item.content)
        if cells is None:
            lost.append(f"{item.content.kind.replace('_', ' ')}: {item.content.stem[:80]}")
            continue
        lost += [f"{item.content.stem[:80]}: {part}" for part in _lost(item.content)]
        cells |= {
            "kind": _NAMES[item.content.kind],
            "question": item.content.stem,
            "marks": in_words(item.content.marks),
            "why": item.content.rationale,
            "skills": "; ".join(item.skills),
            "keywords": "; ".join(item.keywords),
            "source": item.source,
            "author": item.author,
        }
        rows.append([cells.get(head, "") for head in HEADER])
    return rows, lost


def _cells(content: Any) -> dict[str, str] | None:
    """None where a row of a table cannot say the question."""
    return _CELLS[content.kind](content) if content.kind in _CELLS else None


def _choices_of(content: Any, keys: Sequence[str | None]) -> dict[str, str]:
    letters = dict(zip(content.part_ids(), LETTERS, strict=False))
    cells = {letters[option.id]: option.text for option in content.options}
    cells |= {f"{letters[option.id]} means": option.idea_note for option in content.options}
    return cells | {"key": "+".join(letters[key] for key in keys if key)}


def _statement(content: Any) -> dict[str, str]:
    return {"key": "" if content.key is None else str(content.key).lower(), "A means": content.idea_note}


def _value_of(content: Any) -> dict[str, str] | None:
    if content.value is None or content.tolerance == "figures":
        return None
    slack = {"exact": "", "absolute": f" ± {content.amount:g}", "percent": f" ± {content.amount:g}%"}
    return {"key": f"{content.value:.12g} {content.unit}".strip() + slack[content.tolerance]}


_CELLS: dict[str, Callable[[Any], dict[str, str] | None]] = {
    "single_choice": lambda content: _choices_of(content, [content.key]),
    "several_answers": lambda content: _choices_of(content, content.keys),
    "true_false": _statement,
    "numeric": _value_of,
    "short_text": lambda content: {"key": " | ".join(text for text in content.wording.accepted if text)},
}


def _lost(content: Any) -> list[str]:
    """What of a question its row leaves out."""
    lost = [words for words, is_there in _LOST.get(content.kind, ()) if is_there(content)]
    return lost or (["numbers that vary"] if content.variation else [])


_LOST: dict[str, tuple[tuple[str, Callable[[Any], bool]], ...]] = {
    "several_answers": (("its rule of part marks", lambda content: content.credit != "right_minus_wrong"),),
    "numeric": (("the ideas behind wrong values", lambda content: bool(content.ideas)),),
    "short_text": (
        (
            "wrong answers, slips and patterns",
            lambda content: bool(content.wording.wrong or content.wording.slips or content.wording.patterns),
        ),
    ),
}
