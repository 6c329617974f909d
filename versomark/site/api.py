"""The three APIs: the teacher's, that of a student's seat, which shares no schema of a question with it, and that of a
student's own page."""

from errno import EDQUOT, ENOSPC
from typing import Any

from django.db import OperationalError
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.security import django_auth

from versomark.core.language import N_, _
from versomark.school.accounts.api import router as accounts
from versomark.school.accounts.api_people import router as people
from versomark.school.accounts.api_sign_ins import router as sign_ins
from versomark.school.bank.api import router as bank
from versomark.school.bank.api_materials import router as materials
from versomark.school.bank.api_sharing import router as sharing
from versomark.school.bank.api_transfer import router as transfer
from versomark.school.classes.api import router as classes
from versomark.school.classes.api_groups import router as groups
from versomark.school.classes.api_lists import router as lists
from versomark.school.comparison.api import router as comparing
from versomark.school.delivery.api import router as sittings
from versomark.school.delivery.api_supervising import router as supervising
from versomark.school.desk.api import router as desk
from versomark.school.editions.api import router as editions
from versomark.school.errors import PROBLEM_TYPE, Detail, DomainError, NotFound
from versomark.school.feedback.api import router as results
from versomark.school.feedback.api_mark_questions import router as mark_questions
from versomark.school.feedback.api_skills import router as skills
from versomark.school.findings.api import router as findings
from versomark.school.findings.api_views import router as views
from versomark.school.grading.api import router as marking
from versomark.school.grading.api_answer_groups import router as same_answers
from versomark.school.grading.api_comments import router as comments
from versomark.school.grading.api_key_decisions import router as settling
from versomark.school.grading.api_likeness import router as like_answers
from versomark.school.grading.api_offline_package import router as away
from versomark.school.grading.api_piles import router as shared_piles
from versomark.school.grading.api_remarks import router as remarks
from versomark.school.grading.api_rubrics import router as rubrics
from versomark.school.grading.api_second_marking import router as second_marks
from versomark.school.http import Problem, refusal
from versomark.school.one_to_one.api import router as one_to_one
from versomark.school.paper.api import router as paper
from versomark.school.paper.api_doubtful_marks import router as queries
from versomark.school.performances.api import router as watching
from versomark.school.placement.api import router as placement
from versomark.school.placement.api_student import router as second_part
from versomark.school.portal.api import router as notices
from versomark.school.portal.api_student import OwnCookie
from versomark.school.portal.api_student import router as own_page
from versomark.school.practice.api import router as practice
from versomark.school.privacy.api import router as privacy
from versomark.school.records.api import router as records
from versomark.school.reports.api import router as reports
from versomark.school.reports.api_mail import router as mail
from versomark.school.reports.api_pages import router as report_pages
from versomark.school.reports.api_tables import router as report_tables
from versomark.school.reports.api_views import router as kept_views
from versomark.school.responses.api import router as responses
from versomark.school.responses.api_external_marks import router as marks_only
from versomark.school.responses.api_student import SeatCookie
from versomark.school.responses.api_student import router as student
from versomark.school.room.api import router as room
from versomark.school.room.api_cards import router as cards
from versomark.school.room.api_pads import router as pads
from versomark.school.room.api_record import router as lesson_records
from versomark.school.room.api_student import router as student_room
from versomark.school.timetable.api import router as timetable
from versomark.school.timetable.api_student import router as own_calendar

from .clean_bodies import CleanBodies


class ProblemsAPI(NinjaAPI):
    """An API whose description says of every operation how it refuses."""

    def get_openapi_schema(self, **options: Any) -> Any:
        schema = super().get_openapi_schema(**options)
        schema["components"]["schemas"].update(_problem_schemas())
        refused = {
            "description": "Refused, with the reason.",
            "content": {PROBLEM_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}},
        }
        for operations in schema["paths"].values():
            for operation in operations.values():
                operation["responses"]["default"] = refused
        return schema


def _problem_schemas() -> dict[str, Any]:
    schema = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
    return {**schema.pop("$defs"), "Problem": schema}


