"""Everything about one student of a class, for a talk with the parents: tests, terms, skills, growth, comments."""

from collections.abc import Sequence
from datetime import date

from django.template.loader import render_to_string
from pydantic import BaseModel

from versomark.core.scoring import Band, band_of, score
from versomark.core.scoring.bands import CUTS
from versomark.core.stats.mastery import TOO_LITTLE
from versomark.core.text import listed, marks_text
from versomark.school.classes.models import SchoolClass, Student
from versomark.school.classes.services import places_of
from versomark.school.editions.printing import html_to_pdf
from versomark.school.marking.models import HiddenNames
from versomark.school.marking.services import judged_in
from versomark.school.problems import NotFound
from versomark.school.records.class_record import RecordStudent, RecordTerm, record_of
from versomark.school.records.standing import RecordCell, sittings_over
from versomark.school.results.release import Shown
from versomark.school.results.shown import student_result
from versomark.school.results.skills import mastery_in
from versomark.school.room.answers import not_asked
from versomark.school.sittings.models import Seat, SeatState
from versomark.school.sittings.seats import responses_of

from .documents import parts_of
from .growth_chart import growth_chart
from .report import NOTHING, Report, Table


class ReportSitting(BaseModel):
    id: int
    title: str
    held_on: date
    cell: RecordCell
    class_mean: float | None
    comment: str
    """What the teacher said of the whole."""


class ReportSkill(BaseModel):
    """Over all sittings of the year in which it was tested."""

    name: str
    earned: float
    of: float
    share: float
    band: Band | None
    """None where there are too few marks to say."""
    last: date
    sittings: int


class StudentReport(BaseModel):
    student: int
    name: str
    full_name: str
    class_id: int
    class_name: str
    opening: str
    average: float | None
    said: str
    over: int
    class_average: float | None
    terms: list[RecordTerm]
    standing: RecordStudent
    sittings: list[ReportSitting]
    """Newest first."""
    skills: list[ReportSkill]
    """Those that want work first."""


def report_on(school_class: SchoolClass, student_id: int) -> StudentReport:
    place = places_of(school_class).filter(student=student_id).first()
    if place is None:
        raise NotFound("student in this class")
    student, record = place.student, record_of(school_class)
    row = next(one for one in record.students if one.student == student.pk)
    comments = {
        seat.sitting_id: "\n".join(comment.text for comment in seat.overall_comments.all())
        for seat in _seats(school_class, student)
    }
    sittings = [
        ReportSitting(
            id=one.id,
            title=one.title,
            held_on=one.held_on,
            cell=cell,
            class_mean=one.mean,
            comment=comments.get(one.id, ""),
        )
        for one, cell in zip(record.sittings, row.cells, strict=True)
        if cell is not None
    ]
    skills = _skills(school_class, student)
    return StudentReport(
        student=student.pk,
        name=student.short_name,
        full_name=student.full_name,
        class_id=school_class.pk,
        class_name=school_class.name,
        opening=_opening(student, row, record.average, sittings, skills),
        average=row.average,
        said=row.said,
        over=row.over,
        class_average=record.average,
        terms=record.terms,
        standing=row,
        sittings=sittings,
        skills=skills,
    )


def _seats(school_class: SchoolClass, student: Student) -> list[Seat]:
    """In sittings that are over and whose names are shown."""
    over = [one.pk for one in sittings_over(school_class)]
    hidden = HiddenNames.objects.filter(sitting__in=over, shown_at=None).values("sitting")
    found = Seat.objects.filter(student=student, sitting__in=over).exclude(sitting__in=hidden)
    return list(found.select_related("sitting__edition", "student").prefetch_related("overall_comments"))


def _skills(school_class: SchoolClass, student: Student) -> list[ReportSkill]:
    days = {one.pk: one for one in sittings_over(school_class)}
    found: dict[str, ReportSkill] = {}
    for seat in _seats(school_class, student):
        if seat.state != SeatState.HANDED_IN:
            continue
        sitting = days[seat.sitting_id]
        unasked = not_asked([sitting]).get(sitting.pk, frozenset())
        table = score(sitting.edition.read(), responses_of([seat.pk]), unasked, judged_in(sitting))
        mastered, held = mastery_in(table), (sitting.opened_at or sitting.made_at).date()
        for at, name in enumerate(mastered.skills):
            if mastered.marks[0, at] <= 0:
                continue
            before = found.get(name)
            earned = float(mastered.earned[0, at]) + (before.earned if before else 0.0)
            of = float(mastered.marks[0, at]) + (before.of if before else 0.0)
            found[name] = ReportSkill(
                name=name,
                earned=earned,
                of=of,
                share=earned / of,
                band=band_of(earned, of, CUTS) if of >= TOO_LITTLE else None,
                last=max(held, before.last) if before else held,
                sittings=1 + (before.sittings if before else 0),
            )
    order: list[Band | None] = ["not yet", "nearly", "secure", None]
    return sorted(found.values(), key=lambda one: (order.index(one.band), one.share, one.name))


