"""Responses, keys and groups from CSV files, as `docs/methods.md` describes them.

Everything that can be wrong in a file is reported with file, line and column, as a teacher's spreadsheet counts
them: the header is line 1 and column 1 is the student.
"""

import csv
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from string import ascii_uppercase

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import NOT_CHOSEN, ItemColumn, OptionColumn, ResponseTable

MAX_STUDENTS = 250_000
MAX_ITEMS = 2_000
MAX_OPTIONS = len(ascii_uppercase)


class BadFile(Exception):
    """A file cannot be used. The message names the file and, where there is one, the line and the column."""

    def __init__(self, path: Path, problem: str, line: int | None = None, column: int | None = None) -> None:
        place = path.name
        if line is not None:
            place += f", line {line}"
        if column is not None:
            place += f", column {column}"
        super().__init__(f"{place}: {problem}")


@dataclass(frozen=True)
class KeyRow:
    """One line of a key file: the answers that are right, the marks, and what may be answered."""

    line: int
    item: str
    answers: tuple[str, ...]
    max: float
    letters: tuple[str, ...] | None
    skills: tuple[str, ...]
    ideas: dict[str, str]
    """answer -> the idea that leads to it"""


@dataclass(frozen=True)
class _Cells:
    """A response file as it stands: header, students, and the cells of each item."""

    path: Path
    items: tuple[str, ...]
    students: tuple[str, ...]
    columns: tuple[tuple[str, ...], ...]


def read_responses(path: Path, key: Path | None = None) -> ResponseTable:
    """A response table from a CSV file, with a key (cells are options) or without (cells are points).

    A key file without a column `key` has the `max` of each item of a file of points.
    """
    cells = _read_cells(path)
    if key is None:
        return _take_points(cells, {})
    _, header = next(_rows(key), (1, []))
    names = [cell.strip().casefold() for cell in header]
    if "key" not in names and "max" in names:
        return _take_points(cells, {name: row.max for name, row in read_key(key, cells.items, of_points=True).items()})
    return _score_choices(cells, read_key(key, cells.items), key)


def read_key(path: Path, items: tuple[str, ...], of_points: bool = False) -> dict[str, KeyRow]:
    """The key for these items. Raises BadFile when a line is unusable or an item has no line. of_points: there are no
    answers, only marks."""
    rows = _rows(path)
    line, header = next(rows, (1, []))
    names = [cell.strip().casefold() for cell in header]
    for needed in ("item",) if of_points else ("item", "key"):
        if needed not in names:
            raise BadFile(path, f"the header has no column “{needed}”", line, 1)
    result: dict[str, KeyRow] = {}
    for line, row in rows:
        _same_length(path, line, row, header)
        cell = dict(zip(names, (value.strip() for value in row), strict=True))
        column = {name: at + 1 for at, name in enumerate(names)}
        name = cell["item"]
        if name not in items:
            raise BadFile(path, f"there is no item “{name}” among the responses", line, column["item"])
        if name in result:
            raise BadFile(path, f"item “{name}” has a key already", line, column["item"])
        letters = _letters_of(path, line, column.get("options"), cell.get("options", ""))
        answers = tuple(_pattern(answer) for answer in cell.get("key", "").split("|"))
        for answer in answers:
            if answer is None or (letters and not set(answer.split("+")) <= set(letters)):
                raise BadFile(path, f"“{cell['key']}” is not a key among the options", line, column["key"])
        result[name] = KeyRow(
            line=line,
            item=name,
            answers=tuple(answer for answer in answers if answer),
            max=_max_of(path, line, column.get("max"), cell.get("max", "")),
            letters=letters,
            skills=tuple(skill.strip() for skill in cell.get("skill", "").split("|") if skill.strip()),
            ideas=_ideas_of(path, line, column.get("idea"), cell.get("idea", ""), letters),
        )
    for item in items:
        if item not in result:
            raise BadFile(path, f"no line for item “{item}”")
    return result


def read_groups(path: Path, students: tuple[str, ...]) -> dict[str, str]:
    """student -> group, in file order. Raises BadFile for a student who is unknown or stands in it twice."""
    rows = _rows(path)
    line, header = next(rows, (1, []))
    if [cell.strip().casefold() for cell in header] != ["student", "group"]:
        raise BadFile(path, "the header must be “student,group”", line, 1)
    known, groups = set(students), dict[str, str]()
    for line, row in rows:
        _same_length(path, line, row, header)
        student, group = row[0].strip(), row[1].strip()
        if student not in known:
            raise BadFile(path, f"there is no student “{student}” among the responses", line, 1)
        if student in groups:
            raise BadFile(path, f"student “{student}” stands in it twice", line, 1)
        if not group:
            raise BadFile(path, f"student “{student}” has no group", line, 2)
        groups[student] = group
    return groups


