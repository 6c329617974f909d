"""The demo's answers come from one seed, untouched by hand: two loads give the same school, answer by answer."""

import tomllib

import numpy as np
import pytest
from django.core.management import call_command

from versomark.core.items import read_content
from versomark.core.items.registry import drawn
from versomark.demo import every_kind, large, loading
from versomark.school.accounts.models import School, Teacher
from versomark.school.bank.models import Item, Skill
from versomark.school.classes.models import Enrolment, SchoolClass, Student
from versomark.school.delivery.models import Seat, Sitting
from versomark.school.editions import models as editions
from versomark.school.findings.services import findings_of
from versomark.school.paper.models import Scan
from versomark.school.paper.public import waiting_in
from versomark.school.responses.models import CurrentAnswer
from versomark.stand_ins.answers_of_any_kind import respond

pytestmark = pytest.mark.django_db
EVERYTHING = (
    CurrentAnswer,
    Seat,
    Sitting,
    editions.Edition,
    editions.Test,
    Item,
    Skill,
    Enrolment,
    SchoolClass,
    Student,
    Teacher,
    School,
)


def answers() -> list[tuple[str, int, str, object]]:
    """(class, desk, stem, what was chosen) of every answer that stands."""
    contents = {item.ref: item.content for edition in editions.Edition.objects.all() for item in edition.read().items()}
    # As the bank has them, since an edition draws its varied numbers anew.
    contents |= {str(item.pk): item.read() for item in Item.objects.all()}
    rows = CurrentAnswer.objects.select_related("answer", "seat__sitting__school_class")
    found = []
    for row in rows.order_by("seat__sitting__pk", "seat__desk", "pk"):
        content = contents[row.item]
        given = row.answer.response
        letter = {answer.id: answer.letter for answer in content.answers()}.get(
            given.get("option", str(given.get("value")).lower()), given.get("points")
        )
        found.append((row.seat.sitting.school_class.name, row.seat.desk, content.stem, letter))
    return found


def flags() -> list[tuple[str, float]]:
    found = []
    for sitting in Sitting.objects.filter(state="closed").order_by("pk"):
        findings = findings_of(sitting)
        assert findings is not None
        found += [(flag["flag"], flag["probability"]) for flag in findings.body["flags"]]
    return found


def test_two_loads_give_the_same_answers_and_the_same_findings(monkeypatch: pytest.MonkeyPatch) -> None:
    loading.load()
    first, said = answers(), flags()
    assert len(first) > 1000
    # One of the year was sat on paper: its sheets went through a copier and the reader, and nothing waits of it.
    scan = Scan.objects.get()
    on_paper = Sitting.objects.get(batches__sheets__read_pages__scan=scan, batches__sheets__seat__desk=1)
    assert (scan.state, scan.page_count) == ("read", on_paper.seats.filter(state="handed in").count())
    assert waiting_in([on_paper.pk]) == {}
    for model in EVERYTHING:
        model.objects.all().delete()  # type: ignore[attr-defined]
    call_command("load_demo")
    assert answers() == first
    assert flags() == said
    grown_to_a_whole_school(monkeypatch)


def grown_to_a_whole_school(monkeypatch: pytest.MonkeyPatch) -> None:
    """In small: teachers have classes of the forms' students, and what was put in in bulk is read like any other."""
    sizes = {"TEACHERS": 5, "FORMS": 2, "IN_A_FORM": 6, "CLASSES_EACH": 2, "SITTINGS_EACH": 1, "OF_BRANDT": 3}
    for name, size in sizes.items():
        monkeypatch.setattr(large, name, size)
    before, students = set(Sitting.objects.values_list("pk", flat=True)), Student.objects.count()
    teacher = Teacher.objects.get(username="brandt")
    loading.grow(teacher)
    loading.grow(teacher)  # a second time changes nothing
    assert Teacher.objects.count() == 5
    assert Student.objects.count() == students + 2 * 6, "several subjects, the same students"
    sittings = Sitting.objects.exclude(pk__in=before)
    assert sittings.filter(owner=teacher).count() == 3
    assert sittings.count() == 3 + 3 * 2
    for sitting in sittings:
        findings = findings_of(sitting)
        assert findings is not None
        assert findings.body["test"]["students"] == 6 - 1, "one was away"


def test_whatever_numbers_are_drawn_who_knows_the_answer_is_right() -> None:
    """2.25 to two figures is 2.3 in a school, and 2.2 where a tie goes to the even digit: in one draw of forty a class
    that knew it had nothing right."""
    questions = tomllib.loads(every_kind.DATA.read_text(encoding="utf-8"))["question"]
    (varied,) = [entry["content"] for entry in questions if "variation" in entry["content"]]
    item = read_content(varied)
    for seed in range(200):
        content = drawn(item, seed)
        response = respond(content, 20, 0, np.random.default_rng(seed))
        assert response is None or content.score(response) == content.marks, (content.stem, response)
