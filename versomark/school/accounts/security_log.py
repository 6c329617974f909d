"""The security log: who signed in and who could not, who saw whose data, what was taken out, what was released.

Rows are added and read, and by nothing in the product changed; they go by themselves once they are older than the
school keeps them.
"""

from collections.abc import Iterable
from datetime import timedelta
from enum import StrEnum

from django.db.models import QuerySet
from django.utils import timezone

from .models import SecurityEvent, Teacher

KEPT = timedelta(days=400)
"""A school year, and what comes out after it."""
AT_ONCE = 100


class Kind(StrEnum):
    SIGNED_IN = "signed in"
    SIGN_IN_FAILED = "sign-in failed"
    SIGNED_OUT = "signed out"
    SIGN_IN_ENDED = "sign-in ended"
    PASSWORD_CHANGED = "password changed"
    SECOND_FACTOR_ON = "second factor on"
    SECOND_FACTOR_OFF = "second factor off"
    PASSKEY_ADDED = "passkey added"
    PASSKEY_REMOVED = "passkey removed"
    INVITED = "invited"
    CODE_MADE = "code made"
    CODE_USED = "code used"
    ROLE_CHANGED = "role changed"
    DEACTIVATED = "deactivated"
    RESTORED = "restored"
    HANDED_OVER = "handed over"
    SAW = "saw"
    TOOK_OUT = "took out"
    RELEASED = "released"
    ERASED = "erased"
    DELETED = "deleted"


def note(
    kind: Kind, actor: Teacher | None, subject: str = "", detail: str = "", school_id: int | None = None
) -> SecurityEvent:
    """One more row; in the transaction of what it is about, so that neither is there without the other. school_id:
    where nobody acted, as for a password that was wrong."""
    return SecurityEvent.objects.create(
        kind=kind,
        actor=actor,
        school_id=actor.school_id if actor else school_id,
        subject=subject[:60],
        detail=detail[:120],
    )


def about(teacher: Teacher) -> str:
    return f"teacher {teacher.pk}"


def names_in(admin: Teacher) -> dict[str, str]:
    """By subject, of the accounts of the administrator's school."""
    return {about(person): person.name for person in Teacher.objects.filter(school=admin.school_id)}


def events_in(admin: Teacher, before: int | None = None, kinds: Iterable[str] = ()) -> QuerySet[SecurityEvent]:
    """Of the administrator's school and of sign-ins that name nobody, newest first; before: the row to go on from."""
    events = SecurityEvent.objects.filter(school__in=[admin.school_id]) | SecurityEvent.objects.filter(school=None)
    if before is not None:
        events = events.filter(pk__lt=before)
    if wanted := [kind for kind in kinds if kind]:
        events = events.filter(kind__in=wanted)
    return events.select_related("actor").order_by("-pk")[:AT_ONCE]


def forget_old_events() -> int:
    """Rows that are older than they are kept; how many went."""
    gone, _ = SecurityEvent.objects.filter(at__lt=timezone.now() - KEPT).delete()
    return gone
