"""What is on a page as files of other programs: opened by libraries that did not write them, and compared cell by cell
(calamine for XLSX and ODS, the XML of DOCX itself, PDFium for PDF, Python's csv)."""

import base64
import csv
import io
import zipfile
from typing import Any
from xml.etree import ElementTree

import pypdfium2
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image
from python_calamine import CalamineWorkbook

from tests.conftest import Staffroom
from tests.school.test_teacher_side import send
from versomark.school.reports.formats import written
from versomark.school.reports.report import Report, number_in, shown_table, tone_of
from versomark.school.tables_out import inert

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
words = st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), max_size=12).map(str.strip)
said = st.one_of(
    words,
    st.integers(-100, 100).map(lambda n: f"{n}%".replace("-", "−")),
    st.floats(-9, 99, allow_nan=False).map(lambda x: f"{x:.2f}".replace("-", "−").replace("0.", ".", 1)),
    st.sampled_from(["–", "", "=1+1", "@x", "007", "4 of 6", "secure", "not yet", "+49 30", "-lead", "1e5", "'=2"]),
)
tables = st.integers(1, 5).flatmap(
    lambda width: st.builds(
        shown_table,
        words,
        st.lists(words.filter(bool), min_size=width, max_size=width),
        st.lists(st.lists(said, min_size=width, max_size=width), min_size=1, max_size=6),
    )
)
reports = st.builds(Report, title=words.filter(bool), opening=words, tables=st.lists(tables, min_size=1, max_size=3))


def value_of(cell: str) -> Any:
    """What a spreadsheet is to have for it."""
    number = number_in(cell)
    return "" if cell.strip() in ("", "–") else number.value if number else inert(cell)


def read_back(found: list[list[Any]]) -> list[list[Any]]:
    return [[entry.strip() if isinstance(entry, str) else entry for entry in row] for row in found]


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
                *[[value_of(entry.text) for entry in row] for row in table.rows],
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


def test_numbers_and_colours_are_told_from_words() -> None:
    assert number_in("57%") == (0.57, 0, True)
    assert number_in("−.08") == (-0.08, 2, False)
    assert number_in("12") == (12.0, 0, False)
    for no_number in ("", "–", "007", "4 of 6", "0:45", "A", "1e5", ".", "%", "−", "1" * 16, "٣"):
        assert number_in(no_number) is None, no_number
    # A share by itself is neither good nor bad: a wrong option at 85% is not, nor is a key at 12%.
    assert [tone_of(entry) for entry in ("85%", "12%", "Secure", "not yet", "90", "B")] == [
        "",
        "",
        "good",
        "poor",
        "",
        "",
    ]


def page(**parts: Any) -> dict[str, Any]:
    chart = io.BytesIO()
    Image.new("RGB", (40, 20), "teal").save(chart, "PNG")
    return {
        "title": "Skills & bands of 8 Heron",
        "about": "8 Heron · 24 of 26",
        "opening": "The class lacks Ohm’s law most.",
        "tables": [
            {"caption": "By skill", "heads": ["Student", "Share", "Band"], "rows": [["Zoë Ñ.", "57%", "nearly"]] * 40}
        ],
        "picture": base64.b64encode(chart.getvalue()).decode(),
        "pictured": "Bands by skill",
        **parts,
    }


@pytest.mark.django_db
def test_a_page_is_saved_with_its_sentence_and_its_chart(school: Staffroom) -> None:
    reply = send(school.client, "post", "save/pdf", page())
    assert reply["Content-Type"] == "application/pdf"
    pdf = pypdfium2.PdfDocument(reply.content)
    text = "".join(sheet.get_textpage().get_text_range() for sheet in pdf)
    assert text.count("Zoë Ñ.") == 40
    assert "The class lacks Ohm’s law most." in text.replace("\r\n", " ")
    assert text.count("Student") == len(pdf)  # the heads stand on every page
    assert any(one.type == 3 for sheet in pdf for one in sheet.get_objects())  # its picture
    packed = zipfile.ZipFile(io.BytesIO(send(school.client, "post", "save/zip", page()).content))
    assert sorted(packed.namelist()) == ["By skill.csv", "chart.png", "report.docx", "report.xlsx"]
    rows = list(csv.reader(io.StringIO(packed.read("By skill.csv").decode("utf-8-sig"))))
    assert rows[:2] == [["Student", "Share", "Band"], ["Zoë Ñ.", "0.57", "nearly"]]
    inside = zipfile.ZipFile(io.BytesIO(packed.read("report.docx")))
    assert b"Bands by skill" in inside.read("word/document.xml")
    assert any(name.startswith("word/media/") for name in inside.namelist())
    rules = zipfile.ZipFile(io.BytesIO(packed.read("report.xlsx"))).read("xl/worksheets/sheet1.xml").decode()
    assert "conditionalFormatting" in rules
    assert '<autoFilter ref="A1:C41"' in rules
    book = packed.read("report.xlsx")
    assert CalamineWorkbook.from_filelike(io.BytesIO(book)).sheet_names == ["By skill"]


@pytest.mark.django_db
def test_what_cannot_be_saved_is_said(school: Staffroom) -> None:
    assert send(school.client, "post", "save/exe", page()).status_code == 422
    assert send(school.client, "post", "save/pdf", page(title="")).status_code == 422
    broken = send(school.client, "post", "save/docx", page(picture=base64.b64encode(b"GIF89a").decode()))
    assert (broken.status_code, broken.json()["detail"][:11]) == (422, "The picture")
    many = [{"caption": "", "heads": ["a"] * 900, "rows": [["1"]] * 300}]
    assert send(school.client, "post", "save/xlsx", page(tables=many)).status_code == 422
    uneven = [{"caption": "", "heads": ["a", "b"], "rows": [["1"], ["1", "2", "3"]]}]
    assert send(school.client, "post", "save/xlsx", page(tables=uneven)).status_code == 200
    assert send(school.client, "post", "save/ods", page(tables=[])).status_code == 200


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
