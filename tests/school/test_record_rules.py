"""Terms, the school's scale, weights, what is set by hand, growth, a student's report: each as a teacher sees it."""

import csv
import io
import zipfile
from datetime import timedelta
from typing import Any

import numpy as np
import pingouin
import pypdfium2
import pytest
from django.utils import timezone

from tests.conftest import Staffroom, devices, refs
from tests.school.test_record import NAMES, lark, record, sat
from tests.school.test_teacher_side import send
from versomark.core.formats.oneroster import read_bundle
from versomark.school.classes.models import SchoolClass
from versomark.school.delivery import services
from versomark.school.delivery.models import SeatState, Sitting
from versomark.school.records.models import ManualTermGrade

__all__ = ["lark"]
pytestmark = pytest.mark.django_db


def held(sitting: Sitting, days: int) -> Sitting:
    """As if it had been sat so many days ago."""
    Sitting.objects.filter(pk=sitting.pk).update(opened_at=timezone.now() - timedelta(days=days))
    return sitting


def term(name: str, first: int, last: int) -> dict[str, Any]:
    return {
        "name": name,
        "starts": (timezone.localdate() - timedelta(days=first)).isoformat(),
        "ends": (timezone.localdate() - timedelta(days=last)).isoformat(),
    }


def put(school: Staffroom, path: str, body: Any, status: int = 200) -> Any:
    reply = send(school.client, "put", path, body)
    assert reply.status_code == status, reply.content
    return reply.json()


def terms_of(page: Any, name: str) -> list[tuple[float | None, str, str]]:
    row = next(student for student in page["students"] if student["name"].startswith(name))
    return [(cell["share"], cell["carried"], cell["set"]) for cell in row["terms"]]


def test_terms_carry_the_latest_and_say_so(school: Staffroom, lark: SchoolClass) -> None:
    """Two marks a sitting, of which only the first question is answered: right is half of them."""
    held(sat(school, lark, ["b", "b", "a", None]), 90)
    held(sat(school, lark, ["a", None, "b", None]), 10)
    kept = put(school, "terms", {"terms": [term("Autumn", 120, 60), term("Winter", 59, -20), term("Spring", -21, -90)]})
    page = record(school, lark)
    assert [one["name"] for one in page["terms"]] == ["Autumn", "Winter", "Spring"]
    half = pytest.approx(0.5)
    assert terms_of(page, "Ada") == [(half, "", ""), (0, "", ""), (None, "", "")]
    assert terms_of(page, "Ben") == [(half, "", ""), (half, "Autumn", ""), (None, "", "")]  # not into the future
    assert terms_of(page, "Dora") == [(None, "", "")] * 3
    # The mean of a term is over those who have something of their own in it.
    assert page["terms"][1]["mean"] == pytest.approx(np.mean([0, 0.5]))
    for wrong in (
        [term("Autumn", 120, 60), term("autumn", 59, 0)],
        [term("A", 60, 120)],
        [term("A", 120, 60), term("B", 60, 0)],
        [term(" ", 120, 60)],
    ):
        put(school, "terms", {"terms": wrong}, 422)
    # Names are exchanged, and what was set stays with its term.
    autumn, winter, _ = kept
    student = page["students"][1]["student"]
    path = f"classes/{lark.pk}/record/terms/{winter['id']}/{student}"
    put(school, path, {"share": 0.75, "reason": "Oral work"})
    put(school, "terms", {"terms": [{**autumn, "name": "Winter"}, {**winter, "name": "Autumn"}]})
    assert terms_of(record(school, lark), "Ben")[1] == (0.75, "", "Oral work")
    put(school, path, {"share": 0.7, "reason": " "}, 422)
    assert send(school.client, "delete", path).status_code == 200
    assert terms_of(record(school, lark), "Ben")[1][0] == half
    assert ManualTermGrade.objects.count() == 1  # what was set once stays on record


