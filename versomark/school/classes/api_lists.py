"""Class lists in and out: looked at, matched, brought in, sent."""

from dataclasses import asdict
from typing import Literal

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from versomark.core.formats import class_lists, oneroster
from versomark.core.formats.class_lists import StudentRow
from versomark.core.formats.tables import Sheet, read_tables, read_text_table
from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.language import _
from versomark.core.names import full_name
from versomark.school.errors import DomainError
from versomark.school.http import file_in, file_out, teacher_of

from . import importing, lists_out, services
from .models import SchoolClass
from .schemas import Brought, ListToBring, Planned, PlannedLine, ReadFile, ReadSheet, RosterLine, RowIn, WrongLine

router = Router(tags=["lists"])


@router.post("/lists/read", response=ReadFile)
def read_list(request: HttpRequest, body: Brought) -> ReadFile:
    """A file or pasted text as tables with guessed columns. Keeps nothing."""
    data = file_in(body.data)
    try:
        if data and oneroster.looks_like_a_bundle(data):
            return ReadFile(
                sheets=[],
                roster=[_roster(class_found) for class_found in oneroster.read_bundle(data, timezone.localdate())],
            )
        sheets = read_tables(body.name, data) if data else [read_text_table(body.text)]
    except UnreadableFileError as error:
        raise DomainError(str(error), status=422) from None
    return ReadFile(sheets=[_sheet(sheet) for sheet in sheets if sheet.rows], roster=[])


def _sheet(sheet: Sheet) -> ReadSheet:
    if len(sheet.rows) > 2_000:
        raise DomainError(_("This list has more than 2,000 rows. Bring in one class at a time."), status=422)
    guess = class_lists.guess(sheet)
    return ReadSheet(
        name=sheet.name,
        rows=sheet.rows,
        first_line=sheet.first_line,
        header=guess.header,
        columns=guess.columns,
    )


def _roster(roster_class: oneroster.RosterClass) -> RosterLine:
    return RosterLine(
        name=roster_class.name,
        students=[
            RowIn(
                line=row.line,
                given_name=row.given_name,
                family_name=row.family_name,
                number=row.number,
                email=row.email,
            )
            for row in roster_class.students
        ],
        wrong=[WrongLine(**asdict(wrong)) for wrong in roster_class.wrong],
        left_out=roster_class.left_out,
    )


def _rows(body: ListToBring) -> tuple[list[StudentRow], list[class_lists.Wrong]]:
    known = [class_lists.Wrong(w.line, w.column, w.says) for w in body.wrong]
    if body.students:
        return [StudentRow(**row.model_dump()) for row in body.students], known
    width = len(body.columns)
    rows = [(row + [""] * width)[:width] for row in body.rows]
    read = class_lists.read_students(Sheet("list", rows, body.first_line), body.header, body.columns)
    return read.students, [*known, *read.wrong]


def _planned(import_plan: importing.ImportPlan, school_class: SchoolClass) -> Planned:
    return Planned(
        lines=[
            PlannedLine(
                line=line.row.line,
                name=full_name(line.row.given_name, line.row.family_name),
                outcome=line.outcome,  # type: ignore[arg-type]
                changes=line.changes,
                also_in=_also_in(line, school_class),
            )
            for line in import_plan.lines
        ],
        wrong=[WrongLine(**asdict(wrong)) for wrong in sorted(import_plan.wrong, key=lambda wrong: wrong.line)],
        not_listed=[place.student.full_name for place in import_plan.not_listed],
    )


def _also_in(line: importing.Line, school_class: SchoolClass) -> list[str]:
    if line.student is None or line.outcome != "joins":
        return []
    others = line.student.places.filter(left=False).exclude(school_class=school_class)
    return [place.school_class.name for place in others.select_related("school_class")]


@router.post("/classes/{int:class_id}/list/preview", response=Planned)
def preview_list(request: HttpRequest, class_id: int, body: ListToBring) -> Planned:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    return _planned(importing.plan(teacher, school_class, *_rows(body)), school_class)


@router.post("/classes/{int:class_id}/list", response=Planned)
def bring_list(request: HttpRequest, class_id: int, body: ListToBring) -> Planned:
    teacher = teacher_of(request)
    school_class = services.class_of(teacher, class_id, "own")
    rows, wrong = _rows(body)
    return _planned(importing.carry_out(teacher, school_class, rows, wrong, body.without_wrong), school_class)


@router.get("/classes/{int:class_id}/list/{form}", response={200: None})
def send_list(request: HttpRequest, class_id: int, form: Literal["csv", "xlsx", "oneroster"]) -> HttpResponse:
    school_class = services.class_of(teacher_of(request), class_id)
    return file_out(*lists_out.class_list(school_class, form))