def _opening(
    student: Student,
    row: RecordStudent,
    class_average: float | None,
    sittings: Sequence[ReportSitting],
    skills: Sequence[ReportSkill],
) -> str:
    """The sentences that matter, for parents as for the teacher."""
    if row.average is None:
        return f"{student.given_name} has no total in any sitting yet."
    said = f" ({row.said})" if row.said else ""
    parts = [
        f"{student.given_name} has {row.average:.0%} of the marks{said}, over {row.over} of {len(sittings)} sittings."
    ]
    if class_average is not None:
        parts.append(f"The class has {class_average:.0%}.")
    weak = [one.name for one in skills if one.band == "not yet"]
    secure = [one.name for one in skills if one.band == "secure"]
    if secure:
        parts.append(f"Secure in {listed(secure[:3])}.")
    if weak:
        parts.append(f"Not yet there in {listed(weak[:3])}.")
    missed = sum(one.cell.word in ("absent", "missing") for one in sittings)
    if missed:
        parts.append(f"Missed {missed} of them.")
    return " ".join(parts)


def percent(share: float | None) -> str:
    return "–" if share is None else f"{100 * share:.0f}%".replace("-", "−")


def as_report(found: StudentReport) -> Report:
    """To be written in any format."""
    tables = []
    if found.terms:
        rows = [
            [
                term.name,
                percent(cell.share),
                cell.said or "–",
                f"carried over from {cell.carried}" if cell.carried else cell.set,
            ]
            for term, cell in zip(found.terms, found.standing.terms, strict=True)
        ]
        tables.append(Table("Terms", ["Term", "Share", "On the scale", "Remark"], rows))
    tables.append(
        Table(
            "Tests",
            ["Test", "Day", "Marks", "Share", "On the scale", "The class", "What was said"],
            [
                [
                    one.title,
                    f"{one.held_on:%d.%m.%Y}",
                    f"{marks_text(one.cell.total)} of {marks_text(one.cell.of or 0)}"
                    if one.cell.total is not None
                    else one.cell.word,
                    percent(one.cell.share),
                    one.cell.said or "–",
                    percent(one.class_mean),
                    one.comment,
                ]
                for one in found.sittings
            ],
        )
    )
    if found.skills:
        tables.append(
            Table(
                "Skills",
                ["Skill", "Band", "Share", "Marks", "Last tested"],
                [
                    [
                        one.name,
                        one.band or "too little to say",
                        percent(one.share),
                        f"{marks_text(one.earned)} of {marks_text(one.of)}",
                        f"{one.last:%d.%m.%Y}",
                    ]
                    for one in found.skills
                ],
            )
        )
    return Report(found.full_name, found.opening, [_without_empty(one) for one in tables], about=found.class_name)


def _without_empty(table: Table) -> Table:
    """Without the columns that say nothing of this student."""
    kept = [at for at in range(len(table.heads)) if any(row[at] not in NOTHING for row in table.rows)]
    return Table(table.caption, [table.heads[at] for at in kept], [[row[at] for at in kept] for row in table.rows])


def pdf_with_papers(found: StudentReport, papers: Sequence[int], said: bool = True) -> bytes:
    """To hand out: the report, its chart, and copies of papers with the student's answers; with what was said of them,
    or without."""
    if not said:
        wordless = [one.model_copy(update={"comment": ""}) for one in found.sittings]
        found = found.model_copy(update={"sittings": wordless})
    report = as_report(found)
    shown = {one.id for one in found.sittings if one.cell.word not in ("absent", "excused", "missing")}
    seats = Seat.objects.filter(student=found.student, sitting__in=[one for one in papers if one in shown])
    order = {pk: at for at, pk in enumerate(papers)}
    results = [
        student_result(seat, Shown(marks=True, answers=True))
        for seat in sorted(seats.select_related("sitting__edition", "student"), key=lambda one: order[one.sitting_id])
    ]
    return html_to_pdf(
        render_to_string(
            "reports/student.html",
            {
                **parts_of(report),
                "chart": growth_chart(
                    [(one.held_on, one.cell.share, one.class_mean) for one in reversed(found.sittings)]
                ),
                "papers": results,
                "said": said,
            },
        )
    )
