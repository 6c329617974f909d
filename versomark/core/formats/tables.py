"""Tables from outside: CSV of any habit, workbooks, and what is pasted from a spreadsheet, as rows of text."""

import csv
import io
import re
from dataclasses import dataclass
from datetime import date, datetime

from versomark.core.language import _, in_figures

from .untrusted import SafeZip, UnreadableFileError

MOST_BYTES = 10 * 1024 * 1024
MOST_ROWS = 25_000
MOST_COLUMNS = 200
MOST_CELL = 40_000
_ZIP, _OLD_EXCEL = b"PK\x03\x04", b"\xd0\xcf\x11\xe0"


@dataclass(frozen=True)
class Sheet:
    """Rows of text, all of one length. `first_line` is the number of the first row in the file, from 1."""

    name: str
    rows: list[list[str]]
    first_line: int = 1


def read_tables(name: str, data: bytes) -> list[Sheet]:
    """The sheets of a CSV, TSV or XLSX file that have anything in them. Raises Refused."""
    if not data.strip():
        raise UnreadableFileError(_("This file is empty."))
    if len(data) > MOST_BYTES:
        raise UnreadableFileError(_("This file is larger than {value} MB.", value=MOST_BYTES // 2**20))
    if data.startswith(_OLD_EXCEL):
        raise UnreadableFileError(
            _("This is an old Excel file, or one locked with a password. Save it as .xlsx or .csv.")
        )
    sheets = _workbook(data) if data.startswith(_ZIP) else [read_text_table(_decoded(data), name)]
    sheets = [sheet for sheet in sheets if sheet.rows]
    if not sheets:
        raise UnreadableFileError(_("This file has no rows."))
    return sheets


def read_text_table(text: str, name: str = "pasted") -> Sheet:
    """A table typed, pasted or read from a text file; the separator is the one that makes the rows most alike."""
    if "\x00" in text:
        raise UnreadableFileError(_("This file is not a table."))
    text = text.lstrip("﻿")
    lines = [line for line in text.splitlines() if line.strip()]
    if not lines:
        return Sheet(name, [])
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=_separator(lines), strict=False))
    except csv.Error as error:
        raise UnreadableFileError(_("This table cannot be read: {error}.", error=error)) from None
    return _tidy(name, rows)


def _separator(lines: list[str]) -> str:
    """Tab, semicolon, comma or bar: the one found equally often in most lines, tabs first; a tab where none is.

    A comma with a space behind it belongs to a name: `Diallo, Malik`.
    """
    # What stands between quotation marks parts nothing.
    sample = [re.sub(r'"(?:[^"]|"")*"', '""', line) for line in lines[:50]]

    def regularity(mark: str) -> tuple[int, int]:
        counts = [len(re.findall(r",(?! )" if mark == "," else re.escape(mark), line)) for line in sample]
        usual = max(set(counts), key=lambda count: (count > 0, counts.count(count)))
        often = counts.count(usual) if usual else 0
        return (often, usual) if 2 * often >= len(sample) else (0, 0)

    return max("\t;,|", key=regularity)


def _decoded(data: bytes) -> str:
    marked = data.startswith((b"\xff\xfe", b"\xfe\xff"))
    for encoding in ["utf-16"] if marked else ["utf-8-sig", "cp1252"]:
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    raise UnreadableFileError(_("This file is not text that can be read. Save it as CSV in UTF-8."))


def _workbook(data: bytes) -> list[Sheet]:
    from openpyxl import load_workbook

    packed = SafeZip(data)
    if "[Content_Types].xml" not in packed.names or not any(name.startswith("xl/") for name in packed.names):
        raise UnreadableFileError(_("This zip is not a workbook."))
    for name in packed.names:
        # Read once with the limits on, so that openpyxl meets nothing larger than they allow.
        packed.read(name)
    try:
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
        sheets = []
        for sheet in book.worksheets:
            rows = [
                [_cell(value) for value in row]
                for row in sheet.iter_rows(values_only=True, max_row=MOST_ROWS + 1, max_col=MOST_COLUMNS)
            ]
            sheets.append(_tidy(sheet.title, rows))
        book.close()
    except UnreadableFileError:
        raise
    except Exception as error:  # a damaged workbook fails in as many ways as there are parts in it
        raise UnreadableFileError(_("This workbook is damaged and cannot be read.")) from error
    return sheets


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    if isinstance(value, datetime) and value.time() == datetime.min.time():
        return value.date().isoformat()
    if isinstance(value, (datetime, date)):
        return value.isoformat()
    return str(value)


def _tidy(name: str, rows: list[list[str]]) -> Sheet:
    if len(rows) > MOST_ROWS:
        raise UnreadableFileError(_("This table has more than {most_rows} rows.", most_rows=in_figures(MOST_ROWS, ",")))
    cells = [[" ".join(cell.split()) if len(cell) < 200 else cell.strip() for cell in row] for row in rows]
    if any(len(row) > MOST_COLUMNS for row in cells) or any(len(cell) > MOST_CELL for row in cells for cell in row):
        raise UnreadableFileError(_("This table has too many columns or too much text in one cell."))
    start = next((at for at, row in enumerate(cells) if any(row)), len(cells))
    end = max((at + 1 for at, row in enumerate(cells) if any(row)), default=0)
    width = max((at + 1 for row in cells for at, cell in enumerate(row) if cell), default=0)
    return Sheet(name, [(row + [""] * width)[:width] for row in cells[start:end]], start + 1)
