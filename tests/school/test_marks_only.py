"""Marks of a test given elsewhere, at the API: kept whole or not at all, whoever enters them."""

import csv
import io
from base64 import b64encode
from typing import Any

import pytest
from django.db.models import Count

from tests.conftest import Device, Staffroom, devices, problems_of
from tests.school.test_teacher_side import send
from versomark.core.editions import ExternalAssessment, ExternalGroup
from versomark.school.bank.models import ItemUse
from versomark.school.classes.services import add_students, make_class, share_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.external import keep_described, make_described
from versomark.school.editions.services import freeze
from versomark.school.responses.models import Answer

pytestmark = pytest.mark.django_db
LINES = [("a", "1–2a", 6), ("b", "2b", 4), ("c", "3", 12)]


def described_sitting(school: Staffroom, students: int = 4, half_marks: bool = False) -> Sitting:
    school_class = make_class(school.teacher, f"8 Heron {students}")
    if students:
        add_students(school_class, [f"Student{n} Family" for n in range(1, students + 1)])
    groups = [ExternalGroup(ref=ref, label=label, marks=marks, skills=["Density"]) for ref, label, marks in LINES]
    test = make_described(school.teacher, "Practical")
    keep_described(test, "Practical", ExternalAssessment(groups=groups, half_marks=half_marks))
    return services.plan(school.teacher, freeze(test), school_class, None)


def grid(school: Staffroom, sitting: Sitting) -> Any:
    return school.client.get(f"/api/v1/sittings/{sitting.pk}/marks").json()


def keep(school: Staffroom, sitting: Sitting, *cells: tuple[int, str, float | None], **presence: str) -> Any:
    """Cells as (row, column, points), rows counted from 0; presence by row, as `row1="absent"`."""
    seats = list(sitting.seats.order_by("desk").values_list("pk", flat=True))
    body = {
        "marks": [{"seat": seats[row], "item": item, "points": points} for row, item, points in cells],
        "presence": [{"seat": seats[int(row[3:])], "how": how} for row, how in presence.items()],
    }
    return send(school.client, "put", f"sittings/{sitting.pk}/marks", body)


def marks(page: Any, row: int) -> dict[str, float]:
    return {item: mark["points"] for item, mark in page["rows"][row]["marks"].items()}


def test_cells_are_kept_all_or_none_and_the_reason_names_the_student(school: Staffroom) -> None:
    sitting = described_sitting(school)
    refused = keep(school, sitting, (0, "a", 5), (1, "b", 4.5), (2, "c", 13))
    assert refused.status_code == 422
    assert problems_of(refused) == ["Student2 F.: 2b has at most 4.", "Student3 F.: 3 has at most 12."]
    assert Answer.objects.count() == 0
    assert grid(school, sitting)["sitting"]["state"] == "ready"
    assert keep(school, sitting, (0, "a", 2.5)).status_code == 422
    assert keep(school, sitting, (0, "zz", 1)).status_code == 404
    other = described_sitting(school, students=1)
    stranger = {"marks": [{"seat": other.seats.get().pk, "item": "a", "points": 1}], "presence": []}
    assert send(school.client, "put", f"sittings/{sitting.pk}/marks", stranger).status_code == 404
    page = keep(school, sitting, (0, "a", 5), (0, "b", 0)).json()
    assert marks(page, 0) == {"a": 5, "b": 0}
    assert page["rows"][0]["total"] == 5
    assert page["rows"][0]["state"] == "working"
    # The door stays shut while nobody said that students may enter.
    assert page["sitting"]["state"] == "paused"


