"""Answers by question: students down, questions across, what each said or earned, their totals, and at the foot how the
class did beside the school."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import BaseModel

from versomark.core.language import N_, _, in_figures
from versomark.core.response_table import NOT_CHOSEN, ResponseTable
from versomark.core.stats import not_reached
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat, Sitting, name_of
from versomark.school.errors import DomainError
from versomark.school.findings.public import AnalysisFilter, FilteredAnalysis, looked, school_shares, ways_to_divide
from versomark.school.grading.public import names_hidden
from versomark.school.records.public import rules_of, scale_in

from .tables import NAMES, who_columns
from .typed import Column, TypedTable, Value

Outcome = Literal["right", "wrong", "part", "omitted", "not reached", "not taken"]
RIGHT, OMITTED, NOT_REACHED = "✓", "–", "/"
LEGEND = N_(
    "{right} right, a letter is the wrong option that was chosen, a number the marks, {omitted} left out, "
    "{not_reached} not reached, blank: not to be answered by this student."
)


class ListQuestion(BaseModel):
    ref: str
    number: int
    label: str
    max: float
    key: str
    """The letter of the right option, where one is chosen; empty else."""
    share: float | None
    """Of its marks, earned by those shown who took it."""
    school: float | None
    """The same of everybody in the school who sat this edition; None where no other class did."""


class ListCell(BaseModel):
    outcome: Outcome
    text: str
    """As it is printed: `✓`, a letter, marks, `–`, `/`."""
    marks: float | None


class ListStudent(BaseModel):
    seat: int
    desk: int
    name: str
    family_name: str
    given_name: str
    number: str
    cells: list[ListCell]
    total: float
    share: float | None
    word: str
    """On the scale of the class; empty where it has none."""
    reaches: bool
    """Whether the total is at the cut or above it."""


class ListGroup(BaseModel):
    key: str
    name: str
    students: int


class AnswersByQuestion(BaseModel):
    sitting: int
    title: str
    opening: str
    questions: list[ListQuestion]
    students: list[ListStudent]
    groups: list[ListGroup]
    group: str
    of: float
    mean: float | None
    cut: float
    waiting: list[str]
    """Questions that are not in it, since a person has not marked all of their answers."""
    legend: str


@dataclass(frozen=True)
class _Row:
    at: int
    seat: Seat


def answers_by_question(teacher: Teacher, sitting: Sitting, cut: float = 0.5, group: str = "") -> AnswersByQuestion:
    """cut: a share of the marks. group: the key of a group of the class, whose members alone are shown."""
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden for marking. Show them under Marking first."))
    analysis = looked(teacher, sitting, AnalysisFilter())
    table = analysis.table
    ways = {way.key: (way, seats) for way, seats in ways_to_divide(analysis)}
    if group and group not in ways:
        raise DomainError(_("This group is not there any more, or everybody is in it."))
    seats = [analysis.seats[int(student)] for student in table.students]
    rows = [_Row(at, seat) for at, seat in enumerate(seats) if not group or seat.pk in ways[group][1]]
    rows.sort(key=lambda row: row.seat.desk)
    scale = scale_in(rules_of(sitting.school_class))
    students = []
    unreached = not_reached(table)
    for row in rows:
        total, due = analysis.totals[table.students[row.at]], float(table.due[row.at])
        share = total / due if due else None
        student = row.seat.student
        students.append(
            ListStudent(
                seat=row.seat.pk,
                desk=row.seat.desk,
                name=student.short_name,
                family_name=student.family_name,
                given_name=student.given_name,
                number=student.number,
                cells=[_cell(table, unreached, row.at, j) for j in range(len(table.items))],
                total=total,
                share=share,
                word=scale.word(share) if scale and share is not None else "",
                reaches=share is not None and share >= cut - 1e-9,
            )
        )
    shown = [row.at for row in rows]
    questions = _questions(analysis, shown, school_shares(sitting))
    counted = {question.ref for question in questions}
    mean = float(np.mean([student.total for student in students])) if students else None
    return AnswersByQuestion(
        sitting=sitting.pk,
        title=name_of(sitting),
        opening=_opening(students, questions, cut),
        questions=questions,
        students=students,
        groups=[ListGroup(key=way.key, name=way.name, students=way.students) for way, _ in ways.values()],
        group=group,
        of=table.max_total,
        mean=mean,
        cut=cut,
        waiting=[
            analysis.labels[item.ref]
            for item in analysis.edition.items()
            if item.ref not in counted and item.content.marked_by == "person"
        ],
        legend=_(LEGEND, right=RIGHT, omitted=OMITTED, not_reached=NOT_REACHED),
    )


def _cell(table: ResponseTable, unreached: np.ndarray[tuple[int, int], np.dtype[np.bool_]], i: int, j: int) -> ListCell:
    if not table.taken[i, j]:
        return ListCell(outcome="not taken", text="", marks=None)
    marks, most = float(table.points[i, j]), table.items[j].max
    if not table.answered[i, j] and marks == 0:
        return (
            ListCell(outcome="not reached", text=NOT_REACHED, marks=0.0)
            if unreached[i, j]
            else ListCell(outcome="omitted", text=OMITTED, marks=0.0)
        )
    if marks >= most - 1e-9:
        return ListCell(outcome="right", text=RIGHT, marks=marks)
    if marks > 0:
        return ListCell(outcome="part", text=f"{marks:.2f}".rstrip("0").rstrip("."), marks=marks)
    chosen = table.choice[i, j]
    option = table.items[j].options[chosen] if chosen != NOT_CHOSEN else None
    letter = option.label if option is not None and len(option.label) <= 2 else ""
    return ListCell(outcome="wrong", text=letter or "0", marks=0.0)


def _questions(
    analysis: FilteredAnalysis, shown: Sequence[int], school: dict[str, tuple[float, int]]
) -> list[ListQuestion]:
    table = analysis.table
    questions = []
    for j, item in enumerate(table.items):
        took = [i for i in shown if table.taken[i, j]]
        keys = [option.label for option in item.options if option.key and len(option.label) <= 2]
        share = float(table.points[took, j].sum()) / (len(took) * item.max) if took and item.max else None
        questions.append(
            ListQuestion(
                ref=item.id,
                number=item.number,
                label=analysis.labels[item.id],
                max=item.max,
                key=" ".join(keys),
                share=share,
                school=school[item.id][0] if item.id in school else None,
            )
        )
    return questions


def _opening(students: Sequence[ListStudent], questions: Sequence[ListQuestion], cut: float) -> str:
    if not students:
        return _("Nobody is shown.")
    reach = sum(student.reaches for student in students)
    known = [question for question in questions if question.share is not None]
    hardest = min(known, key=lambda question: question.share or 0.0, default=None)
    first = _(
        "{reach} of {count} reach {cut} of the marks.", reach=reach, count=len(students), cut=in_figures(cut, ".0%")
    )
    if hardest is None or hardest.share is None:
        return first
    return _(
        "{first} Least was earned on question {label}: {share} of its marks.",
        first=first,
        label=hardest.label,
        share=in_figures(hardest.share, ".0%"),
    )


def as_tables(page: AnswersByQuestion) -> list[TypedTable]:
    """What leaves: the list as it is printed, and the marks behind it for a program."""
    end = [
        Column("total", _("Of {of}", of=in_figures(page.of, "g")), "marks"),
        Column("share", _("Share"), "share", mastery=True),
        *([Column("word", _("On the scale"), "choice")] if any(student.word for student in page.students) else []),
    ]

    def named(student: ListStudent) -> list[Value]:
        values: list[Value] = [student.family_name, student.given_name, student.number or None, float(student.desk)]
        return values

    def summed(student: ListStudent) -> list[Value]:
        values: list[Value] = [student.total, student.share, student.word or None]
        return values[: len(end)]

    blank: list[Value] = [None] * (len(who_columns()) - 1)
    share = page.mean / page.of if page.mean is not None and page.of else None
    foot: list[list[Value]] = [
        [_("Key"), *blank, *(question.key or None for question in page.questions), *[None] * len(end)],
        [
            _("Marks earned, %"),
            *blank,
            *(_percent(question.share) for question in page.questions),
            page.mean,
            share,
            None,
        ][: len(who_columns()) + len(page.questions) + len(end)],
    ]
    if any(question.school is not None for question in page.questions):
        foot.append(
            [
                _("In the school, %"),
                *blank,
                *(_percent(question.school) for question in page.questions),
                *[None] * len(end),
            ]
        )
    letters = TypedTable(
        _("Answers by question"),
        [*who_columns(), *(Column(f"q{q.number}", q.label, "choice") for q in page.questions), *end],
        [
            *(
                [*named(student), *(cell.text or None for cell in student.cells), *summed(student)]
                for student in page.students
            ),
            *foot,
        ],
        names=NAMES,
        foot=len(foot),
        cuts=(page.cut, page.cut),
    )
    marks = TypedTable(
        _("Marks by question"),
        [*who_columns(), *(Column(f"q{q.number}", q.label, "marks") for q in page.questions), *end],
        [[*named(student), *(cell.marks for cell in student.cells), *summed(student)] for student in page.students],
        names=NAMES,
        cuts=letters.cuts,
    )
    return [letters, marks]


def _percent(share: float | None) -> str | None:
    return None if share is None else f"{100 * share:.0f}"
