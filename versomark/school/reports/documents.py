"""Reports as documents that are read: DOCX and PDF."""

import base64
import io
from typing import Any

from django.template.loader import render_to_string

from versomark.school.editions.public import html_to_pdf

from .across import MANY_COLUMNS, Look, is_wide, look_of, parts_across, widths_of
from .report import WASH, Cell, Report, Table


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
    wide = is_wide(report.tables)
    if wide:
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
        look = look_of(table, wide)
        for part in parts_across(table, look):
            _add_table(document, part, look)
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def _add_table(document: object, table: Table, look: Look) -> None:
    from docx.document import Document
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn
    from docx.shared import Mm, Pt

    assert isinstance(document, Document)
    if table.caption:
        document.add_heading(_allowed(table.caption), level=1)
    grid = document.add_table(rows=1, cols=len(table.heads), style="Table Grid")
    repeated = OxmlElement("w:tblHeader")
    repeated.set(qn("w:val"), "true")
    grid.rows[0]._tr.get_or_add_trPr().append(repeated)
    if len(table.heads) > MANY_COLUMNS:
        grid.autofit = False
        for column, width in zip(grid.columns, widths_of(table, look), strict=True):
            column.width = Mm(width)
    # Rows at a time: a cell asked for by its place costs python-docx a walk over the table.
    for place, row in enumerate([[Cell(head) for head in table.heads], *table.rows]):
        cells = grid.rows[0].cells if place == 0 else grid.add_row().cells
        for in_grid, cell in zip(cells, row, strict=True):
            run = in_grid.paragraphs[0].add_run(_allowed(cell.text))
            run.font.size, run.bold = Pt(look.size), place == 0 or place > len(table.body)
            if cell.tone:
                shade = OxmlElement("w:shd")
                shade.set(qn("w:val"), "clear")
                shade.set(qn("w:fill"), WASH[cell.tone])
                in_grid._tc.get_or_add_tcPr().append(shade)


def _allowed(text: str) -> str:
    return "".join(entry for entry in text if entry in "\t\n" or " " <= entry <= "\ud7ff" or entry >= "\ue000")


def as_pdf(report: Report) -> bytes:
    return html_to_pdf(render_to_string("reports/report.html", parts_of(report)))


def _side(table: Table, at: int) -> str:
    """`n` for a column of numbers, which stand at its right with the words between them, `c` for one of signs, in its
    middle."""
    return "c" if at in table.signs else "n" if any(row[at].number for row in table.rows) else ""


def parts_of(report: Report) -> dict[str, Any]:
    """What the template of a report is filled with."""
    wide = is_wide(report.tables)
    tables = [
        {
            "caption": part.caption,
            "heads": list(zip(part.heads, sides, strict=True)),
            "rows": [(list(zip(row, sides, strict=True)), at >= len(part.body)) for at, row in enumerate(part.rows)],
            "look": look,
            "widths": widths,
            "width": sum(widths),
        }
        for table in report.tables
        for look in [look_of(table, wide)]
        for part in parts_across(table, look)
        for sides in [[_side(part, at) for at in range(len(part.heads))]]
        for widths in [widths_of(part, look) if len(part.heads) > MANY_COLUMNS else []]
    ]
    return {
        "report": report,
        "tables": tables,
        "picture": base64.b64encode(report.picture).decode() if report.picture else "",
        "wide": wide,
        "wash": WASH,
    }
