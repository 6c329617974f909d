"""Tables that leave: each format read back by another library (calamine, python-docx's XML, PDFium, csv, json) and
compared cell by cell with what the page's own query says."""

import base64
import csv
import io
import json
import zipfile
from typing import Any
from xml.etree import ElementTree

import pypdfium2
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from python_calamine import CalamineWorkbook

from tests.conftest import Staffroom, devices, refs
from tests.school.test_change_and_see import papers, sat
from tests.school.test_teacher_side import send
from versomark.core.items import Option, SingleChoice
from versomark.core.items.by_rubric import Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.classes.models import Student
from versomark.school.classes.services import keep_group
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.grading.numbers import hide_names, show_names
from versomark.school.reports.across import ROOM, look_of, parts_across
from versomark.school.reports.formats import written_tables
from versomark.school.reports.report import Report
from versomark.school.reports.typed import Column, TypedTable
from versomark.school.tables_out import inert

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
pytestmark = pytest.mark.django_db


def read_back(data: bytes, form: str) -> list[list[Any]]:
    """The first table in a file."""
    if form == "csv":
        return [list(row) for row in csv.reader(io.StringIO(data.decode("utf-8-sig")))]
    if form in ("xlsx", "ods"):
        book = CalamineWorkbook.from_filelike(io.BytesIO(data))
        return book.get_sheet_by_index(0).to_python(skip_empty_area=False)
    if form == "json":
        (table, *_) = json.loads(data)
        keys = [column["key"] for column in table["columns"]]
        lines = [*table["rows"], *table["foot"]]
        return [[column["head"] for column in table["columns"]], *[[line[key] for key in keys] for line in lines]]
    if form == "xml":
        table_of = ElementTree.fromstring(data).find("table")
        assert table_of is not None
        rows = [[cell.get("value") or cell.text or "" for cell in row] for row in table_of]
        return [[cell.get("column") for cell in table_of[0]], *rows]
    document = ElementTree.fromstring(zipfile.ZipFile(io.BytesIO(data)).read("word/document.xml"))
    grid = next(document.iter(f"{W}tbl"))
    return [["".join(t.text or "" for t in c.iter(f"{W}t")) for c in row.iter(f"{W}tc")] for row in grid.iter(f"{W}tr")]


def same(cell: Any, value: Any, form: str) -> bool:
    """What was read back is the value, unrounded where a program reads it."""
    if value in (None, ""):
        return cell in (None, "")
    if isinstance(value, str):
        return bool(cell == (value if form in ("json", "xml") else inert(value)))
    return float(cell) == pytest.approx(value, rel=1e-11)


VALUES = {
    "text": st.text(st.characters(codec="utf-8", exclude_categories=["C", "Z"]), max_size=9),
    "share": st.floats(0, 1),
    "marks": st.floats(-3, 60),
    "number": st.integers(0, 400).map(float),
}
TABLES = st.lists(st.sampled_from(sorted(VALUES)), min_size=1, max_size=6).flatmap(
    lambda kinds: st.builds(
        lambda rows: TypedTable("T", [Column(f"c{at}", f"Head {at}", k) for at, k in enumerate(kinds)], rows),
        st.lists(st.tuples(*(st.none() | VALUES[kind] for kind in kinds)).map(list), min_size=1, max_size=5),
    )
)


@given(TABLES)
@settings(max_examples=40, deadline=None)
def test_every_value_is_there_unrounded_in_every_format_that_programs_read(table: TypedTable) -> None:
    for form in ("csv", "xlsx", "ods", "json", "xml"):
        data = written_tables(Report("T"), [table], form)  # type: ignore[arg-type]
        heads, *rows = read_back(data, form)
        assert heads == [column.head for column in table.columns]
        for row, values in zip(rows, table.rows, strict=False):
            cells = [*row, *[""] * (len(values) - len(row))]
            assert all(same(cell, value, form) for cell, value in zip(cells, values, strict=True)), (form, row, values)
        empty = sum(all(value in (None, "") for value in values) for values in table.rows)
        assert len(rows) >= len(table.rows) - empty


