from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views import defaults

from versomark.core.language import _, in_language
from versomark.school.accounts import languages
from versomark.school.bank.api import picture
from versomark.school.http import refusal
from versomark.school.template_words import language_of_page
from versomark.school.timetable.api import feed

from . import probes
from .api import portal_api, student_api, teacher_api


def _page(name: str, request: HttpRequest) -> HttpResponse:
    """A built page of the front end. Never cached: it names the scripts of the current build."""
    built = settings.WEB / name
    if not built.exists():
        return HttpResponse("The pages are not built yet. Run ./verso demo or ./verso serve.", status=503)
    school = languages.of_school()
    language = languages.chosen_on(request) or school
    with in_language(language):
        page = built.read_text().replace('<html lang="en">', f"<html {language_of_page()}>", 1)
    response = HttpResponse(page)
    response["Cache-Control"] = "no-cache"
    if request.COOKIES.get(languages.SCHOOLS) != school:
        languages.tell_the_schools(response, school)
    return response


def teacher_page(request: HttpRequest, path: str = "") -> HttpResponse:
    return _page("index.html", request)


def student_page(request: HttpRequest, link: str = "") -> HttpResponse:
    return _page("student.html", request)


def student_worker(request: HttpRequest) -> HttpResponse:
    """What brings a student's page without a network; it looks after `/join` and nothing else."""
    built = settings.WEB / "student-worker.js"
    if not built.exists():
        raise Http404
    response = HttpResponse(built.read_bytes(), content_type="text/javascript")
    response["Service-Worker-Allowed"] = "/join"
    response["Cache-Control"] = "no-cache"
    return response


def wall_page(request: HttpRequest, sitting_id: int) -> HttpResponse:
    return _page("wall.html", request)


def nothing_here(request: HttpRequest, exception: Exception) -> HttpResponse:
    """An address that no page and no operation has; a program gets the body that every refusal has."""
    if request.path.startswith("/api/"):
        return refusal(404, _("There is nothing at this address."))
    return defaults.page_not_found(request, exception)


def broken(request: HttpRequest) -> HttpResponse:
    """A mistake of ours: what happened stands in the log, under the number of the request."""
    if request.path.startswith("/api/"):
        return refusal(500, _("Something went wrong here, and was not carried out. Try again; tell us if it stays."))
    return defaults.server_error(request)


handler404, handler500 = "versomark.site.urls.nothing_here", "versomark.site.urls.broken"

urlpatterns = [
    path("healthz", probes.healthz),
    path("readyz", probes.readyz),
    path("metrics", probes.metrics),
    path("api/v1/portal/", portal_api.urls),
    path("api/v1/student/", student_api.urls),
    path("api/v1/", teacher_api.urls),
    path("pictures/<uuid:picture_id>", picture),
    path("join", student_page),
    path("join/worker.js", student_worker),
    path("calendar/<str:token>.ics", feed),
    path("mine", student_page),
    path("mine/<str:link>", student_page),
    path("wall/<int:sitting_id>", wall_page),
    re_path(r"^(?!api/|static/|ws/|pictures/)(?P<path>.*)$", teacher_page),
]
