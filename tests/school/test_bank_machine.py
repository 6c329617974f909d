"""The bank under any order of events (Hypothesis, stateful): every search says what reading all questions would say."""

import re
import unicodedata
from dataclasses import dataclass
from uuid import UUID, uuid4

from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from tests.conftest import PASSWORD
from versomark.core.items import TrueFalse
from versomark.core.text import escaped
from versomark.school.accounts.models import School, Teacher
from versomark.school.bank import services, skill_tree
from versomark.school.bank.models import Item, Skill
from versomark.school.bank.services import Details, ItemFilter

# Accents, capitals, digits, joined and split words: what a search may stumble over.
WORDS = ["lamp", "Lampe", "Élan", "elan", "naïve", "x2", "2", "ohm’s", "Ohm", "semi-circle", "in", "<b", "ΔU", "ß"]
TEXT = st.lists(st.sampled_from(WORDS), min_size=1, max_size=4).map(" ".join)
SKILLS = st.lists(st.sampled_from(["Series circuits", "Énergie", "Ohm’s law"]), max_size=2, unique=True)
BEGINNINGS = ["la", "lampe", "ELAN", "él", "2", "x", "x2", "ohm", "circ", "δu", "law", "énerg", "s"]
TYPED = st.lists(st.sampled_from(BEGINNINGS), min_size=1, max_size=3).map(" ".join)
PICK = st.integers(0, 10**6)


@dataclass
class Known:
    """One question as the model has it."""

    stem: str
    keywords: list[str]
    skills: list[str]
    archived: bool = False


def parts(text: str) -> list[str]:
    """The words of a text without case and accents: what the full-text index calls its tokens."""
    bare = "".join(c for c in unicodedata.normalize("NFD", text.casefold()) if not unicodedata.combining(c))
    return re.findall(r"[^\W_]+", bare)


def holds(known: Known, typed: str) -> bool:
    there = parts(" ".join([known.stem, *known.keywords, *known.skills]))
    wanted = [word for word in parts(typed) if len(word) > 1 or word.isdigit()]
    return all(any(word.startswith(want) for word in there) for want in wanted)


class BankMachine(RuleBasedStateMachine):
    @initialize()
    def open_a_bank(self) -> None:
        name = uuid4().hex
        self.teacher = Teacher.objects.create_teacher(School.objects.create(name=name), name, name, PASSWORD)
        self.known: dict[UUID, Known] = {}

    def pick(self, pick: int) -> tuple[Item, Known]:
        chosen = sorted(self.known)[pick % len(self.known)]
        return Item.objects.get(pk=chosen), self.known[chosen]

    def content(self, stem: str) -> TrueFalse:
        return TrueFalse(stem=escaped(stem), key=True)

    @rule(stem=TEXT, keywords=st.lists(TEXT, max_size=2, unique=True), skills=SKILLS)
    def make(self, stem: str, keywords: list[str], skills: list[str]) -> None:
        item = services.make_item(self.teacher, self.content(stem), Details(skills, keywords))
        self.known[item.pk] = Known(stem, keywords, skills)

    @precondition(lambda self: self.known)
    @rule(pick=PICK, stem=TEXT)
    def change(self, pick: int, stem: str) -> None:
        item, known = self.pick(pick)
        services.keep_version(item, "before the change")
        services.keep_item(item, self.content(stem), services.details_of(item), item.revision)
        known.stem = stem

    @precondition(lambda self: self.known)
    @rule(pick=PICK)
    def put_the_first_version_back(self, pick: int) -> None:
        item, known = self.pick(pick)
        version = item.versions.order_by("number").first()
        if version is not None:
            services.put_back(item, version.number, item.revision)
            known.stem = str(version.content["stem"]).replace("&lt;", "<")

    @precondition(lambda self: self.known)
    @rule(pick=PICK)
    def copy(self, pick: int) -> None:
        item, known = self.pick(pick)
        self.known[services.copy_item(item).pk] = Known(known.stem, list(known.keywords), list(known.skills))

    @precondition(lambda self: self.known)
    @rule(pick=PICK, away=st.booleans())
    def put_away_or_take_out(self, pick: int, away: bool) -> None:
        item, known = self.pick(pick)
        (services.archive_items if away else services.restore_items)(self.teacher, [item.pk])
        known.archived = away

    @precondition(lambda self: self.known)
    @rule(add=SKILLS, take=SKILLS, keyword=TEXT)
    def tag_all(self, add: list[str], take: list[str], keyword: str) -> None:
        services.tag_items(self.teacher, list(self.known), add, take, [keyword])
        for known in self.known.values():
            if not known.archived:
                known.skills = [name for name in dict.fromkeys([*known.skills, *add]) if name not in take]
                known.keywords = list(dict.fromkeys([*known.keywords, keyword]))

    @rule(pick=PICK, name=st.sampled_from(["Wires", "Lampes", "Series circuits"]))
    def rename_a_skill(self, pick: int, name: str) -> None:
        skills = list(Skill.objects.filter(owner=self.teacher).order_by("pk"))
        if not skills or any(skill.name == name for skill in skills):
            return
        skill = skills[pick % len(skills)]
        before = skill.name
        skill_tree.keep_skill(skill, name, None, "")
        for known in self.known.values():
            known.skills = [name if own == before else own for own in known.skills]

    @rule(pick=PICK)
    def remove_a_skill(self, pick: int) -> None:
        skills = list(Skill.objects.filter(owner=self.teacher).order_by("pk"))
        if skills:
            skill = skills[pick % len(skills)]
            for known in self.known.values():
                known.skills = [own for own in known.skills if own != skill.name]
            skill_tree.remove_skill(skill)

    @precondition(lambda self: self.known)
    @rule(pick=PICK)
    def lose_one(self, pick: int) -> None:
        """A row that is gone leaves nothing behind in the index for the next one that gets its number."""
        item, _ = self.pick(pick)
        del self.known[item.pk]
        item.delete()

    @rule(typed=TYPED)
    def find(self, typed: str) -> None:
        items = services.find_items(self.teacher, ItemFilter(typed=typed))
        wanted = {pk for pk, known in self.known.items() if not known.archived and holds(known, typed)}
        assert set(items.values_list("pk", flat=True)) == wanted
        total, page = services.page_of(items, 0, 3)
        assert (total, len(page)) == (len(wanted), min(3, len(wanted)))

    @rule(skill=st.sampled_from(["Series circuits", "Wires"]), typed=st.sampled_from(["", "la"]))
    def find_by_skill(self, skill: str, typed: str) -> None:
        items = services.find_items(self.teacher, ItemFilter(typed=typed, skill=skill))
        assert set(items.values_list("pk", flat=True)) == {
            pk
            for pk, known in self.known.items()
            if skill in known.skills and not known.archived and (not typed or holds(known, typed))
        }

    @invariant()
    def every_word_of_every_question_finds_it(self) -> None:
        for pk, known in getattr(self, "known", {}).items():
            first = parts(known.stem)[0]
            if not known.archived and len(first) > 1:
                assert services.find_items(self.teacher, ItemFilter(typed=first)).filter(pk=pk).exists()


class TestBank(TestCase, BankMachine.TestCase):  # type: ignore[misc,name-defined]
    settings = settings(max_examples=25, stateful_step_count=20, deadline=None, suppress_health_check=list(HealthCheck))
