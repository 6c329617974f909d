"""Tables as files to save: CSV and workbooks."""

import csv
import io
from collections.abc import Iterable, Sequence

CSV_TYPE = "text/csv; charset=utf-8"
SHEET_TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

Cell = str | float | None


def csv_file(heads: Sequence[str], rows: Iterable[Sequence[Cell]]) -> bytes:
    """With the mark that tells spreadsheets it is UTF-8."""
    text = io.StringIO()
    csv.writer(text).writerows([heads, *([_said(cell) for cell in row] for row in rows)])
    return b"\xef\xbb\xbf" + text.getvalue().encode()


def workbook(title: str, heads: Sequence[str], rows: Iterable[Sequence[Cell]]) -> bytes:
    """One sheet with its heading kept in sight."""
    from openpyxl import Workbook
    from openpyxl.styles import Font

    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "".join(letter for letter in title if letter not in "[]:*?/\\")[:31] or "Sheet"
    sheet.append(list(heads))
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for row in rows:
        sheet.append(list(row))
    sheet.freeze_panes = "A2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def inert(text: str) -> str:
    """A cell that a spreadsheet does not take for a formula: an apostrophe before it, which the imports take off."""
    return f"'{text}" if text.lstrip("'")[:1] in ("=", "+", "-", "@") and text else text


def _said(cell: Cell) -> str:
    return "" if cell is None else f"{cell:g}" if isinstance(cell, float) else str(cell)
