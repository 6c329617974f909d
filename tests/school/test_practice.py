"""A practice run: an invented class from nothing to a finding, and everything as it was before when it has gone."""

from typing import Any
from uuid import UUID

import numpy as np
import pytest
from django.apps import apps

from tests.conftest import Staffroom, two_questions
from tests.school.test_writers_queue import in_threads
from versomark.core.editions import EditionItem
from versomark.core.items import read_content
from versomark.school.bank.models import ItemUse
from versomark.school.classes.models import SchoolClass
from versomark.school.delivery.models import Sitting
from versomark.school.editions.public import keep_items, make_test
from versomark.school.practice.services import start
from versomark.school.practice.simulated import answers_of_class

KEPT = {"accounts.securityevent", "accounts.signedin", "sessions.session", "findings.cachedanalysis"}
"""A log is not a trace to be wiped: who deleted what stays to be seen. What is remembered of figures wears out."""


def everything() -> dict[str, int]:
    return {model._meta.label_lower: model.objects.count() for model in apps.get_models()}  # type: ignore[attr-defined]


def do(school: Staffroom, path: str = "", method: str = "post") -> Any:
    answer = getattr(school.client, method)(f"/api/v1/practice{path}", content_type="application/json")
    assert answer.status_code == 200, answer.content
    return answer.json()


@pytest.fixture
def begun(school: Staffroom) -> tuple[Staffroom, dict[str, int], int]:
    before = everything()
    return school, before, do(school)["sitting"]


def test_from_nothing_to_a_finding_and_gone_without_a_trace(begun: tuple[Staffroom, dict[str, int], int]) -> None:
    school, before, sitting = begun
    page = do(school, f"/sittings/{sitting}/answers")
    assert (page["students"], page["at_work"], page["is_open"]) == (24, 0, True)
    assert school.client.post(f"/api/v1/sittings/{sitting}/steps/close").status_code == 200
    found = school.client.get(f"/api/v1/sittings/{sitting}/findings").json()
    assert found["body"]["test"]["students"] == 24
    assert not ItemUse.objects.exists(), "a question has no history by students who do not exist"
    assert do(school, method="get")["is_closed"]
    assert do(school, method="delete") == {"sittings": 1, "still_used": []}
    after = everything()
    assert {name: count for name, count in after.items() if before[name] != count and name not in KEPT} == {}
    assert do(school, method="get")["class_id"] is None
    assert do(school, method="delete") == {"sittings": 0, "still_used": []}


def test_while_it_goes_on_and_with_a_test_of_ones_own(begun: tuple[Staffroom, dict[str, int], int]) -> None:
    """The invented class answers whatever it is given; what was taken into a test of the teacher's stays."""
    school, _before, sitting = begun
    assert do(school)["sitting"] == sitting, "a second click begins nothing anew"
    edition = school.sitting(contents=two_questions()).edition
    class_id = do(school, method="get")["class_id"]
    own = school.client.post(
        "/api/v1/sittings", {"edition": edition.pk, "class_id": class_id}, content_type="application/json"
    ).json()["id"]
    assert do(school, f"/sittings/{own}/answers")["sitting"] == own
    assert Sitting.objects.get(pk=own).seats.filter(state="handed in").count() == 24
    brought = Sitting.objects.get(pk=sitting).edition.read().sections[0].items[0]
    keep_items(make_test(school.teacher, "Mine"), "Mine", "", [UUID(brought.ref)])
    cleared = do(school, method="delete")
    assert cleared == {"sittings": 2, "still_used": [brought.content.stem]}
    assert edition.test.editions.exists()


def test_real_students_never_answer_by_themselves(school: Staffroom) -> None:
    sitting = school.sitting(contents=two_questions())
    answer = school.client.post(f"/api/v1/practice/sittings/{sitting.pk}/answers")
    assert answer.status_code == 403
    assert not sitting.seats.exclude(state="expected").exists()


@pytest.mark.django_db(transaction=True)
def test_a_practice_that_is_ended_while_it_is_open_leaves_nothing_to_be_done(school: Staffroom) -> None:
    """What follows a closing comes after the transaction, when the sitting is gone."""
    start(school.teacher)
    assert do(school, method="delete")["sittings"] == 1
    assert not Sitting.objects.exists()


@pytest.mark.django_db(transaction=True)
def test_two_clicks_begin_one_run(school: Staffroom) -> None:
    assert in_threads(2, lambda at: start(school.teacher)) == []
    assert SchoolClass.objects.filter(is_practice=True).count() == 1


def test_who_holds_an_idea_gives_its_answer_more_often_than_chance() -> None:
    """The model is checked by its own numbers turned around: of 2,000 invented students the share who give an idea's
    answer is more than the rarest common idea makes, above that of an equal wrong answer, and not always the same."""
    content = read_content(
        {"kind": "single_choice", "stem": "?", "key": "a",
         "options": [{"id": "a", "text": "1"}, {"id": "b", "text": "2", "idea_note": "adds"}, {"id": "c", "text": "3"}]}
    )  # fmt: skip
    shares = []
    for seed in range(12):
        item = EditionItem(ref="a1", content=content)
        given = answers_of_class([item], 2000, np.random.default_rng(seed))
        picked = [answers["a1"].option for answers in given if "a1" in answers]  # type: ignore[union-attr]
        shares.append(picked.count("b") / len(picked))
        assert picked.count("c") < picked.count("b")
    assert min(shares) > 0.05 * 0.8 * 0.6
    assert max(shares) - min(shares) > 0.05, "each sitting is drawn anew"