def test_a_row_counts_when_it_is_full_and_any_row_once_all_marks_are_in(school: Staffroom) -> None:
    sitting = described_sitting(school)
    page = keep(school, sitting, *((0, ref, 4) for ref, _, _ in LINES), (1, "a", 6), row2="excused").json()
    assert [row["state"] for row in page["rows"]] == ["handed in", "working", "excused", "expected"]
    findings = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()
    assert findings["partial"]
    assert findings["body"]["test"]["students"] == 1
    assert [question["label"] for question in findings["body"]["paper"]] == ["1–2a", "2b", "3"]
    send(school.client, "post", f"sittings/{sitting.pk}/steps/close")
    findings = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()
    assert findings["body"]["test"]["students"] == 2
    assert [row["state"] for row in grid(school, sitting)["rows"]] == ["handed in", "handed in", "excused", "absent"]
    paper = findings["body"]["paper"]
    assert [(entry["points"], len(entry["seats"])) for entry in paper[0]["earned"]] == [(4, 1), (6, 1)]
    assert len(paper[1]["not_given"]) == 1
    # What was given elsewhere is no question of the bank, so nothing is written beside one.
    assert ItemUse.objects.count() == 0
    # A correction after the end counts at once, also for one who was thought absent.
    page = keep(school, sitting, (3, "c", 12)).json()
    assert page["rows"][3]["state"] == "handed in"
    assert school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()["body"]["test"]["students"] == 3
    page = keep(school, sitting, (3, "c", None)).json()
    assert page["rows"][3]["state"] == "absent"


def test_a_row_emptied_after_its_student_had_entered_something_does_not_count(school: Staffroom) -> None:
    sitting = described_sitting(school)
    send(school.client, "put", f"sittings/{sitting.pk}/marks/entry", {"by_students": True})
    assert join(sitting, 0).answer("a", {"kind": "marks_only", "points": 1}, 1).status_code == 200
    page = keep(school, sitting, *((0, ref, 2) for ref, _, _ in LINES)).json()
    assert page["rows"][0]["state"] == "handed in"
    page = keep(school, sitting, *((0, ref, None) for ref, _, _ in LINES)).json()
    assert page["rows"][0]["state"] == "working"


def test_absence_and_marks_give_way_to_each_other_and_nothing_is_lost(school: Staffroom) -> None:
    sitting = described_sitting(school)
    keep(school, sitting, (0, "a", 3), (0, "b", 3), (0, "c", 3))
    away = keep(school, sitting, row0="absent").json()["rows"][0]
    assert (away["state"], len(away["marks"])) == ("absent", 3)
    back = keep(school, sitting, row0="here").json()["rows"][0]
    assert (back["state"], back["total"]) == ("handed in", 9)
    keep(school, sitting, row1="excused")
    assert keep(school, sitting, (1, "a", 1)).json()["rows"][1]["state"] == "working"
    assert keep(school, sitting, (1, "a", None)).json()["rows"][1]["state"] == "expected"
    # Every mark that ever stood is in the log, with who entered it.
    logged = Answer.objects.filter(seat__desk=2).order_by("sequence").values_list("response__points", "source")
    assert list(logged) == [(1, "teacher"), (None, "teacher")]


def join(sitting: Sitting, row: int) -> Device:
    device = devices(Sitting.objects.get(pk=sitting.pk))[row]
    assert device.join().status_code == 200
    return device


