"""Results by group against pandas and pingouin; every mark and what was said against each student's own page."""

from collections.abc import Callable
from typing import Any

import pandas as pd
import pingouin
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import Staffroom, refs
from tests.school.test_results import FULL, call, put
from tests.school.test_results import sat as sat  # a fixture
from tests.school.test_skills_and_feedback import SKILLS
from tests.school.test_skills_and_feedback import sat as by_skill  # noqa: F401, a fixture
from versomark.school.classes.models import Group
from versomark.school.classes.services import keep_group, share_class, tag_students
from versomark.school.delivery.models import Sitting
from versomark.school.grading.models import HiddenNames

pytestmark = pytest.mark.django_db


def close(found: float | None, expected: float) -> bool:
    return found == pytest.approx(expected, abs=1e-9) if expected == expected else found is None


@given(
    st.lists(st.sets(st.integers(0, 4), min_size=1), min_size=1, max_size=3), st.lists(st.integers(0, 7), max_size=4)
)
@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_means_of_groups_are_those_of_pandas(
    school: Staffroom,
    by_skill: Sitting,  # noqa: F811
    groups: list[set[int]],
    set_to: list[int],
) -> None:
    """Any groups of the five, one of whom gave nothing, with totals set by hand for some."""
    seats = list(by_skill.seats.order_by("desk"))
    Group.objects.all().delete()
    for at, own in enumerate(groups):
        keep_group(by_skill.school_class, f"G{at}", [seats[entry].student_id for entry in own])
    tag_students(school.teacher, [seats[0].student, seats[3].student], ["new here"])
    for seat, total in zip(seats, set_to, strict=False):
        call(school.client, by_skill, "put", f"/seats/{seat.pk}/total", {"total": total, "reason": "So."})
    page = call(school.client, by_skill, "get", "/groups")
    lines = call(school.client, by_skill, "get", "")["students"]
    table = pd.DataFrame(lines).set_index("student")
    share = (table["total"] / table["of"]).dropna()
    members = {f"G{at}": {seats[entry].student_id for entry in own} for at, own in enumerate(groups)}
    members["new here"] = {seats[0].student_id, seats[3].student_id}
    assert {group["name"] for group in page["groups"]} == set(members)
    means = [-1 if group["mean"] is None else group["mean"] for group in page["groups"]]
    assert means == sorted(means, reverse=True)
    assert page["mean"] == pytest.approx(share.mean())
    for group in page["groups"]:
        inside = share[share.index.isin(members[group["name"]])]
        outside = share[~share.index.isin(members[group["name"]])]
        assert set(group["students"]) == set(inside.index)
        assert len(group["without"]) == len(members[group["name"]]) - len(inside)
        assert close(group["mean"], inside.mean())
        assert close(group["others"], outside.mean())
        assert close(group["difference"], inside.mean() - outside.mean())
        if group["difference_low"] is not None:
            ttest = pingouin.ttest(inside, outside, correction=True)
            low, high = ttest.filter(like="CI95").iloc[0, 0]
            assert (group["difference_low"], group["difference_high"]) == pytest.approx(
                (low, high), abs=0.006
            )  # it rounds
            assert group["sure"] == (group["difference_low"] > 0 or group["difference_high"] < 0)
        else:
            assert min(len(inside), len(outside)) < 2 or (inside.nunique() == 1 == outside.nunique())
    call(school.client, by_skill, "delete", f"/seats/{seats[0].pk}/total")


def test_skills_of_a_group_and_what_the_page_says(
    school: Staffroom,
    staffroom: Callable[[str], Staffroom],
    by_skill: Sitting,  # noqa: F811
) -> None:
    said = call(school.client, by_skill, "get", "/groups")["detail"]
    assert said == "This class has no group, and none of its students carries a tag."
    seats = list(by_skill.seats.order_by("desk"))
    keep_group(by_skill.school_class, "Half", [seats[1].student_id, seats[2].student_id], made_from="Circuits, Loops")
    page = call(school.client, by_skill, "get", "/groups")
    (half,) = page["groups"]
    assert page["skills"] == list(dict.fromkeys(SKILLS))
    # By hand: Ben and Cem have two and none of three Loops, none and three of three Meters, one and none of Energy.
    assert half["skills"] == pytest.approx([2 / 6, 3 / 6, 1 / 2])
    assert page["of_class"] == pytest.approx([6 / 12, 7 / 12, 2 / 4])
    assert half["made_from"] == "Circuits, Loops"
    says = "“Half” has 43% of the marks. Groups of this size differ by as much through chance alone."
    assert page["opening"] == f"{says} “Half” has fewer than 5 students: nothing there is certain."
    # Tags are each teacher's own; groups are the class's.
    tag_students(school.teacher, [seats[0].student], ["new here"])
    colleague = staffroom("colleague")
    colleague.teacher.school = school.teacher.school
    colleague.teacher.save()
    share_class(by_skill.school_class, colleague.teacher.pk, may_mark=False, may_run=False)
    assert {group["name"] for group in call(school.client, by_skill, "get", "")["groups"]} == {"Half", "new here"}
    assert [group["name"] for group in call(colleague.client, by_skill, "get", "")["groups"]] == ["Half"]
    assert [group["name"] for group in call(colleague.client, by_skill, "get", "/groups")["groups"]] == ["Half"]


def test_every_mark_and_word_is_what_the_student_sees(school: Staffroom, sat: Sitting) -> None:
    explain = refs(sat)[2]
    seats = list(sat.seats.order_by("desk"))
    put(school.client, sat, f"{explain}/1", {"points": FULL, "comment": "Well said,\nand short."})
    path = f"/api/v1/sittings/{sat.pk}/marking/students/1/overall"
    told = school.client.put(path, {"text": "Go on like this."}, content_type="application/json")
    assert told.status_code == 200, told.content
    full = call(school.client, sat, "get", "/full")
    assert [question["number"] for question in full["questions"]] == [1, 2, 3]  # the waived are in nobody's marks
    assert [student["seat"] for student in full["students"]] == [seat.pk for seat in seats[:3]]
    for student in full["students"]:
        seen: Any = call(school.client, sat, "get", f"/seats/{student['seat']}")
        own = {question["number"]: question for question in seen["questions"] if question["verdict"] != "left out"}
        assert student["comment"] == seen["comment"]
        for question, marks, said in zip(full["questions"], student["marks"], student["said"], strict=True):
            assert marks == own[question["number"]]["marks"]
            assert said == own[question["number"]]["comment"]
            assert question["of"] == own[question["number"]]["of"] or marks is None
    assert full["students"][0]["said"][2] == "Well said,\nand short."
    assert full["students"][1]["marks"] == [1, 0, None]  # it waits: no made-up zero
    HiddenNames.objects.create(sitting=sat, seed=1)
    for what in ("/full", "/groups"):
        assert "names of this sitting are hidden" in call(school.client, sat, "get", what)["detail"]
