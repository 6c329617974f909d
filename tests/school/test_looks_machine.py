"""Figures under any way to look at them, one after another, against the core on the plain answers."""

from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from django.test import Client
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule, run_state_machine_as_test

from tests.conftest import PASSWORD, Staffroom, refs
from tests.core.tables import choices
from versomark.core.items import Option, SingleChoice
from versomark.core.items.single_choice import SingleChoiceResponse
from versomark.core.stats import item_measures, reliability
from versomark.school.accounts.models import School, Teacher
from versomark.school.classes.services import add_students, make_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.findings.models import CachedAnalysis
from versomark.school.responses import answer_log

FIRST, SECOND, QUESTIONS = 9, 7, 5
KEYS = "ABCDA"
ROW = st.text("ABCD-", min_size=QUESTIONS, max_size=QUESTIONS)
LETTERS = st.lists(ROW, min_size=FIRST + SECOND, max_size=FIRST + SECOND)


class Looking(RuleBasedStateMachine):
    """Two sittings of one edition; questions and students go out and come back, groups and sittings change."""

    @initialize(rows=LETTERS)
    def begin(self, rows: list[str]) -> None:
        school = School.objects.create(name="S")
        teacher = Teacher.objects.create_teacher(school, "T", f"t{uuid4().hex}", PASSWORD)
        self.client = Client()
        self.client.force_login(teacher, backend="django.contrib.auth.backends.ModelBackend")
        options = [Option(id=name.lower(), text=name) for name in "ABCD"]
        contents: list[Any] = [SingleChoice(stem=f"Q{key}?", options=options, key=key.lower()) for key in KEYS]
        self.first = Staffroom(teacher, self.client).open_sitting(contents=contents, students=FIRST)
        other = make_class(teacher, "Other")
        add_students(other, [f"Other{n} Family" for n in range(SECOND)])
        self.second = services.open_sitting(services.plan(teacher, self.first.edition, other, None))
        self.rows = rows
        self.refs = refs(self.first)
        self.seats: list[int] = []
        for sitting, own in ((self.first, rows[:FIRST]), (self.second, rows[FIRST:])):
            self.seats += self.answered(sitting, own)
        self.without, self.out, self.share, self.also = set[int](), set[int](), 27, False
        self.client.get(f"/api/v1/sittings/{self.first.pk}/findings")
        self.kept = sorted(CachedAnalysis.objects.values_list("pk", flat=True))

    def answered(self, sitting: Sitting, rows: list[str]) -> list[int]:
        seats = list(sitting.seats.order_by("desk").values_list("pk", flat=True))
        for seat, row in zip(seats, rows, strict=True):
            for at, (ref, letter) in enumerate(zip(self.refs, row, strict=True), start=1):
                if letter != "-":
                    answer_log.add(seat, uuid4(), at, ref, SingleChoiceResponse(option=letter.lower()), False)
        sitting.seats.update(state="handed in")
        services.close_sitting(sitting)
        return seats

    @rule(question=st.integers(0, QUESTIONS - 1))
    def a_question_goes_out_or_comes_back(self, question: int) -> None:
        self.without ^= {question}

    @rule(student=st.integers(0, FIRST + SECOND - 1))
    def a_student_goes_out_or_comes_back(self, student: int) -> None:
        self.out ^= {student}

    @rule(share=st.sampled_from([27, 33, 50]))
    def other_groups(self, share: int) -> None:
        self.share = share

    @rule()
    def the_other_sitting_comes_or_goes(self) -> None:
        self.also = not self.also

    def look(self, which: str = "") -> Any:
        query = {
            "share": self.share,
            "without": ",".join(self.refs[j] for j in sorted(self.without)),
            "out": ",".join(str(self.seats[i]) for i in sorted(self.out)),
            "also": str(self.second.pk) if self.also else "",
        }
        return self.client.get(f"/api/v1/sittings/{self.first.pk}/findings{which}", query)

    @invariant()
    def figures_are_those_of_the_core(self) -> None:
        students = [i for i in range(FIRST + (SECOND if self.also else 0)) if i not in self.out]
        places = [j for j in range(QUESTIONS) if j not in self.without]
        reply = self.look()
        if not students or not places:
            assert reply.status_code == 409
            assert "is left" in reply.json()["detail"]
            return
        page = reply.json()
        table = choices([self.rows[i] for i in students], KEYS).columns(places)
        measures = item_measures(table, share=self.share / 100)
        assert page["body"]["test"]["students"] == len(students)
        assert page["body"]["test"]["alpha"] == known(reliability(table).alpha)
        shown = [question["figures"] for question in page["body"]["paper"]]
        assert [entry is None for entry in shown] == [j in self.without for j in range(QUESTIONS)]
        for place, figures in enumerate(entry for entry in shown if entry is not None):
            for name, value in (("p", measures.p), ("d", measures.d), ("r_rest", measures.r_rest)):
                assert figures[name] == known(value[0, place]), name
        totals = {student["seat"]: student["total"] for student in page["students"] if student["total"] is not None}
        assert totals == {self.seats[i]: total for i, total in zip(students, table.totals.tolist(), strict=True)}
        assert bool(page["seen"]) == bool(self.without or self.out or self.also or self.share != 27)
        rows = self.look("/table").json()
        assert sorted(student["seat"] for student in rows["students"]) == sorted(self.seats[i] for i in students)
        assert self.look("/totals").json()["figures"]["mean"] == pytest.approx(table.totals.mean())

    @invariant()
    def to_look_keeps_nothing(self) -> None:
        assert sorted(CachedAnalysis.objects.values_list("pk", flat=True)) == self.kept


def known(value: float) -> Any:
    return pytest.approx(float(value), abs=1e-9) if np.isfinite(value) else None


class LookingTest(TestCase):
    def test_any_way_to_look(self) -> None:
        run_state_machine_as_test(Looking, settings=settings(max_examples=7, stateful_step_count=10, deadline=None))
