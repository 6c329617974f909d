"""The record of a class: every sitting that is over by every student, terms, and averages that say over what.

Totals of 120 sittings are not scored anew: the kept analysis of a sitting has everybody's, by content. Where it does
not (somebody left out of the figures, answers that wait), that sitting alone is worked out student by student.
"""

from collections.abc import Mapping, Sequence
from datetime import date, datetime
from typing import NamedTuple

from pydantic import BaseModel

from versomark.core.language import _, _n, in_figures
from versomark.core.scoring import LateRule, total_of
from versomark.school.classes.public import SchoolClass, Student, places_of
from versomark.school.delivery.public import Seat, SeatState, Sitting, name_of
from versomark.school.findings.public import totals_of_several
from versomark.school.grading.public import ExcludedStudent, HiddenNames, Lateness, ManualTotal, results_in, rule_from

from .models import Category, InRecord, ManualTermGrade, Term
from .rules import standing_sets, terms_of
from .standing import ClassRules, RecordCell, TermCell, Word, class_rules_of, day_of, sittings_over, standings_in


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
    term: int | None
    category: int | None
    counts: bool
    baseline: bool


class RecordStudent(BaseModel):
    student: int
    desk: int
    name: str
    cells: list[RecordCell | None]
    """By sitting; None for one without a seat in it."""
    terms: list[TermCell]
    average: float | None
    """Of the shares, over all sittings that count."""
    said: str
    over: int
    """How many sittings it is over."""
    weight: float
    """Share of the weight of all categories that it is over."""


class RecordTerm(BaseModel):
    id: int
    name: str
    starts: date
    ends: date
    mean: float | None


class RecordCategory(BaseModel):
    id: int
    name: str
    weight: float
    sittings: int


class ScaleStep(BaseModel):
    least: float
    word: str


class RulesShown(BaseModel):
    scale_name: str
    scale_steps: list[ScaleStep]
    missing_is_zero: bool
    other_weight: float
    in_words: str
    """What an average here is over."""


class ClassRecord(BaseModel):
    class_id: int
    class_name: str
    opening: str
    rules: RulesShown
    terms: list[RecordTerm]
    """Oldest first."""
    categories: list[RecordCategory]
    sittings: list[RecordSitting]
    """Newest first."""
    students: list[RecordStudent]
    average: float | None


class _Total(NamedTuple):
    earned: float
    of: float
    waiting: int


def record_of(school_class: SchoolClass, only: Student | None = None) -> ClassRecord:
    """Of the class, or of one student of it."""
    sittings = sittings_over(school_class)
    hidden = set(HiddenNames.objects.filter(sitting__in=sittings, shown_at=None).values_list("sitting", flat=True))
    seats: dict[int, dict[int, Seat]] = {sitting.pk: {} for sitting in sittings}
    for seat in Seat.objects.filter(sitting__in=sittings).order_by():
        seats[seat.sitting_id][seat.student_id] = seat
    totals = _totals([sitting for sitting in sittings if sitting.pk not in hidden])
    late_rules = {
        lateness.sitting_id: rule_from(lateness.due, lateness.grace_minutes, lateness.per_day, lateness.most)
        for lateness in Lateness.objects.filter(sitting__in=sittings)
    }
    rows = ManualTotal.objects.filter(seat__sitting__in=sittings, taken_back_at=None).order_by("pk")
    totals_set = dict(rows.values_list("seat", "total"))
    terms, class_rules = terms_of(school_class.owner), class_rules_of(school_class, sittings)
    sets = standing_sets(school_class)
    students = []
    for place in places_of(school_class):
        cells = [
            _cell(
                seats[sitting.pk].get(place.student_id),
                totals.get(sitting.pk, {}),
                late_rules.get(sitting.pk),
                totals_set,
                class_rules,
            )
            if sitting.pk not in hidden
            else None
            for sitting in sittings
        ]
        students.append(_student(place.student, place.desk, cells, terms, class_rules, sets))
    unplaced = InRecord()
    columns = [
        RecordSitting(
            id=sitting.pk,
            name=name_of(sitting),
            title=sitting.edition.content["title"],
            held_on=day_of(sitting),
            mean=_mean([cell.share for row in students if (cell := row.cells[at]) is not None]),
            waiting=sum(total.waiting for total in totals.get(sitting.pk, {}).values()),
            names_hidden=sitting.pk in hidden,
            term=class_rules.in_term[sitting.pk],
            category=class_rules.places.get(sitting.pk, unplaced).category_id,
            counts=class_rules.places.get(sitting.pk, unplaced).counts,
            baseline=class_rules.places.get(sitting.pk, unplaced).baseline,
        )
        for at, sitting in enumerate(sittings)
    ]
    average = _mean([row.average for row in students])
    return ClassRecord(
        class_id=school_class.pk,
        class_name=school_class.name,
        opening=_opening(columns, students, average),
        rules=_shown(school_class, class_rules),
        terms=[
            RecordTerm(
                id=term.pk,
                name=term.name,
                starts=term.starts,
                ends=term.ends,
                mean=_mean([row.terms[at].share for row in students if not row.terms[at].carried]),
            )
            for at, term in enumerate(terms)
        ],
        categories=[
            RecordCategory(
                id=category.pk,
                name=category.name,
                weight=category.weight,
                sittings=sum(column.category == category.pk for column in columns),
            )
            for category in Category.objects.filter(school_class=school_class)
        ],
        sittings=columns,
        students=[row for row in students if only is None or row.student == only.pk],
        average=average,
    )


