"""What a student sees of the year, and of a test in which they could choose: only what is theirs, and as it counts."""

from typing import Any

import pytest
from django.test import Client

from tests.conftest import Staffroom, devices, refs
from tests.school.test_record import lark, sat
from tests.school.test_teacher_side import send
from versomark.core.items import ItemContent, Option, SingleChoice
from versomark.school.bank.services import Details, make_item
from versomark.school.classes.models import SchoolClass, Student
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.services import freeze, keep_items, make_test
from versomark.school.grading.totals import results_in, set_total

__all__ = ["lark"]
pytestmark = pytest.mark.django_db


def own(school_class: SchoolClass, name: str) -> Client:
    client = Client()
    body = {"link": school_class.link, "pass_phrase": Student.objects.get(given_name=name).pass_phrase}
    assert client.post("/api/v1/portal/enter", body, content_type="application/json").status_code == 200
    return client


def release(school: Staffroom, sitting: Sitting, marks: bool = True) -> None:
    path = f"sittings/{sitting.pk}/results/release"
    assert send(school.client, "put", path, {"marks": marks, "answers": False}).status_code == 200


def test_growth_shows_what_is_released_with_marks_and_no_more(school: Staffroom, lark: SchoolClass) -> None:
    first, second, third = (sat(school, lark, [letter, "a", None, None]) for letter in "bab")
    ada, ben, cem = (own(lark, name) for name in ("Ada", "Ben", "Cem"))
    assert ada.get("/api/v1/portal/growth").json() == []
    release(school, first)
    release(school, second)
    release(school, third, marks=False)  # in words: no number leaves
    points = ada.get("/api/v1/portal/growth").json()
    assert [(point["sitting"], point["share"]) for point in points] == [(first.pk, 0.5), (second.pk, 0)]
    assert [entry["share"] for entry in ben.get("/api/v1/portal/growth").json()] == [0, 0]
    # Who gave nothing has no result to see, until a teacher sets one.
    assert cem.get("/api/v1/portal/growth").json() == []
    assert cem.get(f"/api/v1/portal/sittings/{first.pk}/result").status_code == 404
    assert [sitting for sitting in cem.get("/api/v1/portal/page").json()["sittings"] if sitting["results"]] == []
    seat = first.seats.select_related("student", "sitting").get(desk=3)
    set_total(school.teacher, seat, 1, "Told it aloud.")
    assert cem.get(f"/api/v1/portal/sittings/{first.pk}/result").json()["reason"] == "Told it aloud."
    assert [entry["share"] for entry in cem.get("/api/v1/portal/growth").json()] == [0.5]
    assert Client().get("/api/v1/portal/growth").status_code == 401


def choosing(school: Staffroom, school_class: SchoolClass) -> Sitting:
    """Two of three questions, a mark each."""
    contents: list[ItemContent] = [
        SingleChoice(
            stem=f"Question {n}?", options=[Option(id=letter, text=f"{letter}{n}") for letter in "abc"], key="a"
        )
        for n in range(3)
    ]
    items = [make_item(school.teacher, content, Details([f"Skill {at}"])) for at, content in enumerate(contents)]
    test = keep_items(make_test(school.teacher, "Choose"), "Choose", "", [item.pk for item in items])
    layout: dict[str, Any] = test.layout
    layout["sections"][0]["choose"] = 2
    test.layout = layout
    test.save()
    return services.open_sitting(services.plan(school.teacher, freeze(test), school_class, None))


def test_who_chooses_is_marked_out_of_what_they_had_to_choose(school: Staffroom, lark: SchoolClass) -> None:
    sitting = choosing(school, lark)
    sentences = ["aa.", "a.b", ".aa", "..."]
    for device, row in zip(devices(sitting), sentences, strict=True):
        device.join()
        for at, letter in enumerate(row):
            if letter != ".":
                device.answer(refs(sitting)[at], {"kind": "single_choice", "option": letter}, at + 1)
        device.post("hand-in")
    services.close_sitting(sitting)
    assert [(result.earned, result.of) for result in results_in(sitting)] == [(2, 2), (1, 2), (2, 2), (0, 2)]
    release(school, sitting)
    result = own(lark, "Ben").get(f"/api/v1/portal/sittings/{sitting.pk}/result").json()
    assert [question["verdict"] for question in result["questions"]] == ["right", "not chosen", "not right"]
    assert [skill["name"] for skill in result["skills"]] == ["Skill 0", "Skill 2"]
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()["body"]
    first, second, third = page["paper"]
    assert (first["figures"]["p"], second["figures"]["p"], third["figures"]["p"]) == (1, 1, 0.5)
    assert [len(entry["not_taken"]) for entry in (first, second, third)] == [2, 2, 2]
    assert page["test"]["max"] == 2
    assert "A question counts for those who took it." in page["opening"]
    table = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings/table").json()
    assert sum(row.count(None) for row in table["points"]) == 6
    assert all(student["caution"] is None for student in table["students"])
    for other in ("scale", "totals", "compared", "time"):
        assert school.client.get(f"/api/v1/sittings/{sitting.pk}/findings/{other}").status_code == 200, other
