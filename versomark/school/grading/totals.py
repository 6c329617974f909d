"""Each student's total in a sitting: earned, less what lateness costs, or as a teacher set it."""

from collections.abc import Collection
from datetime import datetime, timedelta
from typing import Literal, NamedTuple

from django.db import transaction
from django.utils import timezone

from versomark.core.language import _, in_figures
from versomark.core.scoring import LateRule, corrected_totals, score, to_mark, total_of
from versomark.core.text import marks_text
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import AFTER, EventKind, Seat, SeatState, Sitting, mark_absence, record
from versomark.school.errors import DomainError
from versomark.school.responses.public import responses_of
from versomark.school.room.public import not_asked

from .models import ExcludedStudent, Lateness, ManualTotal, MarkState
from .queries import marks_by_pass, overrides_in, rubric_item, waived_in
from .services import MarkGiven, give, number_of

MOST_SET = 10_000


class Result(NamedTuple):
    """Where a student stands."""

    seat: Seat
    earned: float
    of: float
    """Full marks of what counts for this student so far."""
    lost: float
    """Taken off for handing in late."""
    total: float | None
    """None while there is none: nothing was handed in, and no total was set."""
    set_by: ManualTotal | None
    waiting: int
    """Their answers that wait for a mark; they are in neither `earned` nor `of`."""


def results_in(sitting: Sitting, seat_ids: Collection[int] | None = None, rule: LateRule | None = None) -> list[Result]:
    """Of these seats, or of all, in desk order; under another rule about late work than the sitting's, where given."""
    seats = sitting.seats.select_related("student", "sitting").order_by("desk")
    if seat_ids is not None:
        seats = seats.filter(pk__in=seat_ids)
    chosen = list(seats)
    edition, judged, rule = sitting.edition.read(), overrides_in(sitting), rule or rule_of(sitting)
    unasked = not_asked([sitting]).get(sitting.pk, frozenset())
    done = [seat.pk for seat in chosen if seat.state == SeatState.HANDED_IN]
    responses = responses_of(done)
    totals_set = standing_sets(sitting)
    results = []
    for seat in chosen:
        set_by = totals_set.get(seat.pk)
        if seat.pk not in done:
            of = edition.marks_without(judged.waived | unasked)
            results.append(Result(seat, 0.0, of, 0.0, set_by.total if set_by else None, set_by, 0))
            continue
        mine = {str(seat.pk): responses[str(seat.pk)]}
        # One student at a time: a colleague's answer that waits says nothing about this one.
        table = score(edition, mine, unasked, judged)
        waiting = sum(
            bool(some) and ref not in judged.waived and ref not in judged.marks.get(str(seat.pk), ())
            for ref, some in to_mark(edition, mine).items()
        )
        earned, of = float(corrected_totals(edition, table)[0]), table.max_total
        lost = rule.lost(seat.handed_in_at, earned, of) if rule and not seat.ended_by_closing else 0.0
        results.append(
            Result(seat, earned, of, lost, total_of(earned, lost, set_by.total if set_by else None), set_by, waiting)
        )
    return results


def standing_sets(sitting: Sitting) -> dict[int, ManualTotal]:
    rows = ManualTotal.objects.filter(seat__sitting=sitting, taken_back_at=None).select_related("by").order_by("pk")
    return {row.seat_id: row for row in rows}


def rule_of(sitting: Sitting) -> LateRule | None:
    lateness = Lateness.objects.filter(sitting=sitting).first()
    return rule_from(lateness.due, lateness.grace_minutes, lateness.per_day, lateness.most) if lateness else None


def rule_from(due: datetime, grace_minutes: int, per_day: float, most: float) -> LateRule:
    return LateRule(due, timedelta(minutes=grace_minutes), per_day, most)


@transaction.atomic
def set_lateness(by: Teacher, sitting: Sitting, due: datetime, grace_minutes: int, per_day: float, most: float) -> None:
    Lateness.objects.update_or_create(
        sitting=sitting, defaults={"due": due, "grace_minutes": grace_minutes, "per_day": per_day, "most": most}
    )
    record(sitting, by, EventKind.LATENESS_SET, per_day=per_day, most=most)


@transaction.atomic
def end_lateness(by: Teacher, sitting: Sitting) -> None:
    if Lateness.objects.filter(sitting=sitting).delete()[0]:
        record(sitting, by, EventKind.LATENESS_ENDED)


@transaction.atomic
def set_total(by: Teacher, seat: Seat, total: float, reason: str) -> None:
    """This total stands, whatever is worked out, until it is taken back."""
    if seat.state == SeatState.EXCUSED:
        raise DomainError(
            _("{short_name} is excused, so no total stands for them.", short_name=seat.student.short_name)
        )
    ManualTotal.objects.create(seat=seat, total=total, reason=_reason(reason), by=by)
    record(seat.sitting, by, EventKind.TOTAL_SET, seat, total=total, reason=_reason(reason))


