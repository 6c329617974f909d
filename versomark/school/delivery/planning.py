"""Planning ahead: what a sitting is to be, for whom, under which rules; copied, moved, and put in a calendar."""

import io
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta

import segno
from django.db import transaction
from django.utils import timezone

from versomark.core.formats.calendar import Entry, calendar
from versomark.core.giving import Rules
from versomark.core.language import _, day
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass
from versomark.school.editions.public import Edition
from versomark.school.errors import DomainError

from .events import record
from .models import AFTER, BEFORE, EventKind, Sitting, Way
from .queries import sitting_of
from .services import in_time, plan


@dataclass(frozen=True)
class Plan:
    """What of a sitting can be settled ahead. `planned_for` without `opens_itself` is when the teacher means to open
    it; with it, the window opens then."""

    planned_for: datetime | None = None
    closes_at: datetime | None = None
    opens_itself: bool = False
    name: str = ""
    rules: Rules = field(default_factory=Rules)


@transaction.atomic
def plan_ahead(
    teacher: Teacher, edition: Edition, school_class: SchoolClass, wanted: Plan, students: Collection[int] | None = None
) -> Sitting:
    """A sitting of a class, or of some students of it (their ids)."""
    if students is not None and not students:
        raise DomainError(_("Choose at least one student."), status=422)
    sitting = plan(
        teacher, edition, school_class, wanted.planned_for, Way.ONLINE, closes_at=wanted.closes_at, students=students
    )
    return _keep(sitting, wanted)


@transaction.atomic
def change_plan(by: Teacher, sitting: Sitting, wanted: Plan) -> Sitting:
    """Before a sitting opens everything can change; after that its end and its name, and the students are told."""
    if sitting.state in AFTER:
        raise DomainError(_("This sitting is closed. Open it again to change when it ends."))
    now = Plan(sitting.planned_for, sitting.closes_at, sitting.opens_itself, sitting.name, sitting.read_rules())
    if sitting.state not in BEFORE and (wanted.planned_for, wanted.rules) != (now.planned_for, now.rules):
        raise DomainError(_("This sitting has been opened: its rules stay. Its end can be moved, and time be given."))
    if wanted.closes_at != now.closes_at:
        in_time(wanted.closes_at, wanted.planned_for)
        record(sitting, by, EventKind.END_MOVED, before=now.closes_at, after=wanted.closes_at)
    if wanted.planned_for != now.planned_for:
        record(sitting, by, EventKind.BEGINNING_MOVED, before=now.planned_for, after=wanted.planned_for)
    return _keep(sitting, wanted)


def _keep(sitting: Sitting, wanted: Plan) -> Sitting:
    if wanted.opens_itself and wanted.planned_for is None:
        raise DomainError(_("Say when it is to open by itself."), status=422)
    sitting.planned_for, sitting.closes_at = wanted.planned_for, wanted.closes_at
    sitting.opens_itself, sitting.name = wanted.opens_itself, wanted.name.strip()
    sitting.rules = wanted.rules.model_dump(mode="json", exclude_defaults=True)
    sitting.save(update_fields=["planned_for", "closes_at", "opens_itself", "name", "rules"])
    return sitting_of(sitting.owner, sitting.pk)


@transaction.atomic
def copy_to(teacher: Teacher, sitting: Sitting, classes: Sequence[SchoolClass]) -> list[Sitting]:
    """The same for other classes: test, times and rules, each class with all of its students."""
    wanted = Plan(
        planned_for=_still_ahead(sitting.planned_for),
        closes_at=_still_ahead(sitting.closes_at),
        opens_itself=sitting.opens_itself and _still_ahead(sitting.planned_for) is not None,
        rules=sitting.read_rules(),
    )
    return [plan_ahead(teacher, sitting.edition, school_class, wanted) for school_class in classes]


def _still_ahead(at: datetime | None) -> datetime | None:
    return at if at and at > timezone.now() else None


def name_of(sitting: Sitting) -> str:
    """As the teacher calls it, or else “8 Heron, circuits, 3 Nov”."""
    if sitting.name:
        return sitting.name
    begins = sitting.opened_at or sitting.planned_for
    parts = [sitting.school_class.name, sitting.edition.content["title"]]
    return ", ".join([*parts, day(timezone.localtime(begins), "d MMM")] if begins else parts)


def time_of(sitting: Sitting) -> tuple[datetime, datetime | None] | None:
    """From when until when it stands in a calendar; None where nothing is said of either."""
    starts = sitting.planned_for or sitting.opened_at or sitting.closes_at
    if starts is None:
        return None
    minutes = sitting.read_rules().minutes
    return starts, sitting.closes_at or (starts + timedelta(minutes=minutes) if minutes else None)


def as_calendar(sittings: Iterable[Sitting], address: str) -> bytes:
    """Those with a beginning or an end; `address` is that of the school's own pages."""
    entries = []
    for sitting in sittings:
        time = time_of(sitting)
        if time is None:
            continue
        starts, ends = time
        entries.append(
            Entry(
                uid=f"sitting-{sitting.pk}-{sitting.made_at:%Y%m%d%H%M%S}@verso-mark",
                name=name_of(sitting),
                starts=starts,
                ends=ends,
                description=_("Code on the board: {code}", code=sitting.code),
                address=f"{address}/sittings/{sitting.pk}",
            )
        )
    return calendar(entries, timezone.now())


def door_code(address: str) -> bytes:
    """An address as a QR code in SVG, with the quiet margin of four modules that ISO/IEC 18004 asks for."""
    out = io.BytesIO()
    segno.make(address, error="m", micro=False).save(
        out, kind="svg", border=4, omitsize=True, svgclass=None, lineclass=None
    )
    return out.getvalue()
