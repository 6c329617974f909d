"""The record of a class: against the results of each sitting, student by student."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from tests.conftest import PASSWORD, Staffroom, devices, refs, two_questions
from tests.school.test_marking import RUBRIC, put
from versomark.core.items.by_rubric import Written
from versomark.school.accounts.models import School, Teacher
from versomark.school.bank.services import Details, make_item
from versomark.school.classes.models import SchoolClass
from versomark.school.classes.services import add_students, make_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.services import freeze, keep_items, make_test
from versomark.school.grading.models import HiddenNames
from versomark.school.grading.totals import leave_out, results_in, set_lateness, set_total
from versomark.school.records.class_record import record_of

NAMES = ["Ada Ash", "Ben Birch", "Cem Cedar", "Dora Dale"]


def sat(school: Staffroom, school_class: SchoolClass, answers: list[str | None], written: bool = False) -> Sitting:
    """A closed sitting of this class; per student in desk order what they chose, or None for who never came."""
    contents = [*two_questions(), *([Written(stem="Explain.", marks=4, rubric=RUBRIC)] if written else [])]
    items = [make_item(school.teacher, content, Details(["A skill"])) for content in contents]
    test = keep_items(make_test(school.teacher, "T"), f"Test {len(items)}", "", [item.pk for item in items])
    sitting = services.open_sitting(services.plan(school.teacher, freeze(test), school_class, None))
    for device, option in zip(devices(sitting), answers, strict=True):
        if option is not None:
            device.join()
            device.answer(refs(sitting)[0], {"kind": "single_choice", "option": option}, 1)
            if written:
                device.answer(refs(sitting)[2], {"kind": "written", "text": "Because."}, 2)
            device.post("hand-in")
    return services.close_sitting(sitting)


@pytest.fixture
def lark(school: Staffroom) -> SchoolClass:
    school_class = make_class(school.teacher, "8 Lark")
    add_students(school_class, NAMES)
    return school_class


def record(school: Staffroom, school_class: SchoolClass) -> Any:
    return school.client.get(f"/api/v1/classes/{school_class.pk}/record").json()


def cells(page: Any, sitting: Sitting) -> list[Any]:
    at = next(place for place, one in enumerate(page["sittings"]) if one["id"] == sitting.pk)
    return [student["cells"][at] for student in page["students"]]


def agrees_with_the_results(page: Any, sitting: Sitting) -> None:
    """What the record took from the kept analysis is what results say student by student."""
    for cell, result in zip(cells(page, sitting), results_in(sitting), strict=True):
        if cell["total"] is None:
            assert result.total is None or result.of == 0
        else:
            assert (cell["total"], cell["of"]) == (pytest.approx(result.total), result.of)
            assert cell["late"] == (result.lost > 0 and result.set_by is None)
            assert cell["set"] == (result.set_by is not None)


@pytest.mark.django_db
def test_every_sitting_by_every_student_with_what_stands_in_place_of_a_mark(
    school: Staffroom, lark: SchoolClass
) -> None:
    first = sat(school, lark, ["b", "a", "b", None])
    services.mark_absence(first, first.seats.get(desk=4).pk, "absent")
    second = sat(school, lark, ["a", "b", None, None])
    services.mark_absence(second, second.seats.get(desk=3).pk, "excused")
    Sitting.objects.filter(pk=first.pk).update(opened_at=timezone.now() - timedelta(days=9))
    page = record(school, lark)
    assert [sitting["id"] for sitting in page["sittings"]] == [second.pk, first.pk]  # newest first
    assert [cell["word"] for cell in cells(page, first)] == ["", "", "", "absent"]
    assert [cell["word"] for cell in cells(page, second)] == [
        "",
        "",
        "excused",
        "missing",
    ]  # that closing found nothing of them is not that a teacher said so
    for sitting in (first, second):
        agrees_with_the_results(page, sitting)
    assert [(student["average"], student["over"]) for student in page["students"]] == [
        (0.25, 2),
        (0.25, 2),
        (0.5, 1),
        (None, 0),
    ]
    assert page["average"] == pytest.approx((0.25 + 0.25 + 0.5) / 3)
    assert [sitting["mean"] for sitting in page["sittings"]] == [0.25, pytest.approx(1 / 3)]
    assert "Dora D. missed 2 of them" in page["opening"]
    # One who joined later has no seat in what was before, and that is not missing.
    add_students(lark, ["Eve Elm"])
    assert record(school, lark)["students"][-1]["cells"] == [None, None]


@pytest.mark.django_db
def test_late_work_totals_that_were_set_and_who_is_out_of_the_figures(school: Staffroom, lark: SchoolClass) -> None:
    sitting = sat(school, lark, ["b", "b", "a", "b"])
    set_lateness(school.teacher, sitting, timezone.now() - timedelta(days=3), 0, 10, 100)
    sitting.seats.filter(desk=1).update(handed_in_at=timezone.now() - timedelta(days=9))
    seats = list(sitting.seats.select_related("student", "sitting").order_by("desk"))
    set_total(school.teacher, seats[2], 1.5, "Shown in class.")
    page = record(school, lark)
    agrees_with_the_results(page, sitting)
    assert [cell["late"] for cell in cells(page, sitting)] == [False, True, False, True]
    assert [cell["set"] for cell in cells(page, sitting)] == [False, False, True, False]
    # Out of the statistics is not out of the record.
    leave_out(school.teacher, seats[3], "Was ill.")
    page = record(school, lark)
    agrees_with_the_results(page, sitting)
    assert cells(page, sitting)[3]["total"] is not None


@pytest.mark.django_db
def test_answers_that_wait_and_names_that_are_hidden(school: Staffroom, lark: SchoolClass) -> None:
    sitting = sat(school, lark, ["b", "b", "a", None], written=True)
    page = record(school, lark)
    agrees_with_the_results(page, sitting)
    assert [cell["word"] for cell in cells(page, sitting)] == ["waiting"] * 3 + ["missing"]
    assert page["sittings"][0]["waiting"] == 3
    assert "3 answers still wait for a mark" in page["opening"]
    for number in (1, 2, 3):
        put(school.client, sitting, f"{refs(sitting)[2]}/{number}", {"points": {"idea": 3, "words": 1}})
    page = record(school, lark)
    agrees_with_the_results(page, sitting)
    assert cells(page, sitting)[0]["of"] == 6
    hidden = HiddenNames.objects.create(sitting=sitting, seed=3)
    page = record(school, lark)
    assert cells(page, sitting) == [None] * 4
    assert page["sittings"][0]["names_hidden"] is True
    assert page["sittings"][0]["mean"] is None
    hidden.delete()


@pytest.mark.django_db
def test_what_is_open_is_not_in_it_and_an_empty_record_says_so(school: Staffroom, lark: SchoolClass) -> None:
    assert "Nothing has been sat to the end yet." in record(school, lark)["opening"]
    items = [make_item(school.teacher, content, Details(["A skill"])) for content in two_questions()]
    test = keep_items(make_test(school.teacher, "T"), "Open", "", [item.pk for item in items])
    services.open_sitting(services.plan(school.teacher, freeze(test), lark, None))
    assert record(school, lark)["sittings"] == []


@pytest.mark.django_db
def test_a_record_is_for_those_who_may_see_the_class(
    school: Staffroom, staffroom: Callable[[str], Staffroom], lark: SchoolClass
) -> None:
    stranger = staffroom("stranger")
    assert stranger.client.get(f"/api/v1/classes/{lark.pk}/record").status_code == 404


class RecordTest(TestCase):
    @settings(max_examples=15, deadline=None)
    @given(st.lists(st.lists(st.sampled_from(["a", "b", None]), min_size=4, max_size=4), min_size=1, max_size=3))
    def test_averages_are_over_what_there_is(self, given_rows: list[list[str | None]]) -> None:
        place = School.objects.create(name="S")
        teacher = Teacher.objects.create_teacher(place, "T", f"t{School.objects.count()}x{id(given_rows)}", PASSWORD)
        school = Staffroom(teacher, self.client)
        school_class = make_class(teacher, "8 Lark")
        add_students(school_class, NAMES)
        for row in given_rows:
            sat(school, school_class, row)
        result = record_of(school_class)
        for desk, student in enumerate(result.students):
            # One of two marks for the first question; the second was left empty.
            own = [0.5 if row[desk] == "b" else 0.0 for row in given_rows if row[desk] is not None]
            assert student.over == len(own)
            assert student.average == (pytest.approx(sum(own) / len(own)) if own else None)
        for sitting, row in zip(result.sittings, reversed(given_rows), strict=True):
            shares = [0.5 if entry == "b" else 0.0 for entry in row if entry is not None]
            assert sitting.mean == (pytest.approx(sum(shares) / len(shares)) if shares else None)
