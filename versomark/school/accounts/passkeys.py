"""Signing in with a passkey: a key that a device or a password manager keeps, and lets go after a look or a touch.

It stands for both factors, since the device has made sure who holds it (Web Authentication, W3C, level 2: user
verification). fido2 of Yubico checks what comes back; here stands whose key it is and what follows.
"""

from collections.abc import Mapping
from typing import Any

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone
from fido2.server import Fido2Server
from fido2.utils import websafe_decode, websafe_encode
from fido2.webauthn import (
    AttestedCredentialData,
    AuthenticationResponse,
    PublicKeyCredentialRpEntity,
    PublicKeyCredentialUserEntity,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from versomark.core.language import _
from versomark.school.errors import DomainError, NotFound

from . import security_log
from .models import Passkey, Teacher
from .security_log import Kind
from .sign_ins import device_of

STATE = "passkey"
"""In the session: what was asked, until it is answered once."""
MOST = 10


def offer_new(request: HttpRequest, teacher: Teacher) -> dict[str, Any]:
    """What the browser needs to make a passkey. Nothing is kept until it was made."""
    if teacher.passkeys.count() >= MOST:
        raise DomainError(_("There are {most} passkeys already. Take one out first.", most=MOST))
    user = PublicKeyCredentialUserEntity(
        id=f"teacher {teacher.pk}".encode(), name=teacher.username, display_name=teacher.name
    )
    options, request.session[STATE] = _server(request).register_begin(
        user,
        credentials=[_read(key) for key in teacher.passkeys.all()],
        resident_key_requirement=ResidentKeyRequirement.REQUIRED,
        user_verification=UserVerificationRequirement.REQUIRED,
    )
    return dict(options.public_key)


@transaction.atomic
def keep(request: HttpRequest, teacher: Teacher, response: Mapping[str, Any]) -> Passkey:
    """What the browser made. Refused where it does not answer what was asked just now."""
    try:
        made = _server(request).register_complete(_asked(request), response)
    except (ValueError, KeyError, TypeError):
        raise _refused() from None
    data = made.credential_data
    if data is None or Passkey.objects.filter(credential=websafe_encode(data.credential_id)).exists():
        raise _refused()
    passkey = Passkey.objects.create(
        teacher=teacher,
        credential=websafe_encode(data.credential_id),
        key=websafe_encode(bytes(data)),
        uses=made.counter,
        device=device_of(request.META.get("HTTP_USER_AGENT", "")),
    )
    security_log.note(Kind.PASSKEY_ADDED, teacher, security_log.about(teacher))
    return passkey


@transaction.atomic
def remove(teacher: Teacher, passkey_id: int) -> None:
    """One of one's own."""
    if not teacher.passkeys.filter(pk=passkey_id).delete()[0]:
        raise NotFound(_("passkey"))
    security_log.note(Kind.PASSKEY_REMOVED, teacher, security_log.about(teacher))


def take_all_away(teacher: Teacher, by: Teacher) -> None:
    """By an administrator, for somebody whose device is lost."""
    if teacher.passkeys.all().delete()[0]:
        security_log.note(Kind.PASSKEY_REMOVED, by, security_log.about(teacher))


def offer_sign_in(request: HttpRequest) -> dict[str, Any]:
    """What the browser needs to let somebody choose one of the passkeys it has for this address."""
    options, request.session[STATE] = _server(request).authenticate_begin(
        user_verification=UserVerificationRequirement.REQUIRED
    )
    return dict(options.public_key)


def check(request: HttpRequest, response: Mapping[str, Any]) -> Teacher:
    """Whose passkey this is. Refused where it is nobody's, was taken out, or does not answer what was asked."""
    state = _asked(request)
    try:
        answer = AuthenticationResponse.from_dict(response)
        known = (
            Passkey.objects.select_related("teacher__school").filter(credential=websafe_encode(answer.raw_id)).first()
        )
        if known is None or not known.teacher.is_active:
            raise ValueError(answer.id)
        _server(request).authenticate_complete(state, [_read(known)], response)
        uses = answer.response.authenticator_data.counter
    except (ValueError, KeyError, TypeError):
        security_log.note(Kind.SIGN_IN_FAILED, None, "", "passkey")
        raise _refused() from None
    # A device that counts and has counted less than before is a copy of it. Most count nothing and say 0.
    newer = Passkey.objects.filter(pk=known.pk, uses__lt=uses) if uses else Passkey.objects.filter(pk=known.pk, uses=0)
    if not newer.update(uses=uses, used_at=timezone.now()):
        raise _refused()
    return known.teacher


def _server(request: HttpRequest) -> Fido2Server:
    host = settings.ADDRESS.partition("://")[2] or request.get_host()
    return Fido2Server(PublicKeyCredentialRpEntity(id=host.partition("/")[0].rsplit(":", 1)[0], name="Verso Mark"))


def _asked(request: HttpRequest) -> Any:
    """Good for one answer."""
    state = request.session.pop(STATE, None)
    if state is None:
        raise _refused()
    return state


def _read(passkey: Passkey) -> AttestedCredentialData:
    return AttestedCredentialData(websafe_decode(passkey.key))


def _refused() -> DomainError:
    return DomainError(
        _("That passkey is not known here, or it was too late. Try again, or sign in by name."), status=401
    )
