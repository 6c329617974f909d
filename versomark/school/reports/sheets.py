"""Reports as workbooks: XLSX and ODS, a sheet a table."""

import io
from collections.abc import Iterator, Sequence
from typing import Any, Literal

from versomark.school.tables_out import inert

from .across import is_wide
from .report import NOTHING, WASH, Cell, Number, Report, Table

WIDEST = 48
INK = "1B2430"
HEAD = "ECE9DF"


def named_tables(tables: Sequence[Table]) -> Iterator[tuple[str, Table]]:
    """Each with the name of its sheet: at most 31 letters, none that spreadsheets refuse, no two alike."""
    used = set[str]()
    for at, table in enumerate(tables, start=1):
        name = "".join(letter for letter in table.caption if letter not in "[]:*?/\\'").strip()[:31] or f"Table {at}"
        while name.casefold() in used:
            name = f"{name[:26]} ({at})"
        used.add(name.casefold())
        yield name, table


def _width(table: Table, at: int) -> int:
    longest_word = max((len(word) for word in table.heads[at].split()), default=1)
    return min(WIDEST, max([longest_word, *(len(row[at].text) for row in table.rows)])) + 2


def as_xlsx(report: Report) -> bytes:
    """Headings kept in sight and on every printed page, filters, numbers as numbers; percent and bands are coloured by
    rules, so that the colour follows when somebody changes a number."""
    from openpyxl import Workbook
    from openpyxl.styles import Alignment, Border, Font, PatternFill, Side
    from openpyxl.utils import get_column_letter
    from openpyxl.worksheet.properties import PageSetupProperties

    book = Workbook()
    book.properties.title = report.title
    first = book.active
    assert first is not None
    for name, table in named_tables(report.tables or [Table("Report", [report.title], [])]):
        sheet = first if first.title == "Sheet" and not first.max_row > 1 else book.create_sheet()
        sheet.title = name
        sheet.append([_text(head) for head in table.heads])
        for row in table.rows:
            sheet.append([_value(cell) for cell in row])
        for line, row in enumerate(table.rows, start=2):
            for at, cell in enumerate(row, start=1):
                if cell.number is not None:
                    sheet.cell(line, at).number_format = _format(cell.number)
                if line > len(table.body) + 1:
                    sheet.cell(line, at).font = Font(bold=True, color=INK)
        for at, head in enumerate(sheet[1], start=1):
            head.font, head.fill = Font(bold=True, color=INK), PatternFill("solid", fgColor=HEAD)
            head.border = Border(bottom=Side("thin", color=INK))
            head.alignment = Alignment(wrap_text=True, vertical="bottom")
            sheet.column_dimensions[get_column_letter(at)].width = _width(table, at - 1)
        names = min(table.names, len(table.heads) - 1)
        sheet.freeze_panes = f"{get_column_letter(names + 1)}2"
        if table.body:
            sheet.auto_filter.ref = f"A1:{get_column_letter(len(table.heads))}{len(table.body) + 1}"
            _colour(sheet, table)
        sheet.print_title_rows = "1:1"
        if names:
            sheet.print_title_cols = f"A:{get_column_letter(names)}"
        sheet.page_setup.orientation = "landscape" if is_wide([table]) else "portrait"
        sheet.page_setup.fitToWidth, sheet.page_setup.fitToHeight = 1, 0
        sheet.sheet_properties.pageSetUpPr = PageSetupProperties(fitToPage=True)
        assert sheet.oddHeader is not None
        assert sheet.oddFooter is not None
        sheet.oddHeader.left.text = _in_header(f"{report.title}. {report.about}")
        sheet.oddFooter.right.text = "&P / &N"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _in_header(text: str) -> str:
    # An ampersand begins a code there.
    return text.replace("&", "&&")[:200]


