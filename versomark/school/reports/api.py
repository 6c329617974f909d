"""What is on the screen as a file of another program."""

from dataclasses import asdict
from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.core.language import _
from versomark.school.classes.public import class_of
from versomark.school.errors import DomainError
from versomark.school.http import file_in, file_out, json_out, teacher_of

from .formats import TYPES, Format, written
from .identities import identities
from .report import Report, shown_table
from .schemas import IdentityLine, PageShown, Who
from .student_report import StudentReport, pdf_on, report_on

router = Router(tags=["reports"])
MOST_CELLS = 200_000
Kind = Literal["text", "xml", "xlsx", "ods", "docx", "pdf", "zip"]


@router.post("/save/{kind}")
def save(request: HttpRequest, kind: Kind, body: PageShown) -> HttpResponse:
    """The page as a file; nothing of it is kept."""
    if sum(len(table.heads) * (1 + len(table.rows)) for table in body.tables) > MOST_CELLS:
        raise DomainError(_("That is more than one file should hold: show less of it, and save again."), status=422)
    tables = [
        shown_table(table.caption, table.heads, [_as_long(row, len(table.heads)) for row in table.rows])
        for table in body.tables
    ]
    picture = file_in(body.picture) if body.picture else None
    if picture is not None and not picture.startswith(b"\x89PNG\r\n\x1a\n"):
        raise DomainError(_("The picture of the chart did not arrive whole. Save again."), status=422)
    report = Report(body.title, body.opening, tables, picture, body.pictured, body.about)
    form: Format = kind
    return file_out(written(report, form), TYPES[form], f"report.{'txt' if form == 'text' else form}")


@router.post("/identities", response=dict[str, IdentityLine])
def identities_of(request: HttpRequest, body: Who) -> dict[str, IdentityLine]:
    """Family name, given name, number and desk of the students of these lines; who may not be seen is left out."""
    result = identities(teacher_of(request), body.lines)
    return {line: IdentityLine(**asdict(identity)) for line, identity in result.items()}


def _as_long(row: list[str], length: int) -> list[str]:
    return [*row[:length], *[""] * (length - len(row))]


@router.get("/classes/{int:class_id}/students/{int:student_id}/report", response=StudentReport)
def student_report(request: HttpRequest, class_id: int, student_id: int) -> HttpResponse:
    """Everything about one student, for a talk with the parents."""
    return json_out(report_on(class_of(teacher_of(request), class_id), student_id))


@router.get("/classes/{int:class_id}/students/{int:student_id}/report.pdf")
def student_report_pdf(
    request: HttpRequest, class_id: int, student_id: int, papers: str = "", said: bool = True
) -> HttpResponse:
    """The same to hand out, with copies of the papers named (sittings, joined by commas), the student's answers in
    them; with what was said of them or without."""
    school_class = class_of(teacher_of(request), class_id)
    chosen = [int(entry) for entry in papers.split(",") if entry.isascii() and entry.isdigit() and len(entry) < 16]
    return file_out(pdf_on(school_class, student_id, chosen, said), TYPES["pdf"], "report.pdf")
