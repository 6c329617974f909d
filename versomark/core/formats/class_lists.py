"""Class lists from any table: which column is what, and each row as a student, or what is wrong with it."""

import re
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal, get_args

from versomark.core.language import _
from versomark.core.names import is_family_first

from .mail_address import is_mail_address
from .tables import Sheet

Column = Literal[
    "given_name", "family_name", "full_name", "number", "email", "desk", "groups", "tags", "extra_time", "large_print",
    "quiet_start", "break_minutes", "read_aloud", "class_name", "guardian_email",
]  # fmt: skip
COLUMNS: tuple[Column, ...] = get_args(Column)

_HEADINGS: Mapping[Column, str] = {
    "given_name": r"(given|first|fore|christian|preferred|known) ?name|vorname|rufname|prenom|nombre|given|first",
    "family_name": r"(family|last|sur|second) ?name|surname|nachname|familienname|nom( de famille)?"
    r"|(primer )?apellidos?|last",
    "full_name": r"(full |pupil |student |learner )?names?|pupil|student|learner|name,? vorname|schuler(in)?|eleve"
    r"|alumn[oa]|estudiante|nombre completo|apellidos y nombre",
    "number": r"(student|pupil|admission|adm|school|learner|roll|index|exam) ?(id|no|nr|num|number|code)|id|upn"
    r"|numero( de (alumn[oa]|estudiante))?|matricula",
    "email": r"(school |student |pupil )?(e ?)?mail( address)?|correo( electronico)?",
    "desk": r"(desk|seat|list|platz)?( ?(no|nr|num|number))?|place|#|desk|seat|platz|puesto|asiento",
    "groups": r"groups?|set|table group|team|gruppe|grupos?",
    "tags": r"tags?|labels?|notes? for reports",
    "extra_time": r"extra( |_)?time.*|time (allowance|plus).*|access arrangements?|nachteilsausgleich",
    "large_print": r"large (print|type)|enlarged.*|grossdruck",
    "quiet_start": r"quiet( start| room)?|separate room",
    "break_minutes": r"(rest )?breaks?( in)?( min(ute)?s)?|pausen?|descansos?",
    "read_aloud": r"read(er|ing)? ?(aloud|out)?|read[- ]?aloud|vorlesen",
    "guardian_email": r"(parent|guardian|carer|family|home|eltern)( ?s)? ?(e ?)?mail( address)?",
    "class_name": r"class|form|tutor group|reg(istration)?( group| form)?|section|klasse|homeroom|clase|curso",
}
_YES = {"yes", "y", "true", "1", "x", "✓", "✔", "ja", "oui", "si", "on"}
_NO = {"", "no", "n", "false", "0", "-", "–", "nein", "non", "off", "none"}
LONGEST_NAME = 60


@dataclass(frozen=True)
class StudentRow:
    """A student as a list gives them. None where the list says nothing, so that nothing kept is overwritten."""

    line: int
    given_name: str
    family_name: str
    number: str = ""
    email: str = ""
    desk: int | None = None
    groups: list[str] | None = None
    tags: list[str] | None = None
    extra_time: int | None = None
    large_print: bool | None = None
    quiet_start: bool | None = None
    break_minutes: int | None = None
    read_aloud: bool | None = None
    class_name: str = ""
    guardian_email: str = ""


@dataclass(frozen=True)
class Wrong:
    """What cannot be read: line as in the file, column by its letter as a spreadsheet has it."""

    line: int
    column: str
    says: str


@dataclass(frozen=True)
class ReadList:
    students: list[StudentRow]
    wrong: list[Wrong] = field(default_factory=list)


@dataclass(frozen=True)
class Guess:
    """Where the heading stands (None where the list has none) and what each column seems to be."""

    header: int | None
    columns: list[Column | None]