def file(school: Staffroom, path: str, form: str, **query: Any) -> bytes:
    reply = school.client.get(f"/api/v1/{path}.{form}", query)
    assert reply.status_code == 200, reply.content
    return bytes(reply.content)


@pytest.fixture
def sitting(school: Staffroom) -> Sitting:
    rows = papers(12, 4, 6)
    result = sat(school, rows, keys="bbcbbb")
    Student.objects.filter(seats__sitting=result, seats__desk=3).update(family_name="சுப்பிரமணியன்", given_name="தமிழ்")
    return result


def test_answers_by_question_are_those_of_the_answers_themselves(school: Staffroom, sitting: Sitting) -> None:
    rows = papers(12, 4, 6)
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}/answers", {"cut": 60}).json()
    for student, row in zip(page["students"], rows, strict=True):
        right = [letter == key for letter, key in zip(row, "bbcbbb", strict=True)]
        assert [cell["text"] for cell in student["cells"]] == [
            "✓" if hit else letter.upper() for hit, letter in zip(right, row, strict=True)
        ]
        assert (student["total"], student["reaches"]) == (sum(right), sum(right) >= 3.6)
    shares = [sum(row[at] == key for row in rows) / 12 for at, key in enumerate("bbcbbb")]
    assert [question["share"] for question in page["questions"]] == pytest.approx(shares)
    assert [question["key"] for question in page["questions"]] == list("BBCBBB")
    for form in ("csv", "xlsx", "ods", "json", "xml"):
        heads, *lines = read_back(file(school, f"sittings/{sitting.pk}/answers", form, cut=60), form)
        assert heads[:5] == ["Family name", "Given name", "Number", "Desk", "1"]
        assert len(lines) == 12 + (0 if form == "csv" else 2)
        for line, student in zip(lines, page["students"], strict=False):
            expected = [
                *(student[name] for name in ("family_name", "given_name", "number")),
                float(student["desk"]),
                *(cell["text"] for cell in student["cells"]),
                student["total"],
                student["share"],
            ]
            assert all(same(cell, value, form) for cell, value in zip(line, expected, strict=True)), (form, line)
    text = "".join(
        sheet.get_textpage().get_text_range()
        for sheet in pypdfium2.PdfDocument(file(school, f"sittings/{sitting.pk}/answers", "pdf"))
    )
    assert "Marks earned, %" in text
    assert "Number" not in text  # nobody has one, so a page to read has no such column
    docx = read_back(file(school, f"sittings/{sitting.pk}/answers", "docx"), "docx")
    assert [row[-2] for row in docx[1:13]] == [f"{student['total']:g}" for student in page["students"]]


def test_answers_say_what_was_left_out_not_reached_and_marked_in_part(school: Staffroom) -> None:
    options = [Option(id=name, text=name) for name in "abcd"]
    rubric = Rubric(criteria=[Criterion(id="c", name="Sense", max=4)])
    contents: list[Any] = [SingleChoice(stem=f"Q{n}?", options=options, key="b") for n in range(3)]
    sitting = school.open_sitting(contents=[*contents, Written(stem="Why?", marks=4, rubric=rubric)], students=3)
    given = [("b", "", "a"), ("b", "c", ""), ("", "", "")]
    for device, row in zip(devices(sitting), given, strict=True):
        device.join()
        for at, (ref, letter) in enumerate(zip(refs(sitting), row, strict=False), start=1):
            if letter:
                device.answer(ref, {"kind": "single_choice", "option": letter}, at)
        if row[0]:
            device.answer(refs(sitting)[3], {"kind": "written", "text": "So."}, 9)
        device.post("hand-in")
    services.close_sitting(sitting)

    def page() -> Any:
        return school.client.get(f"/api/v1/sittings/{sitting.pk}/answers").json()

    assert page()["waiting"] == ["4"]
    hide_names(school.teacher, sitting)
    hidden = [f"/api/v1/sittings/{sitting.pk}/{what}.csv" for what in ("answers", "results", "skills")]
    assert [school.client.get(address).status_code for address in hidden] == [409, 409, 409]
    show_names(school.teacher, sitting)
    path = f"/api/v1/sittings/{sitting.pk}/marking/{refs(sitting)[3]}"
    for number, points in ((1, 2.5), (2, 4)):
        body = {"points": {"c": points}}
        assert school.client.put(f"{path}/{number}", body, content_type="application/json").status_code == 200
    assert page()["waiting"] == []
    cells = [[cell["text"] for cell in student["cells"]] for student in page()["students"]]
    assert cells == [["✓", "–", "A", "2.5"], ["✓", "C", "–", "✓"], ["/", "/", "/", "/"]]
    assert [student["total"] for student in page()["students"]] == [3.5, 5, 0]


