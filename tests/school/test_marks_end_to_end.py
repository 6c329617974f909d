"""Marks from one door to the other: keyed in, they give the figures of the same marks from a file; saved, they are safe
in a spreadsheet; described, they are found and counted everywhere; and what stands in for a class is fair."""

import csv
import io
import json
from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook

from tests.conftest import Staffroom
from tests.school.test_marks_only import described_sitting, grid, keep, marks
from tests.school.test_teacher_side import send
from versomark.core import cli
from versomark.core.formats.class_lists import guess, read_students
from versomark.core.formats.tables import read_tables
from versomark.core.items.marks_only import MarksOnly, MarksOnlyResponse
from versomark.school.delivery.models import Sitting
from versomark.school.responses import external_marks as marks_only
from versomark.school.tables_out import csv_file, inert, workbook
from versomark.stand_ins.answers_of_any_kind import LEAVES_OUT, respond

FIGURES = ("p", "sd", "d", "r_total", "r_rest", "alpha_without")


@pytest.mark.django_db
def test_the_grid_and_a_file_of_the_same_marks_give_the_same_figures(school: Staffroom, tmp_path: Path) -> None:
    """The screen's way through edition, log and scoring against `./verso analyse` on a plain CSV of points."""
    sitting = described_sitting(school, students=24)
    rng = np.random.default_rng(5)
    tops = {"a": 6, "b": 4, "c": 12}
    ability = rng.normal(size=24)
    table = {ref: rng.binomial(top, 1 / (1 + np.exp(-ability))) for ref, top in tops.items()}
    for ref, top in tops.items():
        table[ref][0] = top  # a file without a key takes the largest mark earned for the maximum
    cells = [(row, ref, float(table[ref][row])) for row in range(24) for ref in tops]
    assert keep(school, sitting, *cells).status_code == 200
    send(school.client, "post", f"sittings/{sitting.pk}/steps/close")
    body = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()["body"]
    answers, out = tmp_path / "points.csv", tmp_path / "out.json"
    with answers.open("w", newline="") as file:
        writer = csv.writer(file)
        writer.writerow(["student", *tops])
        writer.writerows([f"s{row:02}", *(table[ref][row] for ref in tops)] for row in range(24))
    assert cli.main([str(answers), "--json", str(out)]) == 0
    file_says = json.loads(out.read_text())
    for name in ("students", "mean", "sd", "alpha", "sem", "max"):
        assert body["test"][name] == pytest.approx(file_says["test"][name], abs=1e-9), name
    for question, item in zip(body["paper"], file_says["items"], strict=True):
        shared = [name for name in FIGURES if name in item and name in question["figures"]]
        assert len(shared) >= 4
        for name in shared:
            assert question["figures"][name] == pytest.approx(item[name], abs=1e-9), (question["label"], name)
        assert {entry["points"]: len(entry["seats"]) for entry in question["earned"]} == {
            float(value): int(count)
            for value, count in zip(*np.unique(table[item["id"]], return_counts=True), strict=True)
        }


TEXT = st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=20).map(lambda text: " ".join(text.split()))
SIGNED = st.builds(lambda sign, text: f"{sign}{text}", st.sampled_from(["=", "+", "-", "@", "'=", "''@", ""]), TEXT)


@given(st.lists(st.tuples(SIGNED, SIGNED), min_size=1, max_size=6))
@settings(suppress_health_check=list(HealthCheck))
def test_no_cell_of_a_saved_table_is_a_formula_and_every_cell_comes_back(rows: list[tuple[str, str]]) -> None:
    """As a spreadsheet opens it: openpyxl types a cell that begins with an equals sign as a formula."""
    made = [[inert(one), inert(other)] for one, other in rows]
    text = csv_file(["A", "B"], made).decode("utf-8-sig")
    assert list(csv.reader(io.StringIO(text)))[1:] == made
    sheet = load_workbook(io.BytesIO(workbook("T", ["A", "B"], made))).active
    assert sheet is not None
    for row, given_ in zip(sheet.iter_rows(min_row=2), made, strict=True):
        for cell, said in zip(row, given_, strict=True):
            assert cell.data_type != "f"
            assert (cell.value or "") == said
            assert not str(cell.value or "").startswith(("=", "+", "-", "@"))
    for (one, _), (kept, _) in zip(rows, made, strict=True):
        assert kept.removeprefix("'") == one or kept == one


@given(st.sampled_from(["=Ada", "+Bo", "-Cy", "@Di", "'=Ed", "Fay"]))
def test_a_name_that_looks_like_a_formula_survives_the_way_out_and_in(name: str) -> None:
    sheet = read_tables("l.csv", csv_file(["Given name", "Family name"], [[inert(name), "Last"]]))[0]
    result = guess(sheet)
    assert read_students(sheet, result.header, result.columns).students[0].given_name == name


