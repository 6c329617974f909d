"""Periods, calendar addresses, and what a calendar reads under one."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import time, timedelta

from django.db import transaction
from django.utils import timezone

from versomark.core.formats.calendar import Entry, calendar
from versomark.core.language import _, in_language
from versomark.school.accounts.public import School, Teacher, languages
from versomark.school.classes.public import Student
from versomark.school.delivery.public import as_calendar, is_marks_only, sittings_of, time_of
from versomark.school.errors import DomainError, NotFound
from versomark.school.portal import public as portal

from .models import CalendarAddress, Period, new_token

MOST_PERIODS = 30
TOKEN = re.compile(r"[A-Za-z0-9_-]{1,40}")
LONG_AGO = timedelta(days=90)
"""What was sat before is no longer in a calendar that is read."""


@dataclass(frozen=True)
class PeriodWanted:
    name: str
    starts: time
    ends: time


def periods_of(school: School) -> list[Period]:
    return list(school.periods.all())


@transaction.atomic
def keep_periods(admin: Teacher, wanted: Sequence[PeriodWanted]) -> list[Period]:
    """In place of those there were."""
    if not admin.is_admin:
        raise DomainError(_("The periods of the school are set by an administrator."), status=403)
    if len(wanted) > MOST_PERIODS:
        raise DomainError(_("A day has at most {most} periods.", most=MOST_PERIODS), status=422)
    names = [period.name.strip() for period in wanted]
    problems = [_("A period needs a name.")] if not all(names) else []
    problems += [
        _("“{name}” stands there twice.", name=name) for name in dict.fromkeys(names) if name and names.count(name) > 1
    ]
    problems += [
        _("“{name}” ends before it begins.", name=period.name) for period in wanted if period.ends <= period.starts
    ]
    if problems:
        raise DomainError(_("The periods cannot be kept so."), status=422, problems=problems)
    admin.school.periods.all().delete()
    Period.objects.bulk_create(
        Period(school=admin.school, name=name, starts=period.starts, ends=period.ends)
        for name, period in zip(names, wanted, strict=True)
    )
    return periods_of(admin.school)


def token_of(teacher: Teacher | None = None, student: Student | None = None) -> str:
    """The address there is; made when it is first asked for."""
    address, _made = CalendarAddress.objects.get_or_create(teacher=teacher, student=student)
    return address.token


def new_token_of(teacher: Teacher | None = None, student: Student | None = None) -> str:
    """The old address leads nowhere from now on."""
    token = new_token()
    CalendarAddress.objects.update_or_create(teacher=teacher, student=student, defaults={"token": token})
    return token


def feed(token: str, pages: str) -> bytes:
    """pages: the address of the school's own pages."""
    # What is no token is not asked for: PostgreSQL takes no text with a zero in it.
    asked = CalendarAddress.objects.filter(token=token) if TOKEN.fullmatch(token) else CalendarAddress.objects.none()
    address = asked.select_related("teacher__school", "student__school").first()
    if address is None or (address.teacher is not None and not address.teacher.is_active):
        raise NotFound(_("calendar"))
    if address.teacher is not None:
        with in_language(languages.of_teacher(address.teacher)):
            return _of_teacher(address.teacher, pages)
    assert address.student is not None  # the database says that it is one of the two
    return _of_student(address.student, pages)


def _of_teacher(teacher: Teacher, pages: str) -> bytes:
    since = timezone.now() - LONG_AGO
    own = sittings_of(teacher).filter(owner=teacher, school_class__is_practice=False).exclude(planned_for__lt=since)
    return as_calendar([sitting for sitting in own.exclude(closed_at__lt=since) if not is_marks_only(sitting)], pages)


def _of_student(student: Student, pages: str) -> bytes:
    """What they may know of by their own page, and not what they have in front of them there."""
    entries = []
    for own in portal.sittings_of(student):
        when = time_of(own.seat.sitting)
        if when is not None and own.stage in ("open", "coming"):
            entries.append(Entry(f"seat-{own.seat.pk}@verso-mark", own.title, *when, "", f"{pages}/mine"))
    return calendar(entries, timezone.now())
