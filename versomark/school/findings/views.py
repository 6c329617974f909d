"""Other looks at the same answers: the table of students and questions, and the scale."""

from typing import NamedTuple

from pydantic import BaseModel

from versomark.core.findings.scales import ScaleFigures, scale_figures
from versomark.core.scoring import NOT_CHOSEN, ResponseTable, corrected_totals, score
from versomark.core.stats.student_problem import student_problem
from versomark.school.marking.services import judged_in
from versomark.school.problems import NotPossible
from versomark.school.room.answers import not_asked
from versomark.school.sittings.models import Seat, Sitting
from versomark.school.sittings.seats import responses_of

from .services import counted_positions


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
    points: list[list[float]]
    picks: list[list[str]]
    """What each chose, where that is a letter; empty else."""
    student_curve: list[int]
    """How many questions each student has right."""
    problem_curve: list[int]
    """How many students have each question right."""


class Scored(NamedTuple):
    table: ResponseTable
    seats: dict[int, Seat]
    labels: dict[str, str]
    totals: dict[str, float]


def scored(sitting: Sitting) -> Scored:
    """The answers that count in the figures, scored as they stand."""
    position = counted_positions([sitting]).get(sitting.pk)
    if position is None:
        raise NotPossible("Nobody has handed in yet.")
    edition = sitting.edition.read()
    unasked = not_asked([sitting]).get(sitting.pk, frozenset())
    table = score(edition, responses_of(position.seats), unasked, judged_in(sitting))
    if not table.items:
        raise NotPossible("No question of this test has been marked yet.")
    seats = {seat.pk: seat for seat in sitting.seats.select_related("student")}
    labels = {item.ref: item.content.own_label for item in edition.items()}
    marks = corrected_totals(edition, table)
    return Scored(table, seats, labels, dict(zip(table.students, map(float, marks), strict=True)))


def table_of(sitting: Sitting) -> StudentTable:
    found = scored(sitting)
    table = found.table
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
                label=found.labels[table.items[j].id] or str(table.items[j].number),
                max=table.items[j].max,
                p=float(table.points[:, j].mean() / table.items[j].max),
                caution=_known(order.problem_caution[j]),
            )
            for j in items
        ],
        students=[
            TableStudent(
                seat=int(table.students[i]),
                desk=found.seats[int(table.students[i])].desk,
                name=found.seats[int(table.students[i])].student.short_name,
                total=found.totals[table.students[i]],
                caution=_known(order.student_caution[i]),
            )
            for i in students
        ],
        points=table.points[students][:, items].tolist(),
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


def scale_of(sitting: Sitting) -> ScalePage:
    found, reasons = scored(sitting), dict[str, str]()
    scale = scale_figures(found.table, reasons)
    return ScalePage(
        scale=scale,
        why=reasons.get("rasch", ""),
        labels={item.id: found.labels[item.id] or str(item.number) for item in found.table.items},
        numbers={item.id: item.number for item in found.table.items},
        names={str(pk): seat.student.short_name for pk, seat in found.seats.items()},
    )


def _known(value: float) -> float | None:
    return float(value) if value == value else None
