"""Results under anything that can be done to them, against a plain model; one's own holds nothing of others."""

import json
from datetime import timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client
from django.utils import timezone
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule, run_state_machine_as_test

from tests.conftest import PASSWORD, Staffroom, devices, names_given_back, refs, two_questions
from tests.school.test_marking import RUBRIC, findings, put
from tests.school.test_results import own, own_result
from versomark.core.items.by_rubric import Written
from versomark.school.accounts.models import School, Teacher
from versomark.school.delivery import services
from versomark.school.delivery.models import Seat, SeatState, Sitting
from versomark.school.errors import DomainError
from versomark.school.grading import totals
from versomark.school.grading.models import Mark
from versomark.school.grading.release import Shown, release, shown_in, withdraw

STUDENTS = 4
DESKS = st.integers(1, STUDENTS)


class ResultsOfASitting(RuleBasedStateMachine):
    """Two questions with a key, one mark each; the fourth student never came."""

    @initialize(rights=st.lists(st.integers(0, 2), min_size=STUDENTS, max_size=STUDENTS))
    def begin(self, rights: list[int]) -> None:
        school = School.objects.create(name="S")
        self.teacher = Teacher.objects.create_teacher(school, "T", f"t{uuid4().hex}", PASSWORD)
        sitting = Staffroom(self.teacher, Client()).open_sitting(contents=two_questions(), students=STUDENTS)
        one, two = refs(sitting)
        for device, right in list(zip(devices(sitting), rights, strict=True))[:-1]:
            device.join()
            device.answer(one, {"kind": "single_choice", "option": "b" if right else "a"}, 1)
            device.answer(two, {"kind": "true_false", "value": right > 1}, 2)
            device.post("hand-in")
        self.sitting = services.close_sitting(sitting)
        self.due = timezone.now() - timedelta(days=30)
        self.earned = {desk: float(rights[desk - 1]) for desk in range(1, STUDENTS)}
        self.late = dict.fromkeys(range(1, STUDENTS), 0)
        self.percent = 0.0
        self.set: dict[int, float] = {}
        self.excused = False
        self.sees: dict[int, str] = {}
        self.sitting.seats.update(handed_in_at=self.due)

    def seat(self, desk: int) -> Seat:
        return self.sitting.seats.select_related("student", "sitting").get(desk=desk)

    @rule(desk=st.integers(1, STUDENTS - 1), days=st.integers(0, 5))
    def came_late(self, desk: int, days: int) -> None:
        """So many days begun after the end."""
        at = self.due + timedelta(hours=24 * days - 1)
        Seat.objects.filter(pk=self.seat(desk).pk).update(handed_in_at=at)
        self.late[desk] = days

    @rule(percent=st.sampled_from([0.0, 10.0, 50.0]))
    def rule_about_late_work(self, percent: float) -> None:
        if percent:
            totals.set_lateness(self.teacher, self.sitting, self.due, 0, percent, 80)
        else:
            totals.end_lateness(self.teacher, self.sitting)
        self.percent = percent

    @rule(desk=DESKS, total=st.integers(0, 4))
    def sets(self, desk: int, total: int) -> None:
        if desk == STUDENTS and self.excused:
            return
        totals.set_total(self.teacher, self.seat(desk), total, "So.")
        self.set[desk] = float(total)

    @rule(desk=DESKS)
    def takes_back(self, desk: int) -> None:
        totals.take_total_back(self.teacher, self.seat(desk))
        self.set.pop(desk, None)

    @rule(how=st.sampled_from(["total", "absent", "excused"]))
    def fills(self, how: totals.Missing) -> None:
        missing = STUDENTS not in self.set and not self.excused
        empty = totals.fill_empty(self.teacher, self.sitting, totals.Filling(None, how, 0.5), "Never came.")
        assert [seat.desk for seat in empty.missing] == ([STUDENTS] if missing else [])
        if missing and how == "total":
            self.set[STUDENTS] = 0.5
        elif missing:
            self.excused = how == "excused"

    @rule(marks=st.booleans())
    def releases_all(self, marks: bool) -> None:
        release(self.teacher, self.sitting, Shown(marks, False))
        self.sees = dict.fromkeys(range(1, STUDENTS + 1), "marks" if marks else "words")

    @rule(desk=DESKS, marks=st.booleans())
    def releases_one(self, desk: int, marks: bool) -> None:
        release(self.teacher, self.sitting, Shown(marks, False), [self.seat(desk)])
        self.sees[desk] = "marks" if marks else "words"

    @rule(desk=st.one_of(st.none(), DESKS))
    def withdraws(self, desk: int | None) -> None:
        withdraw(self.teacher, self.sitting, None if desk is None else [self.seat(desk)])
        self.sees = {} if desk is None else {one: how for one, how in self.sees.items() if one != desk}

    @invariant()
    def totals_are_those_of_the_model(self) -> None:
        results = {result.seat.desk: result for result in totals.results_in(Sitting.objects.get(pk=self.sitting.pk))}
        for desk in range(1, STUDENTS + 1):
            one = results[desk]
            earned = self.earned.get(desk)
            lost = min(earned or 0, 2 * min(80, self.percent * self.late.get(desk, 0)) / 100)
            expected = self.set.get(desk, None if earned is None else earned - lost)
            assert one.total == (None if expected is None else pytest.approx(expected)), desk
            assert one.of == 2
        assert (results[STUDENTS].seat.state == SeatState.EXCUSED) == self.excused

    @invariant()
    def students_see_what_was_released(self) -> None:
        shown = shown_in(Sitting.objects.get(pk=self.sitting.pk))
        seats = dict(self.sitting.seats.values_list("pk", "desk"))
        has_result = {*range(1, STUDENTS), *self.set}
        sees = {desk: how for desk, how in self.sees.items() if desk in has_result}
        assert {seats[pk]: "marks" if one.marks else "words" for pk, one in shown.items()} == sees
        assert all(not entry.answers for entry in shown.values())