def test_weights_scale_and_what_is_missing(school: Staffroom, lark: SchoolClass) -> None:
    quiz, check = sat(school, lark, ["b", "a", "b", None]), sat(school, lark, ["a", "b", None, None])
    base = held(sat(school, lark, ["b", "b", "b", "b"]), 300)
    put(
        school,
        f"classes/{lark.pk}/record/categories",
        {"categories": [{"name": "Quiz", "weight": 1}, {"name": "Check", "weight": 3}]},
    )
    first, second = record(school, lark)["categories"]
    put(school, f"sittings/{quiz.pk}/record", {"category": first["id"]})
    put(school, f"sittings/{check.pk}/record", {"category": second["id"]})
    put(school, f"sittings/{base.pk}/record", {"baseline": True})
    page = record(school, lark)
    averages = {student["name"].split()[0]: (student["average"], student["over"]) for student in page["students"]}
    assert averages["Ada"] == (pytest.approx((1 * 0.5 + 3 * 0) / 4), 2)
    assert averages["Ben"] == (pytest.approx((1 * 0 + 3 * 0.5) / 4), 2)
    assert averages["Cem"] == (pytest.approx(0.5), 1)  # the quiz alone: what is missing takes no weight
    assert averages["Dora"] == (None, 0)  # the baseline is in no average
    assert "Quiz 1, Check 3" in page["rules"]["in_words"]
    scale = [{"least": 0.5, "word": "pass"}, {"least": 0, "word": "fail"}]
    rules = {"scale_name": "pass or fail", "scale_steps": scale, "missing_is_zero": True}
    put(school, f"classes/{lark.pk}/record/rules", rules)
    page = record(school, lark)
    said = {student["name"].split()[0]: (student["average"], student["said"]) for student in page["students"]}
    assert said["Cem"] == (pytest.approx(0.5 / 4), "fail")
    assert said["Dora"] == (0, "fail")
    assert [cell["said"] for cell in page["students"][0]["cells"]] == ["fail", "pass", "pass"]
    put(school, f"classes/{lark.pk}/record/rules", {**rules, "scale_steps": scale[:1]}, 422)
    put(school, f"sittings/{quiz.pk}/record", {"category": 10**9}, 404)
    # A category that goes leaves its sittings in none.
    put(school, f"classes/{lark.pk}/record/categories", {"categories": [{**second, "weight": 3}]})
    assert [sitting["category"] for sitting in record(school, lark)["sittings"]] == [second["id"], None, None]


def test_growth_is_that_of_the_pairs(school: Staffroom, lark: SchoolClass) -> None:
    before = held(sat(school, lark, ["a", "a", "b", "b"]), 30)
    after = sat(school, lark, ["b", "a", "b", None])
    body = school.client.get(f"/api/v1/classes/{lark.pk}/growth").json()
    assert (body["before"], body["after"], body["both"]) == (before.pk, after.pk, 3)
    one, other = np.array([0, 0, 0.5]), np.array([0.5, 0, 0.5])
    assert body["mean_after"] - body["mean_before"] == pytest.approx((other - one).mean())
    assert body["normalised"] == pytest.approx((other - one).mean() / (1 - one).mean())
    d = pingouin.compute_effsize(other, one, paired=True, eftype="cohen")  # pingouin's d of pairs is d_av
    correction = 1 - 3 / (4 * (3 - 1) - 1)  # Hedges' approximation; ours is exact
    assert body["effect"] == pytest.approx(d * correction, rel=0.02)
    gains = {row["name"]: row["gain"] for row in body["students"]}
    assert [gains[name] for name in gains if name.startswith(("Ada", "Dora"))] == [pytest.approx(0.5), None]
    assert "Too few to say whether that is more than chance" in body["opening"]
    assert school.client.get(f"/api/v1/classes/{lark.pk}/growth?before={10**9}").status_code == 404


