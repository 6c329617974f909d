"""A table written as CSV and read again is the same table, however the file is written (Hypothesis)."""

import csv
import io
from pathlib import Path
from string import ascii_uppercase

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from versomark.core.findings import analyse
from versomark.core.formats import BadFile, read_responses

NAMES = st.text(st.characters(codec="utf-8", exclude_categories=["Cc", "Cs", "Zs", "Zl", "Zp"]), min_size=1, max_size=8)
PER_TEST = settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)


@st.composite
def files(draw: st.DrawFn) -> tuple[list[str], list[str], list[list[str]], str]:
    """Students, items, a row of letters a student, and a key letter an item."""
    items = draw(st.lists(NAMES, min_size=1, max_size=6, unique=True))
    students = draw(st.lists(NAMES, min_size=1, max_size=10, unique=True))
    cell = st.sampled_from(["A", "B", "C", "D", ""])
    rows = [draw(st.lists(cell, min_size=len(items), max_size=len(items))) for _ in students]
    return students, items, rows, draw(st.text("ABCD", min_size=len(items), max_size=len(items)))


def text(rows: list[list[str]], quoting: int, delimiter_end: str) -> str:
    out = io.StringIO()
    csv.writer(out, quoting=quoting, lineterminator=delimiter_end).writerows(rows)  # type: ignore[arg-type]
    return out.getvalue()


@given(files(), st.sampled_from([csv.QUOTE_MINIMAL, csv.QUOTE_ALL]), st.sampled_from(["\n", "\r\n"]), st.booleans())
@PER_TEST
def test_quotes_line_ends_case_and_byte_order_marks_do_not_matter(
    tmp_path: Path,
    made: tuple[list[str], list[str], list[list[str]], str],
    quoting: int,
    line_end: str,
    marked: bool,
) -> None:
    students, items, rows, keys = made
    lines = [["Student", *items], *([s, *(c.lower() for c in row)] for s, row in zip(students, rows, strict=True))]
    answers, key = tmp_path / "a.csv", tmp_path / "k.csv"
    answers.write_bytes(text(lines, quoting, line_end).encode("utf-8-sig" if marked else "utf-8"))
    listed = [["item", "key", "options"], *([item, k, "4"] for item, k in zip(items, keys, strict=True))]
    key.write_bytes(text(listed, quoting, line_end).encode())
    table = read_responses(answers, key)
    assert table.students == tuple(students)
    assert [item.id for item in table.items] == items
    for j, item in enumerate(table.items):
        assert [option.label for option in item.options] == list(ascii_uppercase[:4])
        assert [option.label for option in item.options if option.key] == [keys[j]]
    given_back = [["" if c < 0 else ascii_uppercase[c] for c in row] for row in table.choice.tolist()]
    assert given_back == rows
    assert table.points.tolist() == [[float(c == k) for c, k in zip(row, keys, strict=True)] for row in rows]


@given(st.lists(st.lists(st.integers(0, 8).map(lambda h: h / 2), min_size=3, max_size=3), min_size=2, max_size=12))
@PER_TEST
def test_points_are_read_as_numbers_however_they_are_written(tmp_path: Path, values: list[list[float]]) -> None:
    writings = []
    for number, write in enumerate((str, lambda value: f"{value:.3f}", lambda value: f" {value:g} ")):
        path = tmp_path / f"{number}.csv"
        rows = [["student", "a", "b", "c"], *([f"s{i}", *map(write, row)] for i, row in enumerate(values))]
        path.write_text(text(rows, csv.QUOTE_MINIMAL, "\n"))
        writings.append(read_responses(path))
    for table in writings:
        np.testing.assert_array_equal(table.points, values)
        assert table.maxima.tolist() == np.max(values, axis=0).tolist()
    assert analyse(writings[0], explained=False)[0] == analyse(writings[1], explained=False)[0]


@given(st.binary(max_size=200))
@PER_TEST
def test_any_bytes_are_read_or_refused_in_words(tmp_path: Path, content: bytes) -> None:
    path = tmp_path / "any.csv"
    path.write_bytes(content)
    try:
        said = ""
        assert read_responses(path).students
    except BadFile as error:
        said = str(error)
    assert said == "" or said.startswith("any.csv")


@pytest.mark.parametrize("content", [b"student,q1\r\nana,\x00A\n", b"\x89PNG\r\n\x1a\n", b"PK\x03\x04zip"])
def test_files_that_are_no_text_at_all(tmp_path: Path, content: bytes) -> None:
    path = tmp_path / "a.csv"
    path.write_bytes(content)
    with pytest.raises(BadFile, match=r"a\.csv, line \d"):
        read_responses(path)
