"""The tables of an analysis that leave: questions, options, students by questions, the scale, totals, groups, times,
and the same questions in other sittings. Figures are the ones of the page, unrounded."""

from typing import Literal

from versomark.core.language import _
from versomark.core.text import plain
from versomark.school.findings.public import (
    FilteredAnalysis,
    FindingsPageBody,
    GroupsPage,
    OtherSittings,
    TimePage,
    TotalsPage,
    scale_of,
    table_of,
)

from .tables import NAMES, who, who_columns
from .typed import Column, TypedTable, Value

View = Literal["paper", "ideas", "map", "summary", "table", "scale", "totals", "groups", "time", "other-sittings"]


def idea_table(read: FindingsPageBody) -> TypedTable:
    """A line an idea, likeliest first. How many hold it is a number only where it is likelier at work than not."""
    labels = {question.ref: question.label for question in read.paper}
    lines: list[list[Value]] = [
        [
            idea.idea,
            idea.p,
            *([idea.expected, float(idea.low), float(idea.high)] if idea.p >= 0.5 else [None] * 3),
            "; ".join(f"{labels.get(sign.item, sign.item)}: {sign.option}, {sign.chosen}" for sign in idea.signs),
        ]
        for idea in sorted(read.ideas, key=lambda idea: (-idea.p, -idea.expected))
    ]
    columns = [
        Column("idea", _("What some may think")),
        Column("p", _("At work here"), "number", places=2),
        Column("holders", _("Hold it"), "number", places=1),
        Column("low", _("Hold it, from"), "number", detail=True),
        Column("high", _("Hold it, to"), "number", detail=True),
        Column("signs", _("Answers that show it")),
    ]
    return TypedTable(_("Ideas"), columns, lines)


def question_tables(read: FindingsPageBody) -> list[TypedTable]:
    """A line a question; and a line an option, with who chose it."""
    short: dict[str, list[str]] = {}
    full: dict[str, list[str]] = {}
    for flag in read.flags:
        short.setdefault(flag.ref, []).append(flag.heading)
        full.setdefault(flag.ref, []).append(f"{flag.heading}: {flag.says}")
    questions: list[list[Value]] = []
    options: list[list[Value]] = []
    for question in read.paper:
        figures = question.figures
        keys = [option.option for option in question.options if option.key]
        questions.append(
            [
                question.label,
                plain(question.stem),
                question.kind,
                question.marks,
                ", ".join(question.skills) or None,
                ", ".join(keys) or None,
                *(
                    [
                        figures.p,
                        figures.p_low,
                        figures.p_high,
                        figures.sd,
                        figures.d_rest,
                        figures.d,
                        figures.r_rest,
                        figures.r_total,
                        figures.alpha_without,
                        float(figures.omitted),
                        float(figures.not_reached),
                    ]
                    if figures
                    else [None] * 11
                ),
                float(question.waiting) or None,
                "; ".join(short.get(question.ref, [])) or None,
                "\n".join(full.get(question.ref, [])) or None,
            ]
        )
        for at, option in enumerate([*question.options, *question.parts]):
            thirds = question.traces[at].thirds if at < len(question.traces) else [None] * 3
            options.append(
                [
                    question.label,
                    option.part or None,
                    option.option,
                    plain(option.text) or None,
                    _("yes") if option.key else None,
                    float(len(option.seats)),
                    *thirds,
                    option.idea_note or None,
                ]
            )
    question_columns = [
        Column("question", _("Question")),
        Column("asks", _("Asks")),
        Column("kind", _("Kind"), "choice", detail=True),
        Column("marks", _("Marks"), "marks"),
        Column("skills", _("Skills"), detail=True),
        Column("key", _("Key"), "choice"),
        Column("p", _("p"), "number", places=2),
        Column("p_low", _("p, from"), "number", places=2, detail=True),
        Column("p_high", _("p, to"), "number", places=2, detail=True),
        Column("sd", _("SD"), "number", places=2, detail=True),
        Column("d_rest", _("D"), "number", places=2),
        Column("d_total", _("D on the total"), "number", places=2, detail=True),
        Column("r_rest", _("r rest"), "number", places=2),
        Column("r_total", _("r total"), "number", places=2, detail=True),
        Column("alpha_without", _("α without"), "number", places=2),
        Column("omitted", _("Omitted"), "number", detail=True),
        Column("not_reached", _("Not reached"), "number", detail=True),
        Column("waiting", _("Answers not marked"), "number", detail=True),
        Column("findings", _("To look at")),
        Column("says", _("Findings"), detail=True),
    ]
    option_columns = [
        Column("question", _("Question")),
        Column("part", _("Part")),
        Column("option", _("Option"), "choice"),
        Column("says", _("Says")),
        Column("key", _("Key"), "choice"),
        Column("chosen", _("Chosen by"), "number"),
        Column("lower", _("Lower third"), "number", places=1),
        Column("middle", _("Middle"), "number", places=1),
        Column("upper", _("Upper third"), "number", places=1),
        Column("idea", _("Shows the idea")),
    ]
    return [
        TypedTable(_("Questions"), question_columns, questions),
        TypedTable(_("Options"), option_columns, options),
    ]