def test_a_group_alone_and_the_school_beside(school: Staffroom, sitting: Sitting) -> None:
    assert {q["school"] for q in school.client.get(f"/api/v1/sittings/{sitting.pk}/answers").json()["questions"]} == {
        None
    }
    other = sat(school, papers(9, 7, 6), like=sitting)
    group = keep_group(sitting.school_class, "Four", list(sitting.seats.values_list("student", flat=True))[:4])
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}/answers", {"group": f"group:{group.pk}"}).json()
    assert len(page["students"]) == 4
    rows = [*papers(12, 4, 6), *papers(9, 7, 6)]
    expected = [sum(row[at] == key for row in rows) / 21 for at, key in enumerate("bbcbbb")]
    assert [question["school"] for question in page["questions"]] == pytest.approx(expected)
    refused = school.client.get(f"/api/v1/sittings/{other.pk}/answers", {"group": f"group:{group.pk}"})
    assert refused.status_code == 409


def test_results_skills_and_record_leave_as_their_pages_have_them(school: Staffroom, sitting: Sitting) -> None:
    lines = school.client.get(f"/api/v1/sittings/{sitting.pk}/results").json()["students"]
    wanted = [line["seat"] for line in lines if line["desk"] % 2]
    for form in ("csv", "xlsx", "json"):
        data = file(school, f"sittings/{sitting.pk}/results", form, rows=",".join(map(str, wanted[::-1])), each="true")
        heads, *rows = read_back(data, form)
        assert heads[4:8] == ["Total", "Of", "Share", "1"]
        own = {line["desk"]: line for line in lines}
        assert [float(row[3]) for row in rows] == [11, 9, 7, 5, 3, 1]
        for row in rows:
            line = own[int(float(row[3]))]
            assert all(same(cell, line[name], form) for cell, name in zip(row[4:6], ("total", "of"), strict=True))
            assert same(row[6], line["total"] / line["of"], form)
    skills = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/skills").json()
    heads, *rows = read_back(file(school, f"sittings/{sitting.pk}/skills", "xlsx", secure=90, nearly=40), "xlsx")
    assert heads[4:] == ["All", *(skill["name"] for skill in skills["skills"])]
    for row, student in zip(rows, skills["students"], strict=False):
        assert [row[4], *row[5:]] == pytest.approx([student["whole"], *(cell["share"] for cell in student["cells"])])
    rules = zipfile.ZipFile(io.BytesIO(file(school, f"sittings/{sitting.pk}/skills", "xlsx", secure=90, nearly=40)))
    assert "<formula>0.9</formula>" in rules.read("xl/worksheets/sheet1.xml").decode()  # the teacher's own cuts
    record = school.client.get(f"/api/v1/classes/{sitting.school_class_id}/record").json()
    heads, *rows = read_back(file(school, f"classes/{sitting.school_class_id}/record", "json"), "json")
    place = heads.index("Average")
    assert [row[place] for row in rows[:-1]] == [student["average"] for student in record["students"]]
    assert rows[-1][place] == record["average"]
    stranger = school.client.get(f"/api/v1/sittings/{sitting.pk}/results.csv", {"rows": "1;2"})
    assert stranger.status_code == 422


