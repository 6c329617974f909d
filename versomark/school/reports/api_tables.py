"""Reports made on the server, from the same query as the page that shows them."""

from collections.abc import Sequence

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Query, Router

from versomark.core.language import _
from versomark.school.classes.public import class_of
from versomark.school.delivery.public import name_of, sitting_of
from versomark.school.http import file_out, teacher_of

from .answers_by_question import AnswersByQuestion, answers_by_question, as_tables
from .formats import TypedFormat, written_tables
from .schemas import AnswersWanted, RecordWanted, ResultsWanted, SkillsWanted
from .tables import record_table, results_table, skills_tables
from .typed import TypedTable

router = Router(tags=["reports"])


@router.get("/sittings/{int:sitting_id}/answers", response=AnswersByQuestion)
def answers(request: HttpRequest, sitting_id: int, wanted: Query[AnswersWanted]) -> AnswersByQuestion:
    """Students down, questions across."""
    teacher = teacher_of(request)
    return answers_by_question(teacher, sitting_of(teacher, sitting_id), wanted.cut / 100, wanted.group)


@router.get("/sittings/{int:sitting_id}/answers.{form}")
def answers_file(
    request: HttpRequest, sitting_id: int, form: TypedFormat, wanted: Query[AnswersWanted]
) -> HttpResponse:
    teacher = teacher_of(request)
    page = answers_by_question(teacher, sitting_of(teacher, sitting_id), wanted.cut / 100, wanted.group)
    return _file(page.title, page.opening, as_tables(page), form, page.legend)


@router.get("/sittings/{int:sitting_id}/results.{form}")
def results_file(
    request: HttpRequest, sitting_id: int, form: TypedFormat, wanted: Query[ResultsWanted]
) -> HttpResponse:
    sitting = sitting_of(teacher_of(request), sitting_id)
    table = results_table(sitting, wanted.chosen(), wanted.each, wanted.comments)
    return _file(_("Results, {name_of}", name_of=name_of(sitting)), "", [table], form)


@router.get("/sittings/{int:sitting_id}/skills.{form}")
def skills_file(request: HttpRequest, sitting_id: int, form: TypedFormat, wanted: Query[SkillsWanted]) -> HttpResponse:
    sitting = sitting_of(teacher_of(request), sitting_id)
    tables = skills_tables(sitting, (wanted.secure / 100, wanted.nearly / 100), wanted.chosen())
    return _file(_("Skills, {name_of}", name_of=name_of(sitting)), "", tables, form)


@router.get("/classes/{int:class_id}/record.{form}")
def record_file(request: HttpRequest, class_id: int, form: TypedFormat, wanted: Query[RecordWanted]) -> HttpResponse:
    school_class = class_of(teacher_of(request), class_id)
    table = record_table(school_class, wanted.chosen(), wanted.hidden(), wanted.shown)
    return _file(_("Record of {name}", name=school_class.name), "", [table], form)


def _file(title: str, opening: str, tables: Sequence[TypedTable], form: TypedFormat, about: str = "") -> HttpResponse:
    data, kind = written_tables(title, opening, about, tables, form)
    return file_out(data, kind, f"{slugify(title) or 'report'}.{'txt' if form == 'text' else form}")
