"""The marks sheet that goes away with a sitting's work and comes back filled in: a workbook with a sheet a question."""

import io
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import isfinite

from .tables import Sheet, read_tables

NUMBER, STUDENT, COMMENT = "Number", "Student", "Comment"
_QUESTION = re.compile(r"question\s+(\d+)", re.IGNORECASE)
_CRITERION = re.compile(r"\s*(\d+)\.")


@dataclass(frozen=True)
class SheetCriterion:
    id: str
    name: str
    max: float


@dataclass(frozen=True)
class SheetQuestion:
    number: int
    criteria: tuple[SheetCriterion, ...]


@dataclass(frozen=True)
class SheetRow:
    """One answer: the number its student is known by, a name where names are in sight, and what it has so far."""

    number: int
    name: str
    points: Mapping[str, float]
    comment: str


@dataclass(frozen=True)
class FilledRow:
    """A row that came back with a mark: every criterion has its points."""

    question: int
    number: int
    points: dict[str, float]
    comment: str
    name: str = ""
    """As the sheet has it; empty where it went out without names."""


@dataclass(frozen=True)
class FilledSheet:
    rows: list[FilledRow]
    problems: list[str]
    """What was not understood, in words, with where it stands."""


def write_sheet(questions: Sequence[tuple[SheetQuestion, Sequence[SheetRow]]], names: bool) -> bytes:
    """The workbook. Cells are text or numbers, never formulas."""
    from openpyxl import Workbook
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book = Workbook()
    book.remove(book.worksheets[0])
    for question, rows in questions:
        sheet = book.create_sheet(f"Question {question.number}")
        heads = [NUMBER, *([STUDENT] if names else [])]
        heads += [
            f"{at}. {criterion.name} (0 to {criterion.max:g})"
            for at, criterion in enumerate(question.criteria, start=1)
        ]
        sheet.append([*heads, COMMENT])
        for row in rows:
            points = [row.points.get(criterion.id) for criterion in question.criteria]
            sheet.append([row.number, *([row.name] if names else []), *points, row.comment])
        for cell in sheet[1]:
            cell.font = Font(bold=True)
        for line in sheet.iter_rows(min_row=2):
            for cell in line:
                if isinstance(cell.value, str):
                    cell.data_type = "s"  # what begins with “=” is a student's or a teacher's words
        for at, head in enumerate([*heads, COMMENT], start=1):
            sheet.column_dimensions[get_column_letter(at)].width = 60 if head == COMMENT else max(10, len(head) + 2)
        sheet.freeze_panes = "C2" if names else "B2"
    if not questions:
        book.create_sheet("Nothing to mark")  # a workbook without a sheet is none
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def read_sheet(data: bytes, questions: Sequence[SheetQuestion]) -> FilledSheet:
    """What a marks sheet says, in any order of its sheets, rows and columns. A row without any points says nothing.

    Raises Refused for what is no workbook.
    """
    known = {question.number: question for question in questions}
    rows, problems = list[FilledRow](), list[str]()
    for sheet in read_tables("marks", data):
        match = _QUESTION.search(sheet.name)
        question = known.get(int(match[1])) if match else None
        if question is None:
            problems.append(f"The sheet “{sheet.name}” is for no question that a person marks here.")
            continue
        _read_question(sheet, question, rows, problems)
    return FilledSheet(rows, problems)


def _read_question(sheet: Sheet, question: SheetQuestion, rows: list[FilledRow], problems: list[str]) -> None:
    heads = sheet.rows[0]
    number_at = next((at for at, head in enumerate(heads) if head.strip().casefold() == NUMBER.casefold()), None)
    name_at = next((at for at, head in enumerate(heads) if head.strip().casefold() == STUDENT.casefold()), None)
    comment_at = next((at for at, head in enumerate(heads) if head.strip().casefold() == COMMENT.casefold()), None)
    columns = {int(match[1]): at for at, head in enumerate(heads) if (match := _CRITERION.match(head))}
    missing = [criterion.name for place, criterion in enumerate(question.criteria, start=1) if place not in columns]
    if number_at is None or missing:
        problems.append(f"{sheet.name}: the column {NUMBER if number_at is None else missing[0]} is missing.")
        return
    for line, row in enumerate(sheet.rows[1:], start=sheet.first_line + 1):
        where = f"{sheet.name}, row {line}"
        cells = {criterion: row[columns[place]].strip() for place, criterion in enumerate(question.criteria, start=1)}
        if not any(cells.values()):
            continue
        number = _number(row[number_at])
        if number is None or number != int(number):
            problems.append(f"{where}: “{row[number_at]}” is no number of a student.")
            continue
        points = {one.id: _number(cell) for one, cell in cells.items()}
        wrong = next((one for one, cell in cells.items() if points[one.id] is None), None)
        if wrong is not None:
            said = cells[wrong]
            problems.append(
                f"{where}: “{said}” is no number of points." if said else f"{where}: {wrong.name} is empty."
            )
            continue
        comment = row[comment_at].strip() if comment_at is not None else ""
        rows.append(
            FilledRow(
                question=question.number,
                number=int(number),
                points={id: value for id, value in points.items() if value is not None},
                comment=comment,
                name=row[name_at].strip() if name_at is not None else "",
            )
        )


def _number(text: str) -> float | None:
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        return None
    return value if isfinite(value) else None
