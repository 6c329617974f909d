"""Reports made on the server, from the same query as the page that shows them."""

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from versomark.core.language import _
from versomark.school.classes.public import class_of
from versomark.school.delivery.public import name_of, sitting_of
from versomark.school.http import teacher_of

from .answers_by_question import AnswersByQuestion, answers_by_question, as_tables
from .files import Words, table_file
from .formats import TypedFormat
from .schemas import AnswersWanted, RecordWanted, ResultsWanted, SkillsWanted
from .tables import record_table, results_table, skills_tables

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
    return table_file(Words(page.title, page.opening, page.legend), as_tables(page), form)


@router.get("/sittings/{int:sitting_id}/results.{form}")
def results_file(
    request: HttpRequest, sitting_id: int, form: TypedFormat, wanted: Query[ResultsWanted]
) -> HttpResponse:
    sitting = sitting_of(teacher_of(request), sitting_id)
    table = results_table(sitting, wanted.chosen(), wanted.each, wanted.comments)
    return table_file(Words(_("Results, {name_of}", name_of=name_of(sitting))), [table], form)


@router.get("/sittings/{int:sitting_id}/skills.{form}")
def skills_file(request: HttpRequest, sitting_id: int, form: TypedFormat, wanted: Query[SkillsWanted]) -> HttpResponse:
    sitting = sitting_of(teacher_of(request), sitting_id)
    tables = skills_tables(sitting, (wanted.secure / 100, wanted.nearly / 100), wanted.chosen())
    return table_file(Words(_("Skills, {name_of}", name_of=name_of(sitting))), tables, form)


@router.get("/classes/{int:class_id}/record.{form}")
def record_file(request: HttpRequest, class_id: int, form: TypedFormat, wanted: Query[RecordWanted]) -> HttpResponse:
    school_class = class_of(teacher_of(request), class_id)
    table = record_table(school_class, wanted.chosen(), wanted.hidden(), wanted.shown)
    return table_file(Words(_("Record of {name}", name=school_class.name)), [table], form)
