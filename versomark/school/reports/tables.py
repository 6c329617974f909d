"""The tables that leave: results of a sitting, skills of a sitting, the record of a class. Each is made from the query
of its page, with family name, given name, number and desk in columns of their own."""

from collections.abc import Collection, Sequence
from typing import Literal

from versomark.core.language import _, in_figures
from versomark.school.classes.public import SchoolClass, Student, places_of
from versomark.school.delivery.public import Seat, Sitting
from versomark.school.errors import DomainError
from versomark.school.feedback.public import Cuts, class_by_skill, in_full
from versomark.school.grading.public import ExcludedStudent, names_hidden, results_in, shown_in
from versomark.school.records.public import RecordCell, record_of

from .report import BAND_TONES
from .typed import Column, ColumnKind, TypedTable, Value


def who_columns() -> tuple[Column, ...]:
    """The columns that say whom a row is about, in every table of students."""
    return (
        Column("family_name", _("Family name")),
        Column("given_name", _("Given name")),
        Column("number", _("Number")),
        Column("desk", _("Desk"), "number"),
    )


NAMES = 2
"""Columns that stand again on every part of a table too wide for a page."""


Shown = Literal["share", "marks", "scale"]
KINDS: dict[Shown, ColumnKind] = {"share": "share", "marks": "marks", "scale": "choice"}


def who(student: Student, desk: int) -> list[Value]:
    return [student.family_name, student.given_name, student.number or None, float(desk)]


def results_table(
    sitting: Sitting, rows: Sequence[int] | None = None, each: bool = False, comments: bool = False
) -> TypedTable:
    """rows: seats, in this order; all in desk order where none are named. each: with the marks of every question.
    comments: with what was said of the work."""
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden for marking. Show them under Marking first."))
    results = {result.seat.pk: result for result in results_in(sitting)}
    shown = shown_in(sitting)
    out = dict(ExcludedStudent.objects.filter(seat__sitting=sitting).values_list("seat", "reason"))
    full = in_full(sitting) if each or comments else None
    in_full_of = {student.seat: student for student in full.students} if full else {}
    questions = full.questions if full and each else []
    criteria = full.criteria if full and each else []
    columns = [
        *who_columns(),
        Column("total", _("Total"), "marks"),
        Column("of", _("Of"), "marks"),
        Column("share", _("Share"), "share", places=1),
        *(
            # The label alone, as the table of marks has it, so that what was saved can come in again.
            Column(f"q{q.number}", q.label, "marks")
            for q in questions
        ),
        *(
            Column(f"c{at}", _("{name}, of {of}", name=criterion.name, of=in_figures(criterion.of, "g")), "marks")
            for at, criterion in enumerate(criteria, start=1)
        ),
        Column("state", _("State"), "choice"),
        Column("waiting", _("Answers not marked"), "number"),
        Column("lost", _("Taken off for coming late"), "marks"),
        Column("set", _("Set by hand")),
        Column("left_out", _("Not in the figures")),
        Column("sees", _("The student sees")),
        *([Column("comment", _("What was said"))] if comments else []),
    ]
    lines: list[list[Value]] = []
    for seat in rows if rows is not None else list(results):
        result = results.get(seat)
        if result is None:
            continue
        own = in_full_of.get(seat)
        share = result.total / result.of if result.total is not None and result.of else None
        sees = "" if seat not in shown else "marks" if shown[seat].marks else "words"
        texts = [own.comment, *own.said] if own else []
        lines.append(
            [
                *who(result.seat.student, result.seat.desk),
                result.total,
                result.of,
                share,
                *(own.marks[at] if own else None for at in range(len(questions))),
                *(own.criteria[at] if own else None for at in range(len(criteria))),
                result.seat.state,
                float(result.waiting) if result.waiting else None,
                result.lost or None,
                result.set_by.reason if result.set_by else None,
                out.get(seat),
                sees or None,
                *(["\n".join(text for text in texts if text) or None] if comments else []),
            ]
        )
    return TypedTable(_("Results"), columns, lines, names=NAMES)