WHO = ["Family name", "Given name", "Number", "Desk"]


def test_findings_leave_as_their_pages_have_them(school: Staffroom, sitting: Sitting) -> None:
    """Compared with the JSON of each page, unrounded; what stands at the foot is not in a CSV."""
    path = f"sittings/{sitting.pk}/findings"
    names = {
        student.seats.get(sitting=sitting).pk: student for student in Student.objects.filter(seats__sitting=sitting)
    }

    def page(view: str, **query: Any) -> Any:
        return school.client.get(f"/api/v1/{path}{view}", query).json()

    body = page("")["body"]
    for form in ("csv", "xlsx", "json"):
        heads, *rows = read_back(file(school, f"{path}/paper", form), form)
        for row, question in zip(rows, body["paper"], strict=True):
            figures = question["figures"]
            for head, name in {"p": "p", "D": "d_rest", "r rest": "r_rest", "α without": "alpha_without"}.items():
                assert same(row[heads.index(head)], figures[name], form)
        heads, *rows = read_back(file(school, f"{path}/table", form), form)
        table = page("/table")
        assert heads == [*WHO, "Total", "Caution", *(item["label"] for item in table["items"])]
        for row, student, picks, points in zip(rows, table["students"], table["picks"], table["points"], strict=True):
            own = names[student["seat"]]
            values = [own.family_name, own.given_name, own.number, float(student["desk"]), student["total"]]
            assert all(same(*pair, form) for pair in zip(row[:5], values, strict=True)), row
            said = [pick or mark for pick, mark in zip(picks, points, strict=True)]
            assert all(same(*pair, form) for pair in zip(row[6:], said, strict=True))
    whole = json.loads(file(school, f"{path}/paper", "json"))[1]
    assert [row["chosen"] for row in whole["rows"]] == [
        len(option["seats"]) for question in body["paper"] for option in question["options"]
    ]
    scale = page("/scale")["scale"]
    tables = json.loads(file(school, f"{path}/scale", "json"))
    assert [row["difficulty"] for row in tables[0]["rows"]] == [item["difficulty"] for item in scale["items"]]
    assert [row["measure"] for row in tables[1]["rows"]] == [person["measure"] for person in scale["persons"]]
    figures = page("/totals", cuts="60")["figures"]
    tables = json.loads(file(school, f"{path}/totals", "json", cuts="60"))
    assert next(row["value"] for row in tables[0]["rows"] if row["figure"] == "α") == figures["alpha"]
    assert [(row["cut"], row["reach"]) for row in tables[1]["rows"]] == [(0.6, figures["cuts"][0]["reach"])]
    left_out = page("", without=refs(sitting)[0])["body"]["paper"]
    lines = json.loads(file(school, f"{path}/paper", "json", without=refs(sitting)[0]))[0]["rows"]
    assert [line["p"] for line in lines] == [q["figures"]["p"] if q["figures"] else None for q in left_out]
    for view, form in (("time", "csv"), ("groups", "xlsx"), ("map", "ods"), ("summary", "docx"), ("table", "pdf")):
        assert len(file(school, f"{path}/{view}", form)) > 100
    assert school.client.get(f"/api/v1/{path}/nonsense.csv").status_code == 422
    heads, *rows = read_back(file(school, f"{path}/other-sittings", "csv"), "csv")
    assert [float(row[2]) for row in rows] == pytest.approx([row["p"][0] for row in page("/other-sittings")["rows"]])