def test_students_enter_their_own_while_entry_is_open(school: Staffroom) -> None:
    sitting = described_sitting(school)
    keep(school, sitting, (0, "a", 3))
    shut = join(sitting, 1)
    assert shut.seat().json()["stage"] == "paused"
    assert send(school.client, "put", f"sittings/{sitting.pk}/marks/entry", {"by_students": True}).status_code == 200
    device = join(sitting, 1)
    page = device.seat().json()
    assert page["marks_only"]
    assert [(item["item"]["label"], item["item"]["marks"]) for item in page["paper"]["items"]] == [
        (label, marks) for _, label, marks in LINES
    ]
    over = device.answer("b", {"kind": "marks_only", "points": 5}, 1)
    assert (over.status_code, over.json()["detail"]) == (422, "2b has at most 4.")
    halved = device.answer("b", {"kind": "marks_only", "points": 3.5}, 1)
    assert halved.json()["detail"] == "2b is marked in whole marks."
    assert device.answer("b", {"kind": "marks_only", "points": 4}, 1).status_code == 200
    row = grid(school, sitting)["rows"][1]
    assert (row["marks"], row["here"]) == ({"b": {"points": 4, "by_student": True}}, True)
    # The teacher's word on the same cell stands, and the student's is still in the log.
    row = keep(school, sitting, (1, "b", 3)).json()["rows"][1]
    assert row["marks"] == {"b": {"points": 3, "by_student": False}}
    assert Answer.objects.filter(seat=row["seat"], item="b").count() == 2
    send(school.client, "put", f"sittings/{sitting.pk}/marks/entry", {"by_students": False})
    assert device.answer("c", {"kind": "marks_only", "points": 9}, 2).status_code == 423
    assert marks(grid(school, sitting), 1) == {"b": 3}


def test_the_way_in_is_a_code_that_a_reader_of_codes_reads(school: Staffroom, tmp_path: Any) -> None:
    """Drawn by segno as SVG, rasterised here from its path, read by OpenCV's own reader of QR codes."""
    import re

    import cv2
    import numpy as np

    sitting = described_sitting(school)
    picture = school.client.get(f"/api/v1/sittings/{sitting.pk}/door.svg")
    assert picture["Content-Type"] == "image/svg+xml"
    svg = picture.content.decode()
    size = int(re.search(r'viewBox="0 0 (\d+) \1"', svg).group(1))  # type: ignore[union-attr]
    drawn = np.full((size, size), 255, np.uint8)
    x = y = 0.0
    # segno draws rows of modules: M and m move, h draws to the right, at the middle of the row.
    for sign, numbers in re.findall(r"([Mmh])([-\d. ]+)", re.search(r' d="([^"]+)"', svg).group(1)):  # type: ignore[union-attr]
        values = [float(value) for value in numbers.split()]
        if sign == "h":
            drawn[int(y), int(x) : int(x + values[0])] = 0
            x += values[0]
        else:
            x, y = (values[0], values[1]) if sign == "M" else (x + values[0], y + values[1])
    text, _, _ = cv2.QRCodeDetector().detectAndDecode(
        cv2.resize(drawn, None, fx=8, fy=8, interpolation=cv2.INTER_NEAREST)
    )
    assert text == f"http://testserver/join?code={sitting.code}"


def test_someone_who_joined_since_gets_a_row_and_a_new_name_goes_on_the_list(school: Staffroom) -> None:
    sitting = described_sitting(school, students=2)
    keep(school, sitting, (0, "a", 1))
    late = add_students(sitting.school_class, ["Late Comer"])[0]
    assert grid(school, sitting)["not_seated"] == [{"student": late.student_id, "name": "Late C."}]
    path = f"sittings/{sitting.pk}/marks/students"
    page = send(school.client, "post", path, {"student": late.student_id}).json()
    assert [row["name"] for row in page["rows"]] == ["Student1 F.", "Student2 F.", "Late C."]
    assert page["not_seated"] == []
    assert len(send(school.client, "post", path, {"student": late.student_id}).json()["rows"]) == 3
    page = send(school.client, "post", path, {"name": "Not, Listed"}).json()
    assert page["rows"][-1]["full_name"] == "Listed Not"
    assert sitting.school_class.places.count() == 4
    assert send(school.client, "post", path, {"student": 10**9}).status_code == 404


