"""What a list of classes or tests says of each before it is opened, beside the totals that the results page counts."""

from datetime import timedelta
from typing import Any

import numpy as np
import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from tests.conftest import Staffroom, devices, refs
from versomark.school.accounts.models import Teacher
from versomark.school.classes.services import share_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.findings import overviews
from versomark.school.findings.every_sitting import MADE_AT_ONCE

pytestmark = pytest.mark.django_db
RIGHT = {"kind": "single_choice", "option": "b"}, {"kind": "true_false", "value": True}
WRONG = {"kind": "single_choice", "option": "a"}, {"kind": "true_false", "value": False}


def sat(sitting: Sitting, right: list[int]) -> Sitting:
    """Of two questions each student answers so many rightly; whoever has no number stays away."""
    services.open_sitting(sitting)
    for device, count in zip(devices(sitting), right, strict=False):
        device.join()
        for at, ref in enumerate(refs(sitting)):
            device.answer(ref, RIGHT[at] if at < count else WRONG[at], at + 1)
        device.post("hand-in")
    return services.close_sitting(sitting)


def lines(school: Staffroom, of: str) -> dict[int, dict[str, Any]]:
    page = school.client.get(f"/api/v1/overviews/{of}").json()
    assert page["still_to_make"] == 0
    return {line["id"]: line for line in page["lines"]}


def test_a_class_and_a_test_say_how_the_last_sitting_went_and_what_comes(school: Staffroom) -> None:
    sitting = sat(school.sitting(students=4), [2, 1, 0])
    school_class, edition = sitting.school_class, sitting.edition
    again = sat(services.plan(school.teacher, edition, school_class, None), [2, 2, 1, 1])
    planned = services.plan(school.teacher, edition, school_class, timezone.now() + timedelta(days=3))
    services.plan(school.teacher, edition, school_class, timezone.now() + timedelta(days=9))
    for of, number in (("classes", school_class.pk), ("tests", edition.test_id)):
        line = lines(school, of)[number]
        results = school.client.get(f"/api/v1/sittings/{again.pk}/results").json()
        totals = np.array([row["total"] for row in results["students"] if row["total"] is not None])
        assert line["mean"] == pytest.approx((totals / 2).mean()) == 0.75
        assert line["spread"] == [0, 0, 0, 0, 0, 2, 0, 0, 0, 2], "half of the marks and all of them"
        assert (line["over"], line["absent"], line["waiting"], line["open_now"]) == (2, 0, 0, [])
        assert (line["last"]["id"], line["next"]["id"]) == (again.pk, planned.pk)
    means = lines(school, "classes")[school_class.pk]["means"]
    assert [entry["sitting"]["id"] for entry in means] == [sitting.pk, again.pk]
    assert [entry["mean"] for entry in means] == [0.5, 0.75], "one who stayed away is not in it"


def test_each_sitting_that_is_over_says_how_it_went(school: Staffroom, staffroom: Any) -> None:
    went = sat(school.sitting(students=3), [2, 1, 1])
    sat(school.sitting(students=2), [])  # nobody came, and there is nothing to say
    school.open_sitting()
    page = school.client.get("/api/v1/overviews/sittings").json()
    assert [(line["sitting"], line["mean"], sum(line["spread"])) for line in page["lines"]] == [
        (went.pk, pytest.approx(4 / 6), 3),
    ]
    assert staffroom("another").client.get("/api/v1/overviews/sittings").json()["lines"] == []


def test_what_nobody_sat_has_no_figure_and_what_is_not_ones_own_is_not_there(school: Staffroom, staffroom: Any) -> None:
    empty = sat(school.sitting(students=2), [])
    (line,) = lines(school, "classes").values()
    assert (line["over"], line["mean"], line["spread"], line["means"], line["absent"]) == (1, None, [], [], 2)
    assert lines(staffroom("another"), "classes") == {}
    colleague = Teacher.objects.create_teacher(school.teacher.school, "C", "league", "correct-horse-9")
    share_class(empty.school_class, colleague.pk, may_mark=False, may_run=False)
    assert list(overviews.of_classes(colleague).by) == [empty.school_class_id]
    # Marking is linked to for whoever may mark.
    assert [overviews.of_classes(one).by[empty.school_class_id].may_mark for one in (school.teacher, colleague)] == [
        True,
        False,
    ]
    share_class(empty.school_class, colleague.pk, may_mark=True, may_run=False)
    assert overviews.of_classes(colleague).by[empty.school_class_id].may_mark


def test_a_long_list_makes_a_few_figures_while_somebody_waits_and_asks_no_more_for_more_classes(
    school: Staffroom,
) -> None:
    every = [sat(school.sitting(students=2), [2, 0]) for _ in range(MADE_AT_ONCE + 3)]
    first = overviews.of_classes(school.teacher)
    assert first.still_to_make == 3
    assert sum(line.mean is not None for line in first.by.values()) == MADE_AT_ONCE
    while overviews.of_classes(school.teacher).still_to_make:
        pass
    full = overviews.of_classes(school.teacher)
    assert [line.mean for line in full.by.values()] == [0.5] * len(every)
    with CaptureQueriesContext(connection) as few:
        overviews.of_classes(school.teacher)
    asked = len(few)  # a request empties what was captured
    sat(school.sitting(students=2), [2, 0])
    overviews.of_classes(school.teacher)
    with CaptureQueriesContext(connection) as more:
        overviews.of_classes(school.teacher)
    assert len(more) == asked
