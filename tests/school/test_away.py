"""Away from the desk: what goes out, what comes back, and that nothing counts before it was looked at."""

import io
import zipfile
from pathlib import PurePosixPath, PureWindowsPath
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook, load_workbook

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import FULL, contents, put
from tests.school.test_results import own
from versomark.core.formats.marks_sheet import (
    FilledRow,
    SheetCriterion,
    SheetQuestion,
    SheetRow,
    read_sheet,
    write_sheet,
)
from versomark.core.text import clean
from versomark.school.classes.services import add_students
from versomark.school.delivery import services
from versomark.school.delivery.models import Seat, Sitting
from versomark.school.grading.models import Mark, ReturnedFile
from versomark.school.grading.numbers import numbered
from versomark.school.grading.offline_package import safe_name
from versomark.school.grading.queries import marks_of
from versomark.school.responses.models import HandedInFile

QUESTION = SheetQuestion(3, (SheetCriterion("idea", "Idea", 3), SheetCriterion("words", "Words, =SUM(A1)", 1)))
TEXT = st.text(st.characters(codec="utf-8", exclude_categories=["Cc", "Cs"]), max_size=60).map(str.strip)


@given(st.text(max_size=120))
def test_no_name_leads_out_of_its_folder(name: str) -> None:
    """On POSIX and on Windows, by Python's own reading of paths."""
    safe = safe_name(name)
    for path in (PurePosixPath(safe), PureWindowsPath(safe)):
        assert path.parts == (safe,)
        assert not path.is_absolute()
        assert not path.is_reserved() if isinstance(path, PureWindowsPath) else True
    assert safe not in ("", ".", "..")
    assert safe_name(safe) == safe


@given(
    st.dictionaries(
        st.integers(1, 400),
        st.tuples(st.integers(0, 6).map(lambda half: half / 2), st.integers(0, 2).map(lambda half: half / 2), TEXT),
        max_size=12,
    )
)
def test_a_sheet_comes_back_as_it_was_filled_in(filled: dict[int, tuple[float, float, str]]) -> None:
    rows = [
        SheetRow(number, "=Name", {"idea": idea, "words": words}, said)
        for number, (idea, words, said) in filled.items()
    ]
    read = read_sheet(write_sheet([(QUESTION, rows)], names=True), [QUESTION])
    assert read.problems == []
    assert [(row.number, row.points, row.comment.split()) for row in read.rows] == [
        (row.number, row.points, row.comment.split()) for row in rows
    ]


def test_what_a_sheet_says_wrong_is_said_with_its_place() -> None:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "Question 3"
    for row in (
        ["Comment", "2. whatever", "Number", "1. Idea"],
        ["fine", 1, 7, "2,5"],
        ["", "", 8, ""],
        ["", 1, 9, "much"],
        ["", "", 10, 2],
        ["", 1, "Ann", 2],
    ):
        sheet.append(row)
    book.create_sheet("Question 9").append(["Number"])
    book.create_sheet("Notes").append(["Hello"])
    out = io.BytesIO()
    book.save(out)
    read = read_sheet(out.getvalue(), [QUESTION])
    assert read.rows == [FilledRow(3, 7, {"idea": 2.5, "words": 1}, "fine")]
    assert read.problems == [
        "Question 3, row 4: “much” is no number of points.",
        "Question 3, row 5: Words, =SUM(A1) is empty.",
        "Question 3, row 6: “Ann” is no number of a student.",
        "The sheet “Question 9” is for no question that a person marks here.",
        "The sheet “Notes” is for no question that a person marks here.",
    ]


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    """Two explained, and the second handed in a file with a name that is up to no good."""
    sitting = school.open_sitting(contents=contents(), students=3)
    explain, draw = refs(sitting)[2:4]
    for at, device in enumerate(devices(sitting)[:2]):
        device.join()
        device.answer(explain, {"kind": "written", "text": f"Because <b>{at}</b>."}, 1)
        if at == 1:
            upload = SimpleUploadedFile("..\\..\\CON.pdf", b"%PDF-1.4 drawn")
            file = device.client.post(f"/api/v1/student/files/{draw}", {"file": upload}).json()
            device.answer(draw, {"kind": "file", "files": [file]}, 2)
        device.post("hand-in")
    return services.close_sitting(sitting)


