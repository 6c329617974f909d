"""The grid of marks of a test given elsewhere, and what comes and goes as a table."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Router

from versomark.core.formats.tables import Sheet, read_tables, read_text_table
from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.language import _
from versomark.school.classes.public import class_of
from versomark.school.delivery.public import Sitting, seats_with_progress, settled_sitting_of, sitting_of
from versomark.school.delivery.schemas import sitting_line
from versomark.school.errors import DomainError
from versomark.school.http import file_in, file_out, teacher_of
from versomark.school.tables_out import CSV_TYPE, SHEET_TYPE, Cell, csv_file, inert, workbook

from . import external_marks as marks_only
from .schemas import (
    EnteredMark,
    EntryByStudents,
    MarkColumn,
    MarkRow,
    MarksIn,
    MarksPage,
    NotSeated,
    SeatToAdd,
    TableIn,
    TableLooked,
)

router = Router(tags=["marks only"])


def _page(sitting: Sitting) -> MarksPage:
    columns = marks_only.columns_of(sitting)
    skills = {item.ref: item.skills for item in sitting.edition.read().items()}
    standing = marks_only.current_marks(sitting)
    rows = []
    for seat in seats_with_progress(sitting):
        marks = standing.get(seat.pk, {})
        rows.append(
            MarkRow(
                seat=seat.pk,
                desk=seat.desk,
                name=seat.student.short_name,
                full_name=seat.student.full_name,
                family_name=seat.student.family_name,
                given_name=seat.student.given_name,
                number=seat.student.number,
                state=seat.state,  # type: ignore[arg-type]
                here=seat.last_seen is not None and seat.state == "working",
                last_seen=seat.last_seen,
                marks={
                    ref: EnteredMark(points=mark.points, by_student=mark.source == "device")
                    for ref, mark in marks.items()
                },
                total=sum(mark.points for mark in marks.values()),
            )
        )
    return MarksPage(
        sitting=sitting_line(sitting),
        columns=[
            MarkColumn(
                ref=column.ref,
                label=column.content.label,
                marks=column.content.marks,
                half_marks=column.content.half_marks,
                about=column.content.stem,
                skills=skills[column.ref],
            )
            for column in columns
        ],
        rows=rows,
        max_total=sum(column.content.marks for column in columns),
        not_seated=[
            NotSeated(student=student.pk, name=student.short_name) for student in marks_only.not_seated(sitting)
        ],
        newer_description=marks_only.newer_description(sitting),
    )


def _sitting(request: HttpRequest, sitting_id: int) -> Sitting:
    return sitting_of(teacher_of(request), sitting_id, "run")


def _again(request: HttpRequest, sitting_id: int) -> MarksPage:
    return _page(settled_sitting_of(teacher_of(request), sitting_id))


@router.get("/sittings/{int:sitting_id}/marks", response=MarksPage)
def marks(request: HttpRequest, sitting_id: int) -> MarksPage:
    return _again(request, sitting_id)


@router.put("/sittings/{int:sitting_id}/marks", response=MarksPage)
def keep_marks(request: HttpRequest, sitting_id: int, body: MarksIn) -> MarksPage:
    """Cells and who was away: all of them, or none."""
    marks_only.keep_marks(
        _sitting(request, sitting_id),
        [marks_only.Mark(mark.seat, mark.item, mark.points) for mark in body.marks],
        {presence.seat: presence.how for presence in body.presence},
    )
    return _again(request, sitting_id)


@router.put("/sittings/{int:sitting_id}/marks/entry", response=MarksPage)
def entry(request: HttpRequest, sitting_id: int, body: EntryByStudents) -> MarksPage:
    """Whether students may enter their own marks now."""
    marks_only.let_students_enter(_sitting(request, sitting_id), body.by_students)
    return _again(request, sitting_id)


@router.post("/sittings/{int:sitting_id}/marks/students", response=MarksPage)
def add_seat(request: HttpRequest, sitting_id: int, body: SeatToAdd) -> MarksPage:
    """Someone of the class who has no row yet, or, by name, someone who is not on the class list either."""
    sitting = _sitting(request, sitting_id)
    if body.name.strip():
        class_of(teacher_of(request), sitting.school_class_id, "own")
    marks_only.columns_of(sitting)
    marks_only.add_seat(sitting, body.student, body.name)
    return _again(request, sitting_id)


@router.post("/sittings/{int:sitting_id}/marks/description", response=MarksPage)
def use_newest_description(request: HttpRequest, sitting_id: int) -> MarksPage:
    """Go on with the description of the test as it is now."""
    marks_only.use_newest_description(_sitting(request, sitting_id))
    return _again(request, sitting_id)


@router.post("/sittings/{int:sitting_id}/marks/table/look", response=TableLooked)
def look_at_table(request: HttpRequest, sitting_id: int, body: TableIn) -> TableLooked:
    """What a table would change; keeps nothing."""
    return _looked(marks_only.look_at_table(_sitting(request, sitting_id), _tables(body)))


@router.post("/sittings/{int:sitting_id}/marks/table", response=TableLooked)
def bring_table(request: HttpRequest, sitting_id: int, body: TableIn) -> TableLooked:
    return _looked(marks_only.bring_table(_sitting(request, sitting_id), _tables(body)))


@router.get("/sittings/{int:sitting_id}/marks/file/{form}", response={200: None})
def marks_file(request: HttpRequest, sitting_id: int, form: Literal["csv", "xlsx"]) -> HttpResponse:
    """The grid as a table; filled in and brought back, it says the same."""
    page = _again(request, sitting_id)
    heads = [
        _("Desk"),
        _("Family name"),
        _("Given name"),
        _("Number"),
        *(inert(column.label) for column in page.columns),
        _("Total"),
    ]
    rows = [_table_row(row, page.columns) for row in page.rows]
    name = slugify(f"{page.sitting.title} {page.sitting.class_name}") or "marks"
    if form == "csv":
        return file_out(csv_file(heads, rows), CSV_TYPE, f"{name}.csv")
    return file_out(workbook(page.sitting.title, heads, rows), SHEET_TYPE, f"{name}.xlsx")


def _table_row(row: MarkRow, columns: list[MarkColumn]) -> list[Cell]:
    cells: list[Cell] = [row.marks[column.ref].points if column.ref in row.marks else None for column in columns]
    if row.state in ("absent", "excused"):
        cells = [row.state] * len(columns)
    who = map(inert, (row.family_name, row.given_name, row.number))
    return [row.desk, *who, *cells, row.total if row.marks else None]


def _tables(body: TableIn) -> list[Sheet]:
    data = file_in(body.data)
    try:
        sheets = read_tables(body.name, data) if data else [read_text_table(body.text)]
    except UnreadableFileError as error:
        raise DomainError(str(error), status=422) from None
    if not any(sheet.rows for sheet in sheets):
        raise DomainError(_("There are no rows in this."), status=422)
    return [sheet for sheet in sheets if sheet.rows]


def _looked(table_looked: marks_only.TableLooked) -> TableLooked:
    return TableLooked(
        students=table_looked.students,
        fresh=table_looked.fresh,
        other=table_looked.other,
        same=table_looked.same,
        away=len(table_looked.read.absences),
        refused=table_looked.read.refused,
        unknown=table_looked.read.unknown,
        missing=table_looked.read.missing,
    )
