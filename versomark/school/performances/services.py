"""Marking while it is done: several students before one teacher, a watch, and sound or pictures as evidence.

The marks are marks like any other, so that second readings, histories, releases and findings know of them. Evidence is
a file that was handed in, in the answer of its student; the mark stands whatever is kept with it later.
"""

from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from django.db import transaction

from versomark.core.editions import EditionItem
from versomark.core.items.by_rubric import HandedIn, PerformanceResponse
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import (
    AFTER,
    EventKind,
    Seat,
    SeatState,
    Sitting,
    begin_without_devices,
    record,
    seat_changed,
)
from versomark.school.errors import DomainError, NotFound
from versomark.school.grading.public import (
    Mark,
    MarkGiven,
    MarkingPass,
    MarkState,
    beside_in,
    current_marks,
    give,
    in_other_hands,
    looked_again,
    names_hidden,
    plays,
    remarks_on,
    waived_in,
    with_rubrics_of_now,
)
from versomark.school.responses.public import HandedInFile, keep_evidence, keep_for, path_of, responses_of, seat_is_in

from .models import WatchedTime
from .schemas import Away, EvidenceLine, WatchedMark, WatchedStudent, WatchedWork

if TYPE_CHECKING:
    from django.core.files.uploadedfile import UploadedFile

MOST_EVIDENCE = 10
"""Files for one task of one student."""
AWAY: dict[SeatState, Away] = {SeatState.ABSENT: "absent", SeatState.EXCUSED: "excused"}


def tasks_of(sitting: Sitting) -> dict[str, EditionItem]:
    """What is watched and counts, in printed order, with the levels as they are now."""
    if names_hidden(sitting):
        raise DomainError(
            _("The names of this sitting are hidden, and whoever watches sees whom they mark. Show the names first.")
        )
    out = waived_in([sitting])[sitting.pk]
    tasks = {ref: item for ref, item in with_rubrics_of_now(sitting).items() if item.content.watched and ref not in out}
    if not tasks:
        raise NotFound(_("task that is marked while it is done"))
    return tasks


def is_alone(sitting: Sitting) -> bool:
    """Whether a test is nothing but tasks that are watched: then nobody hands anything in, and marks say who came."""
    return all(item.content.watched for item in sitting.edition.read().items())


def students_in(by: Teacher, sitting: Sitting, turn: MarkingPass, seat_id: int | None = None) -> list[WatchedStudent]:
    """In desk order, with what each has shown; in one reading, which is blind to the other."""
    tasks = tasks_of(sitting)
    seats = list(sitting.seats.select_related("student").order_by("desk"))
    if seat_id is not None:
        seats = [seat for seat in seats if seat.pk == seat_id]
    ids = [seat.pk for seat in seats]
    marks = current_marks(sitting, ids, turn)
    drafts = Mark.objects.filter(seat__in=ids, turn=turn, by=by, state=MarkState.DRAFT).select_related("by")
    own = {(draft.seat_id, draft.item): draft for draft in drafts}
    beside = set(beside_in(sitting, ids).filter(turn=turn).values_list("seat", "item"))
    seconds = {
        (row.seat_id, row.item): row.seconds for row in WatchedTime.objects.filter(seat__in=ids, item__in=list(tasks))
    }
    responses = responses_of(ids)
    students = []
    for seat in seats:
        work = {}
        for ref in tasks:
            place = (seat.pk, ref)
            mark = marks.get(place)
            if mark is None or mark.state == MarkState.DRAFT:
                # What a colleague has begun is theirs until they keep it.
                mark = own.get(place)
            work[ref] = WatchedWork(
                mark=_line(mark, by) if mark else None,
                beside=place in beside,
                seconds=seconds.get(place),
                evidence=[_evidence(file) for file in _files(responses[str(seat.pk)], ref)],
            )
        away: Away = "" if seat.ended_by_closing else AWAY.get(SeatState(seat.state), "")
        students.append(
            WatchedStudent(seat=seat.pk, desk=seat.desk, name=seat.student.short_name, away=away, work=work)
        )
    return students


def _line(mark: Mark, by: Teacher) -> WatchedMark:
    return WatchedMark(
        id=mark.pk,
        points=mark.points,
        comment=mark.comment,
        state=mark.state,  # type: ignore[arg-type]
        by=mark.by.name,
        mine=mark.by_id == by.pk,
    )


def _files(responses: Mapping[str, object], ref: str) -> list[HandedIn]:
    response = responses.get(ref)
    return response.files if isinstance(response, PerformanceResponse) else []