def test_a_class_over_time_leaves_as_its_pages_have_it(school: Staffroom, sitting: Sitting) -> None:
    again = sat(school, papers(12, 9, 6), like=sitting)
    other = again.school_class
    group = keep_group(sitting.school_class, "Four", list(sitting.seats.values_list("student", flat=True))[:4])
    sides = school.client.get("/api/v1/records/side-by-side").json()
    periods, tests = json.loads(file(school, "records/side-by-side", "json"))
    first = sides["classes"][0]
    assert (periods["rows"][0]["class"], periods["rows"][0]["mean"]) == (first["name"], first["spans"][0]["mean"])
    assert {row["class"] for row in tests["rows"]} == {entry["name"] for entry in sides["classes"]}
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/groups").json()
    shares, people, *_ = json.loads(file(school, f"sittings/{sitting.pk}/results/groups", "json"))
    assert [row["mean"] for row in shares["rows"]] == [entry["mean"] for entry in page["groups"]]
    assert shares["foot"][0]["mean"] == page["mean"]
    assert len(people["rows"]) == group.students.count()
    day = sitting.closed_at.date() if sitting.closed_at else None
    (missed,) = json.loads(
        file(school, f"classes/{other.pk}/not-tested", "json", starts="2020-01-01", ends=f"{day:%Y-%m-%d}")
    )
    asked = {"starts": "2020-01-01", "ends": f"{day:%Y-%m-%d}"}
    window = school.client.get(f"/api/v1/classes/{other.pk}/not-tested", asked).json()
    assert len({row["desk"] for row in missed["rows"]}) == len(window["nothing"]) + len(window["something"])
    growth = school.client.get(f"/api/v1/classes/{other.pk}/growth").json()
    (gains,) = json.loads(file(school, f"classes/{other.pk}/growth", "json"))
    assert [row["gain"] for row in gains["rows"]] == [student["gain"] for student in growth["students"]]
    student = sitting.seats.get(desk=3).student
    path = f"classes/{sitting.school_class_id}/students/{student.pk}/report"
    report = school.client.get(f"/api/v1/{path}").json()
    own, *_ = json.loads(file(school, path, "json"))
    assert [(row["total"], row["class"]) for row in own["rows"]] == [
        (entry["cell"]["total"], entry["class_mean"]) for entry in report["sittings"]
    ]


def test_a_document_takes_the_chart_of_its_page_along(school: Staffroom, sitting: Sitting) -> None:
    chart = io.BytesIO()
    Image.new("RGB", (40, 20), "teal").save(chart, "PNG")
    body = {"picture": base64.b64encode(chart.getvalue()).decode(), "pictured": "Groups by mean"}
    keep_group(sitting.school_class, "Four", list(sitting.seats.values_list("student", flat=True))[:4])
    path = f"sittings/{sitting.pk}/results/groups"
    pdf = pypdfium2.PdfDocument(send(school.client, "post", f"{path}.pdf", body).content)
    text = "".join(sheet.get_textpage().get_text_range() for sheet in pdf)
    opening = school.client.get(f"/api/v1/{path}").json()["opening"]
    assert " ".join(opening.split()) in " ".join(text.split())
    assert "Four" in text
    assert any(part.type == 3 for sheet in pdf for part in sheet.get_objects())  # its picture
    packed = zipfile.ZipFile(io.BytesIO(send(school.client, "post", f"{path}.zip", body).content))
    assert {"chart.png", "report.docx", "report.xlsx", "Students by group.csv"} <= set(packed.namelist())
    inside = zipfile.ZipFile(io.BytesIO(packed.read("report.docx")))
    assert b"Groups by mean" in inside.read("word/document.xml")
    broken = send(school.client, "post", f"{path}.docx", {"picture": base64.b64encode(b"GIF89a").decode()})
    assert (broken.status_code, broken.json()["detail"][:11]) == (422, "The picture")


