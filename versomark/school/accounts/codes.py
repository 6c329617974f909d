"""Codes that let somebody in once: an invitation, a way back, a spare for a second factor that is lost."""

from datetime import timedelta
from hashlib import sha256
from secrets import choice

from django.db import transaction
from django.utils import timezone

from versomark.core.language import _
from versomark.school import guesses
from versomark.school.errors import DomainError

from . import security_log
from .models import CodeKind, OneTimeCode, Teacher
from .security_log import Kind

LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"
"""Without those that are taken for one another."""
VALID = {CodeKind.INVITATION: timedelta(days=7), CodeKind.RECOVERY: timedelta(hours=24)}
SPARES = 8
MOST_TRIES = 20


def make_code(teacher: Teacher, kind: CodeKind) -> str:
    """A new one, in words of four letters; an earlier one of that kind is worth nothing any more."""
    teacher.codes.filter(kind=kind, used_at=None).delete()
    code = _letters()
    OneTimeCode.objects.create(
        teacher=teacher, kind=kind, digest=_digest(code), expires_at=timezone.now() + VALID[kind]
    )
    return code


def make_spares(teacher: Teacher) -> list[str]:
    """For a wallet: each stands once in place of a second factor."""
    teacher.codes.filter(kind=CodeKind.SPARE).delete()
    codes = [_letters() for _ in range(SPARES)]
    OneTimeCode.objects.bulk_create(
        OneTimeCode(teacher=teacher, kind=CodeKind.SPARE, digest=_digest(code)) for code in codes
    )
    return codes


def use_code(username: str, code: str) -> Teacher:
    """Whose invitation or way back it is; then it is used up. DomainError for one that is none, or too many tries."""
    name = username.strip().casefold()
    if guesses.counted("code", name) >= MOST_TRIES:
        raise DomainError(_("Too many wrong codes. Wait ten minutes."), status=429)
    with transaction.atomic():
        entry = (
            OneTimeCode.objects.filter(
                digest=_digest(code),
                teacher__username=name,
                teacher__is_active=True,
                kind__in=VALID,
                used_at=None,
                expires_at__gt=timezone.now(),
            )
            .select_related("teacher")
            .first()
        )
        if entry and OneTimeCode.objects.filter(pk=entry.pk, used_at=None).update(used_at=timezone.now()):
            security_log.note(Kind.CODE_USED, entry.teacher, security_log.about(entry.teacher), entry.kind)
            return entry.teacher
    guesses.count("code", name)
    raise DomainError(
        _("That code does not belong to this name, or it was used, or it is too old. Ask for a new one."), status=403
    )


def use_spare(teacher: Teacher, code: str) -> bool:
    """Whether it is one that was not used; then it is."""
    return bool(
        teacher.codes.filter(kind=CodeKind.SPARE, digest=_digest(code), used_at=None).update(used_at=timezone.now())
    )


def _letters() -> str:
    return "-".join("".join(choice(LETTERS) for _ in range(4)) for _ in range(4))


def _digest(code: str) -> str:
    """Without what one types or leaves out. Long and drawn by chance, so a plain digest is enough."""
    return sha256("".join(code.casefold().split()).replace("-", "").encode()).hexdigest()
