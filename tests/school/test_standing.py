"""Where a question stands: evidence that adds up over tests and starts anew with other words or another key, the same
in findings, bank and test; what is foretold of a test and what came; what became of an idea."""

from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone

from tests.conftest import Staffroom, devices, refs
from tests.school.test_change_and_see import LONGER, WRONG, papers, see
from versomark.core.findings.ideas import IdeaCount, probability_of_fewer
from versomark.core.items import Option, SingleChoice, TrueFalse, version_of
from versomark.school.bank.models import Item
from versomark.school.bank.services import details_of, keep_item
from versomark.school.classes.models import SchoolClass
from versomark.school.classes.services import add_students, make_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.services import freeze, keep_items, make_test
from versomark.school.findings import services as analyses
from versomark.school.findings.models import CachedAnalysis
from versomark.school.findings.refreshing import refresh_analyses

pytestmark = pytest.mark.django_db

OPTIONS = [Option(id=name, text=name) for name in "abcd"]


def choice(**changed: Any) -> SingleChoice:
    return SingleChoice(**{"stem": "Which way, then?", "options": OPTIONS, "key": "b", **changed})


def test_what_makes_another_version_of_a_question() -> None:
    version = version_of(choice())
    noted = [Option(id=o.id, text=o.text, idea_note="it is used up") for o in OPTIONS]
    for same in ({"marks": 3}, {"rationale": "Because."}, {"options": noted}, {"stem": "Which way then ?"}):
        assert version_of(choice(**same)) == version, same
    turned = [OPTIONS[k] for k in (1, 0, 2, 3)]
    for other in ({"stem": "Which way, now?"}, {"key": "c"}, {"options": turned}, {"options": OPTIONS[:3]}):
        assert version_of(choice(**other)) != version, other
    assert version_of(choice(), {"b", "c"}) != version
    assert version_of(choice(), {"b"}) == version  # settled as the key has it
    assert version_of(choice(stem="Is it 3.5?")) != version_of(choice(stem="Is it 35?"))
    assert version_of(choice(stem="$R+S$")) != version_of(choice(stem="$R-S$"))
    assert version_of(TrueFalse(stem="So?", key=True)) != version_of(TrueFalse(stem="So?", key=False))


def sit(sitting: Sitting, rows: list[str]) -> Sitting:
    for device, row in zip(devices(sitting), rows, strict=True):
        device.join()
        for at, (ref, letter) in enumerate(zip(refs(sitting), row, strict=True), start=1):
            device.answer(ref, {"kind": "single_choice", "option": letter}, at)
        device.post("hand-in")
    return services.close_sitting(sitting)


def another_test(school: Staffroom, items: list[str], rows: list[str], own: SchoolClass | None = None) -> Sitting:
    """A new test of these questions of the bank, sat by a class."""
    if own is None:
        own = make_class(school.teacher, f"Class of {len(rows)}, {Sitting.objects.count()}")
        add_students(own, [f"Other{n} Family" for n in range(len(rows))])
    test = keep_items(make_test(school.teacher, "T"), f"Test {Sitting.objects.count()}", "", items)
    return sit(services.open_sitting(services.plan(school.teacher, freeze(test), own, None)), rows)


def wrong_key(school: Staffroom, sitting: Sitting, ref: str) -> float:
    body = see(school, sitting).json()["body"]
    question = next(question for question in body["paper"] if question["ref"] == ref)
    return next(entry["p"] for entry in question["figures"]["explanations"]["wrong_key"] if entry["option"] == "B")


@pytest.fixture
def first(school: Staffroom) -> Sitting:
    contents: list[Any] = [choice(stem=f"Q{n}?", key=key) for n, key in enumerate(LONGER)]
    return sit(school.open_sitting(contents=contents, students=24), papers(24, 4, len(LONGER)))


def test_a_question_brings_its_evidence_into_another_test_until_it_reads_otherwise(
    school: Staffroom, first: Sitting
) -> None:
    see(school, first)  # in a test nothing follows a transaction: its history is kept when it is looked at
    wrong = refs(first)[WRONG]
    asked = [*refs(first)[:6], *(str(make(school, f"New {n}?").pk) for n in range(6))]
    rows = papers(12, 8, 12)
    second = another_test(school, asked, rows)
    body = see(school, second).json()["body"]
    assert body["before"] == 24
    assert body["evidence"] == "24 papers handed in before, with some of its questions, count as evidence too."
    likely = wrong_key(school, second, wrong)
    reword(wrong, stem="Q two, in other words?")
    third = another_test(school, asked, rows)
    # The same answers to the same paper, but for that question, which now stands by itself.
    assert wrong_key(school, third, wrong) < likely
    assert wrong_key(school, second, wrong) == likely


def make(school: Staffroom, stem: str) -> Item:
    from versomark.school.bank.services import Details, make_item

    return make_item(school.teacher, choice(stem=stem), Details())


def reword(ref: str, **changed: Any) -> Item:
    item = Item.objects.get(pk=ref)
    return keep_item(item, item.read().model_copy(update=changed), details_of(item), item.revision)


