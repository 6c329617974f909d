"""Tables of marks earned elsewhere: students by labels, from any spreadsheet; and the lines that describe a test."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from versomark.core.editions.external import MOST_MARKS, ExternalGroup
from versomark.core.items.marks_only import MarksOnly, MarksOnlyResponse
from versomark.core.language import _, in_figures

from .class_lists import Column, headings, split_name
from .tables import Sheet

Absence = Literal["absent", "excused"]

WHO: tuple[Column, ...] = ("given_name", "family_name", "full_name", "number", "desk")
_ABSENT = {"a", "abs", "absent", "away"}
_EXCUSED = {"e", "ex", "exc", "excused"}
_SUMMARY = re.compile(r"(max(imum)?|out of|possible|average|mean|median|total|marks?)( .*)?")
_POINTS = re.compile(r"\d{1,3}([.,]\d+)?")


@dataclass(frozen=True)
class MarksColumn:
    ref: str
    content: MarksOnly


@dataclass(frozen=True)
class MarksStudent:
    """A student as a table may name them; `key` is the caller's own."""

    key: int
    desk: int
    given_name: str
    family_name: str
    number: str = ""


@dataclass(frozen=True)
class ReadMarks:
    """What a table says. Empty cells say nothing, so that nothing entered before is taken away.

    marks: (student's key, column's ref) -> points. absences: key -> which. refused: cells and lines that cannot stand,
    in words. unknown: columns of the table that are none of the test's; missing: labels the table does not have.
    """

    marks: dict[tuple[int, str], float] = field(default_factory=dict)
    absences: dict[int, Absence] = field(default_factory=dict)
    refused: list[str] = field(default_factory=list)
    unknown: list[str] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)


def points_typed(text: str) -> float | None:
    """A mark as people write it: 3, 3.5, 3,5, 3½, ½. None for anything else, and for less than half marks."""
    text = text.strip()
    half = text.endswith("½")
    text = text.removesuffix("½").strip() or ("0" if half else "")
    if not _POINTS.fullmatch(text):
        return None
    value = float(text.replace(",", ".")) + half / 2
    return value if (2 * value).is_integer() else None


def mark_refused(content: MarksOnly, points: float | None) -> str:
    """Why a mark cannot stand, in words; empty when it can."""
    if points is None:
        return _("A mark is a number") + (_(", in halves at most.") if content.half_marks else ".")
    try:
        content.fits(MarksOnlyResponse(points=min(points, MOST_MARKS)))
    except ValueError as error:
        return str(error)
    return (
        ""
        if points <= content.marks
        else _("{label} has at most {marks}.", label=content.label, marks=in_figures(content.marks, "g"))
    )


def read_marks(sheet: Sheet, columns: Sequence[MarksColumn], students: Sequence[MarksStudent]) -> ReadMarks:
    """The marks of a table whose heading names students (by name, number or desk) and labels of the test."""
    by_label = {_label(column.content.label): column for column in columns}
    header = next((at for at, row in enumerate(sheet.rows[:12]) if any(_label(cell) in by_label for cell in row)), None)
    if header is None:
        return ReadMarks(
            refused=[_("No column of this table has a label of the test, such as ") + _some(columns) + "."]
        )
    heads = sheet.rows[header]
    marks_at = {at: by_label[_label(cell)] for at, cell in enumerate(heads) if _label(cell) in by_label}
    # A column without a heading says nothing here, whatever a class list makes of it.
    others = [at for at, cell in enumerate(heads) if cell and at not in marks_at]
    named = zip(others, headings([heads[at] for at in others]), strict=True)
    who_at: dict[Column, int] = {column: at for at, column in named if column in WHO}
    if not who_at:
        return ReadMarks(
            refused=[_("No column of this table says whose marks they are: name, student number or desk.")]
        )
    known = [*marks_at, *who_at.values()]
    marks_read = ReadMarks(
        unknown=[
            cell for at, cell in enumerate(heads) if cell and at not in known and not _SUMMARY.fullmatch(_plain(cell))
        ],
        missing=[column.content.label for column in columns if column not in marks_at.values()],
    )
    refs = [column.ref for column in marks_at.values()]
    for ref in {ref for ref in refs if refs.count(ref) > 1}:
        label = next(column.content.label for column in columns if column.ref == ref)
        marks_read.refused.append(_("Two columns are called {label}; the right one is taken.", label=label))
    seen = dict[int, int]()
    for line, row in enumerate(sheet.rows[header + 1 :], start=sheet.first_line + header + 1):
        # An apostrophe keeps a spreadsheet from taking a name for a formula, and is no part of it.
        who = {column: re.sub(r"^'(?='*[=+\-@])", "", row[at]) for column, at in who_at.items()}
        if not any(row):
            continue
        student, says = _whose(who, students)
        # Somebody may be called Max; only what is nobody's name can be the line of maxima.
        if student is None and any(_SUMMARY.fullmatch(_plain(cell)) for cell in who.values()):
            continue
        if student is None:
            marks_read.refused.append(_("Line {line}: {says}", line=line, says=says))
            continue
        if student.key in seen:
            marks_read.refused.append(
                _(
                    "Line {line}: {name} stands on line {seen} already.",
                    line=line,
                    name=_name(student),
                    seen=seen[student.key],
                )
            )
            continue
        seen[student.key] = line
        _read_row(marks_read, student, ((marks_at[at], row[at]) for at in marks_at))
    return marks_read