def taken(client: Client, sitting: Sitting) -> dict[str, bytes]:
    sent = client.get(f"/api/v1/sittings/{sitting.pk}/marking/away/zip").content
    with zipfile.ZipFile(io.BytesIO(sent)) as packed:
        return {name: packed.read(name) for name in packed.namelist()}


def packed(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        for name, data in files.items():
            made.writestr(name, data)
    return out.getvalue()


def look(client: Client, sitting: Sitting, data: bytes) -> Any:
    file = SimpleUploadedFile("back.zip", data)
    return client.post(f"/api/v1/sittings/{sitting.pk}/marking/away/look", {"file": file})


def filled_in(sheet: bytes, question: str, marks: dict[int, tuple[float, float, str]]) -> bytes:
    """The marks sheet with points, by another library's hand."""
    book = load_workbook(io.BytesIO(sheet))
    page = book[question]
    heads = [cell.value for cell in page[1]]
    for row in page.iter_rows(min_row=2):
        idea, words, said = marks.get(int(str(row[0].value)), (None, None, None))
        for head, value in zip(("1.", "2.", "Comment"), (idea, words, said), strict=True):
            row[next(at for at, name in enumerate(heads) if str(name).startswith(head))].value = value
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


@pytest.mark.django_db
def test_out_and_back(school: Staffroom, sat: Sitting) -> None:
    explain, draw = refs(sat)[2:4]
    files = taken(school.client, sat)
    assert set(files) == {
        "marks.xlsx",
        "01 Student1 F/question 3.html",
        "02 Student2 F/question 3.html",
        "02 Student2 F/question 4, _CON.pdf",
    }
    assert clean("Because <b>0</b>.").encode() in files["01 Student1 F/question 3.html"]
    file = next(name for name in files if name.endswith(".pdf"))

    # As it went out, nothing in it is new.
    same = look(school.client, sat, packed(files)).json()
    assert (same["marks"], same["files"], same["problems"], same["unchanged"]) == ([], [], [], 3)

    put(school.client, sat, f"{explain}/2", {"points": FULL})
    back = files | {
        "marks.xlsx": filled_in(files["marks.xlsx"], "Question 3", {1: (2, 1, "Say why."), 2: (2.5, 1, "")}),
        file: b"%PDF-1.4 drawn, with remarks",
        "09 Nobody/question 3.html": b"x",
        "01 Student1 F/essay.html": b"x",
    }
    body = look(school.client, sat, packed(back)).json()
    assert [(mark["number"], mark["points"], mark["found"]) for mark in body["marks"]] == [
        (1, 3, "new"),
        (2, 3.5, "other"),
    ]
    assert [(file["number"], file["question"]) for file in body["files"]] == [(2, 4)]
    assert len(body["problems"]) == 2
    assert Mark.objects.count() == 1
    assert not ReturnedFile.objects.exists()

    # A colleague marks it between the look and the deed: theirs stays, and the one of the sheet is kept beside it.
    put(school.client, sat, f"{explain}/1", {"points": {"idea": 0, "words": 0}})
    where = f"/api/v1/sittings/{sat.pk}/marking/away/{body['upload']}"
    done = school.client.post(where).json()
    assert done == {"marks": 2, "aside": 0, "files": 1}  # both marks are of the same teacher, who changed their mind
    seats = {seat.desk: str(seat.pk) for seat in sat.seats.all()}
    assert marks_of(sat)[seats[1]][explain] == 4.5
    assert marks_of(sat)[seats[2]][explain] == 5.25
    assert school.client.post(where).json() == {"marks": 0, "aside": 0, "files": 0}

    # The file with remarks is beside the answer, and the student has it once it is released.
    answer = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/{draw}/2").json()
    kept = answer["returned"][0]
    sent = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/returned/{kept['id']}")
    assert b"".join(sent.streaming_content) == b"%PDF-1.4 drawn, with remarks"
    put(school.client, sat, f"{draw}/2", {"points": FULL})
    theirs, other = own(sat, 2), own(sat, 1)
    # What they handed in is theirs to open at any time, and nobody else's.
    handed_in = HandedInFile.objects.get(seat__sitting=sat, seat__desk=2)
    path = f"/api/v1/portal/sittings/{sat.pk}/files/{handed_in.pk}"
    assert theirs.get(path)["Content-Disposition"].startswith("attachment")
    assert other.get(path).status_code == 404
    assert school.client.get(f"/api/v1/sittings/{sat.pk}/marking/handed-in/{handed_in.pk}").status_code == 200
    mine = f"/api/v1/portal/sittings/{sat.pk}/returned/{kept['id']}"
    assert theirs.get(mine).status_code == 404
    school.client.put(f"/api/v1/sittings/{sat.pk}/results/release", {}, content_type="application/json")
    assert theirs.get(mine).status_code == 200
    shown = theirs.get(f"/api/v1/portal/sittings/{sat.pk}/result").json()["questions"]
    assert [file["id"] for entry in shown for file in entry["files"]] == [str(handed_in.pk)]
    assert other.get(mine).status_code == 404


@pytest.mark.django_db
def test_names_stay_hidden_and_bad_files_are_refused(school: Staffroom, sat: Sitting) -> None:
    put(school.client, sat, "names", {"hidden": True})
    files = taken(school.client, sat)
    for name, data in files.items():
        inside = packed({}) if name != "marks.xlsx" else data
        with zipfile.ZipFile(io.BytesIO(inside)) as book:
            for part in book.namelist():
                assert b"Family" not in book.read(part)
        assert "Student" not in name
        assert b"Family" not in data
    for bad, says in (
        (b"", "empty"),
        (b"hello", "no rows|Question|sheet"),
        (packed({"../../etc/passwd": b"x"}), "outside its folder"),
        (b"PK\x03\x04 broken", "not a whole zip"),
    ):
        reply = look(school.client, sat, bad)
        said = reply.json()["detail"] if reply.status_code != 200 else " ".join(reply.json()["problems"])
        assert any(word in said for word in says.split("|")), (bad, said)


@pytest.mark.django_db
def test_numbers_of_hidden_names_lead_no_mark_to_somebody_else(school: Staffroom, sat: Sitting) -> None:
    put(school.client, sat, "names", {"hidden": True})
    before = {number: seat.pk for number, seat in numbered(sat).items()}
    sheet = taken(school.client, sat)["marks.xlsx"]
    # A student who is added meanwhile changes no number.
    later = add_students(sat.school_class, ["Later Comer"])
    Seat.objects.create(sitting=sat, student=later[0].student, desk=90, state="handed in")
    now = numbered(sat)
    assert {number: now[number].pk for number in before} == before
    assert len(now) == len(before) + 1
    marks = dict.fromkeys(before, (1.0, 1.0, "Say why."))
    name = load_workbook(io.BytesIO(sheet)).sheetnames[0]
    back = filled_in(sheet, name, marks)
    assert len(look(school.client, sat, back).json()["marks"]) == len(before)
    # Once names are shown, numbers are those of desks: the same sheet would give marks to others.
    put(school.client, sat, "names", {"hidden": False})
    reply = look(school.client, sat, back).json()
    assert reply["marks"] == []
    assert any("while names were hidden" in problem for problem in reply["problems"])
    # A sheet with names is read by number, and the name has to be the one that belongs to it.
    with_names = taken(school.client, sat)["marks.xlsx"]
    desks = {seat.desk: (2.0, 1.0, "") for seat in sat.seats.filter(state="handed in").exclude(desk=90)}
    first, second = sorted(desks)
    Seat.objects.filter(sitting=sat, desk=first).update(desk=91)
    Seat.objects.filter(sitting=sat, desk=second).update(desk=first)
    reply = look(school.client, sat, filled_in(with_names, name, {first: desks[first]})).json()
    assert reply["marks"] == []
    assert "is that of" in reply["problems"][0]
