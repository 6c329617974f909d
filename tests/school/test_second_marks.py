"""The second marker: blind both ways, a sample that stays, two marks that are agreed on, and how far markers agree."""

from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from django.test import Client
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule, run_state_machine_as_test
from sklearn.metrics import cohen_kappa_score

from tests.conftest import PASSWORD, Staffroom, devices, refs, two_questions
from tests.school.test_marking import RUBRIC, findings, page_of, put
from versomark.core.items.by_rubric import Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.core.scoring import apart, counted
from versomark.school.accounts.models import School, Teacher
from versomark.school.classes.services import share_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.errors import DomainError
from versomark.school.grading.models import READINGS, Mark, MarkingPass
from versomark.school.grading.queries import marks_of
from versomark.school.grading.second_marking import Plan, end_second, left_in, plan_second
from versomark.school.grading.services import MarkGiven
from versomark.school.grading.services import give as give_mark

STUDENTS = 8
MARK = st.one_of(st.none(), st.integers(0, 12).map(lambda half: half / 2))


@given(MARK, MARK, MARK, st.integers(0, 6).map(float), st.booleans())
def test_what_counts_of_two_marks(
    first: float | None, second: float | None, agreed: float | None, tolerance: float, mean: bool
) -> None:
    result = counted(first, second, agreed, tolerance, mean)
    if agreed is not None:
        assert result == agreed
    elif first is None or second is None:
        assert result == first  # a second one never counts alone
    elif result is None:
        assert abs(first - second) > tolerance
        assert apart(second, first, tolerance)
    else:
        assert min(first, second) <= result <= max(first, second)
        assert result == (first + second) / 2 if mean else result == first


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    sitting = school.open_sitting(
        contents=[*two_questions(), Written(stem="Explain.", marks=8, rubric=RUBRIC)], students=STUDENTS
    )
    one, _, explain = refs(sitting)
    for at, device in enumerate(devices(sitting)):
        device.join()
        device.answer(one, {"kind": "single_choice", "option": "b" if at % 2 else "a"}, 1)
        device.answer(explain, {"kind": "written", "text": f"Because {at}."}, 2)
        device.post("hand-in")
    return services.close_sitting(sitting)


@pytest.fixture
def colleague(school: Staffroom, sat: Sitting) -> Client:
    other = Teacher.objects.create_teacher(school.teacher.school, "Second", "second", PASSWORD)
    share_class(sat.school_class, other.pk, may_mark=True, may_run=False)
    client = Client()
    client.force_login(other, backend="django.contrib.auth.backends.ModelBackend")
    return client


def krippendorff_by_pairs(pairs: np.ndarray[Any, Any]) -> float:
    """Two markers, nothing missing: disagreement seen over that of all pairs of marks (Krippendorff 2011)."""
    marks = pairs.reshape(-1)
    expected = np.mean([(a - b) ** 2 for i, a in enumerate(marks) for j, b in enumerate(marks) if i != j])
    return float(1 - np.mean((pairs[:, 0] - pairs[:, 1]) ** 2) / expected)


def plan(client: Client, sitting: Sitting, **parts: Any) -> Any:
    body = {"which": "all", **parts}
    return client.put(f"/api/v1/sittings/{sitting.pk}/marking/second", body, content_type="application/json")


def give(client: Client, sitting: Sitting, number: int, idea: float, words: float, turn: str = "first") -> Any:
    body = {"points": {"idea": idea, "words": words}, "comment": f"{turn} says", "turn": turn}
    return put(client, sitting, f"{refs(sitting)[2]}/{number}", body)


def reading(client: Client, sitting: Sitting, turn: str) -> dict[int, Any]:
    entries = client.get(f"/api/v1/sittings/{sitting.pk}/marking?turn={turn}").json()["entries"][refs(sitting)[2]]
    return {entry["number"]: entry for entry in entries if entry["state"] != "nothing"}


