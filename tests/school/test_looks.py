"""The table of students by questions and the scale, as a sitting has them; the core's own figures are the reference."""

from typing import Any

import numpy as np
import pytest

from tests.conftest import Staffroom, devices, refs, two_questions
from tests.school.test_marking import RUBRIC, put
from versomark.core.items import Option, SingleChoice
from versomark.core.items.by_rubric import Written
from versomark.core.stats.partial_credit import fit_partial_credit
from versomark.core.stats.student_problem import student_problem
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.grading.totals import leave_out

pytestmark = pytest.mark.django_db
STUDENTS, QUESTIONS = 14, 6


@pytest.fixture
def answers() -> np.ndarray:
    """Right or wrong, with some ability behind it; nobody has all or nothing, so that all are on the scale's way."""
    rng = np.random.default_rng(8)
    ability = rng.normal(size=(STUDENTS, 1))
    result = ability + rng.logistic(size=(STUDENTS, QUESTIONS)) > np.linspace(-1.2, 1.2, QUESTIONS)
    return np.asarray(result)


@pytest.fixture
def sat(school: Staffroom, answers: np.ndarray) -> Sitting:
    options = [Option(id=name, text=name) for name in "abc"]
    contents: list[Any] = [SingleChoice(stem=f"Q{n}?", options=options, key="b") for n in range(QUESTIONS)]
    sitting = school.open_sitting(
        contents=[*contents, Written(stem="Explain.", marks=2, rubric=RUBRIC)], students=STUDENTS
    )
    named = refs(sitting)
    for device, row in zip(devices(sitting), answers, strict=True):
        device.join()
        for at, (ref, right) in enumerate(zip(named, row, strict=False), start=1):
            device.answer(ref, {"kind": "single_choice", "option": "b" if right else "c"}, at)
        device.post("hand-in")
    return services.close_sitting(sitting)


def look(school: Staffroom, sitting: Sitting, which: str) -> Any:
    return school.client.get(f"/api/v1/sittings/{sitting.pk}/findings/{which}")


def test_the_table_is_in_the_order_of_the_core(school: Staffroom, sat: Sitting, answers: np.ndarray) -> None:
    page = look(school, sat, "table").json()
    # The written question is in nobody's answers: all are marked, since there is nothing to mark, and nobody has it.
    order = student_problem(np.column_stack([answers, np.zeros(STUDENTS, bool)]))
    assert [student["desk"] - 1 for student in page["students"]] == order.students.tolist()
    assert [item["number"] - 1 for item in page["items"]] == order.problems.tolist()
    assert page["student_curve"] == order.student_curve.tolist()
    assert page["problem_curve"] == order.problem_curve.tolist()
    for row, i in enumerate(order.students):
        for column, j in enumerate(order.problems):
            right = j < QUESTIONS and bool(answers[i, j])
            assert page["points"][row][column] == float(right)
            assert page["picks"][row][column] == ("" if j == QUESTIONS else "B" if right else "C")
    cautions = [student["caution"] for student in page["students"]]
    expected = order.student_caution[order.students]
    assert [value for value in cautions if value is not None] == pytest.approx(expected[~np.isnan(expected)].tolist())
    assert [student["total"] for student in page["students"]] == answers.sum(axis=1)[order.students].tolist()


def test_the_scale_is_that_of_the_core_and_names_what_is_left_out(
    school: Staffroom, sat: Sitting, answers: np.ndarray
) -> None:
    page = look(school, sat, "scale").json()
    named = refs(sat)
    fitted = fit_partial_credit(answers.astype(float))
    results = {item["id"]: item["difficulty"] for item in page["scale"]["items"]}
    assert [results[named[j]] for j in fitted.items] == pytest.approx(fitted.difficulty.tolist(), abs=1e-6)
    assert page["scale"]["left_out"] == {named[QUESTIONS]: "Every student has the same on it."}
    assert page["labels"][named[0]] == "1"
    assert set(page["names"]) == {str(pk) for pk in sat.seats.values_list("pk", flat=True)}
    assert len(page["scale"]["persons"]) == STUDENTS


def test_who_is_left_out_of_the_figures_is_in_no_look(school: Staffroom, sat: Sitting) -> None:
    seat = sat.seats.select_related("student", "sitting").get(desk=3)
    leave_out(school.teacher, seat, "Was ill.")
    assert seat.pk not in [student["seat"] for student in look(school, sat, "table").json()["students"]]
    for other in sat.seats.select_related("student", "sitting").exclude(pk=seat.pk)[:5]:
        leave_out(school.teacher, other, "To make it few.")
    page = look(school, sat, "scale").json()
    assert page["scale"] is None
    assert "too few for a scale" in page["why"]


def test_what_is_not_there_yet_says_so(school: Staffroom) -> None:
    sitting = school.open_sitting(contents=two_questions(), students=1)
    assert "Nobody has handed in" in look(school, sitting, "table").json()["detail"]
    only = school.open_sitting(contents=[Written(stem="Explain.", marks=2, rubric=RUBRIC)], students=1)
    device = devices(only)[0]
    device.join()
    device.answer(refs(only)[0], {"kind": "written", "text": "So."}, 1)
    device.post("hand-in")
    assert "marked" in look(school, only, "scale").json()["detail"]
    put(school.client, only, f"{refs(only)[0]}/1", {"points": {"idea": 1, "words": 1}})
    assert look(school, only, "table").json()["points"] == [[1.0]]
