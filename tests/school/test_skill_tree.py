"""The tree of skills under any order of events (Hypothesis, stateful), against a plain dictionary of parents."""

from uuid import uuid4

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from tests.conftest import PASSWORD, Staffroom
from versomark.core.editions import DraftSection, DrawRule, ExternalAssessment, ExternalGroup, Layout, PlanRow
from versomark.core.items import TrueFalse
from versomark.school.accounts.models import School, Teacher
from versomark.school.bank import services, skill_tree, transfer
from versomark.school.bank.models import Skill
from versomark.school.bank.services import Details, ItemFilter
from versomark.school.editions.public import keep_described, keep_test, make_described, make_test
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
                skill_tree.keep_skill(self.skill(child), child, self.skill(parent).pk, "")
        else:
            skill_tree.keep_skill(self.skill(child), child, self.skill(parent).pk, "")
            self.parent[child] = parent

    @precondition(lambda self: self.parent)
    @rule(pick=PICK)
    def take_out(self, pick: int) -> None:
        gone = self.pick(pick)
        skill_tree.remove_skill(self.skill(gone))
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
                skill_tree.keep_skill(self.skill(before), name, None, "")
            return
        parent = self.parent[before]
        skill_tree.keep_skill(self.skill(before), name, self.skill(parent).pk if parent else None, "")
        self.parent = {name if own == before else own: name if up == before else up for own, up in self.parent.items()}
        for skills in self.items.values():
            if before in skills:
                skills.remove(before)
                skills.add(name)

    @precondition(lambda self: len(self.parent) > 1)
    @rule(one=PICK, other=PICK)
    def merge(self, one: int, other: int) -> None:
        gone, into = self.pick(one), self.pick(other)
        if gone == into:
            with pytest.raises(DomainError, match="into itself"):
                skill_tree.merge_skill(self.skill(gone), self.skill(into))
            return
        skill_tree.merge_skill(self.skill(gone), self.skill(into))
        if gone in self.above(into):
            self.parent[into] = self.parent[gone]
        del self.parent[gone]
        self.parent = {name: into if parent == gone else parent for name, parent in self.parent.items()}
        for skills in self.items.values():
            if gone in skills:
                skills.remove(gone)
                skills.add(into)

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


@pytest.mark.django_db
def test_what_names_a_skill_follows_and_an_order_stands(school: Staffroom) -> None:
    """A plan wants marks on a skill by its name: renamed or merged, it wants them still."""
    one, other = (skill_tree.make_skill(school.teacher, name) for name in ("Meters", "Meters and units"))
    plan = [PlanRow(skill="Meters", marks=4), PlanRow(skill="Meters and units", marks=3)]
    layout = Layout(sections=[DraftSection(ref="1", draws=[DrawRule(skill="Meters", count=2)])], plan=plan)
    test = keep_test(make_test(school.teacher, "T"), "T", "", layout)
    group = ExternalGroup(ref="a", label="1", marks=2, skills=["Meters", "Meters and units"])
    given = keep_described(make_described(school.teacher, "P"), "P", ExternalAssessment(groups=[group]))

    def send(method: str, path: str, **body: object) -> dict[str, object]:
        reply = getattr(school.client, method)(f"/api/v1/skills/{path}", body, content_type="application/json")
        return {**reply.json(), "http": reply.status_code}

    assert send("put", str(one.pk), name="Instruments")["http"] == 200
    test.refresh_from_db()
    assert [row.skill for row in test.read().plan] == ["Instruments", "Meters and units"]
    assert send("post", f"{one.pk}/merge", skill=other.pk)["name"] == "Meters and units"
    for entry in (test, given):
        entry.refresh_from_db()
    assert list(test.read().plan) == [PlanRow(skill="Meters and units", marks=7)]
    assert test.read().sections[0].draws[0].skill == "Meters and units"
    described = given.description()
    assert described is not None
    assert list(described.groups[0].skills) == ["Meters and units"]
    third = skill_tree.make_skill(school.teacher, "A first one")
    listed = school.client.get("/api/v1/skills").json()
    assert [line["name"] for line in listed] == ["A first one", "Meters and units"], "by name where nobody ordered them"
    assert send("put", "order", ids=[other.pk, third.pk])["http"] == 200
    assert [line["id"] for line in school.client.get("/api/v1/skills").json()] == [other.pk, third.pk]
    assert send("put", "order", ids=[0])["http"] == 404
