"""What students are told about a sitting, where its rules say so: it was assigned, changed, ends soon, is released.

Nothing is told at the moment it happens. What ought to have been told follows from how the sittings stand, and what has
not been told yet is told: so a service that was off, or a teacher who moves an end twice, loses and doubles nothing.
"""

from collections.abc import Iterable, Iterator
from datetime import datetime, timedelta
from typing import Any, NamedTuple
from zlib import crc32

from django.db.models import Exists, OuterRef, Q
from django.utils import timezone

from versomark.school import turns
from versomark.school.delivery.public import AFTER, EventKind, Seat, SeatState, Sitting, SittingEvent, SittingState, Way
from versomark.school.grading.public import Release, answered_in, shown_in

from .models import Mail, Notice, NoticeKind

SOON = timedelta(hours=24)
"""How long before its end a student who has not handed in hears of it."""
TOLD_FOR = timedelta(days=60)
"""Of sittings that closed longer ago nothing new is told."""


class Told(NamedTuple):
    kind: NoticeKind
    about: str
    facts: dict[str, Any]


def tell_all(now: datetime | None = None) -> int:
    """Give every notice that is due and was not given yet; returns how many."""
    now = now or timezone.now()
    given = 0
    for sitting in _told_sittings(now):
        had = set(sitting.notices.values_list("student_id", "kind", "about"))
        assigned = dict(sitting.notices.filter(kind=NoticeKind.ASSIGNED).values_list("student_id", "made_at"))
        shown, answered = shown_in(sitting), answered_in(sitting)
        moves = list(sitting.events.filter(seat=None, kind__in=(EventKind.END_MOVED, EventKind.BEGINNING_MOVED)))
        fresh = [
            Notice(
                student=seat.student,
                sitting=sitting,
                kind=entry.kind,
                about=entry.about,
                facts={"title": sitting.edition.read().title, **entry.facts},
                mail=Mail.WAITING if seat.student.email else Mail.NO_ADDRESS,
            )
            for seat in sitting.seats.select_related("student")
            for entry in (
                *due(sitting, seat, now, _since(assigned.get(seat.student_id), moves), seat.pk in shown),
                *(Told(NoticeKind.ANSWERED, f"answer {question}", {}) for question in answered.get(seat.pk, ())),
            )
            if (seat.student_id, entry.kind, entry.about) not in had
        ]
        if fresh:
            with turns.working_on(turns.Area(sitting.owner.school_id)):
                Notice.objects.bulk_create(fresh)
        given += len(fresh)
    return given


def _told_sittings(now: datetime) -> Iterable[Sitting]:
    """Those that have anything to tell; of lessons students hear in the lesson."""
    released = Exists(Release.objects.filter(sitting=OuterRef("pk"), taken_back_at=None))
    working = Seat.objects.filter(sitting=OuterRef("pk"), state=SeatState.WORKING)
    sittings = Sitting.objects.annotate(released=released, given_back=Exists(working.exclude(returned_with="")))
    sittings = sittings.filter(Q(rules__tell=True) | Q(released=True) | Q(given_back=True))
    sittings = sittings.exclude(way=Way.ROOM, released=False).exclude(state=SittingState.PLANNED)
    sittings = sittings.exclude(closed_at__lt=now - TOLD_FOR)
    # Of most of those that are closed there is nothing more to tell, and they would be looked at again and again.
    by_itself = Q(rules__results__in=["handed in", "closed"])
    sittings = sittings.exclude(Q(state=SittingState.CLOSED, released=False, given_back=False) & ~by_itself)
    return sittings.select_related("edition", "owner").defer("edition__content")


def _since(assigned: datetime | None, moves: Iterable[SittingEvent]) -> int | None:
    """The latest move after a student was told of the sitting; before that they hear how it stands anyway."""
    return max((move.pk for move in moves if assigned is not None and move.at > assigned), default=None)


def due(sitting: Sitting, seat: Seat, now: datetime, moved: int | None, shown: bool) -> Iterator[Told]:
    """What this student should have been told by now. `moved` numbers the latest change that is news to them; `shown`:
    they may see their results."""
    handed_in = seat.state in (SeatState.HANDED_IN, SeatState.EXCUSED)
    if sitting.state not in AFTER and not handed_in and sitting.read_rules().tell:
        yield Told(NoticeKind.ASSIGNED, "", when(sitting))
        if moved is not None:
            # Several moves before anybody looks are one piece of news: how it stands now.
            yield Told(NoticeKind.CHANGED, str(moved), when(sitting))
        if (
            sitting.closes_at is not None
            and now >= sitting.closes_at - SOON
            and sitting.made_at < (sitting.closes_at - SOON)
        ):
            about = f"{sitting.closes_at:%Y-%m-%dT%H:%M}"
            yield Told(NoticeKind.DUE, about, {"ends": sitting.closes_at.isoformat()})
    if seat.state == SeatState.WORKING and seat.returned_with:
        about = f"given back {crc32(seat.returned_with.encode())}"
        yield Told(NoticeKind.CHANGED, about, {"comment": seat.returned_with})
    if shown and sitting.state in AFTER:
        yield Told(NoticeKind.RELEASED, "", {})


def when(sitting: Sitting) -> dict[str, Any]:
    """The facts of when it is to be sat; moments as ISO 8601."""
    begins = sitting.planned_for or sitting.opened_at
    return {
        "begins": begins.isoformat() if begins else None,
        "ends": sitting.closes_at.isoformat() if sitting.closes_at else None,
        "minutes": sitting.read_rules().minutes or 0,
    }