teacher_api = ProblemsAPI(
    title="Verso Mark", version="1", auth=django_auth, docs_url=None, urls_namespace="teacher", parser=CleanBodies()
)
for router in (
    accounts,
    people,
    sign_ins,
    lists,
    classes,
    groups,
    transfer,
    bank,
    materials,
    sharing,
    editions,
    sittings,
    supervising,
    responses,
    marks_only,
    one_to_one,
    room,
    pads,
    cards,
    lesson_records,
    paper,
    queries,
    away,
    mark_questions,
    watching,
    marking,
    remarks,
    rubrics,
    comments,
    shared_piles,
    like_answers,
    comparing,
    second_marks,
    same_answers,
    results,
    skills,
    records,
    reports,
    report_tables,
    report_pages,
    mail,
    kept_views,
    findings,
    views,
    settling,
    notices,
    placement,
    desk,
    practice,
    timetable,
    privacy,
):
    teacher_api.add_router("", router)

student_api = ProblemsAPI(
    title="Verso Mark, a student's seat",
    version="1",
    auth=SeatCookie(),
    docs_url=None,
    urls_namespace="student",
    parser=CleanBodies(),
)
portal_api = ProblemsAPI(
    title="Verso Mark, a student's own page",
    version="1",
    auth=OwnCookie(),
    docs_url=None,
    urls_namespace="portal",
    parser=CleanBodies(),
)
portal_api.add_router("", own_page)
portal_api.add_router("", own_calendar)
student_api.add_router("", student)
student_api.add_router("", student_room)
student_api.add_router("", second_part)


def _say_no(api: NinjaAPI, to_strangers: str) -> None:
    """Every refusal has the same body, whoever says it."""

    @api.exception_handler(DomainError)
    def not_possible(request: HttpRequest, error: DomainError) -> HttpResponse:
        return refusal(error.status, error.message, map(Detail, error.problems), error.code)

    @api.exception_handler(HttpError)
    def refused_by_the_framework(request: HttpRequest, error: HttpError) -> HttpResponse:
        return refusal(error.status_code, str(error))

    @api.exception_handler(AuthenticationError)
    def signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return refusal(401, _(to_strangers))

    @api.exception_handler(OperationalError)
    def database_refused(request: HttpRequest, error: OperationalError) -> HttpResponse:
        """A full disk is told in words, and where it is no full disk it is a mistake like any other."""
        if "disk is full" in str(error) or "disk I/O" in str(error):
            return refusal(507, _(DISK_FULL))
        raise error

    @api.exception_handler(OSError)
    def file_refused(request: HttpRequest, error: OSError) -> HttpResponse:
        if error.errno in (ENOSPC, EDQUOT):
            return refusal(507, _(DISK_FULL))
        raise error

    @api.exception_handler(OverflowError)
    def no_such_number(request: HttpRequest, error: OverflowError) -> HttpResponse:
        """An id larger than any the database can hold belongs to nothing."""
        return not_possible(request, NotFound(_("thing")))

    @api.exception_handler(ValidationError)
    def not_valid(request: HttpRequest, error: ValidationError) -> HttpResponse:
        errors = [
            Detail(f"{_field(problem['loc'])}: {_words(problem)}", _pointer(problem["loc"])) for problem in error.errors
        ]
        return refusal(422, _("Something in this form cannot be used."), errors)


DISK_FULL = N_("The disk of the school's machine is full. This was not kept; what was kept before is safe.")


def _field(location: tuple[str | int, ...]) -> str:
    return " ".join(str(part).replace("_", " ") for part in location[2:] or location[-1:])


def _pointer(location: tuple[str | int, ...]) -> str:
    """A place in the body as RFC 6901 has it: without the part of the request and the name of the parameter."""
    return "".join(f"/{str(part).replace('~', '~0').replace('/', '~1')}" for part in location[2:])


def _words(problem: dict[str, object]) -> str:
    return str(problem["msg"]).removeprefix("Value error, ")


_say_no(teacher_api, N_("You are signed out. Sign in again to go on."))
_say_no(student_api, N_("This device has no seat now. Give the code and your pass."))
_say_no(portal_api, N_("Give your pass to see your own page."))
