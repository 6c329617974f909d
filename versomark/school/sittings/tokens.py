"""How a device proves which seat it holds: a signed cookie that scripts cannot read."""

from django.conf import settings
from django.core import signing
from django.http import HttpRequest, HttpResponse

from .models import Seat

COOKIE = "verso_seat"
PATH = "/"
WEEKS = 60 * 60 * 24 * 21
_signer = signing.TimestampSigner(salt="versomark.seat")


def give(response: HttpResponse, request: HttpRequest, seat: Seat) -> None:
    response.set_cookie(
        COOKIE,
        _signer.sign(str(seat.pk)),
        max_age=WEEKS,
        path=PATH,
        httponly=True,
        samesite="Strict",
        secure=request.is_secure() and not settings.DEBUG,
    )


def take_back(response: HttpResponse) -> None:
    response.delete_cookie(COOKIE, path=PATH, samesite="Strict")


def seat_id_of(cookies: dict[str, str]) -> int | None:
    """The seat of a signed cookie, or None for a missing, old or altered one."""
    try:
        return int(_signer.unsign(cookies.get(COOKIE, ""), max_age=WEEKS))
    except (signing.BadSignature, ValueError):
        return None
