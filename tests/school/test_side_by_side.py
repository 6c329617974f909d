"""Classes and terms side by side, worked out again from the records by pandas and pingouin."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any

import numpy as np
import pandas as pd
import pingouin
import pytest
from django.utils import timezone

from tests.conftest import Staffroom, devices, refs
from versomark.core.items import TrueFalse
from versomark.school.bank.services import make_item
from versomark.school.classes.models import SchoolClass
from versomark.school.classes.services import add_students, make_class, share_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.models import Edition
from versomark.school.editions.services import freeze, keep_items, make_test
from versomark.school.records.models import Term

pytestmark = pytest.mark.django_db
QUESTIONS = 8


@pytest.fixture
def tests_of_both(school: Staffroom) -> list[Edition]:
    editions = []
    for title in ("First look", "Unit check"):
        items = [make_item(school.teacher, TrueFalse(stem=f"{title} {n}", key=True)) for n in range(QUESTIONS)]
        editions.append(freeze(keep_items(make_test(school.teacher, title), title, "", [item.pk for item in items])))
    return editions


def a_class(school: Staffroom, name: str, students: int) -> SchoolClass:
    school_class = make_class(school.teacher, name)
    add_students(school_class, [f"{name[:1]}{n} Quill" for n in range(students)])
    return school_class


def sit(school: Staffroom, edition: Edition, sitters: SchoolClass, right: np.ndarray, days_ago: int) -> Sitting:
    """right (N,): how many questions each has right; −1 for who does not sit it."""
    sitting = services.open_sitting(services.plan(school.teacher, edition, sitters, None))
    for device, count in zip(devices(sitting), right, strict=True):
        if count < 0:
            continue
        device.join()
        for at, ref in enumerate(refs(sitting)):
            device.answer(ref, {"kind": "true_false", "value": bool(at < count)}, at + 1)
        device.post("hand-in")
    Sitting.objects.filter(pk=sitting.pk).update(opened_at=timezone.now() - timedelta(days=days_ago))
    return services.close_sitting(Sitting.objects.get(pk=sitting.pk))


@pytest.fixture
def year(school: Staffroom, tests_of_both: list[Edition]) -> tuple[SchoolClass, SchoolClass]:
    """Two classes, one strong, in two terms; each term with one test, which both sat."""
    rng = np.random.default_rng(4)
    strong, weak = a_class(school, "8 Lark", 9), a_class(school, "8 Wren", 7)
    now = timezone.localdate()
    for name, begins, ends in (("Autumn", 80, 31), ("Spring", 30, 0)):
        dates = (now - timedelta(days=begins), now - timedelta(days=ends))
        Term.objects.create(owner=school.teacher, name=name, starts=dates[0], ends=dates[1])
    for edition, days_ago, gain in zip(tests_of_both, (60, 10), (0, 1), strict=True):
        sit(school, edition, strong, np.clip(rng.integers(5, 8, 9) + gain, 0, QUESTIONS), days_ago)
        away = rng.integers(1, 5, 7) + gain
        away[2 + gain] = -1
        sit(school, edition, weak, away, days_ago)
    return strong, weak


def page(school: Staffroom, *classes: SchoolClass, **query: Any) -> Any:
    asked = {"classes": ",".join(str(school_class.pk) for school_class in classes), **query}
    return school.client.get("/api/v1/records/side-by-side", asked)


def shares_of(school: Staffroom, school_class: SchoolClass) -> pd.DataFrame:
    """Of each student of the record the average and the terms that are their own."""
    rows = school.client.get(f"/api/v1/classes/{school_class.pk}/record").json()["students"]
    return pd.DataFrame(
        [[row["average"], *(None if cell["carried"] else cell["share"] for cell in row["terms"])] for row in rows],
        columns=["All of it", "Autumn", "Spring"],
        dtype=float,
    )


def test_every_mean_and_difference_is_that_of_pandas_and_pingouin(
    school: Staffroom, year: tuple[SchoolClass, SchoolClass]
) -> None:
    body = page(school).json()
    assert body["spans"] == ["All of it", "Autumn", "Spring"]
    assert [school_class["name"] for school_class in body["classes"]] == ["8 Lark", "8 Wren"]
    lark, wren = (shares_of(school, entry) for entry in year)
    for line, table in zip(body["classes"], (lark, wren), strict=True):
        for name, cell in zip(body["spans"], line["spans"], strict=True):
            own = table[name].dropna()
            assert cell["count"] == len(own)
            assert cell["mean"] == pytest.approx(own.mean())
            low, high = pingouin.ttest(own, 0).filter(like="CI95").iloc[0, 0]
            assert (cell["low"], cell["high"]) == pytest.approx((low, high), abs=0.006)  # it rounds
            if table is wren:
                other = lark[name].dropna()
                assert cell["difference"] == pytest.approx(own.mean() - other.mean())
                low, high = pingouin.ttest(own, other, correction=True).filter(like="CI95").iloc[0, 0]
                assert (cell["difference_low"], cell["difference_high"]) == pytest.approx((low, high), abs=0.006)
                assert cell["sure"]
        both = table[["Autumn", "Spring"]].dropna()
        spring = line["spans"][2]
        assert spring["change"] == pytest.approx((both["Spring"] - both["Autumn"]).mean())
        low, high = pingouin.ttest(both["Spring"], both["Autumn"], paired=True).filter(like="CI95").iloc[0, 0]
        assert (spring["change_low"], spring["change_high"]) == pytest.approx((low, high), abs=0.006)
        assert line["spans"][0]["change"] is line["spans"][1]["change"] is None
    assert body["classes"][0]["spans"][0]["difference"] is None  # a class is not put against itself
    assert "8 Wren differs from 8 Lark by more than chance brings." in body["opening"]
    assert body["opening"].endswith("they have 2 tests in common.")

    turned = page(school, *year, against=year[1].pk).json()
    for at in range(3):
        one, other = body["classes"][1]["spans"][at], turned["classes"][0]["spans"][at]
        assert one["difference"] == pytest.approx(-other["difference"])
        assert one["difference_low"] == pytest.approx(-other["difference_high"])


def test_tests_in_common_stand_by_their_latest_sitting(
    school: Staffroom, year: tuple[SchoolClass, SchoolClass], tests_of_both: list[Edition]
) -> None:
    lark, wren = year
    again = sit(school, tests_of_both[0], lark, np.full(9, 4), 2)
    body = page(school).json()
    assert [test["title"] for test in body["tests"]] == ["First look", "Unit check"]  # the latest first
    first = body["tests"][0]["cells"]
    assert first[0]["sitting"] == again.pk
    assert first[0]["result"] == {
        **dict.fromkeys(("difference", "difference_low", "difference_high", "change", "change_low", "change_high")),
        "low": None,
        "high": None,
        "mean": 0.5,
        "count": 9,
        "sure": False,
    }
    assert first[1]["result"]["count"] == 6
    alone = page(school, lark).json()
    assert alone["tests"] == []
    assert alone["opening"] == f"8 Lark has {alone['classes'][0]['spans'][0]['mean']:.0%} of the marks."
    # A class of last year is put away, and can still stand beside those of now; by itself it does not.
    SchoolClass.objects.filter(pk=wren.pk).update(archived=True)
    assert [school_class["name"] for school_class in page(school).json()["classes"]] == ["8 Lark"]
    assert page(school, lark, wren).json()["classes"][1]["spans"] == body["classes"][1]["spans"]
    assert {choice["name"]: choice["archived"] for choice in page(school).json()["choices"]} == {
        "8 Lark": False,
        "8 Wren": True,
    }


def test_what_cannot_stand_beside_each_other_is_said(
    school: Staffroom, staffroom: Callable[[str], Staffroom], year: tuple[SchoolClass, SchoolClass]
) -> None:
    lark, wren = year
    stranger, colleague = staffroom("stranger"), staffroom("colleague")
    assert page(stranger, lark).status_code == 404
    assert page(stranger).json()["classes"] == []
    assert page(school, lark, against=wren.pk).status_code == 404
    more = [a_class(school, f"9 {n}", 1) for n in range(8)]
    assert page(school, lark, *more).status_code == 422
    assert page(school, more[0]).json()["opening"] == "None of these classes has a total yet."
    # A class that is shared stands there by its averages; its owner's terms are not the colleague's.
    colleague.teacher.school = school.teacher.school
    colleague.teacher.save()
    share_class(lark, colleague.teacher.pk, may_mark=False, may_run=False)
    theirs = page(colleague).json()
    assert theirs["spans"] == ["All of it"]
    assert theirs["classes"][0]["spans"][0]["mean"] == page(school, lark).json()["classes"][0]["spans"][0]["mean"]
