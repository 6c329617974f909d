"""Six figures of an authenticator after the password (TOTP, RFC 6238)."""

import time
from typing import NamedTuple

import pyotp
import segno
from django.db import transaction

from versomark.core.language import _
from versomark.school import guesses
from versomark.school.errors import DomainError

from . import security_log
from .codes import make_spares, use_spare
from .models import CodeKind, Teacher
from .security_log import Kind

STEP_SECONDS = 30
MOST_TRIES = 10
CODE_WANTED = "second_factor_wanted"


class NewFactor(NamedTuple):
    """What an authenticator needs: the secret to type, or the picture to scan."""

    secret: str
    picture: str
    """SVG, on a ground of its own: a reader wants dark on light, also where the page is dark."""


def new_factor(teacher: Teacher) -> NewFactor:
    """Nothing is kept until figures of it were typed once."""
    secret = pyotp.random_base32()
    address = pyotp.TOTP(secret).provisioning_uri(name=teacher.username, issuer_name="Verso Mark")
    return NewFactor(secret, segno.make(address, error="m", micro=False).svg_inline(scale=4, light="white"))


@transaction.atomic
def turn_on(teacher: Teacher, secret: str, figures: str) -> list[str]:
    """Returns spare codes, shown once."""
    step = _step_of(secret, figures)
    if step is None:
        raise DomainError(_("Those are not the figures that it shows now. Check the clock of the device."), status=422)
    teacher.second_factor, teacher.second_factor_step = secret, step
    teacher.save(update_fields=["second_factor", "second_factor_step"])
    security_log.note(Kind.SECOND_FACTOR_ON, teacher, security_log.about(teacher))
    return make_spares(teacher)


@transaction.atomic
def turn_off(teacher: Teacher, password: str) -> None:
    if not teacher.check_password(password):
        raise DomainError(_("That is not your password now."), status=422)
    take_away(teacher, teacher)


def take_away(teacher: Teacher, by: Teacher) -> None:
    """Also by an administrator, for somebody whose device is lost."""
    if not teacher.second_factor:
        return
    teacher.second_factor = ""
    teacher.save(update_fields=["second_factor"])
    teacher.codes.filter(kind=CodeKind.SPARE).delete()
    security_log.note(Kind.SECOND_FACTOR_OFF, by, security_log.about(teacher))


def check(teacher: Teacher, figures: str) -> None:
    """After the password. Refused with its own code where figures are wanted, so that the page asks for them."""
    if not teacher.second_factor:
        return
    if not figures.strip():
        raise DomainError(_("Type the six figures of your authenticator."), status=401, code=CODE_WANTED)
    if guesses.counted("second factor", teacher.pk) >= MOST_TRIES:
        raise DomainError(_("Too many wrong codes. Wait ten minutes."), status=429)
    step = _step_of(teacher.second_factor, figures)
    # Of two that come with the same figures at once one is let in.
    newer = step is not None and Teacher.objects.filter(pk=teacher.pk, second_factor_step__lt=step)
    if newer and newer.update(second_factor_step=step):
        return
    if use_spare(teacher, figures):
        return
    guesses.count("second factor", teacher.pk)
    raise DomainError(
        _("Those are not the figures that it shows now. A spare code does as well."), status=401, code=CODE_WANTED
    )


def _step_of(secret: str, figures: str) -> int | None:
    """The step of time that these are of: this one or one beside it, for clocks that are a little off."""
    typed = "".join(figures.split())
    now = int(time.time()) // STEP_SECONDS
    factor = pyotp.TOTP(secret, interval=STEP_SECONDS)
    return next((step for step in (now, now - 1, now + 1) if _same(factor.generate_otp(step), typed)), None)


def _same(expected: str, other: str) -> bool:
    return bool(pyotp.utils.strings_equal(expected, other))