def _read_row(marks_read: ReadMarks, student: MarksStudent, cells: Iterable[tuple[MarksColumn, str]]) -> None:
    for column, cell in cells:
        words = _plain(cell)
        if not cell:
            continue
        if words in _ABSENT or words in _EXCUSED:
            marks_read.absences[student.key] = "absent" if words in _ABSENT else "excused"
            continue
        points = points_typed(cell)
        if says := mark_refused(column.content, points):
            marks_read.refused.append(f"{_name(student)}, {column.content.label}: “{cell[:30]}”. {says}")
        elif points is not None:
            marks_read.marks[student.key, column.ref] = points
    if student.key in marks_read.absences and any(key == student.key for key, _ in marks_read.marks):
        del marks_read.absences[student.key]
        marks_read.refused.append(
            _("{name} has marks, and is said to be away; the marks are taken.", name=_name(student))
        )


def _whose(named: Mapping[Column, str], students: Sequence[MarksStudent]) -> tuple[MarksStudent | None, str]:
    number = named.get("number", "")
    if number and (alike := [student for student in students if student.number == number]):
        return alike[0], ""
    given, family = named.get("given_name", ""), named.get("family_name", "")
    if full := named.get("full_name", ""):
        given, family = split_name(full)
    name = f"{given} {family}".strip()
    alike = [student for student in students if _plain(_name(student)) == _plain(name)] if name else []
    desk = named.get("desk", "")
    if not alike and not name and desk.isdecimal():
        alike = [student for student in students if student.desk == int(desk)]
    if len(alike) > 1 and desk.isdecimal():
        alike = [student for student in alike if student.desk == int(desk)]
    if len(alike) == 1:
        return alike[0], ""
    who = name or number or desk or _("the line without a name")
    return None, _("several students are called {who}.", who=who) if alike else _("{who} is not on the list.", who=who)


def groups_from_table(sheet: Sheet) -> tuple[list[ExternalGroup], list[str]]:
    """Lines of a table as groups: label, maximum, skills (semicolons between), what it asks, follow-up.

    Returns the groups, with refs counted from 1, and what could not be read, by line.
    """
    groups, wrong = list[ExternalGroup](), list[str]()
    for line, row in enumerate(sheet.rows, start=sheet.first_line):
        label, marks, skills, about, follow_up = [*row, "", "", "", "", ""][:5]
        if not any(row) or (line == sheet.first_line and marks and not any(map(str.isdigit, marks))):
            continue  # an empty line, or the heading
        points = points_typed(marks)
        if marks and not (points and points <= MOST_MARKS):
            wrong.append(
                _(
                    "Line {line}: “{marks}” is no maximum; it is a number up to {most_marks}.",
                    line=line,
                    marks=marks[:40],
                    most_marks=MOST_MARKS,
                )
            )
            continue
        names = [" ".join(name.split())[:120] for name in skills.split(";")]
        groups.append(
            ExternalGroup(
                ref=f"{1 + len(groups):x}",
                label=label[:300],
                marks=points,
                skills=list(dict.fromkeys(filter(None, names)))[:12],
                about=about[:300],
                follow_up=follow_up[:300],
            )
        )
    return groups, wrong


def _name(student: MarksStudent) -> str:
    return f"{student.given_name} {student.family_name}".strip()


def _some(columns: Sequence[MarksColumn]) -> str:
    return ", ".join(column.content.label for column in columns[:3])


def _label(text: str) -> str:
    """A label as a heading may have it: also behind an apostrophe, or turned into text with a stop: `'-1`, `1.`."""
    return _plain(text).lstrip("'").removesuffix(".")


def _plain(text: str) -> str:
    """Without case, and without the difference between one dash and another, or a space beside it."""
    return re.sub(r"\s*[-–—−]\s*", "-", " ".join(text.casefold().split()))
