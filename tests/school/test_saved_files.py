"""What is on a page as files of other programs: opened by libraries that did not write them, and compared cell by cell
(calamine for XLSX and ODS, the XML of DOCX itself, PDFium for PDF, Python's csv)."""

import io
import zipfile
from typing import Any
from xml.etree import ElementTree

import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st
from python_calamine import CalamineWorkbook

from tests.conftest import Staffroom
from tests.school.test_teacher_side import send
from versomark.school.reports.formats import written
from versomark.school.reports.report import Cell, Number, Report, Table
from versomark.school.tables_out import inert

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
words = st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), max_size=12).map(str.strip)
strange = ["–", "", "=1+1", "@x", "007", "4 of 6", "secure", "not yet", "+49 30", "-lead", "1e5", "'=2"]
cells = st.one_of(
    (words | st.sampled_from(strange)).map(Cell),
    st.integers(-100, 100).map(lambda n: Cell(f"{n}%".replace("-", "−"), Number(n / 100, 0, percent=True))),
    st.floats(-9, 99, allow_nan=False).map(lambda x: Cell(f"{x:.2f}".replace("-", "−"), Number(x, 2))),
)
tables = st.integers(1, 5).flatmap(
    lambda width: st.builds(
        Table,
        words,
        st.lists(words.filter(bool), min_size=width, max_size=width),
        st.lists(st.lists(cells, min_size=width, max_size=width), min_size=1, max_size=6),
    )
)
reports = st.builds(Report, title=words.filter(bool), opening=words, tables=st.lists(tables, min_size=1, max_size=3))


def value_of(cell: Cell) -> Any:
    """What a spreadsheet is to have for it."""
    return "" if cell.text.strip() in ("", "–") else cell.number.value if cell.number else inert(cell.text)


def read_back(found: list[list[Any]]) -> list[list[Any]]:
    return [[entry.strip() if isinstance(entry, str) else entry for entry in row] for row in found]


@example(Report("A", "", [Table("", ["–"], [[Cell("0")]])]))
@settings(deadline=None, max_examples=60, suppress_health_check=[HealthCheck.too_slow])
@given(reports)
def test_every_cell_is_what_was_said(report: Report) -> None:
    for form in ("xlsx", "ods"):
        book = CalamineWorkbook.from_filelike(io.BytesIO(written(report, form)))  # type: ignore[arg-type]
        assert len(book.sheet_names) == len(report.tables)
        assert len({name.casefold() for name in book.sheet_names}) == len(report.tables)
        for name, table in zip(book.sheet_names, report.tables, strict=True):
            back = read_back(book.get_sheet_by_name(name).to_python(skip_empty_area=False))
            expected = [
                [inert(head) for head in table.heads],
                *[[value_of(entry) for entry in row] for row in table.rows],
            ]
            for row, wanted in zip(back, expected, strict=False):
                for one, other in zip(row, wanted, strict=False):
                    assert one == (pytest.approx(other, abs=1e-9) if isinstance(other, float) else other), form
            # Empty rows and columns at the end are no part of a sheet.
            last = max(i for i, row in enumerate(expected) if any(entry != "" for entry in row))
            assert len(back) > last
    root = ElementTree.fromstring(written(report, "xml"))
    for place, table in zip(root.findall("table"), report.tables, strict=True):
        assert [[cell.text or "" for cell in row] for row in place.findall("row")] == [
            [cell.text for cell in row] for row in table.rows
        ]
        first = place.find("row")
        assert first is not None
        assert [cell.get("column") for cell in first] == list(table.heads)
        for cell, one in zip(first, table.rows[0], strict=True):
            assert cell.get("value") == (f"{one.number.value:.12g}" if one.number else None)
    document = zipfile.ZipFile(io.BytesIO(written(report, "docx"))).read("word/document.xml")
    grids = ElementTree.fromstring(document).iter(f"{W}tbl")
    for grid, table in zip(grids, report.tables, strict=True):
        cells = [
            ["".join(t.text or "" for t in cell.iter(f"{W}t")) for cell in row.iter(f"{W}tc")]
            for row in grid.iter(f"{W}tr")
        ]
        assert cells == [list(table.heads), *[[cell.text for cell in row] for row in table.rows]]
        assert len(list(grid.iter(f"{W}tblHeader"))) == 1
    text = written(report, "text").decode()
    assert all(cell.text in text for table in report.tables for row in table.rows for cell in row)


@pytest.mark.django_db
def test_a_view_is_kept_under_a_name_and_is_ones_own(school: Staffroom, staffroom: Any) -> None:
    address = "/records/1?order=average&hidden=3,4&below=60"
    assert send(school.client, "post", "views", {"name": " Who  needs help ", "address": address}).status_code == 200
    again = send(school.client, "post", "views", {"name": "Who needs help", "address": "/records/1?below=50"}).json()
    assert [(entry["name"], entry["address"]) for entry in again] == [("Who needs help", "/records/1?below=50")]
    for wrong in ("https://elsewhere.example/", "//elsewhere.example/records/1", "/records/", "javascript:alert(1)"):
        assert send(school.client, "post", "views", {"name": "x", "address": wrong}).status_code == 422
    assert send(school.client, "post", "views", {"name": " ", "address": address}).status_code == 422
    stranger = staffroom("stranger")
    assert stranger.client.get("/api/v1/views").json() == []
    assert send(stranger.client, "delete", f"views/{again[0]['id']}").status_code == 404
    assert send(school.client, "delete", f"views/{again[0]['id']}").json() == []