@pytest.mark.django_db
def test_two_readings_are_blind_and_what_is_apart_is_agreed_on(
    school: Staffroom, sat: Sitting, colleague: Client
) -> None:
    """The whole way, with the agreement figures of scikit-learn."""
    explain = refs(sat)[2]
    assert "second time" in give(colleague, sat, 1, 1, 1, "second").json()["detail"]
    for number in range(1, STUDENTS + 1):
        give(school.client, sat, number, number % 4, 1)
    assert findings(sat).test.max == 10
    assert plan(school.client, sat, tolerance=2).json()["second_left"] == STUDENTS

    # Blind: not a byte of what the first marker said, in either direction, and no mark to begin with.
    where = f"/api/v1/sittings/{sat.pk}/marking/{explain}/3?turn=second"
    seen = colleague.get(where)
    assert seen.json()["mark"] is None
    assert seen.json()["history"] == seen.json()["others"] == []
    assert b"first says" not in seen.content + colleague.get(f"/api/v1/sittings/{sat.pk}/marking/history/csv").content
    seconds = {number: number % 4 for number in range(1, STUDENTS + 1)} | {1: 2, 2: 0, 3: 1}
    for number, idea in seconds.items():
        assert give(colleague, sat, number, idea, 1, "second").json()["stands"]
    assert b"second says" not in school.client.get(where.replace("second", "first")).content
    assert b"first says" in colleague.get(f"/api/v1/sittings/{sat.pk}/marking/history/csv").content

    # Points of 4 are marks of 8: one point apart is within 2 marks, two points are not.
    assert set(reading(school.client, sat, "agreed")) == {2, 3}
    assert page_of(school.client, sat)["agree_left"] == 2
    assert findings(sat).paper[2].waiting == 2
    assert {seat: marks[explain] for seat, marks in marks_of(sat).items()} == {
        str(seat.pk): 2 * (seat.desk % 4 + 1) for seat in sat.seats.all() if seat.desk not in (2, 3)
    }
    both = school.client.get(where.replace("second", "agreed")).json()
    assert [(entry["by"], entry["points"]["idea"]) for entry in both["others"]] == [("Brandt", 3), ("Second", 1)]
    for number in (2, 3):
        assert give(school.client, sat, number, 2, 1, "agreed").json()["entry"]["marks"] == 6
    assert page_of(school.client, sat)["agree_left"] == 0
    assert (findings(sat).test.max, findings(sat).paper[2].waiting) == (10, 0)

    figures = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/second").json()["questions"][0]
    pairs = np.array([(number % 4, seconds[number]) for number in seconds])
    idea = figures["criteria"][0]
    assert idea["alpha"] == pytest.approx(krippendorff_by_pairs(pairs), abs=1e-9)
    assert idea["kappa"]["value"] == pytest.approx(
        cohen_kappa_score(*pairs.T, labels=range(4), weights="quadratic"), abs=1e-9
    )
    assert idea["exact"] == pytest.approx(np.mean(pairs[:, 0] == pairs[:, 1]))
    assert figures["whole"]["difference"] == pytest.approx(np.mean(pairs[:, 1] - pairs[:, 0]))
    assert "the same" in figures["criteria"][1]["reasons"]["kappa"]
    harsh = {marker["name"]: marker["severity"] for marker in figures["markers"]}
    assert harsh["Second"] == pytest.approx(-harsh["Brandt"]) == pytest.approx((pairs[:, 0] - pairs[:, 1]).mean() / 2)

    # Ended, the first marks count alone; begun again, the others are still there.
    school.client.delete(f"/api/v1/sittings/{sat.pk}/marking/second")
    assert marks_of(sat)[str(sat.seats.get(desk=2).pk)][explain] == 6
    assert plan(school.client, sat, tolerance=0, mean=True).json()["agree_left"] == 1
    assert Mark.objects.count() == 2 * STUDENTS + 2


