"""A change is asked for by our own pages, and by nobody else's.

Django's token guards whoever is signed in. Here every request that changes something is held to two things that no
foreign page can fake, the doors that need no sign-in included: where the browser says it comes from, and a content type
that a plain form cannot send.
"""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponseBase

from versomark.core.language import _
from versomark.school.http import refusal
from versomark.school.origins import is_own_origin

SAFE = ("GET", "HEAD", "OPTIONS")
PLAIN_FORMS = ("text/plain", "application/x-www-form-urlencoded")
"""What another site's form can send without asking first. The third, of files, is taken behind a sign-in only, where
Django's token guards it."""


class OnlyOwnPages:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        if request.path.startswith("/api/") and request.method not in SAFE:
            origin = request.headers.get("Origin")
            foreign = request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none")
            if foreign or (origin is not None and not is_own_origin(origin, request.get_host())):
                return refusal(403, _("This can be asked for from the school's own pages only."))
            has_body = request.headers.get("Content-Length", "0") not in ("", "0")
            if has_body and request.content_type in PLAIN_FORMS:
                return refusal(415, _("This takes JSON."))
        return self.get_response(request)
