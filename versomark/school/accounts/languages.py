"""In which language a browser is answered.

A cookie says it, so that no request has to ask the database: a teacher's own language is put there at the sign-in, a
student's when they join, and whoever chooses another on the page puts that. A browser that has chosen nothing is
answered in the school's language, which each page tells it anew, so that a school can change it; and a school that has
said nothing in English.
"""

from django.http import HttpRequest, HttpResponse

from versomark.core.language import ENGLISH, LANGUAGES

from .models import School, Teacher

CHOSEN = "verso_language"
SCHOOLS = "verso_school_language"
A_YEAR = 60 * 60 * 24 * 365


def of_browser(request: HttpRequest) -> str:
    """What was chosen on it, or else what the last page said of the school."""
    return chosen_on(request) or _named(request, SCHOOLS) or ENGLISH


def chosen_on(request: HttpRequest) -> str:
    """Empty where nothing was chosen, or a language there is none of."""
    return _named(request, CHOSEN)


def _named(request: HttpRequest, cookie: str) -> str:
    named = request.COOKIES.get(cookie, "")
    return named if named in LANGUAGES else ""


def of_school() -> str:
    """Of the school that stands on this machine."""
    return School.objects.order_by("pk").values_list("language", flat=True).first() or ENGLISH


def of_teacher(teacher: Teacher) -> str:
    return teacher.language or teacher.school.language


def choose(response: HttpResponse, language: str) -> None:
    """This browser's pages are in that language from now on; where it is empty, in the school's. The page itself may
    change it, so scripts may read it."""
    if language:
        response.set_cookie(CHOSEN, language, max_age=A_YEAR, samesite="Lax")
    else:
        response.delete_cookie(CHOSEN, samesite="Lax")


def tell_the_schools(response: HttpResponse, language: str) -> None:
    """For the requests of this page, if nothing else is chosen; until the browser is closed."""
    response.set_cookie(SCHOOLS, language, samesite="Lax")
