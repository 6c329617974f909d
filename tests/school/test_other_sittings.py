"""The same test in other classes and years, side by side."""

from datetime import timedelta
from typing import Any
from uuid import UUID

import pytest
from django.utils import timezone
from statsmodels.stats.proportion import confint_proportions_2indep

from tests.conftest import Staffroom, devices, refs
from tests.school.test_change_and_see import papers, sat, see
from versomark.core.items import Option, SingleChoice
from versomark.school.bank.models import Item
from versomark.school.bank.services import Details, keep_item
from versomark.school.classes.services import add_students, make_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.models import Edition
from versomark.school.editions.services import freeze
from versomark.school.findings.other_sittings import MOST
from versomark.school.grading.models import KeyDecision

pytestmark = pytest.mark.django_db


def held(sitting: Sitting, years_ago: int) -> Sitting:
    Sitting.objects.filter(pk=sitting.pk).update(opened_at=timezone.now() - timedelta(days=365 * years_ago))
    return sitting


def right(school: Staffroom, like: Sitting, students: int, hits: int, edition: Any = None) -> Sitting:
    """A class of which so many have everything right, and the others nothing."""
    other = make_class(school.teacher, f"Class of {students} and {hits} {Sitting.objects.count()}")
    add_students(other, [f"Other{n} Family" for n in range(students)])
    sitting = services.open_sitting(services.plan(school.teacher, edition or like.edition, other, None))
    keys = {item.ref: item.content.key for item in sitting.edition.read().items()}  # type: ignore[union-attr]
    for place, device in enumerate(devices(sitting)):
        device.join()
        for at, ref in enumerate(refs(sitting), start=1):
            option = keys[ref] if place < hits else "d"
            device.answer(ref, {"kind": "single_choice", "option": option}, at)
        device.post("hand-in")
    return services.close_sitting(sitting)


def test_last_year_stands_beside_this_one_with_what_is_more_than_chance(school: Staffroom) -> None:
    now = sat(school, papers(16, 4))
    older, last = held(right(school, now, 10, 2), 2), held(right(school, now, 20, 18), 1)
    page = see(school, now, "other-sittings").json()
    assert [column["sitting"] for column in page["columns"]] == [now.pk, last.pk, older.pk]
    assert page["against"] == last.pk
    first = [row["p"][0] for row in page["rows"]]
    for row, p in zip(page["rows"], first, strict=True):
        assert row["p"][1:] == [pytest.approx(0.9), pytest.approx(0.2)]
        low, high = confint_proportions_2indep(round(16 * p), 16, 18, 20, method="newcomb")
        assert (row["low"], row["high"]) == pytest.approx((low, high), abs=1e-9)
    harder = [row["label"] for row in page["rows"] if row["high"] < 0]
    assert harder
    assert "clearly harder here" in page["opening"]
    other = see(school, now, "other-sittings", against=older.pk).json()
    assert other["against"] == older.pk
    assert [row["difference"] for row in other["rows"]] == pytest.approx([p - 0.2 for p in first])


def test_a_key_is_settled_for_every_sitting_of_the_paper_and_unequal_keys_are_said(school: Staffroom) -> None:
    """One paper, two keys: 20 of 20 against 0 of 20 in the same question would say something of the classes."""
    now = sat(school, papers(16, 4))
    other = right(school, now, 20, 18)
    stranger = right(school, now, 4, 4)
    Sitting.objects.filter(pk=stranger.pk).update(edition=freeze_again(school, stranger))
    ref = refs(now)[0]
    path = f"/api/v1/sittings/{now.pk}/settling/{ref}"

    def settle(**more: Any) -> Any:
        body = {"accepted": ["d"], "reason": "The key was wrong.", **more}
        return school.client.post(path, body, content_type="application/json")

    assert [entry["sitting"] for entry in school.client.get(path).json()["others"]] == [other.pk]
    assert settle(also=[stranger.pk]).status_code == 404
    assert KeyDecision.objects.count() == 0
    assert settle().status_code == 200
    page = see(school, now, "other-sittings", against=other.pk).json()
    (unequal,) = [row for row in page["rows"] if any(row["other_key"])]
    assert (unequal["ref"], unequal["difference"]) == (ref, None)
    assert f"Question {unequal['label']} is scored by another key there than here" in page["opening"]
    # For looking, all are scored by the key of the sitting that is open: the figures are those of a settled key.
    looked = see(school, now, "other-sittings", against=other.pk, one_key=True).json()
    (anew,) = [row for row in looked["rows"] if any(row["by_this_key"])]
    place = [column["sitting"] for column in looked["columns"]].index(other.pk)
    assert (anew["ref"], anew["other_key"][place]) == (ref, False)
    assert anew["difference"] is not None
    assert "for looking; no mark is changed" in looked["opening"]
    assert not KeyDecision.objects.filter(sitting=other).exists()
    assert settle(also=[other.pk]).status_code == 200
    page = see(school, now, "other-sittings", against=other.pk).json()
    place = [column["sitting"] for column in page["columns"]].index(other.pk)
    assert not any(row["other_key"][place] for row in page["rows"])
    assert [row["p"][place] for row in page["rows"]] == pytest.approx([row["p"][place] for row in looked["rows"]])
    assert page["columns"][place]["mean"] == pytest.approx(looked["columns"][place]["mean"])
    assert {settlement.sitting_id for settlement in KeyDecision.objects.filter(taken_back_at=None)} == {
        now.pk,
        other.pk,
    }


