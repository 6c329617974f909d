"""Everything about one student of a class, for a talk with the parents: tests, terms, skills, growth, comments."""

from collections.abc import Sequence
from datetime import date

from django.template.loader import render_to_string
from pydantic import BaseModel

from versomark.core.language import _, in_figures, in_language, language, listed
from versomark.core.scoring import Band, band_of, score
from versomark.core.scoring.bands import CUTS
from versomark.core.stats.mastery import TOO_LITTLE
from versomark.school.classes.public import SchoolClass, Student, places_of
from versomark.school.delivery.public import Seat, SeatState
from versomark.school.editions.public import html_to_pdf
from versomark.school.errors import NotFound
from versomark.school.feedback.public import mastery_in, student_result
from versomark.school.grading.public import HiddenNames, Shown, overrides_in
from versomark.school.records.public import RecordCell, RecordStudent, RecordTerm, record_of, sittings_over
from versomark.school.responses.public import responses_of
from versomark.school.room.public import not_asked

from .documents import parts_of
from .growth_chart import growth_chart
from .report import BAND_TONES, Report
from .typed import Column, TypedTable


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
        raise NotFound(_("student in this class"))
    student, record = place.student, record_of(school_class)
    row = next(record_row for record_row in record.students if record_row.student == student.pk)
    comments = {
        seat.sitting_id: "\n".join(comment.text for comment in seat.overall_comments.all())
        for seat in _seats(school_class, student)
    }
    sittings = [
        ReportSitting(
            id=sitting.id,
            title=sitting.title,
            held_on=sitting.held_on,
            cell=cell,
            class_mean=sitting.mean,
            comment=comments.get(sitting.id, ""),
        )
        for sitting, cell in zip(record.sittings, row.cells, strict=True)
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
    over = [entry.pk for entry in sittings_over(school_class)]
    hidden = HiddenNames.objects.filter(sitting__in=over, shown_at=None).values("sitting")
    seats = Seat.objects.filter(student=student, sitting__in=over).exclude(sitting__in=hidden)
    return list(seats.select_related("sitting__edition", "student").prefetch_related("overall_comments"))


def _skills(school_class: SchoolClass, student: Student) -> list[ReportSkill]:
    days = {entry.pk: entry for entry in sittings_over(school_class)}
    report_skills: dict[str, ReportSkill] = {}
    for seat in _seats(school_class, student):
        if seat.state != SeatState.HANDED_IN:
            continue
        sitting = days[seat.sitting_id]
        unasked = not_asked([sitting]).get(sitting.pk, frozenset())
        table = score(sitting.edition.read(), responses_of([seat.pk]), unasked, overrides_in(sitting))
        mastered, held_on = mastery_in(table), (sitting.opened_at or sitting.made_at).date()
        for at, name in enumerate(mastered.skills):
            if mastered.marks[0, at] <= 0:
                continue
            before = report_skills.get(name)
            earned = float(mastered.earned[0, at]) + (before.earned if before else 0.0)
            of = float(mastered.marks[0, at]) + (before.of if before else 0.0)
            report_skills[name] = ReportSkill(
                name=name,
                earned=earned,
                of=of,
                share=earned / of,
                band=band_of(earned, of, CUTS) if of >= TOO_LITTLE else None,
                last=max(held_on, before.last) if before else held_on,
                sittings=1 + (before.sittings if before else 0),
            )
    order: list[Band | None] = ["not yet", "nearly", "secure", None]
    return sorted(
        report_skills.values(),
        key=lambda report_skill: (order.index(report_skill.band), report_skill.share, report_skill.name),
    )


def _opening(
    student: Student,
    row: RecordStudent,
    class_average: float | None,
    sittings: Sequence[ReportSitting],
    skills: Sequence[ReportSkill],
) -> str:
    """The sentences that matter, for parents as for the teacher."""
    if row.average is None:
        return _("{given_name} has no total in any sitting yet.", given_name=student.given_name)
    text = f" ({row.said})" if row.said else ""
    parts = [
        _(
            "{given_name} has {average} of the marks{text}, over {over} of {count} sittings.",
            given_name=student.given_name,
            average=in_figures(row.average, ".0%"),
            text=text,
            over=row.over,
            count=len(sittings),
        )
    ]
    if class_average is not None:
        parts.append(_("The class has {class_average}.", class_average=in_figures(class_average, ".0%")))
    weak = [skill.name for skill in skills if skill.band == "not yet"]
    secure = [skill.name for skill in skills if skill.band == "secure"]
    if secure:
        parts.append(_("Secure in {listed}.", listed=listed(secure[:3])))
    if weak:
        parts.append(_("Not yet there in {listed}.", listed=listed(weak[:3])))
    missed = sum(sitting.cell.word in ("absent", "missing") for sitting in sittings)
    if missed:
        parts.append(_("Missed {missed} of them.", missed=missed))
    return " ".join(parts)


def report_tables(student_report: StudentReport) -> list[TypedTable]:
    """Tests, skills and terms, in columns."""
    tests = TypedTable(
        _("Tests"),
        [
            Column("test", _("Test")),
            Column("held_on", _("Day"), "date"),
            Column("total", _("Marks"), "marks"),
            Column("of", _("Of"), "marks"),
            Column("state", _("State"), "choice"),
            Column("share", _("Share"), "share"),
            Column("word", _("On the scale"), "choice"),
            Column("class", _("The class"), "share"),
            Column("said", _("What was said")),
        ],
        [
            [
                sitting.title,
                sitting.held_on,
                sitting.cell.total,
                sitting.cell.of,
                sitting.cell.word or None,
                sitting.cell.share,
                sitting.cell.said or None,
                sitting.class_mean,
                sitting.comment or None,
            ]
            for sitting in student_report.sittings
        ],
    )
    skills = TypedTable(
        _("Skills"),
        [
            Column("skill", _("Skill")),
            Column("band", _("Band"), "choice"),
            Column("share", _("Share"), "share"),
            Column("earned", _("Marks"), "marks"),
            Column("of", _("Of"), "marks"),
            Column("last", _("Last tested"), "date"),
        ],
        [
            [skill.name, skill.band or _("too little to say"), skill.share, skill.earned, skill.of, skill.last]
            for skill in student_report.skills
        ],
        tones={(row, 1): BAND_TONES[skill.band] for row, skill in enumerate(student_report.skills) if skill.band},
    )
    terms = TypedTable(
        _("Terms"),
        [
            Column("term", _("Term")),
            Column("share", _("Share"), "share"),
            Column("word", _("On the scale"), "choice"),
            Column("remark", _("Remark")),
        ],
        [
            [
                term.name,
                cell.share,
                cell.said or None,
                _("carried over from {carried}", carried=cell.carried) if cell.carried else cell.set or None,
            ]
            for term, cell in zip(student_report.terms, student_report.standing.terms, strict=True)
        ],
    )
    return [tests, skills, terms]


def as_report(student_report: StudentReport) -> Report:
    """To hand out."""
    tables = [table.to_read().printed() for table in report_tables(student_report) if table.rows]
    return Report(student_report.full_name, student_report.opening, tables, about=student_report.class_name)


def without_words(student_report: StudentReport) -> StudentReport:
    """Without what was said of the papers."""
    wordless = [sitting.model_copy(update={"comment": ""}) for sitting in student_report.sittings]
    return student_report.model_copy(update={"sittings": wordless})


def pdf_on(school_class: SchoolClass, student_id: int, papers: Sequence[int], comments: bool = True) -> bytes:
    """The report that goes home, in the student's language or else the school's."""
    student = Student.objects.select_related("school").filter(pk=student_id).first()
    with in_language((student and (student.language or student.school.language)) or language()):
        return pdf_with_papers(report_on(school_class, student_id), papers, comments)


def pdf_with_papers(student_report: StudentReport, papers: Sequence[int], said: bool = True) -> bytes:
    """To hand out: the report, its chart, and copies of papers with the student's answers; with what was said of them,
    or without."""
    if not said:
        student_report = without_words(student_report)
    report = as_report(student_report)
    shown = {
        sitting.id for sitting in student_report.sittings if sitting.cell.word not in ("absent", "excused", "missing")
    }
    seats = Seat.objects.filter(
        student=student_report.student, sitting__in=[paper for paper in papers if paper in shown]
    )
    order = {pk: at for at, pk in enumerate(papers)}
    results = [
        student_result(seat, Shown(marks=True, answers=True))
        for seat in sorted(seats.select_related("sitting__edition", "student"), key=lambda seat: order[seat.sitting_id])
    ]
    return html_to_pdf(
        render_to_string(
            "reports/student.html",
            {
                **parts_of(report),
                "chart": growth_chart(
                    [
                        (sitting.held_on, sitting.cell.share, sitting.class_mean)
                        for sitting in reversed(student_report.sittings)
                    ]
                ),
                "papers": results,
                "said": said,
            },
        )
    )