def student_tables(analysis: FilteredAnalysis) -> list[TypedTable]:
    """Students by questions: what each chose instead of the key, or the marks; and the marks alone."""
    page = table_of(analysis)
    questions = [(f"q{item.number}", item.label) for item in page.items]
    begin: list[list[Value]] = [
        [*_named(analysis, student.seat), student.total, student.caution] for student in page.students
    ]
    columns = [
        *who_columns(),
        Column("total", _("Total"), "marks"),
        Column("caution", _("Caution"), "number", places=2),
    ]
    chosen = [
        [pick or points for pick, points in zip(picks, row, strict=True)]
        for picks, row in zip(page.picks, page.points, strict=True)
    ]
    foot: list[Value] = [_("Caution of the question"), *[None] * 5, *(item.caution for item in page.items)]
    return [
        TypedTable(
            _("Students by questions"),
            [*columns, *(Column(key, label, "choice") for key, label in questions)],
            [[*names, *row] for names, row in zip(begin, chosen, strict=True)],
            names=NAMES,
        ),
        TypedTable(
            _("Marks"),
            [*columns, *(Column(key, label, "marks") for key, label in questions)],
            [*([*names, *row] for names, row in zip(begin, page.points, strict=True)), foot],
            names=NAMES,
            foot=1,
        ),
    ]


def scale_tables(analysis: FilteredAnalysis) -> list[TypedTable]:
    """Questions and students in logits; nothing but heads where there is no scale."""
    page = scale_of(analysis)
    items = page.scale.items if page.scale else []
    persons = page.scale.persons if page.scale else []
    fit = [
        Column("infit", _("Infit"), "number", places=2),
        Column("outfit", _("Outfit"), "number", places=2),
    ]
    return [
        TypedTable(
            _("Questions on the scale"),
            [
                Column("question", _("Question")),
                Column("difficulty", _("Difficulty, logits"), "number", places=2),
                Column("se", _("Standard error"), "number", places=2),
                *fit,
                Column("infit_z", _("Infit, z"), "number", places=2),
                Column("outfit_z", _("Outfit, z"), "number", places=2),
                Column("thresholds", _("Thresholds")),
            ],
            [
                [
                    page.labels[item.id],
                    item.difficulty,
                    item.difficulty_se,
                    item.infit,
                    item.outfit,
                    item.infit_z,
                    item.outfit_z,
                    "; ".join(f"{step:.15g}" for step in item.thresholds) if len(item.thresholds) > 1 else None,
                ]
                for item in items
            ],
        ),
        TypedTable(
            _("Students on the scale"),
            [
                *who_columns(),
                Column("total", _("Total"), "marks"),
                Column("measure", _("Measure, logits"), "number", places=2),
                Column("se", _("Standard error"), "number", places=2),
                *fit,
                Column("outfit_z", _("Outfit, z"), "number", places=2),
            ],
            [
                [
                    *_named(analysis, int(person.student)),
                    person.total,
                    person.measure,
                    person.se,
                    person.infit,
                    person.outfit,
                    person.outfit_z,
                ]
                for person in persons
            ],
            names=NAMES,
        ),
    ]


def totals_tables(analysis: FilteredAnalysis, page: TotalsPage) -> list[TypedTable]:
    """The figures of the whole test, its cuts, its parts, and the test without each question."""
    figures = page.figures

    def column(key: str, head: str) -> Column:
        return Column(key, head, "number", places=3)

    whole: list[tuple[str, str, float | None]] = [
        ("students", _("Students"), float(figures.students)),
        ("max", _("Most marks"), figures.max),
        ("mean", _("Mean"), figures.mean),
        ("sd", _("Standard deviation"), figures.sd),
        ("sem", _("Standard error of measurement"), figures.sem),
        ("alpha", _("α"), figures.alpha),
        ("alpha_low", _("α, from"), figures.alpha_low),
        ("alpha_high", _("α, to"), figures.alpha_high),
        ("lambda2", _("λ2"), figures.lambda2),
        ("split_half", _("Split-half"), figures.split_half),
        ("stratified", _("Stratified α"), figures.stratified),
    ]
    return [
        TypedTable(
            _("The whole test"),
            [Column("figure", _("Figure")), column("value", _("Value"))],
            [[head, value] for _key, head, value in whole],
        ),
        TypedTable(
            _("Cuts"),
            [
                Column("cut", _("Cut"), "share"),
                Column("marks", _("Marks"), "marks"),
                Column("reach", _("Reach it"), "number"),
                Column("below", _("Below"), "number"),
                column("agreement", _("Agreement")),
                column("kappa", _("κ")),
            ],
            [[cut.share, cut.at, float(cut.reach), float(cut.below), cut.agreement, cut.kappa] for cut in figures.cuts],
        ),
        TypedTable(
            _("Parts"),
            [
                Column("part", _("Part")),
                Column("items", _("Questions"), "number"),
                Column("max", _("Most marks"), "marks"),
                column("mean", _("Mean")),
                column("alpha", _("α")),
                column("alpha_low", _("α, from")),
                column("alpha_high", _("α, to")),
                column("sem", _("Standard error of measurement")),
            ],
            [
                [
                    entry.name,
                    float(entry.items),
                    entry.max,
                    entry.mean,
                    entry.alpha,
                    entry.alpha_low,
                    entry.alpha_high,
                    entry.sem,
                ]
                for entry in figures.subtests
            ],
        ),
        TypedTable(
            _("Without one question"),
            [Column("question", _("Question")), column("alpha", _("α without")), column("change", _("Change in α"))],
            [[page.labels[entry.id], entry.alpha, entry.change] for entry in figures.without],
        ),
        TypedTable(
            _("Totals"),
            [*who_columns(), Column("total", _("Total"), "marks")],
            [[*_named(analysis, int(seat)), total] for seat, total in page.totals.items()],
            names=NAMES,
        ),
    ]


