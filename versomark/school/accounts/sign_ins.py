"""Browsers that are signed in: how long, listed, and ended."""

import re
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.contrib.auth import logout
from django.contrib.sessions.models import Session
from django.db import transaction
from django.http import HttpRequest, HttpResponseBase
from django.utils import timezone

from versomark.core.language import _
from versomark.school.errors import NotFound

from . import security_log
from .models import SignedIn, Teacher
from .security_log import Kind
from .signals import sign_ins_ended

IDLE, LONGEST = timedelta(days=7), timedelta(days=30)
SHARED_IDLE, SHARED_LONGEST = timedelta(minutes=30), timedelta(hours=12)
"""On a device that others use too."""
SEEN_EVERY = timedelta(minutes=5)
SHARED = "shared"
"""In a request that signs in: whether the device is a shared one."""
_BROWSERS = (("Edg/", "Edge"), ("Firefox/", "Firefox"), ("Chrome/", "Chrome"), ("Safari/", "Safari"))
_SYSTEMS = (
    ("iPhone", "iPhone"), ("iPad", "iPad"), ("Android", "Android"), ("CrOS", "ChromeOS"),
    ("Windows", "Windows"), ("Mac OS X", "macOS"), ("Linux", "Linux"),
)  # fmt: skip


def device_of(agent: str) -> str:
    """`Firefox, Windows`: as much as tells one's own devices apart, and no more of it is kept."""
    names = [next((name for sign, name in table if sign in agent), "") for table in (_BROWSERS, _SYSTEMS)]
    return ", ".join(name for name in names if name) or re.sub(r"[^\w./ -]", "", agent)[:40]


def keep_sign_in(sender: object, request: HttpRequest, user: Teacher, **more: Any) -> None:
    """Heard from Django, whichever way somebody signed in."""
    shared = bool(getattr(request, SHARED, False))
    if shared:
        request.session.set_expiry(0)  # the browser forgets it when it is closed
    if not request.session.session_key:
        request.session.save()
    SignedIn.objects.update_or_create(
        session_key=request.session.session_key,
        defaults={
            "teacher": user,
            "device": device_of(request.META.get("HTTP_USER_AGENT", "")),
            "is_shared": shared,
        },
    )
    security_log.note(Kind.SIGNED_IN, user, security_log.about(user), "shared device" if shared else "")


def forget_sign_in(sender: object, request: HttpRequest, user: Teacher | None, **more: Any) -> None:
    if user is not None and request.session.session_key:
        SignedIn.objects.filter(session_key=request.session.session_key).delete()
        security_log.note(Kind.SIGNED_OUT, user, security_log.about(user))


def sign_ins_of(teacher: Teacher) -> list[SignedIn]:
    """Those that still hold; of the others nothing is kept."""
    now = timezone.now()
    ended = [entry.pk for entry in teacher.sign_ins.all() if is_over(entry, now)]
    SignedIn.objects.filter(pk__in=ended).delete()
    return list(teacher.sign_ins.all())


def is_over(entry: SignedIn, now: Any) -> bool:
    idle, longest = (SHARED_IDLE, SHARED_LONGEST) if entry.is_shared else (IDLE, LONGEST)
    return bool(now - entry.seen_at > idle or now - entry.began_at > longest)


@transaction.atomic
def end(teacher: Teacher, entry_id: int) -> None:
    """One of one's own."""
    entry = teacher.sign_ins.filter(pk=entry_id).first()
    if entry is None:
        raise NotFound(_("sign-in"))
    _end(teacher, [entry.session_key])
    security_log.note(Kind.SIGN_IN_ENDED, teacher, security_log.about(teacher))


@transaction.atomic
def end_all(teacher: Teacher, by: Teacher, but: str | None = None) -> int:
    """Every one of a teacher's, but for this session; how many that were."""
    keys = [entry.session_key for entry in teacher.sign_ins.exclude(session_key=but or "")]
    _end(teacher, keys)
    if keys:
        security_log.note(Kind.SIGN_IN_ENDED, by, security_log.about(teacher), f"{len(keys)}")
    return len(keys)


def _end(teacher: Teacher, keys: list[str]) -> None:
    Session.objects.filter(session_key__in=keys).delete()
    SignedIn.objects.filter(session_key__in=keys).delete()
    sign_ins_ended.send(Teacher, teacher=teacher, session_keys=keys)


def is_for_teachers(path: str) -> bool:
    """Students' devices ask by the hundred, and have no session of this kind."""
    return path.startswith("/api/v1/") and not path.startswith(("/api/v1/student/", "/api/v1/portal/"))


class SignInsEnd:
    """Ends a sign-in that was idle for too long, or has lasted too long."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        if is_for_teachers(request.path) and request.user.is_authenticated:
            key = request.session.session_key or ""
            entry, now = SignedIn.objects.filter(session_key=key).first(), timezone.now()
            if entry is None:
                # Signed in by an earlier version, which kept no list.
                device = device_of(request.META.get("HTTP_USER_AGENT", ""))
                SignedIn.objects.get_or_create(session_key=key, defaults={"teacher": request.user, "device": device})
            elif is_over(entry, now):
                logout(request)
            elif now - entry.seen_at > SEEN_EVERY:
                SignedIn.objects.filter(pk=entry.pk).update(seen_at=now)
        return self.get_response(request)