def test_a_wrong_maximum_is_mended_and_the_marks_stay_with_their_lines(school: Staffroom) -> None:
    sitting = described_sitting(school)
    keep(school, sitting, (0, "a", 6), (0, "c", 11))
    test, url = sitting.edition.test, f"sittings/{sitting.pk}/marks/description"
    groups = [g.model_dump() for g in test.description().groups]  # type: ignore[union-attr]

    def describe(**changes: float) -> None:
        changed = [{**group, "marks": changes.get(group["ref"], group["marks"])} for group in groups]
        body = {"title": "Practical", "described": {"groups": changed, "half_marks": False}}
        assert send(school.client, "put", f"tests/{test.pk}/described", body).status_code == 200

    assert not grid(school, sitting)["newer_description"]
    describe(a=5)
    assert grid(school, sitting)["newer_description"]
    refused = send(school.client, "post", url)
    assert refused.status_code == 409
    assert problems_of(refused) == ["Student1 F. has 6. 1–2a has at most 5."]
    describe(a=8)
    page = send(school.client, "post", url).json()
    assert [column["marks"] for column in page["columns"]] == [8, 4, 12]
    assert marks(page, 0) == {"a": 6, "c": 11}
    assert not page["newer_description"]
    # A line less: who has marks on all that are left is full.
    groups.pop(1)
    describe(a=8)
    page = send(school.client, "post", url).json()
    assert page["rows"][0]["state"] == "handed in"
    assert test.editions.count() == 3
    groups.pop()
    describe(a=8)
    assert "no longer there" in problems_of(send(school.client, "post", url))[0]


def table(school: Staffroom, sitting: Sitting, text: str, look: bool = False) -> Any:
    data = b64encode(text.encode()).decode()
    path = f"sittings/{sitting.pk}/marks/table{'/look' if look else ''}"
    return send(school.client, "post", path, {"name": "m.csv", "data": data})


def test_a_table_is_looked_at_first_brought_in_and_the_same_again_changes_nothing(school: Staffroom) -> None:
    sitting = described_sitting(school)
    keep(school, sitting, (0, "a", 1), (1, "a", 2))
    text = "Name,1–2a,2b,3\nStudent1 Family,3,4,5\nStudent2 Family,2,,\nStudent3 Family,absent,,\nNobody,1,1,1\n"
    body = table(school, sitting, text, look=True).json()
    assert (body["fresh"], body["other"], body["same"], body["away"]) == (2, 1, 1, 1)
    assert body["refused"] == ["Line 5: Nobody is not on the list."]
    assert marks(grid(school, sitting), 0) == {"a": 1}
    table(school, sitting, text)
    page = grid(school, sitting)
    assert marks(page, 0) == {"a": 3, "b": 4, "c": 5}
    assert marks(page, 1) == {"a": 2}
    assert page["rows"][2]["state"] == "absent"
    count = Answer.objects.count()
    assert table(school, sitting, text).json()["same"] == 4
    assert Answer.objects.count() == count
    for wrong in ("", "PK\x03\x04not a workbook", "\x00\x01"):
        answer = table(school, sitting, wrong)
        assert answer.status_code == 422
        assert answer.json()["detail"]


def test_the_saved_grid_brought_back_changes_nothing_and_no_cell_is_a_formula(school: Staffroom) -> None:
    sitting = described_sitting(school)
    add = send(school.client, "post", f"sittings/{sitting.pk}/marks/students", {"name": "=HYPERLINK Sum"})
    assert add.status_code == 200
    keep(school, sitting, (0, "a", 1), (0, "b", 2), (4, "c", 12), row1="absent")
    saved = school.client.get(f"/api/v1/sittings/{sitting.pk}/marks/file/csv").content.decode("utf-8-sig")
    rows = list(csv.reader(io.StringIO(saved)))
    assert rows[0] == ["Desk", "Family name", "Given name", "Number", "1–2a", "2b", "3", "Total"]
    assert rows[1] == ["1", "Family", "Student1", "", "1", "2", "", "3"]
    assert rows[2][4:7] == ["absent"] * 3
    assert not any(cell.startswith(("=", "+", "@")) for row in rows for cell in row)
    looked = table(school, sitting, saved, look=True).json()
    assert (looked["fresh"], looked["other"], looked["same"], looked["away"]) == (0, 0, 3, 1)
    assert looked["refused"] == []
    book = school.client.get(f"/api/v1/sittings/{sitting.pk}/marks/file/xlsx").content
    body = {"name": "m.xlsx", "data": b64encode(book).decode()}
    assert send(school.client, "post", f"sittings/{sitting.pk}/marks/table/look", body).json()["same"] == 3


