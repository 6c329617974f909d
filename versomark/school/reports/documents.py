"""Reports as documents that are read: DOCX and PDF."""

import base64
import io
from typing import Any

from django.template.loader import render_to_string

from versomark.school.editions.public import html_to_pdf

from .report import NOTHING, WASH, Report, Table, number_in, tone_of

MANY_COLUMNS = 7


def as_docx(report: Report) -> bytes:
    """Headings as headings, so that a word processor makes a table of contents of them; tables repeat their first row
    on every page."""
    from docx import Document
    from docx.enum.section import WD_ORIENT
    from docx.shared import Cm, Pt

    document = Document()
    document.core_properties.title = report.title
    document.core_properties.author = ""
    section = document.sections[0]
    section.page_width, section.page_height = Cm(21), Cm(29.7)
    if any(len(table.heads) > MANY_COLUMNS for table in report.tables):
        section.orientation = WD_ORIENT.LANDSCAPE
        section.page_width, section.page_height = section.page_height, section.page_width
    section.left_margin = section.right_margin = Cm(2)
    section.top_margin = section.bottom_margin = Cm(1.8)
    document.styles["Normal"].font.size = Pt(10)
    document.add_heading(_allowed(report.title), level=0)
    for text in (report.about, report.opening):
        if text:
            document.add_paragraph(_allowed(text))
    if report.picture:
        room = section.page_width - section.left_margin - section.right_margin
        document.add_picture(io.BytesIO(report.picture), width=min(room, Cm(15)))
        # The drawing's own description, for who hears the document.
        document.inline_shapes[-1]._inline.docPr.set("descr", _allowed(report.pictured))
    for table in report.tables:
        _add_table(document, table)
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def _add_table(document: object, table: Table) -> None:
    from docx.document import Document
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn
    from docx.shared import Pt

    assert isinstance(document, Document)
    if table.caption:
        document.add_heading(_allowed(table.caption), level=1)
    grid = document.add_table(rows=1, cols=len(table.heads), style="Table Grid")
    repeated = OxmlElement("w:tblHeader")
    repeated.set(qn("w:val"), "true")
    grid.rows[0]._tr.get_or_add_trPr().append(repeated)
    # Rows at a time: a cell asked for by its place costs python-docx a walk over the table.
    for place, row in enumerate([table.heads, *table.rows]):
        cells = grid.rows[0].cells if place == 0 else grid.add_row().cells
        for cell, text in zip(cells, row, strict=True):
            run = cell.paragraphs[0].add_run(_allowed(text))
            run.font.size, run.bold = Pt(8.5), place == 0
            tone = tone_of(text) if place else ""
            if tone:
                shade = OxmlElement("w:shd")
                shade.set(qn("w:val"), "clear")
                shade.set(qn("w:fill"), WASH[tone])
                cell._tc.get_or_add_tcPr().append(shade)


def _allowed(text: str) -> str:
    return "".join(entry for entry in text if entry in "\t\n" or " " <= entry <= "\ud7ff" or entry >= "\ue000")


def as_pdf(report: Report) -> bytes:
    return html_to_pdf(render_to_string("reports/report.html", parts_of(report)))


def _numbers(table: Table, at: int) -> bool:
    sentences = [row[at] for row in table.rows if row[at].strip() not in NOTHING]
    return bool(sentences) and all(number_in(entry) for entry in sentences)


def parts_of(report: Report) -> dict[str, Any]:
    """What the template of a report is filled with."""
    tables = [
        {
            "caption": table.caption,
            "heads": [(head, _numbers(table, at)) for at, head in enumerate(table.heads)],
            "rows": [[(text, tone_of(text), number_in(text)) for text in row] for row in table.rows],
        }
        for table in report.tables
    ]
    return {
        "report": report,
        "tables": tables,
        "picture": base64.b64encode(report.picture).decode() if report.picture else "",
        "wide": any(len(table.heads) > MANY_COLUMNS for table in report.tables),
        "wash": WASH,
    }