def test_a_students_report_on_screen_and_on_paper(school: Staffroom, lark: SchoolClass) -> None:
    held(sat(school, lark, ["b", "a", "b", None], written=True), 40)
    newer = sat(school, lark, ["b", "b", None, None])
    page = record(school, lark)
    ada = page["students"][0]
    path = f"/api/v1/classes/{lark.pk}/students/{ada['student']}/report"
    report = school.client.get(path).json()
    assert report["full_name"] == NAMES[0]
    assert [sitting["title"] for sitting in report["sittings"]] == [sitting["title"] for sitting in page["sittings"]]
    assert report["average"] == ada["average"]
    (skill,) = report["skills"]
    assert (skill["earned"], skill["of"], skill["sittings"]) == (2, 4, 2)  # what waits for a mark is in neither
    pdf = pypdfium2.PdfDocument(school.client.get(f"{path}.pdf?papers={newer.pk},{10**9}").content)
    text = [sheet.get_textpage().get_text_range() for sheet in pdf]
    assert NAMES[0] in text[0]
    assert "A skill" in text[0]
    assert "1 of 2 marks" in text[1]
    assert len(pdf) == 2
    assert len(pypdfium2.PdfDocument(school.client.get(f"{path}.pdf").content)) == 1
    assert school.client.get(f"/api/v1/classes/{lark.pk}/students/{10**9}/report").status_code == 404


def test_a_report_goes_out_with_what_was_said_or_without(school: Staffroom, lark: SchoolClass) -> None:
    sitting = sat(school, lark, ["b", "a", "b", None], written=True)
    asked = next(item for item in sitting.edition.read().items() if item.content.marked_by == "person")
    points = {criterion.id: criterion.max for criterion in asked.content.rubric.criteria}
    mark = {"points": points, "comment": "Say where it goes."}
    assert send(school.client, "put", f"sittings/{sitting.pk}/marking/{asked.ref}/1", mark).status_code == 200
    said = send(school.client, "put", f"sittings/{sitting.pk}/marking/students/1/overall", {"text": "A good start."})
    assert said.status_code == 200
    student = sitting.seats.get(desk=1).student_id
    path = f"/api/v1/classes/{lark.pk}/students/{student}/report.pdf?papers={sitting.pk}"
    for query, there in (("", True), ("&said=true", True), ("&said=false", False)):
        pdf = pypdfium2.PdfDocument(school.client.get(path + query).content)
        text = [sheet.get_textpage().get_text_range() for sheet in pdf]
        assert ("A good start." in text[0]) is there, query
        assert ("What was said" in text[0]) is there, query
        assert ("Say where it goes." in text[1]) is there, query
        assert NAMES[0] in text[0]  # the marks and the answers go either way
        assert "Right:" in text[1] or " of " in text[1]


def test_groups_from_an_order_are_kept_all_or_none(school: Staffroom, lark: SchoolClass) -> None:
    sat(school, lark, ["b", "a", "b", "a"])
    ranked = [student["student"] for student in record(school, lark)["students"]]
    path = f"classes/{lark.pk}/groups"
    divided = send(school.client, "post", f"{path}/divided", {"ranked": ranked, "groups": 2, "way": "mixed"}).json()
    assert divided == [[ranked[0], ranked[3]], [ranked[1], ranked[2]]]
    assert send(school.client, "post", f"{path}/divided", {"ranked": ranked, "groups": 5}).status_code == 422
    groups = [{"name": f"Group {at}", "students": one} for at, one in enumerate(divided)]
    assert send(school.client, "post", f"{path}/several", {"groups": groups, "made_from": "total"}).status_code == 200
    again = [{"name": "New", "students": ranked[:1]}, groups[0]]
    assert send(school.client, "post", f"{path}/several", {"groups": again}).status_code == 409
    assert sorted(lark.groups.values_list("name", "made_from")) == [("Group 0", "total"), ("Group 1", "total")]