class TestResults(TestCase):
    def test_machine(self) -> None:
        run_state_machine_as_test(
            ResultsOfASitting, settings=settings(max_examples=10, stateful_step_count=25, deadline=None)
        )


@pytest.mark.django_db
def test_ones_own_result_holds_nothing_of_others(school: Staffroom) -> None:
    """Non-interference: whatever another student gives, is given and is told, the bytes of one's own stay the same."""

    def sat(theirs: str, points: dict[str, float], comment: str, option: str) -> tuple[Sitting, Client]:
        contents = [*two_questions(), Written(stem="Explain.", marks=8, rubric=RUBRIC)]
        sitting = school.open_sitting(contents=contents, students=2)
        one, _, explain = refs(sitting)
        for device, text, chosen in zip(devices(sitting), ("Mine.", theirs), ("b", option), strict=True):
            device.join()
            device.answer(one, {"kind": "single_choice", "option": chosen}, 1)
            device.answer(explain, {"kind": "written", "text": text}, 2)
            device.post("hand-in")
        services.close_sitting(sitting)
        put(school.client, sitting, f"{explain}/1", {"points": {"idea": 2, "words": 1}, "comment": "Good."})
        put(school.client, sitting, f"{explain}/2", {"points": points, "comment": comment})
        school.client.put(
            f"/api/v1/sittings/{sitting.pk}/results/release", {"answers": True}, content_type="application/json"
        )
        return sitting, own(sitting, 1)

    def bytes_of(sitting: Sitting, client: Client) -> dict[str, Any]:
        found = dict(own_result(client, sitting).json())
        found.pop("handed_in_at")
        # A question's own id is of chance in each of the two.
        found["questions"] = [{**question, "item": ""} for question in found["questions"]]
        names_given_back()
        return found

    first = bytes_of(*sat("Theirs.", {"idea": 3, "words": 1}, "Very good.", "b"))
    second = bytes_of(*sat("Something else.", {"idea": 0, "words": 0}, "Read it again.", "a"))
    assert first == second
    assert "Theirs" not in json.dumps(first)


@pytest.mark.django_db
def test_filling_with_zero_is_a_mark_like_any_other(school: Staffroom) -> None:
    """It is in the history with who and why, counts in the figures, and can be changed by a later one."""
    sitting = school.open_sitting(contents=[Written(stem="Explain.", marks=8, rubric=RUBRIC)], students=2)
    explain = refs(sitting)[0]
    for device in devices(sitting):
        device.join()
        device.answer(explain, {"kind": "written", "text": "So."}, 1)
        device.post("hand-in")
    assert (
        "Close the sitting"
        in school.client.post(
            f"/api/v1/sittings/{sitting.pk}/results/empty",
            {"waiting": 0, "missing": "leave", "reason": "Late."},
            content_type="application/json",
        ).json()["detail"]
    )
    services.close_sitting(sitting)
    put(school.client, sitting, f"{explain}/1", {"points": {"idea": 3, "words": 1}})
    again, leave = Sitting.objects.get(pk=sitting.pk), totals.Filling(0, "leave", 0)
    # Any number that the rubric can give; what it cannot is refused by name.
    for wrong, says in ((8.5, "at most 8 marks"), (0.7, "0 or 1 it can")):
        with pytest.raises(DomainError, match=says):
            totals.fill_empty(school.teacher, again, leave._replace(waiting=wrong), "So.")
    empty = totals.fill_empty(school.teacher, again, leave, "Nobody could read it.")
    assert [(seat.desk, ref) for seat, ref in empty.waiting] == [(2, explain)]
    zero = Mark.objects.get(seat__desk=2)
    assert (zero.points, zero.comment, zero.by) == ({"idea": 0, "words": 0}, "Nobody could read it.", school.teacher)
    assert sorted(findings(sitting).totals.values()) == [0, 8]
    put(school.client, sitting, f"{explain}/2", {"points": {"idea": 1, "words": 0}, "seen": zero.pk})
    assert sorted(findings(sitting).totals.values()) == [2, 8]