@transaction.atomic
def take_total_back(by: Teacher, seat: Seat) -> None:
    if seat.totals_set.filter(taken_back_at=None).update(taken_back_at=timezone.now()):
        record(seat.sitting, by, EventKind.TOTAL_TAKEN_BACK, seat)


@transaction.atomic
def leave_out(by: Teacher, seat: Seat, reason: str) -> None:
    """Out of the statistics of the sitting; the student's own result stays."""
    _rest, created = ExcludedStudent.objects.update_or_create(seat=seat, defaults={"reason": _reason(reason), "by": by})
    if created:
        record(seat.sitting, by, EventKind.LEFT_OUT, seat, reason=_reason(reason))


@transaction.atomic
def take_in(by: Teacher, seat: Seat) -> None:
    if ExcludedStudent.objects.filter(seat=seat).delete()[0]:
        record(seat.sitting, by, EventKind.TAKEN_IN, seat)


def _reason(reason: str) -> str:
    words = " ".join(reason.split())[:300]
    if not words:
        raise DomainError(_("Give the reason: it stays with the result."), status=422)
    return words


class Empty(NamedTuple):
    """What has no mark and no total yet."""

    waiting: list[tuple[Seat, str]]
    """Answers that nobody has marked, by seat and question."""
    missing: list[Seat]
    """Students who handed nothing in, and have no total."""


def empty_in(sitting: Sitting) -> Empty:
    seats = {seat.pk: seat for seat in sitting.seats.select_related("student", "sitting").order_by("desk")}
    done = [pk for pk, seat in seats.items() if seat.state == SeatState.HANDED_IN]
    out = waived_in([sitting])[sitting.pk]
    needed = to_mark(sitting.edition.read(), responses_of(done))
    first = marks_by_pass(sitting, done)
    marked_cells = {place for marks in first.values() for place, mark in marks.items() if mark.state == MarkState.KEPT}
    waiting = [
        (seats[int(seat)], ref)
        for ref, some in needed.items()
        if ref not in out
        for seat in some
        if (int(seat), ref) not in marked_cells
    ]
    absent = (SeatState.EXPECTED, SeatState.ABSENT, SeatState.AT_THE_DOOR)
    sets = standing_sets(sitting)
    return Empty(waiting, [seat for pk, seat in seats.items() if seat.state in absent and pk not in sets])


Missing = Literal["leave", "total", "absent", "excused"]


class Filling(NamedTuple):
    """What becomes of what is empty; None leaves it."""

    waiting: float | None
    """Marks for every answer that waits."""
    missing: Missing
    total: float
    """For who handed nothing in, where they get a total."""


@transaction.atomic
def fill_empty(by: Teacher, sitting: Sitting, filling: Filling, reason: str) -> Empty:
    """The same marks for every answer that waits, and for who handed nothing in a total, absent or excused."""
    if sitting.state not in AFTER:
        raise DomainError(_("Close the sitting first: until then more may come in."))
    empty, words = empty_in(sitting), _reason(reason)
    if filling.waiting is not None:
        points = {ref: _points_for(sitting, ref, filling.waiting) for ref in {ref for _, ref in empty.waiting}}
        for seat, ref in empty.waiting:
            give(by, seat, ref, MarkGiven(points[ref], words, draft=False, seen=None))
    for seat in empty.missing if filling.missing != "leave" else []:
        if filling.missing == "total":
            set_total(by, seat, filling.total, words)
        else:
            mark_absence(sitting, seat.pk, SeatState(filling.missing))
            record(sitting, by, EventKind.ABSENCE_SET, seat, state=filling.missing, reason=words)
    return empty


def _points_for(sitting: Sitting, ref: str, marks: float) -> dict[str, float]:
    """Points of the rubric that are worth so many marks, spread over its criteria as evenly as half points allow."""
    _rest, content = rubric_item(sitting, ref)
    criteria, number = content.rubric.criteria, number_of(sitting, ref)
    if marks > content.marks:
        raise DomainError(
            _("Question {number} has at most {marks} marks.", number=number, marks=in_figures(content.marks, "g")),
            status=422,
        )
    halves = 2 * marks * content.rubric.total / content.marks
    left = round(halves)
    if abs(left - halves) > 1e-9:
        nearest = {
            marks_text(half * content.marks / content.rubric.total / 2) for half in (int(halves), int(halves) + 1)
        }
        says = _(
            "The rubric of question {number} cannot give {marks} marks; {list} it can.",
            number=number,
            marks=in_figures(marks, "g"),
            list=" or ".join(sorted(nearest)),
        )
        raise DomainError(says, status=422)
    points: dict[str, float] = {}
    for place, criterion in enumerate(criteria):
        rest = sum(criterion.max for criterion in criteria[place:])
        mine = min(round(2 * criterion.max), round(left * criterion.max / rest))
        # What the later ones cannot hold stays here.
        mine = max(mine, left - round(2 * (rest - criterion.max)))
        points[criterion.id] = mine / 2
        left -= mine
    return points