def test_the_bundle_for_the_office_says_what_the_record_says(school: Staffroom, lark: SchoolClass) -> None:
    """OneRoster 1.2: read back as CSV, and by our own reader of class lists."""
    quiz = sat(school, lark, ["b", "a", None, None])
    services.mark_absence(quiz, quiz.seats.get(desk=3).pk, SeatState.EXCUSED)
    written = sat(school, lark, ["b", "b", "a", "a"], written=True)
    put(school, f"classes/{lark.pk}/record/categories", {"categories": [{"name": "Quiz", "weight": 2}]})
    category = record(school, lark)["categories"][0]["id"]
    put(school, f"sittings/{quiz.pk}/record", {"category": category})
    reply = school.client.get(f"/api/v1/classes/{lark.pk}/record/oneroster.zip")
    packed = zipfile.ZipFile(io.BytesIO(reply.content))
    tables = {
        name[:-4]: list(csv.DictReader(io.StringIO(packed.read(name).decode())))
        for name in packed.namelist()
        if name.endswith(".csv")
    }
    stated = {row["propertyName"]: row["value"] for row in tables["manifest"]}
    assert all(stated[f"file.{name}"] == "bulk" for name in tables if name != "manifest")
    # Every reference of the gradebook leads somewhere.
    items = {row["sourcedId"]: row for row in tables["lineItems"]}
    users = {row["sourcedId"]: row["givenName"] for row in tables["users"]}
    categories = {row["sourcedId"]: row["title"] for row in tables["categories"]}
    assert {categories[row["categorySourcedId"]] for row in items.values()} == {"Quiz", "Other"}
    results = {
        (row["lineItemSourcedId"], users[row["studentSourcedId"]]): (row["scoreStatus"], row["score"], row["missing"])
        for row in tables["results"]
    }
    assert results[f"verso-sitting-{quiz.pk}", "Ada"] == ("fully graded", "1", "false")
    assert results[f"verso-sitting-{quiz.pk}", "Cem"] == ("exempt", "", "false")
    assert results[f"verso-sitting-{quiz.pk}", "Dora"] == ("not submitted", "", "true")
    assert results[f"verso-sitting-{written.pk}", "Ben"] == ("partially graded", "1", "false")
    assert [len(entry.students) for entry in read_bundle(reply.content)] == [4]


@pytest.mark.usefixtures("still")
def test_who_was_not_tested_in_a_window_of_days(school: Staffroom, lark: SchoolClass) -> None:
    old, new = held(sat(school, lark, ["b", "b", "b", None]), 60), sat(school, lark, ["b", None, None, None])
    services.mark_absence(new, new.seats.get(desk=3).pk, SeatState.EXCUSED)

    def window(first: int, last: int) -> Any:
        days = [(timezone.localdate() - timedelta(days=ago)).isoformat() for ago in (first, last)]
        return school.client.get(f"/api/v1/classes/{lark.pk}/not-tested?starts={days[0]}&ends={days[1]}")

    body = window(10, 0).json()
    names = {entry["name"].split()[0]: entry for entry in body["nothing"]}
    assert sorted(names) == ["Ben", "Cem", "Dora"]
    assert [missed["sitting"] for missed in names["Ben"]["missed"]] == [new.pk]
    assert names["Cem"]["missed"] == []  # excused
    assert names["Dora"]["last"] is None
    assert names["Ben"]["last"] == (timezone.localdate() - timedelta(days=60)).isoformat()
    both = window(90, 0).json()
    assert [entry["name"].split()[0] for entry in both["nothing"]] == ["Dora"]
    assert [entry["name"].split()[0] for entry in both["something"]] == ["Ben"]
    assert both["opening"] == "1 of 4 have no total in these days, of 2 sittings. 1 more missed something."
    assert window(0, 10).status_code == 422
    # Sit now: the door opens for that one student, and what they give is in the record.
    seat = names["Ben"]["missed"][0]["seat"]
    assert send(school.client, "post", f"sittings/{new.pk}/seats/{seat}/acts", {"act": "sit now"}).status_code == 200
    device = devices(new)[1]
    assert device.join().status_code == 200
    device.answer(refs(new)[0], {"kind": "single_choice", "option": "b"}, 1)
    assert device.post("hand-in").status_code == 200
    assert sorted(entry["name"].split()[0] for entry in window(10, 0).json()["nothing"]) == ["Cem", "Dora"]
    assert old.pk != new.pk
