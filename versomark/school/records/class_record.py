"""The record of a class: every sitting that is over by every student, and averages that say over what.

Totals of 120 sittings are not scored anew: the kept analysis of a sitting has everybody's, by content. Where it does
not (somebody left out of the figures, answers that wait), that sitting alone is worked out student by student.
"""

from collections.abc import Mapping, Sequence
from datetime import date, datetime
from typing import Literal, NamedTuple

from django.utils import timezone
from pydantic import BaseModel

from versomark.core.scoring import LateRule, total_of
from versomark.school.classes.models import SchoolClass, Student
from versomark.school.classes.services import places_of
from versomark.school.findings.services import findings_of_several
from versomark.school.marking.models import HiddenNames, OutOfFigures
from versomark.school.results.models import Lateness, TotalSet
from versomark.school.results.totals import results_in, rule_from
from versomark.school.sittings.models import Seat, SeatState, Sitting
from versomark.school.sittings.planning import name_of
from versomark.school.sittings.services import AFTER

Word = Literal["", "absent", "excused", "missing", "waiting"]
"""What stands in place of a mark: “missing” for who had a seat and gave nothing."""


class RecordCell(BaseModel):
    total: float | None
    of: float | None
    share: float | None
    word: Word
    late: bool
    """Whether marks were taken off for it."""
    set: bool
    """Whether a teacher set the total."""


class RecordSitting(BaseModel):
    id: int
    name: str
    title: str
    held_on: date
    mean: float | None
    """Share of the marks, of those who have one."""
    waiting: int
    """Answers that wait for a mark."""
    names_hidden: bool


class RecordStudent(BaseModel):
    student: int
    desk: int
    name: str
    cells: list[RecordCell | None]
    """By sitting; None for one without a seat in it."""
    average: float | None
    """Of the shares, each sitting the same."""
    over: int
    """How many sittings it is over."""


class ClassRecord(BaseModel):
    class_id: int
    class_name: str
    opening: str
    sittings: list[RecordSitting]
    """Newest first."""
    students: list[RecordStudent]
    average: float | None


class _Total(NamedTuple):
    earned: float
    of: float
    waiting: int


def record_of(school_class: SchoolClass) -> ClassRecord:
    sittings = list(
        Sitting.objects.filter(school_class=school_class, state__in=AFTER)
        .select_related("edition", "edition__test", "school_class")
        .order_by("-opened_at", "-pk")
    )
    hidden = set(HiddenNames.objects.filter(sitting__in=sittings, shown_at=None).values_list("sitting", flat=True))
    seats: dict[int, dict[int, Seat]] = {one.pk: {} for one in sittings}
    for seat in Seat.objects.filter(sitting__in=sittings).order_by():
        seats[seat.sitting_id][seat.student_id] = seat
    totals = _totals([one for one in sittings if one.pk not in hidden])
    rules = {
        one.sitting_id: rule_from(one.due, one.grace_minutes, one.per_day, one.most)
        for one in Lateness.objects.filter(sitting__in=sittings)
    }
    rows = TotalSet.objects.filter(seat__sitting__in=sittings, taken_back_at=None).order_by("pk")
    totals_set = dict(rows.values_list("seat", "total"))
    students = [
        _student(
            place.student,
            place.desk,
            [
                _cell(seats[one.pk].get(place.student_id), totals.get(one.pk, {}), rules.get(one.pk), totals_set)
                if one.pk not in hidden
                else None
                for one in sittings
            ],
        )
        for place in places_of(school_class)
    ]
    columns = [
        RecordSitting(
            id=one.pk,
            name=name_of(one),
            title=one.edition.content["title"],
            held_on=timezone.localdate(one.opened_at or one.made_at),
            mean=_mean([cell.share for row in students if (cell := row.cells[at]) is not None]),
            waiting=sum(total.waiting for total in totals.get(one.pk, {}).values()),
            names_hidden=one.pk in hidden,
        )
        for at, one in enumerate(sittings)
    ]
    average = _mean([row.average for row in students])
    return ClassRecord(
        class_id=school_class.pk,
        class_name=school_class.name,
        opening=_opening(columns, students, average),
        sittings=columns,
        students=students,
        average=average,
    )