@pytest.mark.django_db
def test_which_answers_are_read_twice(school: Staffroom, sat: Sitting) -> None:
    for number in range(1, STUDENTS + 1):
        give(school.client, sat, number, number % 4, 1)
    plan(school.client, sat, which="sample", share=25)
    some = reading(school.client, sat, "second")
    assert len(some) == 2
    give(school.client, sat, min(some), 0, 0, "second")
    # A larger sample holds the smaller one, and what was read stays read.
    plan(school.client, sat, which="sample", share=50)
    assert len(more := reading(school.client, sat, "second")) == 4
    assert set(some) <= set(more)
    plan(school.client, sat, which="near", cut=50, within=20)
    # Of 10 marks: the written one, one for the first question where desk is even, and nothing for the second.
    total = {n: 2 * (n % 4 + 1) + (n % 2 == 0) for n in range(1, STUDENTS + 1)}
    near = {n for n, points in total.items() if 30 <= 10 * points <= 70}
    assert set(reading(school.client, sat, "second")) == near | {min(some)}
    assert (
        "Give" in str(plan(school.client, sat, which="sample", share=0).json())
        or plan(school.client, sat, which="sample", share=0).status_code == 422
    )


class TwoReadings(RuleBasedStateMachine):
    """First, second and agreed marks, plans that change and end, against dictionaries."""

    @initialize()
    def begin(self) -> None:
        school = School.objects.create(name="S")
        self.teacher = Teacher.objects.create_teacher(school, "T", f"t{uuid4().hex}", PASSWORD)
        staff = Staffroom(self.teacher, Client())
        sitting = staff.open_sitting(contents=[Written(stem="Explain.", marks=8, rubric=RUBRIC)], students=4)
        self.ref = refs(sitting)[0]
        for at, device in enumerate(devices(sitting)):
            device.join()
            device.answer(self.ref, {"kind": "written", "text": f"Because {at}."}, 1)
            device.post("hand-in")
        self.sitting = services.close_sitting(sitting)
        self.seats = {seat.desk: seat for seat in self.sitting.seats.select_related("student", "sitting")}
        self.marks: dict[tuple[str, int], float] = {}
        self.plan: Plan | None = None

    @rule(
        desk=st.integers(1, 4),
        turn=st.sampled_from(READINGS),
        halves=st.integers(0, 8),
        draft=st.booleans(),
    )
    def gives(self, desk: int, turn: MarkingPass, halves: int, draft: bool) -> None:
        points = {"idea": min(3.0, halves / 2), "words": max(0.0, halves / 2 - 3)}
        both = ("first", desk) in self.marks and ("second", desk) in self.marks
        allowed = (
            turn == MarkingPass.FIRST
            or (turn == MarkingPass.SECOND and self.plan is not None)
            or (turn == MarkingPass.AGREED and both)
        )
        try:
            give_mark(self.teacher, self.seats[desk], self.ref, MarkGiven(points, "", draft, None, turn))
        except DomainError:
            assert not allowed
            return
        assert allowed
        if not draft:
            self.marks[turn.value, desk] = halves  # of 8 marks, half a point is one

    @rule(tolerance=st.sampled_from([0.0, 1.0, 3.0]), mean=st.booleans(), which=st.sampled_from(["all", "sample"]))
    def plans(self, tolerance: float, mean: bool, which: str) -> None:
        self.plan = Plan(which, share=50, tolerance=tolerance, mean=mean)
        plan_second(self.teacher, self.sitting, self.plan)

    @rule()
    def ends(self) -> None:
        end_second(self.teacher, self.sitting)
        self.plan = None

    @invariant()
    def counts_what_the_plan_says(self) -> None:
        expected = {}
        for desk, seat in self.seats.items():
            first, second, agreed = (self.marks.get((turn, desk)) for turn in ("first", "second", "agreed"))
            if self.plan is None:
                value = first
            elif agreed is not None:
                value = agreed
            elif first is None or second is None:
                value = first
            elif abs(first - second) > self.plan.tolerance:
                value = None
            else:
                value = (first + second) / 2 if self.plan.mean else first
            if value is not None:
                expected[str(seat.pk)] = {self.ref: value}
        assert marks_of(self.sitting) == expected

    @invariant()
    def what_is_left_is_what_was_not_read(self) -> None:
        second_left, agree_left = left_in(self.sitting)
        read = {desk for turn, desk in self.marks if turn == "second"}
        if self.plan is None:
            assert (second_left, agree_left) == (0, 0)
            return
        if self.plan.which == "all":
            assert second_left == 4 - len(read)
        apart_still = {
            desk
            for desk in read
            if ("first", desk) in self.marks
            and abs(self.marks["first", desk] - self.marks["second", desk]) > self.plan.tolerance
            and ("agreed", desk) not in self.marks
        }
        assert agree_left == len(apart_still)