def skills_tables(sitting: Sitting, cuts: Cuts, rows: Sequence[int] | None = None) -> list[TypedTable]:
    """Shares by skill, coloured by the cuts of *secure* and *nearly*, the class at the foot; and the bands in words."""
    page = class_by_skill(sitting, cuts)
    seats = {seat.pk: seat for seat in Seat.objects.filter(sitting=sitting).select_related("student")}
    by_seat = {student.seat: student for student in page.students}
    columns = [
        *who_columns(),
        Column("whole", _("All"), "share", mastery=True),
        *(Column(f"s{at}", skill.name, "share", mastery=True) for at, skill in enumerate(page.skills, start=1)),
    ]
    chosen = [seat for seat in (rows if rows is not None else list(by_seat)) if seat in by_seat]
    named = {seat: who(seats[seat].student, seats[seat].desk) for seat in chosen}
    lines = [[*named[at], by_seat[at].whole, *(cell.share for cell in by_seat[at].cells)] for at in chosen]
    foot: list[Value] = [_("The class"), None, None, None, None, *(skill.share for skill in page.skills)]
    shares = TypedTable(_("Skills"), columns, [*lines, foot], names=NAMES, foot=1, cuts=(cuts[0], cuts[1]))
    in_words = [Column(f"s{at}", skill.name, "choice") for at, skill in enumerate(page.skills, start=1)]
    bands: list[list[Value]] = [
        [*named[at], *(cell.band or _("too little to say") for cell in by_seat[at].cells)] for at in chosen
    ]
    tones = {
        (row, len(who_columns()) + place): BAND_TONES[cell.band]
        for row, seat in enumerate(chosen)
        for place, cell in enumerate(by_seat[seat].cells)
        if cell.band
    }
    return [shares, TypedTable(_("Bands"), [*who_columns(), *in_words], bands, names=NAMES, tones=tones)]


def record_table(
    school_class: SchoolClass, rows: Sequence[int] | None = None, without: Collection[int] = (), shown: Shown = "share"
) -> TypedTable:
    """Sittings oldest first, as one reads a year; shares, marks or words of the school's scale.

    rows: students, in this order. without: sittings that are not shown, and count in the averages all the same.
    """
    record = record_of(school_class)
    places = [at for at, sitting in enumerate(record.sittings) if sitting.id not in set(without)][::-1]
    scale = bool(record.rules.scale_name)
    columns_shown = [record.sittings[at] for at in places]
    columns = [
        *who_columns(),
        *(
            Column(f"sitting{sitting.id}", f"{sitting.title}, {sitting.held_on:%d.%m.%Y}", KINDS[shown])
            for sitting in columns_shown
        ),
        *(Column(f"term{term.id}", term.name, "share") for term in record.terms),
        Column("average", _("Average"), "share", places=1),
        *([Column("word", _("On the scale"), "choice")] if scale else []),
        Column("over", _("Over so many sittings"), "number"),
    ]
    students = {place.student_id: place.student for place in places_of(school_class)}
    by_student = {student.student: student for student in record.students}
    lines: list[list[Value]] = []
    for pk in rows if rows is not None else list(by_student):
        student = by_student.get(pk)
        if student is None:
            continue
        lines.append(
            [
                *who(students[pk], student.desk),
                *(_of_cell(student.cells[at], shown) for at in places),
                *(cell.said or cell.share if shown == "scale" else cell.share for cell in student.terms),
                student.average,
                *([student.said or None] if scale else []),
                float(student.over),
            ]
        )
    end: list[Value] = [None] * (2 if scale else 1)
    means: list[Value] = [sitting.mean if shown == "share" else None for sitting in columns_shown]
    foot: list[Value] = [_("The class"), None, None, None, *means, *(term.mean for term in record.terms)]
    return TypedTable(_("Record"), columns, [*lines, [*foot, record.average, *end]], names=NAMES, foot=1)


def _of_cell(cell: RecordCell | None, shown: Shown) -> Value:
    """A number or a word of the scale, or what stands in its place."""
    if cell is None:
        return None
    if shown == "scale":
        return cell.said or cell.word or None
    number = cell.total if shown == "marks" else cell.share
    return number if number is not None else cell.word or None