def compared_tables(page: GroupsPage) -> list[TypedTable]:
    """Two groups, question by question."""
    compared = page.compared
    first, second = (compared.first, compared.second) if compared else (_("the others"), _("the group"))
    columns = [
        Column("question", _("Question")),
        Column("first", first, "share", places=1),
        Column("second", second, "share", places=1),
        Column("difference", _("Difference"), "share", places=1),
        Column("difference_low", _("Difference, from"), "share", places=1),
        Column("difference_high", _("Difference, to"), "share", places=1),
        Column("delta", _("At the same total, Δ"), "number", places=2),
        Column("class", _("Class of that"), "choice"),
    ]
    rows: list[list[Value]] = [
        [
            page.labels[entry.id],
            entry.first,
            entry.second,
            entry.difference,
            entry.low,
            entry.high,
            entry.delta,
            entry.letter,
        ]
        for entry in (compared.items if compared else [])
    ]
    foot: list[list[Value]] = (
        [
            [
                _("All of it"),
                compared.first_mean,
                compared.second_mean,
                compared.difference,
                compared.low,
                compared.high,
                None,
                None,
            ]
        ]
        if compared
        else []
    )
    return [TypedTable(_("Two groups compared"), columns, [*rows, *foot], foot=len(foot))]


def time_tables(page: TimePage) -> list[TypedTable]:
    """Seconds on each question."""

    def column(key: str, head: str) -> Column:
        return Column(key, head, "number")

    return [
        TypedTable(
            _("Time on each question"),
            [
                Column("question", _("Question")),
                column("students", _("Students")),
                column("median", _("Median, seconds")),
                column("q1", _("Lower quartile")),
                column("q3", _("Upper quartile")),
                column("right", _("Who has it right")),
                column("others", _("The others")),
            ],
            [
                [
                    page.labels[entry.id],
                    float(entry.students),
                    entry.median,
                    entry.q1,
                    entry.q3,
                    entry.right,
                    entry.others,
                ]
                for entry in page.figures.items
            ],
        )
    ]


def other_sittings_tables(page: OtherSittings) -> list[TypedTable]:
    """Questions down, sittings across; and the sittings."""
    return [
        TypedTable(
            _("The same questions in other sittings"),
            [
                Column("question", _("Question")),
                Column("asks", _("Asks")),
                *(
                    Column(
                        f"sitting{entry.sitting}", f"{entry.class_name}, {entry.held_on:%d.%m.%Y}", "share", places=1
                    )
                    for entry in page.columns
                ),
                Column("difference", _("Difference"), "share", places=1),
                Column("difference_low", _("Difference, from"), "share", places=1),
                Column("difference_high", _("Difference, to"), "share", places=1),
            ],
            [[row.label, plain(row.stem), *row.p, row.difference, row.low, row.high] for row in page.rows],
        ),
        TypedTable(
            _("Sittings"),
            [
                Column("sitting", _("Sitting")),
                Column("class", _("Class")),
                Column("held_on", _("Day"), "date"),
                Column("students", _("Students"), "number"),
                Column("mean", _("Mean"), "share", places=1),
                Column("alpha", _("α"), "number", places=2),
            ],
            [
                [entry.name, entry.class_name, entry.held_on, float(entry.students), entry.mean, entry.alpha]
                for entry in page.columns
            ],
        ),
    ]


def _named(analysis: FilteredAnalysis, seat: int) -> list[Value]:
    return who(analysis.seats[seat].student, analysis.seats[seat].desk)
