"""The periods of the school, the teacher's own calendar address, and what is read under one."""

from django.http import HttpRequest, HttpResponse
from django.http.response import Http404
from ninja import Router

from versomark.school.accounts.public import Teacher
from versomark.school.addresses import address_for_students
from versomark.school.errors import NotFound
from versomark.school.http import teacher_of

from . import services
from .schemas import CalendarLine, PeriodLine, PeriodsBody, Timetable

router = Router(tags=["timetable"])


def pages_at(request: HttpRequest) -> str:
    return address_for_students(request) or request.build_absolute_uri("/").rstrip("/")


def _timetable(teacher: Teacher) -> Timetable:
    return Timetable(
        periods=[
            PeriodLine(name=period.name, starts=period.starts, ends=period.ends)
            for period in services.periods_of(teacher.school)
        ],
        may_change=teacher.is_admin,
    )


@router.get("/timetable", response=Timetable)
def timetable(request: HttpRequest) -> Timetable:
    return _timetable(teacher_of(request))


@router.put("/timetable", response=Timetable)
def keep(request: HttpRequest, body: PeriodsBody) -> Timetable:
    """The periods of the school's day, by an administrator."""
    teacher = teacher_of(request)
    services.keep_periods(teacher, [services.PeriodWanted(**vars(period)) for period in body.periods])
    return _timetable(teacher)


@router.get("/calendar", response=CalendarLine)
def my_calendar(request: HttpRequest) -> CalendarLine:
    token = services.token_of(teacher=teacher_of(request))
    return CalendarLine(address=f"{pages_at(request)}/calendar/{token}.ics")


@router.post("/calendar", response=CalendarLine)
def new_calendar(request: HttpRequest) -> CalendarLine:
    """Another address; the one before leads nowhere from now on."""
    token = services.new_token_of(teacher=teacher_of(request))
    return CalendarLine(address=f"{pages_at(request)}/calendar/{token}.ics")


def feed(request: HttpRequest, token: str) -> HttpResponse:
    """For a calendar that asks again by itself: it cannot sign in, so the address is the secret."""
    try:
        body = services.feed(token, pages_at(request))
    except NotFound as error:
        raise Http404 from error
    answer = HttpResponse(body, content_type="text/calendar; charset=utf-8")
    answer["Cache-Control"] = "private, no-store"
    return answer