def _evidence(file: HandedIn) -> EvidenceLine:
    return EvidenceLine(file=file.file, name=file.name, bytes=file.bytes, kind=plays(file.name) or "picture")


def watched_seat(by: Teacher, sitting: Sitting, seat_id: int, ref: str) -> Seat:
    """The seat of a student who shows this task; refused where a colleague has shared its marks out."""
    if ref not in tasks_of(sitting):
        raise NotFound(_("task that is marked while it is done"))
    seat = sitting.seats.select_related("student").filter(pk=seat_id).first()
    if seat is None:
        raise NotFound(_("student in this sitting"))
    seat.sitting = sitting
    if pile := in_other_hands(by, seat):
        raise DomainError(_("{name} has shared these answers out as a pile. Mark them there.", name=pile.head.name))
    return seat


@transaction.atomic
def mark(by: Teacher, sitting: Sitting, seat_id: int, ref: str, given: MarkGiven, seconds: int | None) -> bool:
    """Give what was watched its mark. Returns whether it stands, or is kept beside a colleague's."""
    seat = watched_seat(by, sitting, seat_id, ref)
    begin_without_devices(sitting)
    if seconds is not None:
        WatchedTime.objects.update_or_create(seat=seat, item=ref, defaults={"seconds": seconds, "by": by})
    outcome = give(by, seat, ref, given)
    if not given.draft:
        looked_again(by, seat, ref)
    _came(seat)
    return outcome.stands


@transaction.atomic
def take_evidence(by: Teacher, sitting: Sitting, seat_id: int, ref: str, upload: "UploadedFile[bytes]") -> None:
    """Keep a sound, a picture or a film with what was shown."""
    seat = watched_seat(by, sitting, seat_id, ref)
    files = _files(responses_of([seat.pk])[str(seat.pk)], ref)
    if len(files) >= MOST_EVIDENCE:
        raise DomainError(_("At most {most} files are kept with one task.", most=MOST_EVIDENCE), status=422)
    begin_without_devices(sitting)
    file = keep_evidence(seat, ref, upload)
    keep_for(seat, {ref: PerformanceResponse(files=[*files, file])}, "teacher")
    _came(seat)
    seat_changed(sitting.pk)


@transaction.atomic
def take_away_evidence(by: Teacher, sitting: Sitting, seat_id: int, ref: str, file: str) -> None:
    """It belongs to the answer no more; the file stays until the sitting goes, as what students take back does."""
    seat = watched_seat(by, sitting, seat_id, ref)
    files = _files(responses_of([seat.pk])[str(seat.pk)], ref)
    place = next((at for at, entry in enumerate(files, start=1) if entry.file == file), None)
    if place is None:
        return
    every = [MarkingPass.FIRST, MarkingPass.SECOND, MarkingPass.AGREED]
    if any(remark.place.get("file", 0) >= place for remark in remarks_on(seat, ref, every)):
        raise DomainError(_("Somebody has written on it, or on one after it. Take that out first."))
    rest = [entry for entry in files if entry.file != file]
    keep_for(seat, {ref: PerformanceResponse(files=rest)}, "teacher")
    record(sitting, by, EventKind.EVIDENCE_TAKEN_AWAY, seat=seat, number=_number(sitting, ref))
    seat_changed(sitting.pk)


def evidence(sitting: Sitting, seat_id: int, file: str) -> tuple[Path, str]:
    """Where it lies, and what it is called."""
    row = HandedInFile.objects.filter(seat__sitting=sitting, seat=seat_id, pk=file).first()
    if row is None or row.item not in tasks_of(sitting):
        raise NotFound(_("file"))
    return path_of(row), row.name


def _number(sitting: Sitting, ref: str) -> int:
    return 1 + [item.ref for item in sitting.edition.read().items()].index(ref)


def _came(seat: Seat) -> None:
    """Who has shown something was there. Where nothing is handed in besides, the work is in with the last mark; other
    tests are in when they are handed in, and a mark that was given before waits for that."""
    sitting = seat.sitting
    if not is_alone(sitting):
        return
    marks = current_marks(sitting, [seat.pk])
    done = [ref for ref in tasks_of(sitting) if (mark := marks.get((seat.pk, ref))) and mark.state == MarkState.KEPT]
    if seat.state in AWAY:
        seat.state, seat.ended_by_closing = SeatState.EXPECTED, False
        seat.save(update_fields=["state", "ended_by_closing"])
    seat_is_in(seat, done=len(done) == len(tasks_of(sitting)) or sitting.state in AFTER)
