"""Reports as workbooks: XLSX and ODS, a sheet a table."""

import io
from collections.abc import Iterator, Sequence
from typing import Literal

from versomark.school.tables_out import inert

from .report import NOTHING, WASH, Number, Report, Table, number_in, tone_of

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
    return min(WIDEST, max(len(row[at]) for row in [table.heads, *table.rows])) + 2


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
            sheet.append([_value(text) for text in row])
        for line, row in enumerate(table.rows, start=2):
            for at, text in enumerate(row, start=1):
                number = number_in(text)
                if number is not None:
                    sheet.cell(line, at).number_format = _format(number)
        for at, cell in enumerate(sheet[1], start=1):
            cell.font, cell.fill = Font(bold=True, color=INK), PatternFill("solid", fgColor=HEAD)
            cell.border = Border(bottom=Side("thin", color=INK))
            cell.alignment = Alignment(wrap_text=True, vertical="bottom")
            sheet.column_dimensions[get_column_letter(at)].width = _width(table, at - 1)
        sheet.freeze_panes = "B2" if len(table.heads) > 1 else "A2"
        if table.rows:
            sheet.auto_filter.ref = sheet.dimensions
            _colour(sheet, table)
        sheet.print_title_rows = "1:1"
        sheet.page_setup.orientation = "landscape" if len(table.heads) > 7 else "portrait"
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
        if any((number := number_in(text)) and number.percent for text in column):
            add = sheet.conditional_formatting.add
            add(where, rule("expression", f"NOT(ISNUMBER({letter}2))", ""))
            add(where, rule("cellIs", "0.8", "good", "greaterThanOrEqual"))
            add(where, rule("cellIs", "0.5", "poor", "lessThan"))
        for word in sorted({text.strip() for text in column if tone_of(text) and number_in(text) is None}):
            same = rule("expression", f'LOWER({letter}2)="{word.casefold()}"', tone_of(word))
            sheet.conditional_formatting.add(where, same)


def _format(number: Number) -> str:
    decimals = f".{'0' * number.places}" if number.places else ""
    return f"0{decimals}%" if number.percent else f"0{decimals}"


def _text(text: str) -> str:
    return inert("".join(entry for entry in text if entry >= " " or entry in "\t\n"))


def _value(text: str) -> str | float | None:
    if text.strip() in NOTHING:
        return None
    number = number_in(text)
    return _text(text) if number is None else number.value


def as_ods(report: Report) -> bytes:
    from odf.opendocument import OpenDocumentSpreadsheet
    from odf.style import Style, TableCellProperties, TextProperties
    from odf.table import Table as Sheet
    from odf.table import TableCell, TableRow
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
        for place, row in enumerate([table.heads, *table.rows]):
            line = TableRow()
            sheet.addElement(line)
            for text in row:
                number = number_in(text) if place else None
                tone = tone_of(text) if place else "head"
                look = {"stylename": tone} if tone else {}
                if text.strip() in NOTHING:
                    cell = TableCell(**look)
                elif number is not None:
                    kind = "percentage" if number.percent else "float"
                    cell = TableCell(valuetype=kind, value=f"{number.value:.10g}", **look)
                    cell.addElement(P(text=text))
                else:
                    cell = TableCell(valuetype="string", **look)
                    cell.addElement(P(text=_text(text)))
                line.addElement(cell)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
