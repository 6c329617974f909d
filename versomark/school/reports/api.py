"""Everything about one student, on the screen and as files."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.school.classes.public import class_of
from versomark.school.http import file_out, json_out, teacher_of

from .files import Picture, Words, table_file
from .formats import TypedFormat, type_of
from .schemas import PictureBody, numbers_in
from .student_report import StudentReport, pdf_on, report_on, report_tables, without_words

router = Router(tags=["reports"])


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
    return file_out(pdf_on(school_class, student_id, numbers_in(papers), said), type_of("pdf"), "report.pdf")


@router.get("/classes/{int:class_id}/students/{int:student_id}/report.{form}")
def student_report_file(
    request: HttpRequest, class_id: int, student_id: int, form: TypedFormat, comments: bool = True
) -> HttpResponse:
    return _report(request, class_id, student_id, form, comments)


@router.post("/classes/{int:class_id}/students/{int:student_id}/report.{form}")
def student_report_document(
    request: HttpRequest, class_id: int, student_id: int, form: TypedFormat, body: PictureBody, comments: bool = True
) -> HttpResponse:
    """With its chart."""
    return _report(request, class_id, student_id, form, comments, body.read())


def _report(
    request: HttpRequest,
    class_id: int,
    student_id: int,
    form: TypedFormat,
    comments: bool,
    picture: Picture | None = None,
) -> HttpResponse:
    page = report_on(class_of(teacher_of(request), class_id), student_id)
    words = Words(page.full_name, page.opening, page.class_name)
    return table_file(words, report_tables(page if comments else without_words(page)), form, picture, documents=3)
