"""The record of a class as a state machine against a plain model: whatever is placed, weighed, set, carried and taken
back, averages, terms and who was not tested are what one would work out by hand."""

from datetime import date, timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)

from tests.conftest import PASSWORD
from versomark.core.editions import ExternalAssessment, ExternalGroup
from versomark.core.scoring.school_scale import USUAL
from versomark.school.accounts.models import School, Teacher
from versomark.school.classes.services import add_students, make_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.external import keep_described, make_described
from versomark.school.editions.services import freeze
from versomark.school.records import rules
from versomark.school.records.class_record import record_of
from versomark.school.records.models import Category
from versomark.school.records.not_tested import not_tested_in
from versomark.school.responses.external_marks import Mark, columns_of, keep_marks

OF = 8
STUDENTS = 3
TERMS = ((100, 61), (60, 31), (30, 0))
"""Days ago: three terms, one after another."""
WHO = st.integers(0, STUDENTS - 1)
WHEN = st.integers(0, 99)


class Year(RuleBasedStateMachine):
    """Tests of eight marks, keyed in; what is not keyed in is missing once the sitting is closed."""

    @initialize()
    def begin(self) -> None:
        school = School.objects.create(name="S")
        self.teacher = Teacher.objects.create_teacher(school, "T", f"t{uuid4().hex}", PASSWORD)
        self.lark = make_class(self.teacher, "Lark")
        add_students(self.lark, ["Ada Ash", "Ben Birch", "Cem Cedar"])
        group = ExternalGroup(ref="a", label="1", marks=OF)
        test = keep_described(make_described(self.teacher, "T"), "T", ExternalAssessment(groups=[group]))
        self.edition = freeze(test)
        self.today = timezone.localdate()
        dates = [rules.TermDates(None, f"Term {at}", self.day(a), self.day(b)) for at, (a, b) in enumerate(TERMS)]
        self.terms = rules.keep_terms(self.teacher, dates)
        rules.keep_categories(self.lark, [rules.CategoryKept(None, "Quiz", 1), rules.CategoryKept(None, "Check", 3)])
        self.categories = list(Category.objects.filter(school_class=self.lark))
        self.sittings: dict[int, dict[str, Any]] = {}
        self.set: dict[tuple[int, int], float] = {}
        self.other, self.zero, self.scale = 1.0, False, ""

    def day(self, ago: int) -> date:
        return self.today - timedelta(days=ago)

    @rule(earned=st.lists(st.none() | st.integers(0, OF), min_size=STUDENTS, max_size=STUDENTS), ago=WHEN)
    def sits(self, earned: list[int | None], ago: int) -> None:
        if len(self.sittings) == 5 or not any(entry is not None for entry in earned):
            return
        sitting = services.plan(self.teacher, self.edition, self.lark, None)
        (column,) = columns_of(sitting)
        seats = list(sitting.seats.order_by("desk"))
        marks = [Mark(seat.pk, column.ref, one) for seat, one in zip(seats, earned, strict=True) if one is not None]
        keep_marks(sitting, marks, {})
        services.close_sitting(sitting)
        now = timezone.now() - timedelta(days=ago)
        Sitting.objects.filter(pk=sitting.pk).update(opened_at=now)
        self.sittings[sitting.pk] = {"earned": earned, "ago": ago, "category": None, "counts": True, "baseline": False}

    @precondition(lambda self: self.sittings)
    @rule(data=st.data(), category=st.sampled_from([None, 0, 1]), counts=st.booleans(), baseline=st.booleans())
    def is_placed(self, data: Any, category: int | None, counts: bool, baseline: bool) -> None:
        pk = data.draw(st.sampled_from(sorted(self.sittings)))
        chosen = None if category is None else self.categories[category].pk
        rules.place_sitting(Sitting.objects.get(pk=pk), chosen, counts, baseline)
        if baseline:
            for sitting in self.sittings.values():
                sitting["baseline"] = False
        self.sittings[pk] |= {"category": category, "counts": counts, "baseline": baseline}

    @rule(other=st.sampled_from([0.0, 1.0, 2.5]), zero=st.booleans(), scale=st.sampled_from([None, *USUAL]))
    def is_ruled(self, other: float, zero: bool, scale: Any) -> None:
        steps = [(step.least, step.word) for step in scale.steps] if scale else []
        rules.keep_rules([self.lark], rules.Ruled(scale.name if scale else "", steps, zero, other))
        self.other, self.zero, self.scale = other, zero, scale.name if scale else ""

    @rule(who=WHO, term=st.integers(0, 2), share=st.sampled_from([0.0, 0.4, 1.0]), back=st.booleans())
    def is_set_by_hand(self, who: int, term: int, share: float, back: bool) -> None:
        student = self.lark.places.order_by("desk")[who].student_id
        if back:
            rules.take_standing_back(self.lark, self.terms[term].pk, student)
            self.set.pop((who, term), None)
        else:
            rules.set_standing(self.teacher, self.lark, self.terms[term].pk, student, share, "So.")
            self.set[who, term] = share

    def average(self, who: int, within: tuple[int, int] | None = None) -> float | None:
        """By hand: means of the categories, weighed."""
        weights = {0: 1.0, 1: 3.0, None: self.other}
        by: dict[Any, list[float]] = {}
        for sitting in self.sittings.values():
            if (
                not sitting["counts"]
                or sitting["baseline"]
                or (within and not within[1] <= sitting["ago"] <= within[0])
            ):
                continue
            earned = sitting["earned"][who]
            if (earned is not None or self.zero) and weights[sitting["category"]]:
                by.setdefault(sitting["category"], []).append((earned or 0) / OF)
        whole = sum(weights[category] for category in by)
        return sum(weights[c] * sum(own) / len(own) for c, own in by.items()) / whole if by else None

    @invariant()
    def the_record_is_that_of_the_model(self) -> None:
        if not hasattr(self, "lark"):
            return
        record = record_of(self.lark)
        assert {sitting.id for sitting in record.sittings} == set(self.sittings)
        assert [sitting.held_on for sitting in record.sittings] == sorted(
            (sitting.held_on for sitting in record.sittings), reverse=True
        )
        for who, row in enumerate(record.students):
            average = self.average(who)
            assert row.average == (None if average is None else pytest.approx(average))
            assert bool(row.said) == (bool(self.scale) and average is not None)
            carried: float | None = None
            for at, cell in enumerate(row.terms):
                own = self.set.get((who, at), self.average(who, TERMS[at]))
                wanted = own if own is not None else carried
                assert cell.share == (None if wanted is None else pytest.approx(wanted))
                assert bool(cell.carried) == (own is None and carried is not None)
                assert bool(cell.set) == ((who, at) in self.set)
                carried = wanted
        not_tested = not_tested_in(record, self.day(40), self.day(10))
        within = [sitting for sitting in self.sittings.values() if 10 <= sitting["ago"] <= 40]
        nothing = [who for who in range(STUDENTS) if not any(entry["earned"][who] is not None for entry in within)]
        assert [entry.student for entry in not_tested.nothing] == [record.students[who].student for who in nothing]
        assert not_tested.sittings == len(within)


@pytest.mark.usefixtures("db")
class TestYear(TestCase):
    def test_machine(self) -> None:
        run_state_machine_as_test(  # type: ignore[no-untyped-call]
            Year, settings=settings(max_examples=12, stateful_step_count=12, deadline=None)
        )