@pytest.mark.django_db
def test_a_described_test_is_found_counted_and_frozen_like_any_other(school: Staffroom) -> None:
    sitting = described_sitting(school)
    test = sitting.edition.test
    line = next(entry for entry in school.client.get("/api/v1/tests").json() if entry["id"] == test.pk)
    assert (line["marks_only"], line["questions"], line["pages"]) == (True, 3, 0)
    assert line["editions"][0]["marks"] == 22
    # Frozen again unchanged it is the same edition; changed it is the next, and says by label what is new.
    again = send(school.client, "post", f"tests/{test.pk}/freeze").json()
    assert again["id"] == sitting.edition_id
    described = school.client.get(f"/api/v1/tests/{test.pk}").json()["described"]
    described["groups"][1]["marks"] = 5
    described["groups"].append({"ref": "d", "label": "4", "marks": 1})
    body = {"title": "Practical", "described": described}
    assert send(school.client, "put", f"tests/{test.pk}/described", body).json()["checks"] == []
    fresh = send(school.client, "post", f"tests/{test.pk}/freeze").json()
    assert fresh["number"] == 2
    changes = school.client.get(f"/api/v1/editions/{fresh['id']}/changes").json()
    assert [(change["stem"], change["change"]) for change in changes] == [("2b", "changed: the marks"), ("4", "new")]
    result = school.client.get("/api/v1/find?typed=practical").json()
    assert {(entry["kind"], entry["detail"]) for entry in result} >= {("test", "4 questions")}
    desk = school.client.get("/api/v1/desk").json()
    assert [entry["marks_only"] for entry in desk["waiting"]] == [True]
    keep(school, sitting, (0, "a", 1))
    assert [entry["marks_only"] for entry in school.client.get("/api/v1/desk").json()["open"]] == [True]
    removed = school.client.delete(f"/api/v1/tests/{test.pk}")
    assert removed.status_code == 200  # put away: its results are explained by it
    assert grid(school, sitting)["rows"][0]["total"] == 1


@pytest.mark.django_db
def test_a_sitting_given_on_an_earlier_day_keeps_that_day(school: Staffroom) -> None:
    sitting = described_sitting(school)
    Sitting.objects.filter(pk=sitting.pk).update(planned_for=timezone.now() - timedelta(days=6))
    keep(school, sitting, (0, "a", 1))
    page = grid(school, sitting)
    assert page["sitting"]["opened_at"][:10] == page["sitting"]["planned_for"][:10]
    later = described_sitting(school, students=2)
    Sitting.objects.filter(pk=later.pk).update(planned_for=timezone.now() + timedelta(days=6))
    keep(school, later, (0, "a", 1))
    # Marks of a test that is still to come were given before it: it was held when they came.
    assert grid(school, later)["sitting"]["opened_at"] < grid(school, later)["sitting"]["planned_for"]


@pytest.mark.django_db
def test_a_release_shuts_the_grid(school: Staffroom) -> None:
    sitting = described_sitting(school)
    keep(school, sitting, (0, "a", 1))
    sitting.refresh_from_db()
    sitting.state = "released"
    sitting.save()
    refused = keep(school, sitting, (0, "a", 2))
    assert (refused.status_code, marks(grid(school, sitting), 0)) == (409, {"a": 1})
    assert "released" in refused.json()["detail"]
    assert marks_only.current_marks(sitting)[grid(school, sitting)["rows"][0]["seat"]]["a"].source == "teacher"


@pytest.mark.parametrize("half_marks", [False, True])
def test_simulated_marks_are_binomial_by_ability(half_marks: bool) -> None:
    """Of many students of one ability the mean share is their chance of a point (the logistic of the stand-in), and the
    spread that of the binomial distribution: variance n p (1 − p) in steps of a mark or half of one."""
    content, rng = MarksOnly(label="1", marks=6, half_marks=half_marks), np.random.default_rng(3)
    step = 0.5 if half_marks else 1.0
    previous = 0.0
    for ability in (-1.0, 0.0, 1.0):
        given_: list[Any] = [respond(content, ability, 0.0, rng) for _ in range(4000)]
        earned = np.array([entry.points for entry in given_ if isinstance(entry, MarksOnlyResponse)])
        assert len(earned) == pytest.approx(4000 * (1 - LEAVES_OUT), abs=4 * np.sqrt(4000 * LEAVES_OUT))
        share, n = earned.mean() / 6, 6 / step
        assert earned.var() == pytest.approx(step**2 * n * share * (1 - share), rel=0.12)
        assert share > previous
        previous = float(share)
        for entry in given_:
            if entry is not None:
                content.fits(entry)
