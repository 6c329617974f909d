"""The tree of skills under any order of events (Hypothesis, stateful), against a plain dictionary of parents."""

from uuid import uuid4

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from tests.conftest import PASSWORD
from versomark.core.items import TrueFalse
from versomark.school.accounts.models import School, Teacher
from versomark.school.bank import services, transfer
from versomark.school.bank.models import Skill
from versomark.school.bank.services import Details, ItemFilter
from versomark.school.errors import DomainError

PICK = st.integers(0, 10**6)


class SkillMachine(RuleBasedStateMachine):
    @initialize()
    def begin(self) -> None:
        name = uuid4().hex
        self.teacher = Teacher.objects.create_teacher(School.objects.create(name=name), name, name, PASSWORD)
        self.parent: dict[str, str | None] = {}
        self.items: dict[str, set[str]] = {}

    def skill(self, name: str) -> Skill:
        return Skill.objects.get(owner=self.teacher, name=name)

    def pick(self, pick: int) -> str:
        return sorted(self.parent)[pick % len(self.parent)]

    def above(self, name: str | None) -> list[str]:
        results = []
        while name is not None:
            results.append(name)
            name = self.parent[name]
        return results

    @rule(names=st.lists(st.sampled_from("abcdefgh"), min_size=1, max_size=3, unique=True))
    def tag_a_question(self, names: list[str]) -> None:
        item = services.make_item(self.teacher, TrueFalse(stem="So?", key=True), Details(names))
        self.items[str(item.pk)] = set(names)
        for name in names:
            self.parent.setdefault(name, None)

    @precondition(lambda self: len(self.parent) > 1)
    @rule(one=PICK, other=PICK)
    def put_below(self, one: int, other: int) -> None:
        child, parent = self.pick(one), self.pick(other)
        if child in self.above(parent):
            with pytest.raises(DomainError, match="below itself"):
                services.keep_skill(self.skill(child), child, self.skill(parent).pk, "")
        else:
            services.keep_skill(self.skill(child), child, self.skill(parent).pk, "")
            self.parent[child] = parent

    @precondition(lambda self: self.parent)
    @rule(pick=PICK)
    def take_out(self, pick: int) -> None:
        gone = self.pick(pick)
        services.remove_skill(self.skill(gone))
        up = self.parent.pop(gone)
        self.parent = {name: up if parent == gone else parent for name, parent in self.parent.items()}
        for skills in self.items.values():
            skills.discard(gone)

    @precondition(lambda self: self.parent)
    @rule(pick=PICK, name=st.sampled_from("abcdefghxyz"))
    def rename(self, pick: int, name: str) -> None:
        before = self.pick(pick)
        if name != before and name in self.parent:
            with pytest.raises(DomainError, match="already"):
                services.keep_skill(self.skill(before), name, None, "")
            return
        parent = self.parent[before]
        services.keep_skill(self.skill(before), name, self.skill(parent).pk if parent else None, "")
        self.parent = {name if own == before else own: name if up == before else up for own, up in self.parent.items()}
        for skills in self.items.values():
            if before in skills:
                skills.remove(before)
                skills.add(name)

    @precondition(lambda self: self.parent)
    @rule()
    def go_out_and_come_in(self) -> None:
        """As a framework and back: every skill is known, none is new."""
        brought = transfer.bring_skills(self.teacher, transfer.send_skills(self.teacher), only_look=True)
        assert (len(brought.new), len(brought.changed)) == (0, 0), (brought.new, brought.changed)

    @invariant()
    def the_tree_and_the_search_are_the_models(self) -> None:
        if not hasattr(self, "teacher"):
            return
        kept = Skill.objects.filter(owner=self.teacher).values_list("name", "parent__name")
        assert dict(kept) == self.parent
        for name in self.parent:
            wanted = {pk for pk, skills in self.items.items() if any(name in self.above(skill) for skill in skills)}
            items = services.find_items(self.teacher, ItemFilter(skill=name))
            assert {str(item.pk) for item in items} == wanted, name


class TestSkills(TestCase, SkillMachine.TestCase):  # type: ignore[misc,name-defined]
    settings = settings(max_examples=15, stateful_step_count=15, deadline=None, suppress_health_check=list(HealthCheck))
