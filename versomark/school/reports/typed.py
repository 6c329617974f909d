"""Tables as reports have them: columns that say what they hold, and whole values. Every format is written from these,
and a program that reads one back gets what the page's own query gave."""

import csv
import io
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any, Literal

from versomark.school.tables_out import inert

from .report import Cell, Number, Table, tone_of_share

ColumnKind = Literal["text", "number", "share", "marks", "date", "choice"]
Value = str | float | date | None


@dataclass(frozen=True)
class Column:
    """One column. key: what programs call it. places: decimals in print; the value itself is never rounded. mastery:
    whether its shares say what is mastered, and are coloured by the cuts. detail: whether only programs have it; a page
    to read is easier without."""

    key: str
    head: str
    kind: ColumnKind = "text"
    places: int = 0
    mastery: bool = False
    detail: bool = False


@dataclass(frozen=True)
class TypedTable:
    """rows: a value a column. names: leading columns that say whom a row is about. foot: rows at the end that sum up.
    tones: by row and column, for what is coloured by something else than a cut."""

    name: str
    columns: Sequence[Column]
    rows: Sequence[Sequence[Value]]
    names: int = 1
    foot: int = 0
    cuts: tuple[float, float] = (0.8, 0.5)
    tones: Mapping[tuple[int, int], str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for row in self.rows:
            if len(row) != len(self.columns):
                raise ValueError(f"a row of {self.name} has {len(row)} values for {len(self.columns)} columns")

    def printed(self) -> Table:
        """With its values as one reads them."""
        rows = [
            [self._cell(row, column, value) for column, value in enumerate(values)]
            for row, values in enumerate(self.rows)
        ]
        return Table(
            self.name,
            [column.head for column in self.columns],
            rows,
            names=self.names,
            foot=self.foot,
            signs=frozenset(at for at, column in enumerate(self.columns) if column.kind == "choice"),
            mastery=frozenset(at for at, column in enumerate(self.columns) if column.mastery),
            cuts=self.cuts,
        )

    def to_read(self) -> "TypedTable":
        """For a page to read: without details, and without the columns in which nothing stands."""
        filled = [
            at
            for at, column in enumerate(self.columns)
            if not column.detail and any(row[at] not in (None, "") for row in self.rows)
        ]
        return replace(
            self,
            columns=[self.columns[at] for at in filled],
            rows=[[row[at] for at in filled] for row in self.rows],
            names=sum(at < self.names for at in filled),
            tones={(row, filled.index(at)): tone for (row, at), tone in self.tones.items() if at in filled},
        )

    def _cell(self, row: int, at: int, value: Value) -> Cell:
        column, tone = self.columns[at], self.tones.get((row, at), "")
        if value is None:
            return Cell("", None, tone)
        if isinstance(value, date):
            return Cell(value.isoformat(), None, tone)
        if isinstance(value, str):
            return Cell(value, None, tone)
        if column.mastery:
            tone = tone or tone_of_share(value, self.cuts)
        percent = column.kind == "share"
        places = _places_of(value) if column.kind == "marks" else column.places
        shown = f"{100 * value:.{places}f}%" if percent else f"{value:.{places}f}"
        return Cell(shown.replace("-", "−"), Number(float(value), places, percent), tone)

    def as_csv(self) -> bytes:
        """First row the heads, then the values unrounded; the rows at the foot are left to who adds up."""
        out = io.StringIO()
        writer = csv.writer(out)
        writer.writerow([inert(column.head) for column in self.columns])
        body = self.rows[: len(self.rows) - self.foot]
        writer.writerows([[_plain(value) for value in row] for row in body])
        # The mark tells spreadsheets that it is UTF-8.
        return b"\xef\xbb\xbf" + out.getvalue().encode()

    def as_json(self) -> dict[str, Any]:
        body, foot = self.rows[: len(self.rows) - self.foot], self.rows[len(self.rows) - self.foot :]
        keys = [column.key for column in self.columns]

        def line(row: Sequence[Value]) -> dict[str, Any]:
            return {key: v.isoformat() if isinstance(v, date) else v for key, v in zip(keys, row, strict=True)}

        return {
            "name": self.name,
            "columns": [{"key": c.key, "head": c.head, "kind": c.kind} for c in self.columns],
            "rows": [line(row) for row in body],
            "foot": [line(row) for row in foot],
        }


def _places_of(marks: float) -> int:
    """As many decimals as marks need, two at most: 7, 7.5, 0.33."""
    return len(f"{marks:.2f}".rstrip("0").partition(".")[2])


def _plain(value: Value) -> str:
    if isinstance(value, str):
        return inert(value)
    return "" if value is None else value.isoformat() if isinstance(value, date) else f"{value:.15g}"


def json_file(tables: Sequence[TypedTable]) -> bytes:
    return json.dumps([table.as_json() for table in tables], ensure_ascii=False, indent=1).encode()