def _totals(sittings: Sequence[Sitting]) -> dict[int, dict[int, _Total]]:
    """By sitting and seat, of those who handed in."""
    out = set(OutOfFigures.objects.filter(seat__sitting__in=sittings).values_list("seat__sitting", flat=True))
    found: dict[int, dict[int, _Total]] = {}
    for sitting, kept in zip(sittings, findings_of_several(sittings), strict=True):
        whole = kept is not None and sitting.pk not in out and not any(q["waiting"] for q in kept.body["paper"])
        if kept is not None and whole:
            of = kept.body["test"]["max"]
            found[sitting.pk] = {int(seat): _Total(total, of, 0) for seat, total in kept.body["totals"].items()}
        else:
            found[sitting.pk] = {
                one.seat.pk: _Total(one.earned, one.of, one.waiting)
                for one in results_in(sitting)
                if one.seat.state == SeatState.HANDED_IN
            }
    return found


def _cell(
    seat: Seat | None, totals: Mapping[int, _Total], rule: LateRule | None, totals_set: Mapping[int, float]
) -> RecordCell | None:
    if seat is None:
        return None
    earned, set_to = totals.get(seat.pk), totals_set.get(seat.pk)
    if earned is None and set_to is None:
        words: dict[str, Word] = {SeatState.ABSENT: "absent", SeatState.EXCUSED: "excused"}
        word = words.get(seat.state, "missing")
        return RecordCell(total=None, of=None, share=None, word=word, late=False, set=False)
    own = earned or _Total(0.0, next((one.of for one in totals.values()), 0.0), 0)
    lost = _lost(rule, seat.handed_in_at, own) if not seat.ended_by_closing else 0.0
    if own.of <= 0:
        word = "waiting" if own.waiting else "missing"
        return RecordCell(total=None, of=None, share=None, word=word, late=False, set=False)
    total = total_of(own.earned, lost, set_to)
    return RecordCell(
        total=total,
        of=own.of,
        share=total / own.of,
        word="waiting" if own.waiting else "",
        late=lost > 0 and set_to is None,
        set=set_to is not None,
    )


def _lost(rule: LateRule | None, handed_in_at: datetime | None, total: _Total) -> float:
    return rule.lost(handed_in_at, total.earned, total.of) if rule else 0.0


def _student(student: Student, desk: int, cells: list[RecordCell | None]) -> RecordStudent:
    shares = [cell.share for cell in cells if cell is not None and cell.share is not None]
    return RecordStudent(
        student=student.pk,
        desk=desk,
        name=student.short_name,
        cells=cells,
        average=_mean(shares),
        over=len(shares),
    )


def _mean(values: Sequence[float | None]) -> float | None:
    known = [value for value in values if value is not None]
    return sum(known) / len(known) if known else None


def _opening(sittings: Sequence[RecordSitting], students: Sequence[RecordStudent], average: float | None) -> str:
    """The sentences that matter, for a teacher."""
    if not sittings:
        return "Nothing has been sat to the end yet."
    count = len(sittings)
    said = [f"{count} sitting{'s' if count != 1 else ''}, newest first."]
    if average is not None:
        said.append(f"On average {average:.0%} of the marks, every sitting counted the same.")
    missing = [
        (row.name, absent)
        for row in students
        if (absent := sum(cell is not None and cell.word in ("absent", "missing") for cell in row.cells))
    ]
    if missing:
        most = max(missing, key=lambda one: one[1])
        times = "one of them" if most[1] == 1 else f"{most[1]} of them"
        tail = "" if len(missing) == 1 else f", and {len(missing) - 1} more missed something"
        said.append(f"{most[0]} missed {times}{tail}.")
    waiting = sum(one.waiting for one in sittings)
    if waiting:
        said.append(f"{waiting} answer{'s' if waiting != 1 else ''} still wait for a mark and are in no figure here.")
    return " ".join(said)
