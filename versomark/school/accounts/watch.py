"""Who saw whose data, and what was taken out: noted for the security log once it was answered.

What a person saw is noted once a day and thing, so that the log says who looked and not how often a page was drawn.
"""

from collections.abc import Callable
from datetime import date

from django.http import HttpRequest, HttpResponseBase
from django.utils import timezone

from . import security_log
from .models import SecurityEvent, Teacher
from .security_log import Kind
from .sign_ins import is_for_teachers

ABOUT = ("student_id", "seat_id", "sitting_id", "class_id")
"""Arguments of a route that say whose data it shows, the closest first."""
RELEASES = ("/results/release", "/results/withdraw")
_seen: set[tuple[date, int, str]] = set()
MOST_SEEN = 50_000


class Watch:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        match = request.resolver_match
        if match is None or response.status_code >= 400 or not is_for_teachers(request.path):
            return response
        teacher = request.user if hasattr(request, "user") else None
        if not isinstance(teacher, Teacher):
            return response
        subject = next((f"{name[:-3]} {match.kwargs[name]}" for name in ABOUT if name in match.kwargs), "")
        route = str(match.route).removeprefix("api/v1/")
        if request.path.endswith(RELEASES):
            security_log.note(Kind.RELEASED, teacher, subject, route)
        elif response.has_header("Content-Disposition"):
            security_log.note(Kind.TOOK_OUT, teacher, subject, route)
        elif subject and request.method == "GET":
            _note_once(teacher, subject)
        return response


def _note_once(teacher: Teacher, subject: str) -> None:
    today = timezone.localdate()
    if (today, teacher.pk, subject) in _seen:
        return
    if len(_seen) > MOST_SEEN:
        _seen.clear()
    _seen.add((today, teacher.pk, subject))
    noted = SecurityEvent.objects.filter(actor=teacher, kind=Kind.SAW, subject=subject, at__date=today)
    if not noted.exists():
        security_log.note(Kind.SAW, teacher, subject)
