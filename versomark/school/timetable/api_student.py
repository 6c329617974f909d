"""A student's own calendar address."""

from django.http import HttpRequest
from ninja import Router

from versomark.school.classes.public import Student

from . import services
from .api import pages_at
from .schemas import CalendarLine

router = Router(tags=["own page"])


@router.post("/calendar", response=CalendarLine)
def own_calendar(request: HttpRequest, anew: bool = False) -> CalendarLine:
    """anew: the address before leads nowhere from now on."""
    student: Student = request.auth  # type: ignore[attr-defined]
    token = services.new_token_of(student=student) if anew else services.token_of(student=student)
    return CalendarLine(address=f"{pages_at(request)}/calendar/{token}.ics")
