"""Other looks at the same answers: the table of students and questions, the scale, the totals, groups compared."""

from collections.abc import Callable, Iterator, Sequence
from functools import partial

import numpy as np
from pydantic import BaseModel

from versomark.core.findings import groups, totals
from versomark.core.findings.groups import GroupsCompared, compare_groups
from versomark.core.findings.scales import ScaleFigures, scale_figures
from versomark.core.findings.totals import CUTS, TotalsFigures, totals_figures
from versomark.core.language import _
from versomark.core.response_table import NOT_CHOSEN
from versomark.core.stats import known
from versomark.core.stats.student_problem import student_problem
from versomark.school.classes.public import Group
from versomark.school.delivery.public import Seat
from versomark.school.errors import DomainError

from .analysis_filter import FilteredAnalysis
from .report import ScoreCount, counted


class TableItem(BaseModel):
    ref: str
    number: int
    label: str
    max: float
    p: float
    caution: float | None
    """How far it is from the order of students (Sato); None where it says nothing."""


class TableStudent(BaseModel):
    seat: int
    desk: int
    name: str
    total: float
    caution: float | None


class StudentTable(BaseModel):
    """Students by questions. Both in the order of the student–problem table: best and easiest first."""

    items: list[TableItem]
    students: list[TableStudent]
    points: list[list[float | None]]
    """None where a student did not take a question."""
    picks: list[list[str]]
    """What each chose, where that is a letter; empty else."""
    student_curve: list[int]
    """How many questions each student has right."""
    problem_curve: list[int]
    """How many students have each question right."""


def table_of(filtered_analysis: FilteredAnalysis) -> StudentTable:
    table = filtered_analysis.table
    right = table.points >= table.maxima - 1e-9
    order = student_problem(right)
    students, items = order.students.tolist(), order.problems.tolist()

    def letter(i: int, j: int) -> str:
        chosen = table.choice[i, j]
        option = table.items[j].options[chosen] if chosen != NOT_CHOSEN else None
        return option.label if option is not None and len(option.label) <= 2 else ""

    return StudentTable(
        items=[
            TableItem(
                ref=table.items[j].id,
                number=table.items[j].number,
                label=filtered_analysis.labels[table.items[j].id],
                max=table.items[j].max,
                p=float(table.points[:, j].sum() / max(1, table.takers[j]) / table.items[j].max),
                caution=known(order.problem_caution[j]) if table.complete else None,
            )
            for j in items
        ],
        students=[
            TableStudent(
                seat=int(table.students[i]),
                desk=filtered_analysis.seats[int(table.students[i])].desk,
                name=filtered_analysis.name_of(filtered_analysis.seats[int(table.students[i])]),
                total=filtered_analysis.totals[table.students[i]],
                caution=known(order.student_caution[i]) if table.complete else None,
            )
            for i in students
        ],
        points=[[known(table.scored[i, j]) for j in items] for i in students],
        picks=[[letter(i, j) for j in items] for i in students],
        student_curve=order.student_curve.tolist(),
        problem_curve=order.problem_curve.tolist(),
    )


class ScalePage(BaseModel):
    scale: ScaleFigures | None
    why: str
    """Why there is none, where there is none."""
    labels: dict[str, str]
    """By item."""
    numbers: dict[str, int]
    names: dict[str, str]
    """By seat."""


def scale_of(filtered_analysis: FilteredAnalysis) -> ScalePage:
    reasons = dict[str, str]()
    scale = scale_figures(filtered_analysis.table, reasons)
    return ScalePage(
        scale=scale,
        why=reasons.get("rasch", ""),
        labels={item.id: filtered_analysis.labels[item.id] for item in filtered_analysis.table.items},
        numbers={item.id: item.number for item in filtered_analysis.table.items},
        names={str(pk): filtered_analysis.name_of(seat) for pk, seat in filtered_analysis.seats.items()},
    )


class TotalsPage(BaseModel):
    opening: str
    figures: TotalsFigures
    distribution: list[ScoreCount]
    totals: dict[str, float]
    """By seat."""
    labels: dict[str, str]
    numbers: dict[str, int]
    names: dict[str, str]
    """By seat."""


