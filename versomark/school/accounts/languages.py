"""In which language a browser is answered.

A cookie says it, so that no request has to ask the database: a teacher's own language is put there at the sign-in, a
student's when they join, and whoever chooses another on the page puts that. A browser that has chosen nothing is
answered in the school's language, and a school that has said nothing in English.
"""

from django.http import HttpRequest, HttpResponse

from versomark.core.language import ENGLISH, LANGUAGES

from .models import School, Teacher

COOKIE = "verso_language"
A_YEAR = 60 * 60 * 24 * 365


def of_browser(request: HttpRequest) -> str:
    """What its cookie says; empty where it has none, or names a language there is none of."""
    chosen = request.COOKIES.get(COOKIE, "")
    return chosen if chosen in LANGUAGES else ""


def of_page(request: HttpRequest) -> str:
    return of_browser(request) or of_school()


def of_school() -> str:
    """Of the school that stands on this machine."""
    return School.objects.order_by("pk").values_list("language", flat=True).first() or ENGLISH


def of_teacher(teacher: Teacher) -> str:
    return teacher.language or teacher.school.language


def put(response: HttpResponse, language: str) -> None:
    """This browser's pages are in that language from now on. The page itself may change it, so scripts may read it."""
    response.set_cookie(COOKIE, language, max_age=A_YEAR, samesite="Lax")