class TestTwoReadings(TestCase):
    def test_machine(self) -> None:
        run_state_machine_as_test(TwoReadings, settings=settings(max_examples=8, stateful_step_count=20, deadline=None))


@pytest.mark.django_db
def test_findings_show_the_levels_reached_and_where_two_markers_are_apart(
    school: Staffroom, sat: Sitting, colleague: Client
) -> None:
    plan(school.client, sat, which="all", tolerance=100)
    ideas = [0, 1, 2, 0, 1, 2, 0, 2]
    for number, idea in enumerate(ideas, start=1):
        assert give(school.client, sat, number, idea, 1).status_code == 200
        # The second sees no idea where the first sees one, and is of one mind with them about the words.
        assert give(colleague, sat, number, 2 - idea, 1, turn="second").status_code == 200
    page = school.client.get(f"/api/v1/sittings/{sat.pk}/findings").json()
    question = page["body"]["paper"][2]
    by_desk = {student["seat"]: student["desk"] for student in page["students"]}
    idea, words = question["criteria"]
    assert {level["points"]: sorted(by_desk[seat] for seat in level["seats"]) for level in idea["levels"]} == {
        points: [desk for desk, given in enumerate(ideas, start=1) if given == points] for points in (0, 1, 2)
    }
    assert sum(len(level["seats"]) for level in words["levels"]) == STUDENTS
    flags = [flag for flag in page["body"]["flags"] if flag["flag"] == "raters disagree"]
    assert [(flag["ref"], flag["probability"]) for flag in flags] == [(refs(sat)[2], 1.0)]
    assert idea["name"] in flags[0]["heading"]
    named = {"ref": flags[0]["ref"], "flag": "raters disagree", "options": [], "note": "We talked it over."}
    path = f"/api/v1/sittings/{sat.pk}/findings/dismissed"
    assert school.client.post(path, named, content_type="application/json").status_code == 200
    assert school.client.get(path[: -len("/dismissed")]).json()["dismissed"][0]["note"] == "We talked it over."


@pytest.mark.django_db
def test_a_criterion_that_measures_something_else_is_named_with_its_evidence(school: Staffroom) -> None:
    names = ("Idea", "Model", "Spelling")
    criteria = [Criterion(id=name.lower(), name=name, max=3, levels=[]) for name in names]
    asked = Written(stem="Explain.", marks=9, rubric=Rubric(criteria=criteria))
    sitting = school.open_sitting(contents=[asked], students=20)
    (ref,) = refs(sitting)
    for at, device in enumerate(devices(sitting)):
        device.join()
        device.answer(ref, {"kind": "written", "text": f"Because {at}."} if at else {"kind": "written", "text": ""}, 1)
    services.close_sitting(sitting)
    spelt = [0, 3, 1, 2, 3, 0, 2, 1, 3, 3, 2, 0, 1, 2, 0, 3, 1, 1, 0, 2]
    for at, seat in enumerate(sitting.seats.order_by("desk")):
        points = {"idea": at // 5, "model": (at + 2) // 6, "spelling": spelt[at]}
        give_mark(school.teacher, seat, ref, MarkGiven(points, "", False, None))
    body = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()["body"]
    (flag,) = [flag for flag in body["flags"] if flag["flag"] == "measures something else"]
    assert flag["heading"] == "“Spelling” probably measures something else than the rest."
    assert not flag["urgent"]
    assert "No question is more likely than not" in body["opening"]
    idea, _, spelling = body["paper"][0]["criteria"]
    # The first handed nothing in here, and has a mark all the same: they had it on paper, and it counts.
    assert sum(len(level["seats"]) for level in idea["levels"]) == 20
    own = np.array([[at // 5, (at + 2) // 6, spelt[at]] for at in range(20)], float)
    assert spelling["r_rest"] == pytest.approx(np.corrcoef(own[:, 2], own[:, :2].sum(axis=1))[0, 1])
    assert [level["rest"] for level in idea["levels"]] == pytest.approx(
        [own[own[:, 0] == points, 1:].sum(axis=1).mean() / 6 for points in range(4)]
    )