def test_the_key_in_the_bank_follows_where_that_is_wanted(school: Staffroom) -> None:
    now = sat(school, papers(16, 4))
    ref = refs(now)[0]
    path = f"/api/v1/sittings/{now.pk}/settling/{ref}"
    item = Item.objects.get(pk=ref)
    before = item.read()
    assert school.client.get(path).json()["bank_follows"]
    body = {"accepted": ["c", "d"], "reason": "Both are right.", "bank": True}
    assert school.client.post(path, body, content_type="application/json").status_code == 422
    assert KeyDecision.objects.count() == 0
    body |= {"accepted": ["d"]}
    assert school.client.post(path, body, content_type="application/json").status_code == 200
    item.refresh_from_db()
    assert item.read() == before.model_copy(update={"key": "d"})
    assert item.versions.order_by("-number").first().content == before.model_dump(mode="json")


def freeze_again(school: Staffroom, sitting: Sitting) -> Edition:
    """Another edition of the same test."""
    test = sitting.edition.test
    test.title = f"{test.title}, again"
    test.save()
    return freeze(test)


def test_a_question_that_reads_otherwise_there_is_said_so(school: Staffroom) -> None:
    before = sat(school, papers(12, 1))
    item = Item.objects.get(pk=UUID(refs(before)[1]))
    content = item.read()
    assert isinstance(content, SingleChoice)
    options = [Option(id=name, text=name) for name in "abcd"]
    reworded = SingleChoice(stem="Put otherwise?", options=options, key="b")
    keep_item(item, reworded, Details(["A skill"]), item.revision)
    edition = freeze(before.edition.test)
    assert edition.number == 2
    after = right(school, before, 9, 4, edition)
    page = see(school, after, "other-sittings").json()
    assert [column["edition_number"] for column in page["columns"]] == [2, 1]
    assert [row["reworded"] for row in page["rows"]] == [[False, at == 1] for at in range(4)]
    # Sittings of two editions stand side by side, and are not one.
    assert see(school, after).json()["others"] == []


def test_no_more_columns_than_fit_and_the_one_asked_for_among_them(school: Staffroom) -> None:
    now = sat(school, papers(8, 2))
    older = [held(right(school, now, 8, n % 4), n) for n in range(1, MOST + 3)]
    page = see(school, now, "other-sittings").json()
    assert [column["sitting"] for column in page["columns"]] == [now.pk, *(entry.pk for entry in older[: MOST - 1])]
    oldest = older[-1]
    asked = see(school, now, "other-sittings", against=oldest.pk).json()
    assert [column["sitting"] for column in asked["columns"]][-1] == oldest.pk
    assert len(asked["columns"]) == MOST
    assert asked["against"] == oldest.pk
    assert all(row["difference"] is not None for row in asked["rows"])


def test_a_sitting_without_answers_says_so(school: Staffroom) -> None:
    before = sat(school, papers(5, 2))
    other = make_class(school.teacher, "Later")
    add_students(other, ["Ada Ash"])
    planned = services.plan(school.teacher, before.edition, other, None)
    page = see(school, planned, "other-sittings").json()
    assert (page["columns"], page["rows"]) == ([], [])
    assert "No answers are counted yet" in page["opening"]
