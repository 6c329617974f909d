"""An equivalent test: what is offered for each question, and what is made of it."""

from collections.abc import Callable
from datetime import date
from typing import Any
from uuid import UUID

import pytest

from tests.conftest import Staffroom
from tests.school.test_teacher_side import layout, send
from versomark.school.bank.history import Use, record_uses
from versomark.school.bank.models import Item

pytestmark = pytest.mark.django_db


def question(school: Staffroom, stem: str, skills: list[str], difficulty: float | None = None, **content: Any) -> str:
    body = {"kind": "true_false", "stem": stem, "key": True, **content}
    ref: str = send(school.client, "post", "items", {"content": body, "skills": skills}).json()["id"]
    if difficulty is not None:
        use = Use(UUID(ref), 30, difficulty, 0.3, (), rest_correlation=0.3, reliability=0.7, spread=0.4)
        record_uses(f"of {ref}", "A test", date(2026, 9, 1), [use])
    return ref


def test_each_question_has_the_closest_other_one_and_the_test_stays_as_it_was(school: Staffroom) -> None:
    easy, hard = question(school, "Easy?", ["Forces"], 0.9), question(school, "Hard?", ["Forces"], 0.4)
    nowhere, untagged = question(school, "Waves?", ["Waves"]), question(school, "Anything?", [])
    like_hard, like_easy = question(school, "As hard", ["Forces"], 0.45), question(school, "As easy", ["Forces"], 0.8)
    question(school, "", ["Forces"], 0.9)  # not finished, so nobody is asked it
    body = {"title": "T", "instructions": "Read first.", "layout": layout(easy, hard, nowhere, untagged)}
    path = f"tests/{send(school.client, 'post', 'tests', {'title': 'T'}).json()['id']}"
    before = send(school.client, "put", path, body).json()

    lines = school.client.get(f"/api/v1/{path}/equivalent").json()["questions"]
    assert [line["suggested"] for line in lines] == [like_easy, like_hard, None, None]
    assert [line["why_kept"] for line in lines] == ["", "", "no other", "no skill"]
    assert [other["words"] for other in lines[0]["others"]] == ["As easy", "As hard"]

    swaps = {line["item"]["id"]: line["suggested"] for line in lines if line["suggested"]}
    both = send(school.client, "post", f"{path}/equivalent/foretold", {"swaps": swaps}).json()
    assert [both[one]["known"] for one in ("this", "other")] == [2, 2]
    made = send(school.client, "post", f"{path}/equivalent", {"title": "Again", "swaps": swaps}).json()
    assert [line["words"] for line in made["items"]] == ["As easy", "As hard", "Waves?", "Anything?"]
    assert (made["title"], made["instructions"]) == ("Again", "Read first.")
    assert school.client.get(f"/api/v1/{path}").json() == before


def test_what_cannot_be_made_is_refused_in_words(school: Staffroom, staffroom: Callable[[str], Staffroom]) -> None:
    colleague = staffroom("okafor")
    one, two = question(school, "One?", ["Forces"]), question(school, "Two?", ["Forces"])
    spare, stranger = question(school, "Spare", ["Forces"]), question(colleague, "Not yours", ["Forces"])
    path = f"tests/{send(school.client, 'post', 'tests', {'title': 'T'}).json()['id']}"
    send(school.client, "put", path, {"title": "T", "layout": layout(one, two)})

    def answer(swaps: dict[str, str], at: str = "equivalent") -> tuple[int, str]:
        response = send(school.client, "post", f"{path}/{at}", {"title": "Again", "swaps": swaps})
        return response.status_code, response.json()["detail"]

    assert answer({})[0] == 422
    for at in ("equivalent", "equivalent/foretold"):
        assert answer({one: spare, two: spare}, at)[0] == 409
        assert answer({spare: one}, at)[0] == 422
        assert answer({one: stranger}, at)[0] == 404
    assert colleague.client.get(f"/api/v1/{path}/equivalent").status_code == 404
    # A question of the test that is out of the bank by now still stands in it, and what it did is still known.
    send(school.client, "post", "items/archive", {"ids": [two]})
    both = send(school.client, "post", f"{path}/equivalent/foretold", {"swaps": {one: spare}})
    assert (both.status_code, both.json()["other"]["questions"]) == (200, 2)
    assert Item.objects.filter(owner=school.teacher).count() == 3
    assert len(school.client.get("/api/v1/tests").json()) == 1


def test_thirty_on_one_skill_and_a_bank_that_changes_in_another_window(school: Staffroom) -> None:
    mine = [question(school, f"Mine {n}", ["Forces"], 0.3 + n / 60) for n in range(30)]
    for n in range(29):
        question(school, f"Other {n}", ["Forces"], 0.3 + n / 60)
    path = f"tests/{send(school.client, 'post', 'tests', {'title': 'T'}).json()['id']}"
    send(school.client, "put", path, {"title": "T", "layout": layout(*mine)})

    def suggested() -> dict[str, str]:
        lines = school.client.get(f"/api/v1/{path}/equivalent").json()["questions"]
        return {line["item"]["id"]: line["suggested"] for line in lines if line["suggested"]}

    swaps = suggested()
    assert len(swaps) == len(set(swaps.values())) == 29
    gone = next(iter(swaps.values()))
    send(school.client, "post", "items/archive", {"ids": [gone]})
    for at in ("equivalent", "equivalent/foretold"):
        refused = send(school.client, "post", f"{path}/{at}", {"title": "Again", "swaps": swaps})
        assert (refused.status_code, "taken out of the bank" in refused.json()["detail"]) == (409, True)
    # Asked again, the page offers what there is now, and that can be made.
    now = suggested()
    assert len(now) == 28
    assert gone not in now.values()
    assert send(school.client, "post", f"{path}/equivalent", {"title": "Again", "swaps": now}).status_code == 200