def test_findings_bank_and_test_show_the_same_standing_and_a_new_wording_starts_anew(
    school: Staffroom, first: Sitting
) -> None:
    wrong = refs(first)[WRONG]
    flag = next(f for f in see(school, first).json()["body"]["flags"] if f["ref"] == wrong and f["urgent"])
    said = {name: flag[name] for name in ("heading", "short", "probability", "confidence")} | {"a_fault": True}

    def line() -> Any:
        lines = school.client.get("/api/v1/items").json()["items"]
        return next(line for line in lines if line["id"] == wrong)

    assert line()["standing"] == [said]
    page = school.client.get(f"/api/v1/tests/{first.edition.test_id}/foretold").json()
    assert [(entry["number"], entry["standing"]) for entry in page["unsettled"]] == [(WRONG + 1, [said])]
    assert page["predicted"]["known"] == len(LONGER)
    # A comma mended keeps what is known; other words do not, and the old words bring it back.
    reword(wrong, stem="Q2 ?")
    assert line()["standing"] == [said]
    reword(wrong, stem="Which of these?")
    assert (line()["standing"], line()["difficulty"], line()["times_used"]) == ([], None, 1)
    history = school.client.get(f"/api/v1/items/{wrong}/history").json()["uses"]
    assert [(use["this_version"], use["standing"]) for use in history] == [(False, [said])]
    page = school.client.get(f"/api/v1/tests/{first.edition.test_id}/foretold").json()
    assert (page["unsettled"], page["predicted"]["known"]) == ([], len(LONGER) - 1)
    reword(wrong, stem="Q2?")
    assert line()["standing"] == [said]


def test_a_paper_keeps_what_was_foretold_of_it_and_shows_what_came(school: Staffroom, first: Sitting) -> None:
    assert see(school, first).json()["forecast"] is None  # nothing was known of it
    second = another_test(school, refs(first), papers(24, 9, len(LONGER)))
    told = second.edition.forecast["foretold"]
    forecast = see(school, second).json()["forecast"]
    assert (forecast["known"], forecast["questions"], forecast["students"]) == (12, 12, 24)
    assert forecast["why_not"] == ""
    lines = {line["figure"]: line for line in forecast["lines"]}
    test = see(school, second).json()["body"]["test"]
    assert [lines[name]["came"] for name in ("mean", "sd", "reliability")] == [test["mean"], test["sd"], test["alpha"]]
    assert lines["mean"]["low"] == told["mean"]["low"] < lines["mean"]["high"]
    third = another_test(school, refs(first), papers(5, 3, len(LONGER)))
    assert see(school, third).json()["forecast"]["why_not"] == "too few"
    school.client.put(f"/api/v1/sittings/{second.pk}/settling/{refs(second)[0]}/waived", {}, "application/json")


@pytest.mark.parametrize("query", ["students=1", "cut=101", "students=100000", "cut=x"])
def test_no_test_is_foretold_of_what_cannot_be(school: Staffroom, first: Sitting, query: str) -> None:
    page = school.client.get(f"/api/v1/tests/{first.edition.test_id}/foretold?{query}")
    assert page.status_code == 422


def test_what_became_of_an_idea_in_the_next_sittings_of_the_class(school: Staffroom) -> None:
    noted = [Option(id=name, text=name, idea_note="It is used up." * (name == "c")) for name in "abcd"]
    contents: list[Any] = [choice(stem=f"Q{n}?", options=noted if n < 3 else OPTIONS) for n in range(10)]
    rows = papers(24, 4, 10)
    held = ["ccc" + row[3:] if at % 2 else "b" * 3 + row[3:] for at, row in enumerate(rows)]
    first = sit(school.open_sitting(contents=contents, students=24), held)
    idea = see(school, first).json()["body"]["shown_ideas"][0]
    assert idea["elsewhere"] == []
    fewer = ["ccc" + row[3:] if at % 8 == 1 else "bbb" + row[3:] for at, row in enumerate(rows)]
    second = another_test(school, refs(first), fewer, first.school_class)
    (since,) = see(school, first).json()["body"]["shown_ideas"][0]["elsewhere"]
    assert since["sitting"] == second.pk
    assert since["says"].endswith("think so; almost certainly fewer then.")
    gone = another_test(school, refs(first), ["bbb" + row[3:] for row in rows], first.school_class)
    body = see(school, gone).json()["body"]
    assert body["shown_ideas"] == []
    (says,) = body["gone_ideas"]
    assert "thought in “Test" in says
    assert "that it is used up. Here it does not show" in says
    # Another class says nothing of this one.
    other = another_test(school, refs(first), held)
    assert see(school, other).json()["body"]["shown_ideas"][0]["elsewhere"] == []


def test_fewer_is_said_as_often_as_it_is_so() -> None:
    many, few, none = IdeaCount(0.99, 12, 9, 15, 24), IdeaCount(0.97, 4, 2, 6, 24), IdeaCount(0.02, 3, 1, 5, 24)
    assert probability_of_fewer(many, few) > 0.95
    assert probability_of_fewer(few, many) < 0.05
    assert probability_of_fewer(many, many) == pytest.approx(0.5, abs=0.02)
    assert probability_of_fewer(many, none) > 0.95
    assert probability_of_fewer(none, none) == pytest.approx(0.5, abs=0.05)


def test_old_analyses_are_made_anew_and_what_nobody_asks_for_is_forgotten(
    school: Staffroom, first: Sitting, monkeypatch: pytest.MonkeyPatch
) -> None:
    see(school, first)
    second = another_test(school, refs(first), papers(12, 3, len(LONGER)))
    before = see(school, second).json()["body"]
    monkeypatch.setattr(analyses, "RULES", analyses.RULES + 1)  # as if a rule had changed
    CachedAnalysis.objects.update(made_at=timezone.now() - timedelta(days=2))
    old = set(CachedAnalysis.objects.values_list("pk", flat=True))
    assert refresh_analyses(0) == 2
    assert refresh_analyses(0) == 0
    assert not old & set(CachedAnalysis.objects.values_list("pk", flat=True))
    with monkeypatch.context() as nothing_is_computed:
        nothing_is_computed.setattr(analyses, "_analysed_now", None)
        assert see(school, second).json()["body"] == before
