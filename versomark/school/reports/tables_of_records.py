"""The tables of a class over time that leave: growth, classes side by side, groups, who was not tested."""

from versomark.core.language import _
from versomark.school.classes.public import SchoolClass, places_of
from versomark.school.delivery.public import Seat, Sitting
from versomark.school.feedback.public import ByGroup
from versomark.school.records.public import Growth, NotTestedPage, SideBySide, SideMean

from .tables import NAMES, who, who_columns
from .typed import Column, TypedTable, Value


def growth_tables(school_class: SchoolClass, growth: Growth) -> list[TypedTable]:
    """Each student from one sitting to the other, who gained least first, the class at the foot."""
    names = _names_in(school_class)
    columns = [
        *who_columns(),
        Column("before", _("Before"), "share", places=1),
        Column("after", _("After"), "share", places=1),
        Column("gain", _("Gain"), "share", places=1),
        Column("normalised", _("Of what could be"), "number", places=2),
    ]
    rows: list[list[Value]] = [
        [*names[entry.student], entry.before, entry.after, entry.gain, entry.normalised]
        for entry in growth.students
        if entry.student in names
    ]
    gain = (
        growth.mean_after - growth.mean_before
        if growth.mean_before is not None and growth.mean_after is not None
        else None
    )
    foot: list[Value] = [
        _("The class"),
        *[None] * 3,
        growth.mean_before,
        growth.mean_after,
        gain,
        growth.normalised,
    ]
    return [TypedTable(_("Growth by student"), columns, [*rows, foot], names=NAMES, foot=1)]


def side_by_side_tables(page: SideBySide) -> list[TypedTable]:
    """Classes by period, a line each, so that an interval is two columns; and the tests that several of them sat."""
    periods: list[list[Value]] = [
        [school_class.name, name, *_mean_values(mean)]
        for school_class in page.classes
        for name, mean in zip(page.spans, school_class.spans, strict=True)
        if mean.mean is not None
    ]
    tests: list[list[Value]] = [
        [test.title, school_class.name, cell.held_on, *_mean_values(cell.result)[:-3]]
        for test in page.tests
        for school_class, cell in zip(page.classes, test.cells, strict=True)
        if cell is not None
    ]
    compared = _mean_columns()
    return [
        TypedTable(
            _("Share of the marks by class and period"),
            [Column("class", _("Class")), Column("period", _("Period")), *compared],
            periods,
            names=2,
        ),
        TypedTable(
            _("Tests that several classes sat"),
            [
                Column("test", _("Test")),
                Column("class", _("Class")),
                Column("held_on", _("Day"), "date"),
                *compared[:-3],
            ],
            tests,
            names=2,
        ),
    ]


def _mean_columns() -> list[Column]:
    return [
        Column("students", _("Students"), "number"),
        Column("mean", _("Mean"), "share", places=1),
        Column("mean_low", _("Mean, from"), "share", places=1),
        Column("mean_high", _("Mean, to"), "share", places=1),
        Column("difference", _("Difference"), "share", places=1),
        Column("difference_low", _("Difference, from"), "share", places=1),
        Column("difference_high", _("Difference, to"), "share", places=1),
        Column("change", _("Since the term before"), "share", places=1),
        Column("change_low", _("Since the term before, from"), "share", places=1),
        Column("change_high", _("Since the term before, to"), "share", places=1),
    ]


def _mean_values(mean: SideMean) -> list[Value]:
    return [
        float(mean.count),
        mean.mean,
        mean.low,
        mean.high,
        mean.difference,
        mean.difference_low,
        mean.difference_high,
        mean.change,
        mean.change_low,
        mean.change_high,
    ]


def group_tables(sitting: Sitting, page: ByGroup) -> list[TypedTable]:
    """The groups beside the others, their skills, and who is in them."""
    seats = {seat.student_id: seat for seat in Seat.objects.filter(sitting=sitting).select_related("student")}
    whole: list[Value] = [_("The class"), float(len(page.students)), page.mean, page.low, page.high, *[None] * 4]
    groups: list[list[Value]] = [
        [
            group.name,
            float(len(group.students)),
            group.mean,
            group.low,
            group.high,
            group.others,
            group.difference,
            group.difference_low,
            group.difference_high,
        ]
        for group in page.groups
    ]
    shares = TypedTable(
        _("Share of the marks by group"),
        [
            Column("group", _("Group")),
            *_mean_columns()[:4],
            Column("others", _("The others"), "share", places=1),
            *_mean_columns()[4:-3],
        ],
        [*groups, whole],
        foot=1,
    )
    by_student = {entry.student: entry for entry in page.students}
    members: list[list[Value]] = [
        [*who(seats[pk].student, seats[pk].desk), group.name, entry.total, entry.of, entry.share]
        for group in page.groups
        for pk in group.students
        if (entry := by_student.get(pk)) is not None
    ]
    people = TypedTable(
        _("Students by group"),
        [
            *who_columns(),
            Column("group", _("Group")),
            Column("total", _("Total"), "marks"),
            Column("of", _("Of"), "marks"),
            Column("share", _("Share"), "share", places=1),
        ],
        members,
        names=NAMES,
    )
    skills = TypedTable(
        _("Skills by group"),
        [
            Column("skill", _("Skill")),
            *(Column(f"g{at}", group.name, "share") for at, group in enumerate(page.groups, start=1)),
            Column("class", _("The class"), "share"),
        ],
        [
            [skill, *(group.skills[at] for group in page.groups), page.of_class[at]]
            for at, skill in enumerate(page.skills)
        ],
    )
    return [shares, people, *([skills] if page.skills else [])]


def not_tested_tables(school_class: SchoolClass, page: NotTestedPage) -> list[TypedTable]:
    """A line a student and sitting missed; who had no seat in any has one line."""
    names = _names_in(school_class)
    rows: list[list[Value]] = []
    for state, students in ((_("No total in these days"), page.nothing), (_("Missed something"), page.something)):
        for student in students:
            if student.student not in names:
                continue
            begin: list[Value] = [*names[student.student], state, student.last]
            rows += [[*begin, missed.title, missed.held_on] for missed in student.missed] or [[*begin, None, None]]
    columns = [
        *who_columns(),
        Column("state", _("State"), "choice"),
        Column("last", _("Last tested"), "date"),
        Column("missed", _("Missed")),
        Column("held_on", _("Day"), "date"),
    ]
    return [TypedTable(_("Not tested"), columns, rows, names=NAMES)]


def _names_in(school_class: SchoolClass) -> dict[int, list[Value]]:
    return {place.student_id: who(place.student, place.desk) for place in places_of(school_class)}