@pytest.mark.parametrize("language", ["en", "es"])
def test_results_saved_as_a_file_come_in_again_and_change_nothing(school: Staffroom, language: str) -> None:
    sitting = described_sitting(school)
    keep(school, sitting, (0, "a", 1), (0, "b", 2), (3, "c", 12), row1="absent")
    send(school.client, "post", f"sittings/{sitting.pk}/steps/close")
    school.client.cookies["verso_language"] = language
    for form in ("csv", "xlsx"):
        reply = school.client.get(f"/api/v1/sittings/{sitting.pk}/results.{form}", {"each": "true"})
        body = {"name": f"m.{form}", "data": b64encode(reply.content).decode()}
        looked = send(school.client, "post", f"sittings/{sitting.pk}/marks/table/look", body).json()
        assert (looked["fresh"], looked["other"], looked["same"], looked["refused"]) == (0, 0, 3, []), form


def test_what_belongs_to_built_tests_is_refused_in_words(school: Staffroom) -> None:
    sitting = described_sitting(school)
    test = sitting.edition.test
    layout = {"sections": [{"ref": "1", "entries": []}]}
    for method, path, body in [
        ("put", f"tests/{test.pk}", {"title": "T", "layout": layout}),
        ("post", f"tests/{test.pk}/items", {"items": []}),
        ("post", f"tests/{test.pk}/freeze-pair", None),
        ("post", f"tests/{test.pk}/send", None),
        ("put", f"tests/{test.pk}/sharing", {"shared": True, "topic": "x"}),
        ("get", f"tests/{test.pk}/print/booklet", None),
    ]:
        answer = send(school.client, method, path, body) if method != "get" else school.client.get(f"/api/v1/{path}")
        assert answer.status_code == 409, path
        assert "elsewhere" in answer.json()["detail"]
    copy = send(school.client, "post", f"tests/{test.pk}/copy").json()
    assert [group["label"] for group in copy["described"]["groups"]] == ["1–2a", "2b", "3"]
    built = school.sitting()
    assert school.client.get(f"/api/v1/sittings/{built.pk}/marks").status_code == 409
    body = {"title": "T", "described": {"groups": []}}
    assert send(school.client, "put", f"tests/{built.edition.test_id}/described", body).status_code == 409
    assert send(school.client, "put", f"sittings/{built.pk}/marks", {}).status_code == 409
    unfinished = send(school.client, "post", "tests/marks-only", {"title": "Rough"}).json()
    refused = send(school.client, "post", f"tests/{unfinished['id']}/freeze")
    assert problems_of(refused) == ["No question is described yet."]


def test_a_colleague_who_may_run_enters_marks_but_does_not_add_to_the_class(school: Staffroom, staffroom: Any) -> None:
    sitting = described_sitting(school)
    colleague = staffroom("colleague")
    colleague.teacher.school = school.teacher.school
    colleague.teacher.save()
    assert keep(colleague, sitting, (0, "a", 1)).status_code == 404
    share_class(sitting.school_class, colleague.teacher.pk, may_mark=False, may_run=False)
    assert keep(colleague, sitting, (0, "a", 1)).status_code == 403
    share_class(sitting.school_class, colleague.teacher.pk, may_mark=False, may_run=True)
    assert keep(colleague, sitting, (0, "a", 1)).status_code == 200
    answer = send(colleague.client, "post", f"sittings/{sitting.pk}/marks/students", {"name": "Sneaked In"})
    assert answer.status_code == 403
    assert sitting.seats.aggregate(n=Count("pk"))["n"] == 4
