"""How a device proves which seat it holds: a signed cookie that scripts cannot read.

It names the seat and the device. The device that took a seat last holds it; the teacher may move a device to another
seat of the sitting, and the cookie then means that one.
"""

from collections.abc import Mapping
from typing import Literal, NamedTuple
from uuid import UUID, uuid4

from django.conf import settings
from django.core import signing
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from . import nudges, presence
from .models import Seat
from .queries import WITH_ALL, seat_with_all

COOKIE = "verso_seat"
PATH = "/"
WEEKS = 60 * 60 * 24 * 21
_signer = signing.TimestampSigner(salt="versomark.seat")

Holding = Literal["holds", "elsewhere", "sent back"]
"""Whether this device holds the seat, another one does by now, or the teacher sent it back from the door."""


class HeldSeat(NamedTuple):
    seat: Seat
    how: Holding


def give(response: HttpResponse, request: HttpRequest, seat: Seat) -> None:
    """This device holds the seat from now on; whichever held it before is set aside."""
    before = device_of(request.COOKIES)
    device = before if before is not None and before == seat.device else uuid4()
    seat.second_device = seat.second_device or (seat.device not in (None, device) and presence.holds(seat.pk))
    changed = seat.device != device
    seat.device, seat.device_since = device, timezone.now()
    seat.save(update_fields=["device", "device_since", "second_device"])
    if changed:
        nudges.seat_told(seat.sitting_id, seat.pk)
    response.set_cookie(
        COOKIE,
        _signer.sign(f"{seat.pk}.{device.hex}"),
        max_age=WEEKS,
        path=PATH,
        httponly=True,
        samesite="Strict",
        secure=request.is_secure() and not settings.DEBUG,
    )


def take_back(response: HttpResponse) -> None:
    response.delete_cookie(COOKIE, path=PATH, samesite="Strict")


def held_by(cookies: Mapping[str, str]) -> HeldSeat | None:
    """The seat of a signed cookie; None for one that is missing, old or altered."""
    result = _read(cookies)
    if result is None:
        return None
    seat_id, device = result
    seat = seat_with_all(seat_id)
    if seat is None or seat.device == device:
        return HeldSeat(seat, "holds") if seat else None
    moved = WITH_ALL.filter(sitting=seat.sitting_id, device=device).first() if device else None
    if moved is not None:
        return HeldSeat(moved, "holds")
    return HeldSeat(seat, "sent back" if seat.device is None else "elsewhere")


def device_of(cookies: Mapping[str, str]) -> UUID | None:
    uuid = _read(cookies)
    return uuid[1] if uuid else None


def _read(cookies: Mapping[str, str]) -> tuple[int, UUID | None] | None:
    try:
        seat, _, device = _signer.unsign(cookies.get(COOKIE, ""), max_age=WEEKS).partition(".")
        # Cookies of an earlier version named the seat alone.
        return int(seat), UUID(device) if device else None
    except (signing.BadSignature, ValueError):
        return None