def column_letter(at: int) -> str:
    """A, B, … Z, AA: as a spreadsheet names it."""
    return (column_letter(at // 26 - 1) if at >= 26 else "") + chr(65 + at % 26)


def guess(sheet: Sheet) -> Guess:
    """The heading is the first of the top rows that names a column; without one, the columns are guessed by content."""
    for at, row in enumerate(sheet.rows[:12]):
        columns = headings(row)
        names = {"given_name", "family_name", "full_name"} & {column for column in columns if column}
        if names:
            return Guess(at, columns)
    return Guess(None, _by_content(sheet.rows))


def headings(row: Sequence[str]) -> list[Column | None]:
    """What each cell of a heading names; None for a cell that names nothing of a class list."""
    columns: list[Column | None] = []
    for cell in row:
        words = _plain(cell)
        match = next(
            (column for column, pattern in _HEADINGS.items() if column not in columns and re.fullmatch(pattern, words)),
            None,
        )
        columns.append(match)
    return columns


def _by_content(rows: Sequence[Sequence[str]]) -> list[Column | None]:
    """Names are columns of letters: one is a full name, two are given and family; a run of whole numbers is desks."""
    width = len(rows[0]) if rows else 0
    columns: list[Column | None] = [None] * width
    cells = [[row[at] for row in rows if row[at]] for at in range(width)]
    letters = [at for at in range(width) if cells[at] and all(re.search(r"[^\W\d_]", cell) for cell in cells[at])]
    if len(letters) == 1 or (letters and any("," in cell or " " in cell for cell in cells[letters[0]])):
        columns[letters[0]] = "full_name"
    elif letters:
        columns[letters[0]], columns[letters[1]] = "given_name", "family_name"
    for at in range(width):
        if cells[at] and columns[at] is None and all(cell.isdigit() and int(cell) < 1000 for cell in cells[at]):
            columns[at] = "desk"
            break
    return columns


def read_students(sheet: Sheet, header: int | None, columns: Sequence[Column | None]) -> ReadList:
    """Each row under the heading as a student. Rows that are empty, or that sum up the list, are passed over."""
    used = [column for column in columns if column]
    doubled = sorted({column for column in used if used.count(column) > 1})
    if doubled:
        return ReadList(
            [], [Wrong(sheet.first_line, "", _("Two columns are matched to {words}.", words=words(doubled[0])))]
        )
    if not {"given_name", "full_name"} & set(used):
        return ReadList([], [Wrong(sheet.first_line, "", _("No column is matched to the students' names."))])
    students, wrong, seen = list[StudentRow](), list[Wrong](), dict[str, int]()
    start = 0 if header is None else header + 1
    for offset, row in enumerate(sheet.rows[start:], start=start):
        line = sheet.first_line + offset
        if not any(row[at] for at, column in enumerate(columns) if column and at < len(row)):
            continue
        student, problems = _student(line, row, columns)
        wrong += problems
        if student is None or problems:
            continue
        same = student.number or f"{student.class_name} {student.given_name} {student.family_name}".casefold()
        if same in seen:
            at = next((at for at, column in enumerate(columns) if column in ("number", "full_name", "given_name")), 0)
            who = f"{student.given_name} {student.family_name}".strip()
            wrong.append(
                Wrong(line, column_letter(at), _("{who} stands on line {seen} already.", who=who, seen=seen[same]))
            )
            continue
        seen[same] = line
        students.append(student)
    return ReadList(students, wrong)


def _student(line: int, row: Sequence[str], columns: Sequence[Column | None]) -> tuple[StudentRow | None, list[Wrong]]:
    # An apostrophe before a sign keeps a spreadsheet from taking the cell for a formula, and is no part of it.
    cell = {
        column: re.sub(r"^'(?='*[=+\-@])", "", row[at]) for at, column in enumerate(columns) if column and at < len(row)
    }
    place = {column: column_letter(at) for at, column in enumerate(columns) if column}
    wrong = list[Wrong]()

    def refuse(column: Column, says: str) -> None:
        wrong.append(Wrong(line, place[column], says))

    if "full_name" in cell and not cell.get("given_name"):
        given, family = split_name(cell["full_name"])
    else:
        given, family = cell.get("given_name", ""), cell.get("family_name", "")
    names: Column = "given_name" if "given_name" in cell else "full_name"
    if not given and family:
        given, family = family, ""
    if not given:
        refuse(names, _("There is no name on this line."))
        return None, wrong
    if max(len(given), len(family)) > LONGEST_NAME:
        refuse(names, _("A name has at most {longest_name} letters.", longest_name=LONGEST_NAME))
        return None, wrong
    if not re.search(r"[^\W\d_]", given):
        refuse(names, _("“{given}” is not a name.", given=given))
        return None, wrong

    def number(column: Column, low: int, high: int, name: str) -> int | None:
        text = cell.get(column, "").rstrip("% ").strip()
        if not text:
            return None
        if not text.isdigit() or not low <= int(text) <= high:
            refuse(column, _("“{cell}” is not {name}.", cell=cell[column], name=name))
            return None
        return int(text)

    def yes(column: Column) -> bool | None:
        if column not in cell:
            return None
        text = _plain(cell[column]) or cell[column].strip()
        if text in _YES:
            return True
        if text not in _NO:
            refuse(column, _("“{cell}” is neither yes nor no.", cell=cell[column]))
            return None
        return False

    def several(column: Column) -> list[str] | None:
        if column not in cell:
            return None
        # A semicolon is the surest sign; where there is one, a comma or a stroke belongs to a name.
        text = cell[column]
        sign = ";" if ";" in text else "|" if "|" in text else "[,/]"
        parts = (" ".join(part.split())[:60] for part in re.split(re.escape(sign) if len(sign) == 1 else sign, text))
        return list(dict.fromkeys(part for part in parts if part))

    def email(column: Literal["email", "guardian_email"]) -> str:
        text = cell.get(column, "").strip()
        if text and not is_mail_address(text):
            refuse(column, _("“{text}” is not a mail address.", text=text))
            return ""
        return text[:254]

    student = StudentRow(
        line=line,
        given_name=given,
        family_name=family,
        number=cell.get("number", "")[:40],
        email=email("email"),
        guardian_email=email("guardian_email"),
        desk=number("desk", 1, 999, _("a desk number from 1 to 999")),
        groups=several("groups"),
        tags=several("tags"),
        extra_time=number("extra_time", 0, 200, _("a percentage from 0 to 200")),
        large_print=yes("large_print"),
        quiet_start=yes("quiet_start"),
        break_minutes=number("break_minutes", 0, 120, _("a number of minutes from 0 to 120")),
        read_aloud=yes("read_aloud"),
        class_name=cell.get("class_name", "")[:60],
    )
    return student, wrong


def split_name(line: str) -> tuple[str, str]:
    """`Ortega, Wren`, `Wren Ortega` and `王 小明` as given and family name; one word is a given name."""
    if "," in line:
        family, _sign, given = (" ".join(part.split()) for part in line.partition(","))
        return given or family, family if given else ""
    parts = line.split()
    if len(parts) > 1 and is_family_first(*parts):
        return " ".join(parts[1:]), parts[0]
    return (parts[0], " ".join(parts[1:])) if parts else ("", "")


def words(column: Column) -> str:
    """A column as a person would say it."""
    return {"number": _("student number"), "groups": "groups", "tags": "tags"}.get(column, column.replace("_", " "))


def _plain(text: str) -> str:
    """A heading without case, accents, dots and dashes."""
    text = unicodedata.normalize("NFD", text.casefold())
    text = "".join(letter for letter in text if not unicodedata.combining(letter))
    return " ".join(re.sub(r"[^\w#,✓✔%]+", " ", text.replace("_", " ")).replace("%", " ").split())
