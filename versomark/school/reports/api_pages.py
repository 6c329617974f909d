"""The tables of pages of figures as files. Asked by GET they are the tables alone; sent with the picture of the page's
chart, a document has that too."""

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import class_of
from versomark.school.delivery.public import Sitting, name_of, sitting_of
from versomark.school.errors import DomainError
from versomark.school.feedback.public import by_group
from versomark.school.findings.public import findings_read, groups_of, looked, other_sittings_of, time_of, totals_of
from versomark.school.http import teacher_of
from versomark.school.records.public import growth_in, not_tested_in, record_of, side_by_side

from .files import Picture, Words, table_file
from .formats import TypedFormat
from .schemas import FindingsWanted, GrowthWanted, PictureBody, SideWanted, WindowWanted
from .tables_of_findings import (
    View,
    compared_tables,
    idea_table,
    other_sittings_tables,
    question_tables,
    scale_tables,
    student_tables,
    time_tables,
    totals_tables,
)
from .tables_of_records import group_tables, growth_tables, not_tested_tables, side_by_side_tables
from .typed import TypedTable

router = Router(tags=["reports"])


@router.get("/classes/{int:class_id}/growth.{form}")
def growth_file(request: HttpRequest, class_id: int, form: TypedFormat, wanted: Query[GrowthWanted]) -> HttpResponse:
    return _growth(request, class_id, form, wanted)


@router.post("/classes/{int:class_id}/growth.{form}")
def growth_document(
    request: HttpRequest, class_id: int, form: TypedFormat, wanted: Query[GrowthWanted], body: PictureBody
) -> HttpResponse:
    """With its chart."""
    return _growth(request, class_id, form, wanted, body.read())


def _growth(
    request: HttpRequest, class_id: int, form: TypedFormat, wanted: GrowthWanted, picture: Picture | None = None
) -> HttpResponse:
    school_class = class_of(teacher_of(request), class_id)
    page = growth_in(record_of(school_class), wanted.before, wanted.after)
    titles = {sitting.id: f"{sitting.title}, {sitting.held_on:%d.%m.%Y}" for sitting in page.choices}
    about = " → ".join(titles[pk] for pk in (page.before, page.after) if pk in titles)
    words = Words(_("Growth, {name}", name=school_class.name), page.opening, about)
    return table_file(words, growth_tables(school_class, page), form, picture)


@router.get("/records/side-by-side.{form}")
def side_by_side_file(request: HttpRequest, form: TypedFormat, wanted: Query[SideWanted]) -> HttpResponse:
    return _side_by_side(request, form, wanted)


@router.post("/records/side-by-side.{form}")
def side_by_side_document(
    request: HttpRequest, form: TypedFormat, wanted: Query[SideWanted], body: PictureBody
) -> HttpResponse:
    """With its chart."""
    return _side_by_side(request, form, wanted, body.read())


def _side_by_side(
    request: HttpRequest, form: TypedFormat, wanted: SideWanted, picture: Picture | None = None
) -> HttpResponse:
    page = side_by_side(teacher_of(request), wanted.chosen(), wanted.against)
    about = " · ".join(entry.name for entry in page.classes)
    words = Words(_("Classes side by side"), page.opening, about)
    return table_file(words, side_by_side_tables(page), form, picture, documents=2)


@router.get("/classes/{int:class_id}/not-tested.{form}")
def not_tested_file(
    request: HttpRequest, class_id: int, form: TypedFormat, wanted: Query[WindowWanted]
) -> HttpResponse:
    school_class = class_of(teacher_of(request), class_id)
    page = not_tested_in(record_of(school_class), wanted.starts, wanted.ends)
    about = f"{page.starts:%d.%m.%Y} – {page.ends:%d.%m.%Y}"
    words = Words(_("Not tested, {name}", name=school_class.name), page.opening, about)
    return table_file(words, not_tested_tables(school_class, page), form)


@router.get("/sittings/{int:sitting_id}/results/groups.{form}")
def groups_file(request: HttpRequest, sitting_id: int, form: TypedFormat) -> HttpResponse:
    return _groups(request, sitting_id, form)


@router.post("/sittings/{int:sitting_id}/results/groups.{form}")
def groups_document(request: HttpRequest, sitting_id: int, form: TypedFormat, body: PictureBody) -> HttpResponse:
    """With its chart."""
    return _groups(request, sitting_id, form, body.read())


def _groups(request: HttpRequest, sitting_id: int, form: TypedFormat, picture: Picture | None = None) -> HttpResponse:
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id)
    page = by_group(teacher, sitting)
    words = Words(_("By group, {name}", name=name_of(sitting)), page.opening, sitting.school_class.name)
    return table_file(words, group_tables(sitting, page), form, picture, documents=3)


@router.get("/sittings/{int:sitting_id}/findings/{view}.{form}")
def findings_file(
    request: HttpRequest, sitting_id: int, view: View, form: TypedFormat, wanted: Query[FindingsWanted]
) -> HttpResponse:
    return _findings(request, sitting_id, view, form, wanted)


@router.post("/sittings/{int:sitting_id}/findings/{view}.{form}")
def findings_document(
    request: HttpRequest,
    sitting_id: int,
    view: View,
    form: TypedFormat,
    wanted: Query[FindingsWanted],
    body: PictureBody,
) -> HttpResponse:
    """With its chart."""
    return _findings(request, sitting_id, view, form, wanted, body.read())


def _findings(
    request: HttpRequest,
    sitting_id: int,
    view: View,
    form: TypedFormat,
    wanted: FindingsWanted,
    picture: Picture | None = None,
) -> HttpResponse:
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id)
    opening, tables = _looked_at(teacher, sitting, view, wanted)
    words = Words(_("Findings, {name_of}", name_of=name_of(sitting)), opening, sitting.school_class.name)
    return table_file(words, tables, form, picture, documents=1 if view in ("table", "time") else 4)


def _looked_at(teacher: Teacher, sitting: Sitting, view: View, wanted: FindingsWanted) -> tuple[str, list[TypedTable]]:
    """What a view opens with, and its tables."""
    if view == "other-sittings":
        page = other_sittings_of(teacher, sitting, wanted.against, wanted.one_key)
        return page.opening, other_sittings_tables(page)
    analysis = looked(teacher, sitting, wanted.read())
    if view in ("paper", "ideas", "map", "summary"):
        body = findings_read(sitting, analysis, wanted.which)
        if body is None:
            raise DomainError(_("Nobody has handed in yet."))
        return body.opening, [idea_table(body)] if view == "ideas" else question_tables(body)
    if view == "totals":
        totals = totals_of(analysis, wanted.shares())
        return totals.opening, totals_tables(analysis, totals)
    if view == "groups":
        groups = groups_of(analysis, wanted.by)
        return groups.opening, compared_tables(groups)
    if view == "time":
        times = time_of(analysis)
        return times.opening, time_tables(times)
    return "", student_tables(analysis) if view == "table" else scale_tables(analysis)
