"""Marks of a test given elsewhere: keyed in by the teacher, entered by the students, or brought in from a table.

A mark is an answer that stands, so everything later in the job treats it as one. The log keeps what stood before, and
who entered it. While nobody has said that students may enter theirs, the sitting is paused: its door is shut, and the
teacher's marks count all the same.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from django.db import transaction

from versomark.core.editions import is_described
from versomark.core.formats.marks_table import MarksColumn, MarksStudent, ReadMarks, mark_refused, read_marks
from versomark.core.formats.tables import Sheet
from versomark.core.items import ItemResponse
from versomark.core.items.marks_only import MarksOnly, MarksOnlyResponse
from versomark.core.language import _, in_figures
from versomark.school.classes.public import Student, add_students, places_of
from versomark.school.delivery.public import (
    AFTER,
    BEFORE,
    Seat,
    SeatState,
    Sitting,
    SittingState,
    begin_without_devices,
    nudges,
    open_sitting,
    settle_readiness,
)
from versomark.school.editions.public import freeze
from versomark.school.errors import DomainError, NotFound

from .models import CurrentAnswer
from .on_behalf import keep_for, seat_is_in

Presence = Literal["here", "absent", "excused"]
AWAY = (SeatState.ABSENT, SeatState.EXCUSED)


@dataclass(frozen=True)
class Mark:
    """One cell: the mark a student earned for a column, or None where it is taken away."""

    seat: int
    item: str
    points: float | None


@dataclass(frozen=True)
class EnteredMark:
    points: float
    source: str


def columns_of(sitting: Sitting) -> list[MarksColumn]:
    """The columns of a test given elsewhere; NotPossible, in words, for any other."""
    edition = sitting.edition.read()
    if not is_described(edition):
        raise DomainError(_("This test has questions of its own; its marks come from its answers."))
    return [MarksColumn(item.ref, item.content) for item in edition.items() if isinstance(item.content, MarksOnly)]


def current_marks(sitting: Sitting) -> dict[int, dict[str, EnteredMark]]:
    """seat -> column -> the mark that stands."""
    marks_by_seat: dict[int, dict[str, EnteredMark]] = {}
    rows = CurrentAnswer.objects.filter(seat__sitting=sitting).exclude(answer__response=None)
    for row in rows.select_related("answer"):
        response = row.answer.response or {}
        marks_by_seat.setdefault(row.seat_id, {})[row.item] = EnteredMark(response["points"], row.answer.source)
    return marks_by_seat


@transaction.atomic
def keep_marks(sitting: Sitting, marks: Sequence[Mark], presence: Mapping[int, Presence]) -> None:
    """Keep cells and who was away; all of them or, where one cannot stand, none. A mark makes an absent student
    present: who has a mark was there."""
    contents = {column.ref: column.content for column in columns_of(sitting)}
    _begin(sitting)
    seats = {seat.pk: seat for seat in sitting.seats.select_related("student", "sitting")}
    if not {mark.seat for mark in marks} | set(presence) <= set(seats):
        raise NotFound(_("seat in this sitting"))
    refused, given = list[str](), dict[int, dict[str, ItemResponse | None]]()
    for mark in marks:
        content = contents.get(mark.item)
        if content is None:
            raise NotFound(_("column in this test"))
        if mark.points is not None and (says := mark_refused(content, mark.points)):
            refused.append(f"{seats[mark.seat].student.short_name}: {says}")
            continue
        response = None if mark.points is None else MarksOnlyResponse(points=mark.points)
        given.setdefault(mark.seat, {})[mark.item] = response
    if refused:
        raise DomainError(_("Some marks cannot stand."), status=422, problems=refused)
    for seat_id, cells in given.items():
        if keep_for(seats[seat_id], cells, "teacher"):
            _settle_state(sitting, seats[seat_id], len(contents))
    for seat_id, how in presence.items():
        _set_presence(sitting, seats[seat_id], how, len(contents))
    nudges.sitting_changed(sitting.pk)


def _begin(sitting: Sitting) -> None:
    """The first mark begins the sitting, without letting students in."""
    if sitting.state == SittingState.RELEASED:
        raise DomainError(_("The results have been released. Take the release back to change a mark."))
    begin_without_devices(sitting)


def _settle_state(sitting: Sitting, seat: Seat, columns: int) -> None:
    """A full row counts; so does any row that has a mark once all marks are in."""
    marked = seat.current.exclude(answer__response=None).count()
    over = sitting.state in AFTER
    if marked == 0 and over:
        seat.state, seat.handed_in_at, seat.ended_by_closing = SeatState.ABSENT, None, True
        seat.save(update_fields=["state", "handed_in_at", "ended_by_closing"])
        return
    came = marked > 0 or seat.answers.filter(source="device").exists()
    seat_is_in(seat, done=marked == columns or (over and marked > 0), begun=came)


def _set_presence(sitting: Sitting, seat: Seat, how: Presence, columns: int) -> None:
    if how == "here":
        seat.state = SeatState.EXPECTED if seat.state in AWAY else seat.state
        _settle_state(sitting, seat, columns)
        seat.save(update_fields=["state"])
        return
    seat.state = SeatState.ABSENT if how == "absent" else SeatState.EXCUSED
    seat.ended_by_closing, seat.handed_in_at = False, None
    seat.save(update_fields=["state", "ended_by_closing", "handed_in_at"])


@transaction.atomic
def let_students_enter(sitting: Sitting, may: bool) -> None:
    """Open the door for students to enter their own marks, or shut it; what they entered stays."""
    columns = len(columns_of(sitting))
    if may:
        open_sitting(sitting)
    elif sitting.state == SittingState.OPEN:
        sitting.state = SittingState.PAUSED
        sitting.save(update_fields=["state"])
        # A row that a student has filled but not handed in stays open to them while entry is; now it counts.
        for seat in sitting.seats.filter(state=SeatState.WORKING).select_related("sitting"):
            _settle_state(sitting, seat, columns)
        nudges.sitting_changed(sitting.pk)


def not_seated(sitting: Sitting) -> list[Student]:
    """Who is in the class now and has no seat, in desk order."""
    seated = sitting.seats.values("student_id")
    return [place.student for place in places_of(sitting.school_class).exclude(student_id__in=seated)]


@transaction.atomic
def add_seat(sitting: Sitting, student_id: int | None, name: str = "") -> Seat:
    """A seat for someone of the class who joined it since; a name puts a new student on the class list first."""
    if sitting.state in BEFORE:
        settle_readiness(sitting)
    if name.strip():
        student_id = add_students(sitting.school_class, [name])[0].student_id
    place = places_of(sitting.school_class).filter(student_id=student_id or 0).first()
    if place is None:
        raise NotFound(_("student in this class"))
    seat, _made = Seat.objects.get_or_create(sitting=sitting, student=place.student, defaults={"desk": place.desk})
    nudges.sitting_changed(sitting.pk)
    return seat


def newer_description(sitting: Sitting) -> bool:
    """Whether the description says something else by now than this sitting uses."""
    description = sitting.edition.test.description()
    if description is None:
        return False
    refs = {group.ref: group for group in description.groups if not group.empty}
    used = sitting.edition.read()
    return [item.ref for item in used.items()] != list(refs) or any(
        (c.content.label, c.content.marks, c.content.half_marks, c.content.stem, c.content.follow_up, item.skills)
        != (g.label, g.marks, description.half_marks, g.about, g.follow_up, g.skills)
        for c, item, g in zip(columns_of(sitting), used.items(), refs.values(), strict=False)
    )


@transaction.atomic
def use_newest_description(sitting: Sitting) -> None:
    """Go on with the description as it is now. Marks stay with their lines; refused where one would be over its
    maximum, or its line is gone."""
    columns_of(sitting)  # of another kind of sitting there is no description to go on with
    edition = freeze(sitting.edition.test)
    contents = {item.ref: item.content for item in edition.read().items()}
    names = {seat.pk: seat.student.short_name for seat in sitting.seats.select_related("student")}
    problems = []
    for seat, marks in current_marks(sitting).items():
        for ref, mark in marks.items():
            content = contents.get(ref)
            if not isinstance(content, MarksOnly):
                problems.append(
                    _(
                        "{names} has {points} for a line that is no longer there.",
                        names=names[seat],
                        points=in_figures(mark.points, "g"),
                    )
                )
            elif says := mark_refused(content, mark.points):
                problems.append(
                    _("{names} has {points}. {says}", names=names[seat], points=in_figures(mark.points, "g"), says=says)
                )
    if problems:
        raise DomainError(_("Some marks do not fit the new description."), problems=problems)
    sitting.edition = edition
    sitting.save(update_fields=["edition"])
    if sitting.state not in BEFORE:
        for row in sitting.seats.exclude(state__in=AWAY).select_related("sitting"):
            _settle_state(sitting, row, len(contents))
    nudges.sitting_changed(sitting.pk)


@dataclass(frozen=True)
class TableLooked:
    """What a table would change, before it does. fresh: cells that were empty; other: those that say something else."""

    read: ReadMarks
    students: int
    fresh: int
    other: int
    same: int


def look_at_table(sitting: Sitting, sheets: Sequence[Sheet]) -> TableLooked:
    """The first sheet that has marks in it, read against this sitting. Keeps nothing."""
    columns, students = columns_of(sitting), _students(sitting)
    marks = [read_marks(sheet, columns, students) for sheet in sheets]
    read = next((entry for entry in marks if entry.marks or entry.absences), marks[0])
    standing = current_marks(sitting)
    before = {key: standing.get(key[0], {}).get(key[1]) for key in read.marks}
    same = sum(mark is not None and mark.points == read.marks[key] for key, mark in before.items())
    fresh = sum(mark is None for mark in before.values())
    students_named = {key for key, _ in read.marks} | set(read.absences)
    return TableLooked(read, len(students_named), fresh, len(before) - fresh - same, same)


def bring_table(sitting: Sitting, sheets: Sequence[Sheet]) -> TableLooked:
    preview = look_at_table(sitting, sheets)
    marks = [Mark(seat, item, points) for (seat, item), points in preview.read.marks.items()]
    keep_marks(sitting, marks, dict(preview.read.absences))
    return preview


def _students(sitting: Sitting) -> list[MarksStudent]:
    return [
        MarksStudent(seat.pk, seat.desk, seat.student.given_name, seat.student.family_name, seat.student.number)
        for seat in sitting.seats.select_related("student").order_by("desk")
    ]