def _shown(school_class: SchoolClass, class_rules: ClassRules) -> RulesShown:
    rules, categories = class_rules.rules, list(Category.objects.filter(school_class=school_class))
    if categories:
        parts = [f"{category.name} {category.weight:g}" for category in categories] + [
            _("other {other_weight}", other_weight=in_figures(rules.other_weight, "g"))
        ]
        how = _(
            "Averages weigh the categories ({list}); in a category every sitting is the same.", list=", ".join(parts)
        )
    else:
        how = _("Averages are over the sittings a student has a total in, each the same.")
    zero = _(" What is missing counts as nothing.") if rules.missing_is_zero else ""
    return RulesShown(
        scale_name=rules.scale_name,
        scale_steps=[ScaleStep(least=step.least, word=step.word) for step in class_rules.scale.steps]
        if class_rules.scale
        else [],
        missing_is_zero=rules.missing_is_zero,
        other_weight=rules.other_weight,
        in_words=how + zero,
    )


def _totals(sittings: Sequence[Sitting]) -> dict[int, dict[int, _Total]]:
    """By sitting and seat, of those who handed in."""
    out = set(ExcludedStudent.objects.filter(seat__sitting__in=sittings).values_list("seat__sitting", flat=True))
    totals: dict[int, dict[int, _Total]] = {}
    for sitting, totals_kept in zip(sittings, totals_of_several(sittings), strict=True):
        if totals_kept is not None and sitting.pk not in out and not totals_kept.waiting:
            totals[sitting.pk] = {seat: _Total(total, totals_kept.of, 0) for seat, total in totals_kept.totals.items()}
        else:
            totals[sitting.pk] = {
                result.seat.pk: _Total(result.earned, result.of, result.waiting)
                for result in results_in(sitting)
                if result.seat.state == SeatState.HANDED_IN
            }
    return totals


def _cell(
    seat: Seat | None,
    totals: Mapping[int, _Total],
    rule: LateRule | None,
    totals_set: Mapping[int, float],
    class_rules: ClassRules,
) -> RecordCell | None:
    if seat is None:
        return None
    earned, set_to = totals.get(seat.pk), totals_set.get(seat.pk)
    cell = RecordCell(seat=seat.pk, total=None, of=None, share=None, said="", word="missing", late=False, set=False)
    if earned is None and set_to is None:
        # Absent is who a teacher said is absent; that closing found nothing of somebody says no more than that.
        absent: Word = "missing" if seat.ended_by_closing else "absent"
        words: dict[str, Word] = {SeatState.ABSENT: absent, SeatState.EXCUSED: "excused"}
        return cell.model_copy(update={"word": words.get(seat.state, "missing")})
    own = earned or _Total(0.0, next((total.of for total in totals.values()), 0.0), 0)
    lost = _lost(rule, seat.handed_in_at, own) if not seat.ended_by_closing else 0.0
    if own.of <= 0:
        return cell.model_copy(update={"word": "waiting" if own.waiting else "missing"})
    total = total_of(own.earned, lost, set_to)
    return RecordCell(
        seat=seat.pk,
        total=total,
        of=own.of,
        share=total / own.of,
        said=class_rules.said(total / own.of),
        word="waiting" if own.waiting else "",
        late=lost > 0 and set_to is None,
        set=set_to is not None,
    )


def _lost(rule: LateRule | None, handed_in_at: datetime | None, total: _Total) -> float:
    return rule.lost(handed_in_at, total.earned, total.of) if rule else 0.0


def _student(
    student: Student,
    desk: int,
    cells: list[RecordCell | None],
    terms: Sequence[Term],
    class_rules: ClassRules,
    sets: Mapping[tuple[int, int], ManualTermGrade],
) -> RecordStudent:
    both = list(zip(class_rules.sittings, cells, strict=True))
    whole = class_rules.average(both)
    standings = standings_in(student.pk, both, terms, class_rules, sets)
    return RecordStudent(
        student=student.pk,
        desk=desk,
        name=student.short_name,
        cells=cells,
        terms=standings,
        average=whole.share,
        said=class_rules.said(whole.share),
        over=whole.over,
        weight=whole.weight,
    )


def _mean(values: Sequence[float | None]) -> float | None:
    known = [value for value in values if value is not None]
    return sum(known) / len(known) if known else None


def _opening(sittings: Sequence[RecordSitting], students: Sequence[RecordStudent], average: float | None) -> str:
    """The sentences that matter, for a teacher."""
    if not sittings:
        return _("Nothing has been sat to the end yet.")
    count = len(sittings)
    sentences = [_n("{count} sitting, newest first.", "{count} sittings, newest first.", count, count=count)]
    if average is not None:
        sentences.append(_("On average {average} of the marks.", average=in_figures(average, ".0%")))
    missing = [
        (row.name, absent)
        for row in students
        if (absent := sum(cell is not None and cell.word in ("absent", "missing") for cell in row.cells))
    ]
    if missing:
        most = max(missing, key=lambda student_and_count: student_and_count[1])
        times = _("one of them") if most[1] == 1 else _("{most} of them", most=most[1])
        tail = "" if len(missing) == 1 else _(", and {value} more missed something", value=len(missing) - 1)
        sentences.append(_("{most} missed {times}{tail}.", most=most[0], times=times, tail=tail))
    waiting = sum(sitting.waiting for sitting in sittings)
    if waiting:
        sentences.append(
            _n(
                "{waiting} answer still waits for a mark and is in no figure here.",
                "{waiting} answers still wait for a mark and are in no figure here.",
                waiting,
                waiting=waiting,
            )
        )
    return " ".join(sentences)
