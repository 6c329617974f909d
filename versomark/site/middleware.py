"""What every page of the product promises the browser."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponseBase

from versomark.core.language import _, in_language
from versomark.school import turns
from versomark.school.accounts import languages
from versomark.school.http import refusal

POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; media-src 'self' blob:; style-src 'self' 'unsafe-inline';"
    " connect-src 'self';"
    " object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)


class ContentSecurityPolicy:
    """No page asks anything of another host, and nothing typed into a field can run as a script.

    Inline styles stay allowed: Radix positions its layers with style attributes.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response


class WhoseWork:
    """A request of a school's staff is work on that school; of a student's device, its door says so (`SeatCookie`).

    Behind authentication. Set anew with every request, since threads that serve stay.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        turns.begin(turns.EVERYTHING)
        if request.user.is_authenticated:
            turns.begin(turns.Area(request.user.school_id))
        return self.get_response(request)


class RefusedMethods:
    """An API that knows an address, and not what is to be done with it, says so as it says everything (RFC 9457)."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        if response.status_code != 405 or not request.path.startswith("/api/"):
            return response
        words = refusal(405, _("That is not done with this address."))
        words["Allow"] = response.headers.get("Allow", "")
        return words


class LanguageOfTheReader:
    """Words are made in the language of the browser that asks. Pages of the school set it, see `site.urls`."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        with in_language(languages.of_browser(request)):
            return self.get_response(request)