def _read_cells(path: Path) -> _Cells:
    rows = _rows(path)
    line, header = next(rows, (1, []))
    names = tuple(cell.strip() for cell in header)
    if not names:
        raise BadFile(path, "the file is empty; it needs a header “student,item,…” and one row a student", 1, 1)
    if names[0].casefold() != "student":
        raise BadFile(path, f"the first column must be headed “student”, not “{names[0]}”", line, 1)
    if len(names) < 2:
        raise BadFile(path, "there is no item beside the students", line, 1)
    if len(names) - 1 > MAX_ITEMS:
        raise BadFile(path, f"more than {MAX_ITEMS:,} items", line, MAX_ITEMS + 2)
    seen: dict[str, int] = {}
    for at, name in enumerate(names[1:], start=2):
        if not name:
            raise BadFile(path, "an item has no name", line, at)
        if name in seen:
            raise BadFile(path, f"two items are called “{name}” (columns {seen[name]} and {at})", line, at)
        seen[name] = at
    lines: dict[str, int] = {}
    rows_read: list[list[str]] = []
    for line, row in rows:
        if len(row) != len(names):
            _same_length(path, line, row, header)
        student = row[0].strip()
        if not student:
            raise BadFile(path, "a row has no student", line, 1)
        if student in lines:
            raise BadFile(path, f"student “{student}” stands in line {lines[student]} already", line, 1)
        if len(rows_read) == MAX_STUDENTS:
            raise BadFile(path, f"more than {MAX_STUDENTS:,} students; split the file", line, 1)
        lines[student] = line
        rows_read.append(row)
    if not rows_read:
        raise BadFile(path, "there is a header but no student", 2, 1)
    columns = tuple(zip(*rows_read, strict=True))
    return _Cells(path, names[1:], tuple(lines), columns[1:])


def _rows(path: Path) -> Iterator[tuple[int, list[str]]]:
    """Rows with something in them, with their line numbers."""
    try:
        with path.open(newline="", encoding="utf-8-sig") as file:
            reader = csv.reader(file, strict=True)
            try:
                for row in reader:
                    if row:
                        yield reader.line_num, row
            except csv.Error as error:
                raise BadFile(path, f"not readable as CSV ({error})", reader.line_num, 1) from None
            except UnicodeDecodeError:
                raise BadFile(path, "not UTF-8 text", _first_undecodable_line(path), 1) from None
    except OSError as error:
        raise BadFile(path, f"cannot be opened ({error.strerror})") from None


def _first_undecodable_line(path: Path) -> int:
    """Where the text breaks; the reader itself only knows the block it was reading."""
    with path.open("rb") as file:
        for number, line in enumerate(file, start=1):
            try:
                line.decode("utf-8")
            except UnicodeDecodeError:
                return number
    return 1


def _same_length(path: Path, line: int, row: list[str], header: list[str]) -> None:
    if len(row) != len(header):
        problem = f"{len(row)} cells where the header has {len(header)}"
        raise BadFile(path, problem, line, min(len(row), len(header)) + 1)


def _line_of_row(cells: _Cells, at: int) -> int:
    """The line a student stands in; found by reading again, since only a message needs it."""
    lines = (line for line, _ in _rows(cells.path))
    next(lines)
    return next(line for place, line in enumerate(lines) if place == at)


def _pattern(text: str) -> str | None:
    """`c + a` as `A+C`: the letters of an answer in order; "" for none, None when it is not an answer."""
    text = text.strip().upper()
    if len(text) <= 1:
        return text if text in ascii_uppercase else None
    letters = [part.strip() for part in text.split("+")]
    if any(len(part) != 1 or part not in ascii_uppercase for part in letters) or len(set(letters)) != len(letters):
        return None
    return "+".join(sorted(letters))


def _letters_of(path: Path, line: int, column: int | None, text: str) -> tuple[str, ...] | None:
    """The options of an item: a number of them, or their letters; None where the file does not say."""
    if not text:
        return None
    if text.isdigit() and 2 <= int(text) <= MAX_OPTIONS:
        return tuple(ascii_uppercase[: int(text)])
    letters = text.upper().replace(" ", "").replace("|", "")
    if letters.isalpha() and letters.isascii() and len(set(letters)) == len(letters) >= 2:
        return tuple(letters)
    raise BadFile(path, f"“{text}” is neither a number of options (2 to {MAX_OPTIONS}) nor their letters", line, column)


def _ideas_of(path: Path, line: int, column: int | None, text: str, letters: tuple[str, ...] | None) -> dict[str, str]:
    """`B=current is used up|C=voltage flows` as what leads to each answer."""
    ideas: dict[str, str] = {}
    for part in text.split("|"):
        if not part.strip():
            continue
        option, equals, idea = part.partition("=")
        answer = _pattern(option)
        if not (equals and idea.strip() and answer) or (letters and not set(answer.split("+")) <= set(letters)):
            raise BadFile(
                path, f"“{part.strip()}” is not an option with its idea, as in “B=current is used up”", line, column
            )
        ideas[answer] = idea.strip()
    return ideas


def _max_of(path: Path, line: int, column: int | None, text: str) -> float:
    try:
        value = float(text) if text else 1.0
    except ValueError:
        value = float("nan")
    if not 0 < value <= 1e6:
        raise BadFile(path, f"“{text}” is not a number of marks above 0", line, column)
    return value