def _colour(sheet: object, table: Table) -> None:
    from openpyxl.formatting.rule import Rule
    from openpyxl.styles import PatternFill
    from openpyxl.styles.differential import DifferentialStyle
    from openpyxl.utils import get_column_letter
    from openpyxl.worksheet.worksheet import Worksheet

    assert isinstance(sheet, Worksheet)

    def rule(
        kind: Literal["expression", "cellIs"],
        formula: str,
        tone: str,
        operator: Literal["lessThan", "greaterThanOrEqual"] | None = None,
    ) -> Rule:
        look = DifferentialStyle(fill=PatternFill(bgColor=WASH[tone])) if tone else None
        return Rule(type=kind, operator=operator, dxf=look, formula=[formula], stopIfTrue=not tone)

    for at in range(len(table.heads)):
        column = [row[at] for row in table.rows]
        letter = get_column_letter(at + 1)
        where = f"{letter}2:{letter}{len(table.rows) + 1}"
        if at in table.mastery:
            add = sheet.conditional_formatting.add
            add(where, rule("expression", f"NOT(ISNUMBER({letter}2))", ""))
            add(where, rule("cellIs", f"{table.cuts[0]:g}", "good", "greaterThanOrEqual"))
            add(where, rule("cellIs", f"{table.cuts[1]:g}", "poor", "lessThan"))
            add(where, rule("cellIs", f"{table.cuts[0]:g}", "middling", "lessThan"))
        for word, tone in sorted({(c.text.strip(), c.tone) for c in column if c.tone and c.number is None}):
            same = rule("expression", f'LOWER({letter}2)="{word.casefold()}"', tone)
            sheet.conditional_formatting.add(where, same)


def _format(number: Number) -> str:
    decimals = f".{'0' * number.places}" if number.places else ""
    return f"0{decimals}%" if number.percent else f"0{decimals}"


def _text(text: str) -> str:
    return inert("".join(entry for entry in text if entry >= " " or entry in "\t\n"))


def _value(cell: Cell) -> str | float | None:
    if cell.text.strip() in NOTHING:
        return None
    return _text(cell.text) if cell.number is None else cell.number.value


def _column_style(book: Any, letters: int) -> Any:
    """The style of a column as wide as so many letters."""
    from odf.style import Style, TableColumnProperties

    name = f"column{letters}"
    known = next((s for s in book.automaticstyles.childNodes if s.getAttribute("name") == name), None)
    if known is None:
        known = Style(name=name, family="table-column")
        known.addElement(TableColumnProperties(columnwidth=f"{letters * 0.19:.2f}cm"))
        book.automaticstyles.addElement(known)
    return known


def as_ods(report: Report) -> bytes:
    from odf.opendocument import OpenDocumentSpreadsheet
    from odf.style import Style, TableCellProperties, TextProperties
    from odf.table import Table as Sheet
    from odf.table import TableCell, TableColumn, TableHeaderRows, TableRow
    from odf.text import P

    book = OpenDocumentSpreadsheet()
    head = Style(name="head", family="table-cell")
    head.addElement(TextProperties(fontweight="bold"))
    head.addElement(TableCellProperties(backgroundcolor=f"#{HEAD}"))
    book.styles.addElement(head)
    for tone, wash in WASH.items():
        style = Style(name=tone, family="table-cell")
        style.addElement(TableCellProperties(backgroundcolor=f"#{wash}"))
        book.styles.addElement(style)
    for name, table in named_tables(report.tables or [Table("Report", [report.title], [])]):
        sheet = Sheet(name=name)
        book.spreadsheet.addElement(sheet)
        for at in range(len(table.heads)):
            sheet.addElement(TableColumn(stylename=_column_style(book, _width(table, at))))
        heads = TableHeaderRows()
        sheet.addElement(heads)
        for place, row in enumerate([[Cell(head, tone="head") for head in table.heads], *table.rows]):
            line = TableRow()
            (sheet if place else heads).addElement(line)
            for cell in row:
                look = {"stylename": cell.tone} if cell.tone else {}
                # A head is what it says, whatever it is.
                if place and cell.text.strip() in NOTHING:
                    element = TableCell(**look)
                elif cell.number is not None:
                    kind = "percentage" if cell.number.percent else "float"
                    element = TableCell(valuetype=kind, value=f"{cell.number.value:.12g}", **look)
                    element.addElement(P(text=cell.text))
                else:
                    element = TableCell(valuetype="string", **look)
                    element.addElement(P(text=_text(cell.text)))
                line.addElement(element)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
