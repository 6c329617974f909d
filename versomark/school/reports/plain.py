"""Reports as text, CSV and XML."""

import csv
import io
from collections.abc import Sequence
from xml.etree import ElementTree

from versomark.school.tables_out import inert

from .report import Cell, Report, Table

WIDEST = 40


def as_text(report: Report) -> bytes:
    """Plain text, columns in line, for a mail or a screen reader."""
    parts = [report.title, "=" * len(report.title)]
    parts += [line for line in (report.about, report.opening) if line]
    for table in report.tables:
        parts += ["", table.caption, "-" * len(table.caption), *_lines(table)]
    return ("\n".join(parts) + "\n").encode()


def _lines(table: Table) -> list[str]:
    rows = [table.heads, *[[cell.text for cell in row] for row in table.rows]]
    widths = [min(WIDEST, max(len(row[at]) for row in rows)) for at in range(len(table.heads))]
    right = [
        all(row[at].number or not row[at].text.strip("– ") for row in table.rows) for at in range(len(table.heads))
    ]

    def line(row: Sequence[str]) -> str:
        cells = (
            cell.rjust(width) if to_the_right else cell.ljust(width)
            for cell, width, to_the_right in zip(row, widths, right, strict=True)
        )
        return "  ".join(cells).rstrip()

    return [line(row) for row in rows]


def as_csv(table: Table) -> bytes:
    """One table; numbers as numbers, the rest so that no spreadsheet takes it for a formula."""
    out = io.StringIO()
    csv.writer(out).writerow([inert(head) for head in table.heads])
    csv.writer(out).writerows([[_value(cell) for cell in row] for row in table.rows])
    # The mark tells spreadsheets that it is UTF-8.
    return b"\xef\xbb\xbf" + out.getvalue().encode()


def _value(cell: Cell) -> str:
    """Unrounded: what a share was, and not how it was printed."""
    return inert(cell.text) if cell.number is None else f"{cell.number.value:.12g}"


def as_xml(report: Report) -> bytes:
    """Elements report, table, row and cell; a cell names its column, and its value where it is a number."""
    root = ElementTree.Element("report", title=_allowed(report.title), about=_allowed(report.about))
    if report.opening:
        ElementTree.SubElement(root, "opening").text = _allowed(report.opening)
    for table in report.tables:
        place = ElementTree.SubElement(root, "table", caption=_allowed(table.caption))
        for row in table.rows:
            line = ElementTree.SubElement(place, "row")
            for head, cell in zip(table.heads, row, strict=True):
                element = ElementTree.SubElement(line, "cell", column=_allowed(head))
                if cell.number is not None:
                    element.set("value", f"{cell.number.value:.12g}")
                element.text = _allowed(cell.text)
    ElementTree.indent(root)
    text: str = ElementTree.tostring(root, encoding="unicode")
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{text}\n'.encode()


def _allowed(text: str) -> str:
    """Without the characters that XML 1.0 has no place for."""
    return "".join(entry for entry in text if entry in "\t\n\r" or " " <= entry <= "\ud7ff" or entry >= "\ue000")
