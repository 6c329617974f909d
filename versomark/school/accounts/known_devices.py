"""A browser in which a teacher has signed in before is known again, so that wrong passwords tried elsewhere never keep
that teacher out of it.

The signed cookie names the account. Tries from a known browser are counted by that browser; all others by name and
address. To `axes`, which counts by addresses, a known browser has an address of its own.
"""

from hashlib import sha256
from ipaddress import IPv6Address
from typing import Any

from django.core import signing
from django.http import HttpRequest, HttpResponse, JsonResponse

from versomark.core.language import N_, _
from versomark.school.http import refusal

COOKIE = "verso_known"
DAYS = 60 * 60 * 24 * 365
_signer = signing.Signer(salt="versomark.known")


def know(request: HttpRequest, response: HttpResponse, username: str) -> None:
    """From now on this browser is known as one of that teacher's."""
    response.set_cookie(
        COOKIE,
        _signer.sign(username),
        max_age=DAYS,
        httponly=True,
        samesite="Strict",
        secure=request.is_secure(),
    )


def is_known(request: HttpRequest, username: str) -> bool:
    try:
        return _signer.unsign(request.COOKIES.get(COOKIE, "")) == username
    except signing.BadSignature:
        return False


def counted_as(request: HttpRequest) -> str:
    """Under which address `axes` counts a try."""
    username = str(getattr(request, "axes_username", ""))
    if username and is_known(request, username):
        digest = sha256(request.COOKIES[COOKIE].encode()).digest()
        # fd00::/8 belongs to private networks (RFC 4193); a real sender from there would have to guess the rest.
        return str(IPv6Address(b"\xfd" + digest[:15]))
    return str(request.META.get("REMOTE_ADDR") or "0.0.0.0")


TOO_MANY = N_("Too many wrong tries. Wait three minutes, then try again.")


def locked_out(request: HttpRequest, *args: Any, **kwargs: Any) -> JsonResponse:
    """What the sign-in page is answered after too many wrong passwords."""
    return refusal(429, _(TOO_MANY))