def totals_of(filtered_analysis: FilteredAnalysis, cuts: Sequence[float] = CUTS) -> TotalsPage:
    """cuts: shares of the marks, the one that the opening speaks of first."""
    titles = [section.title for section in filtered_analysis.edition.sections]
    sections = (
        {place: title or _("Section {value}", value=place + 1) for place, title in enumerate(titles)}
        if titles[1:]
        else {}
    )
    figures = totals_figures(filtered_analysis.as_totals, cuts, sections)
    names = {str(pk): filtered_analysis.name_of(seat) for pk, seat in filtered_analysis.seats.items()}
    return TotalsPage(
        opening=totals.opening(figures, len(filtered_analysis.table.items), names),
        figures=figures,
        distribution=counted(filtered_analysis.as_totals.totals),
        totals=filtered_analysis.totals,
        labels=filtered_analysis.labels,
        numbers={item.id: item.number for item in filtered_analysis.table.items},
        names=names,
    )


class GroupChoice(BaseModel):
    """One way to divide those who sat it: these, and the others."""

    key: str
    name: str
    students: int


class GroupsPage(BaseModel):
    choices: list[GroupChoice]
    chosen: str
    opening: str
    compared: GroupsCompared | None
    labels: dict[str, str]
    numbers: dict[str, int]


def groups_of(filtered_analysis: FilteredAnalysis, key: str = "") -> GroupsPage:
    """Those of one group beside the others; the first way to divide them, where none is named."""
    ways = {one.key: (one, seats) for one, seats in ways_to_divide(filtered_analysis)}
    if key and key not in ways:
        raise DomainError(_("This group is not there any more, or everybody is in it."))
    chosen = key or next(iter(ways), "")
    compared, says = None, ""
    if chosen:
        way, seats = ways[chosen]
        second = np.array([int(student) in seats for student in filtered_analysis.table.students])
        names = (_("the others"), way.name)
        if chosen.startswith("sitting") and len(filtered_analysis.sittings) == 2:
            names = (
                next(
                    sitting.school_class.name
                    for sitting in filtered_analysis.sittings
                    if f"sitting:{sitting.pk}" != chosen
                ),
                way.name,
            )
        compared = compare_groups(filtered_analysis.table, second, names)
        says = groups.opening(compared, filtered_analysis.labels)
        says = says[0].upper() + says[1:]
    return GroupsPage(
        choices=[one for one, _ in ways.values()],
        chosen=chosen,
        opening=says,
        compared=compared,
        labels=filtered_analysis.labels,
        numbers={item.id: item.number for item in filtered_analysis.table.items},
    )


def _sits_in(sitting_id: int, seat: Seat) -> bool:
    return seat.sitting_id == sitting_id


def _is_among(students: set[int], seat: Seat) -> bool:
    return seat.student_id in students


def _has_form(form: str, seat: Seat) -> bool:
    return seat.form == form


def ways_to_divide(filtered_analysis: FilteredAnalysis) -> Iterator[tuple[GroupChoice, set[int]]]:
    """By class, by the groups of the class, by the form of the paper; only what leaves students on both sides."""
    counted_seats = [filtered_analysis.seats[int(student)] for student in filtered_analysis.table.students]

    def way(key: str, name: str, belongs: Callable[[Seat], bool]) -> Iterator[tuple[GroupChoice, set[int]]]:
        seats = {seat.pk for seat in counted_seats if belongs(seat)}
        if 0 < len(seats) < len(counted_seats):
            yield GroupChoice(key=key, name=name, students=len(seats)), seats

    for sitting in filtered_analysis.sittings[1:]:
        sits_there = partial(_sits_in, sitting.pk)
        yield from way(f"sitting:{sitting.pk}", sitting.school_class.name, sits_there)
    classes = {sitting.school_class_id for sitting in filtered_analysis.sittings}
    for group in Group.objects.filter(school_class__in=classes).prefetch_related("students"):
        students = {student.pk for student in group.students.all()}
        yield from way(f"group:{group.pk}", group.name, partial(_is_among, students))
    for form in sorted({seat.form for seat in counted_seats})[1:]:
        yield from way(f"form:{form}", _("form {form}", form=form), partial(_has_form, form))