def test_who_may_not_see_a_class_gets_no_file(school: Staffroom, sitting: Sitting, staffroom: Any) -> None:
    stranger = staffroom("stranger")
    for path in (
        f"sittings/{sitting.pk}/answers.csv",
        f"sittings/{sitting.pk}/results.pdf",
        f"sittings/{sitting.pk}/skills.xlsx",
        f"classes/{sitting.school_class_id}/record.json",
        f"classes/{sitting.school_class_id}/growth.csv",
        f"classes/{sitting.school_class_id}/not-tested.csv?starts=2026-01-01&ends=2026-12-31",
        f"classes/{sitting.school_class_id}/students/{sitting.seats.all()[0].student_id}/report.csv",
        f"records/side-by-side.csv?classes={sitting.school_class_id}",
        f"sittings/{sitting.pk}/results/groups.csv",
        f"sittings/{sitting.pk}/findings/table.csv",
        f"sittings/{sitting.pk}/findings/other-sittings.csv",
    ):
        assert stranger.client.get(f"/api/v1/{path}").status_code == 404, path


def test_a_table_wider_than_a_page_is_cut_into_parts_with_the_names_again() -> None:
    columns = [Column("family", "Family name"), Column("given", "Given name")]
    columns += [Column(f"s{at}", f"Test on circuits number {at}", "share") for at in range(60)]
    rows: list[list[Any]] = [["Subramanian", "Venkatanarasimha", *(0.01 * at for at in range(60))] for _ in range(35)]
    table = TypedTable("Record", columns, rows, names=2).printed()
    look = look_of(table, wide=True)
    parts = list(parts_across(table, look))
    assert len(parts) > 1
    assert all(list(part.heads[:2]) == ["Family name", "Given name"] for part in parts)
    assert [head for part in parts for head in part.heads[2:]] == [column.head for column in columns[2:]]
    data = written_tables(Report("Record"), [TypedTable("Record", columns, rows, names=2)], "pdf")
    pdf = pypdfium2.PdfDocument(data)
    for sheet in pdf:
        text = sheet.get_textpage().get_text_range()
        assert "Venkatanarasimha" in text  # in one piece: no name is broken over lines
    signs = TypedTable(
        "List",
        [*columns[:2], *(Column(f"q{at}", str(at), "choice") for at in range(40))],
        [["A" * 12, "B" * 12, *"✓" * 40]] * 35,
    ).printed()
    assert len(list(parts_across(signs, look_of(signs, wide=True)))) == 1  # 35 by 40 on one page
    assert look_of(signs, wide=True).room == ROOM[True]


def test_names_of_any_script_are_in_documents_and_what_is_missing_is_told_before_printing(
    school: Staffroom, sitting: Sitting, caplog: pytest.LogCaptureFixture
) -> None:
    """WeasyPrint warns of every glyph that is a box."""
    named = {
        1: ("محمد", "عبد الله"),
        2: ("王", "小明"),
        4: ("श्रीवास्तव", "अनिरुद्ध"),
        5: ("Иванова", "Ёлка"),
        6: ("김", "철수"),
    }
    for desk, (family, own) in named.items():
        Student.objects.filter(seats__sitting=sitting, seats__desk=desk).update(family_name=family, given_name=own)
    with caplog.at_level("WARNING", logger="weasyprint"):
        for path in (f"sittings/{sitting.pk}/answers", f"sittings/{sitting.pk}/results"):
            text = "".join(
                page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(file(school, path, "pdf"))
            )
            assert "王" in text
            assert "김" in text
    assert not [record for record in caplog.records if ".notdef" in record.getMessage()]

    def unprintable() -> Any:
        return school.client.get(f"/api/v1/sittings/{sitting.pk}/paper").json()["unprintable"]

    assert unprintable() == []
    Student.objects.filter(seats__sitting=sitting, seats__desk=7).update(
        family_name="𒀭", given_name="Enki", display_name="Enki 𒀭"
    )
    (line,) = unprintable()
    assert (line["letters"], "Enki" in line["name"]) == ("𒀭", True)