NOT_TAKEN = "NA"
"""In a cell: the student was not given the item, or chose another. No answer is written so."""


@dataclass(frozen=True)
class _Column:
    """The cells of one item: what stands in them, each text once, and which of the texts each student has."""

    texts: tuple[str, ...]
    of: NDArray[np.int32]

    def each(self, values: Sequence[float]) -> NDArray[np.float64]:
        """(N,) what each student's cell stands for; `values` has what each of the texts does."""
        spread: NDArray[np.float64] = np.asarray(values)[self.of]
        return spread


def _column(cells: Sequence[str]) -> _Column:
    # A column of thousands of cells holds a few texts: each is understood once.
    place = {text: at for at, text in enumerate(dict.fromkeys(cells))}
    return _Column(tuple(place), np.fromiter(map(place.__getitem__, cells), np.int32, len(cells)))


def _is_taken(text: str) -> bool:
    return text.strip() != NOT_TAKEN


def _score_choices(cells: _Cells, keys: dict[str, KeyRow], key_path: Path | None) -> ResponseTable:
    shape = (len(cells.students), len(cells.items))
    # Columns are filled one by one, so they are laid out that way in memory and turned round once at the end.
    points, choice = np.zeros(shape[::-1]), np.full(shape[::-1], NOT_CHOSEN, dtype=np.int16)
    taken = np.ones(shape[::-1], dtype=bool)
    items = []
    for j, (name, cells_of_item) in enumerate(zip(cells.items, cells.columns, strict=True)):
        key, column = keys[name], _column(cells_of_item)
        patterns = {raw: _pattern(raw) if _is_taken(raw) else "" for raw in column.texts}
        for raw, pattern in patterns.items():
            if pattern is None or (key.letters and pattern and not set(pattern.split("+")) <= set(key.letters)):
                known = f" (this item has {', '.join(key.letters)})" if key.letters else ""
                problem = f"“{raw}” is not an option of item “{name}”{known}"
                raise BadFile(cells.path, problem, _line_of_row(cells, cells_of_item.index(raw)), j + 2)
        given = {pattern for pattern in patterns.values() if pattern}
        labels = sorted(
            given | set(key.answers) | set(key.ideas) | set(key.letters or ()), key=lambda label: (len(label), label)
        )
        place = {label: k for k, label in enumerate(labels)}
        choice[j] = column.each([place[pattern] if pattern else NOT_CHOSEN for pattern in patterns.values()])
        taken[j] = column.each([_is_taken(raw) for raw in column.texts])
        earned = np.array([key.max if label in key.answers else 0.0 for label in labels] + [0.0])
        points[j] = earned[choice[j]]
        options = tuple(
            OptionColumn(label, float(earned[k]), idea_note="" if earned[k] > 0 else key.ideas.get(label, ""))
            for label, k in place.items()
        )
        items.append(ItemColumn(name, key.max, options, key.skills))
    turned = np.ascontiguousarray(choice.T)
    return ResponseTable(
        cells.students,
        tuple(items),
        np.ascontiguousarray(points.T),
        turned,
        turned >= 0,
        np.ascontiguousarray(taken.T),
    )


def _take_points(cells: _Cells, maxima: dict[str, float]) -> ResponseTable:
    shape = (len(cells.items), len(cells.students))
    points, answered, taken = np.zeros(shape), np.zeros(shape, dtype=bool), np.zeros(shape, dtype=bool)
    for j, cells_of_item in enumerate(cells.columns):
        column = _column(cells_of_item)
        values = [_points_of(raw) for raw in column.texts]
        for raw, value in zip(column.texts, values, strict=True):
            if value is None:
                problem = f"“{raw}” is not a number of points from 0, nor {NOT_TAKEN} (give a key for option letters)"
                raise BadFile(cells.path, problem, _line_of_row(cells, cells_of_item.index(raw)), j + 2)
        points[j] = np.nan_to_num(column.each([value or 0.0 for value in values]))
        answered[j] = column.each([bool(raw.strip()) and _is_taken(raw) for raw in column.texts])
        taken[j] = column.each([_is_taken(raw) for raw in column.texts])
    items = []
    for j, (name, of_item) in enumerate(zip(cells.items, points, strict=True)):
        most = maxima.get(name, float(of_item.max()))
        if of_item.max() > most:
            at = int(np.argmax(of_item))
            problem = f"{of_item[at]:g} points for item “{name}”, which has {most:g}"
            raise BadFile(cells.path, problem, _line_of_row(cells, at), j + 2)
        items.append(ItemColumn(name, most))
    turned = [np.ascontiguousarray(array.T) for array in (points, answered, taken)]
    choice = np.full(turned[0].shape, NOT_CHOSEN, dtype=np.int16)
    return ResponseTable(cells.students, tuple(items), turned[0], choice, turned[1], turned[2])


def _points_of(raw: str) -> float | None:
    """Points of a cell; NaN for one without points; None when it is not a number from 0."""
    if raw.strip() in ("", NOT_TAKEN):
        return float("nan")
    try:
        value = float(raw)
    except ValueError:
        return None
    return value if 0 <= value <= 1e6 else None
