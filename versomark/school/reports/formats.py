"""The formats a report is written in."""

import io
import zipfile
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Literal

from versomark.school.tables_out import CSV_TYPE, SHEET_TYPE

from .documents import as_docx, as_pdf
from .plain import as_csv, as_text, as_xml
from .report import Report
from .sheets import as_ods, as_xlsx, named_tables
from .typed import TypedTable, json_file

Format = Literal["text", "xml", "xlsx", "ods", "docx", "pdf", "zip"]
TYPES: dict[Format, str] = {
    "text": "text/plain; charset=utf-8",
    "xml": "application/xml",
    "xlsx": SHEET_TYPE,
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
    "docx": "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
    "pdf": "application/pdf",
    "zip": "application/zip",
}
DATE = (1980, 1, 1, 0, 0, 0)
"""The same report makes the same package."""


def written(report: Report, form: Format) -> bytes:
    writers: dict[Format, Callable[[Report], bytes]] = {
        "text": as_text,
        "xml": as_xml,
        "xlsx": as_xlsx,
        "ods": as_ods,
        "docx": as_docx,
        "pdf": as_pdf,
        "zip": as_zip,
    }
    return writers[form](report)


TypedFormat = Literal["csv", "json", "xml", "xlsx", "ods", "docx", "pdf", "text", "zip"]


def written_tables(report: Report, tables: Sequence[TypedTable], form: TypedFormat, documents: int = 1) -> bytes:
    """Tables in a format, with the words and the picture of a report. A document to read has the first `documents` of
    them; a file for a program all, except that one CSV is one table."""
    if form == "csv":
        return tables[0].as_csv()
    if form == "json":
        return json_file(tables)
    some = [table.to_read() for table in tables[:documents]] if form in ("docx", "pdf", "text") else tables
    shown = [table for table in some if table.rows] or some[:1]
    return written(replace(report, tables=[table.printed() for table in shown]), form)


def type_of(form: TypedFormat) -> str:
    """The media type."""
    return CSV_TYPE if form == "csv" else "application/json" if form == "json" else TYPES[form]


def as_zip(report: Report) -> bytes:
    """In parts: the document, the workbook, each table by itself, the picture."""
    parts: dict[str, bytes] = {"report.docx": as_docx(report), "report.xlsx": as_xlsx(report)}
    parts |= {f"{name}.csv": as_csv(table) for name, table in named_tables(report.tables)}
    if report.picture:
        parts["chart.png"] = report.picture
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, data in parts.items():
            packed.writestr(zipfile.ZipInfo(name, DATE), data)
    return out.getvalue()
