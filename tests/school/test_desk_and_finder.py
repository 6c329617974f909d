"""The desk says what is open, what waits and what is new; the finder finds by any words."""

import pytest

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import RUBRIC
from versomark.core.items.by_rubric import Written
from versomark.school.classes.services import add_students, leave_class, places_of
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.delivery.queries import sitting_of
from versomark.school.editions.services import make_test

pytestmark = pytest.mark.django_db


def desk(school: Staffroom) -> dict[str, list[dict[str, object]]]:
    body: dict[str, list[dict[str, object]]] = school.client.get("/api/v1/desk").json()
    return body


def test_an_empty_desk_says_so(school: Staffroom) -> None:
    assert desk(school)["empty"] is True
    make_test(school.teacher, "Begun")
    page = desk(school)
    assert (page["empty"], [line["title"] for line in page["unfinished"]]) == (False, ["Begun"])


def test_a_sitting_moves_across_the_desk(school: Staffroom) -> None:
    sitting = school.sitting()
    assert [line["state"] for line in desk(school)["waiting"]] == ["ready"]
    services.open_sitting(sitting)
    device = devices(sitting)[0]
    device.join()
    page = desk(school)
    assert (page["waiting"], [(line["working"], line["expected"]) for line in page["open"]]) == ([], [(1, 2)])
    device.answer(refs(sitting)[0], {"kind": "single_choice", "option": "b"}, 1)
    services.close_sitting(sitting)
    page = desk(school)
    assert page["open"] == []
    assert [(line["seats"], line["handed_in"]) for line in page["absent"]] == [(3, 1)]
    assert [(line["students"], line["first"], line["flagged"]) for line in page["news"]] == [(1, None, 0)]


def test_what_is_to_be_marked_waits_on_the_desk_however_old_it_is(school: Staffroom) -> None:
    def sat(text: str) -> int:
        sitting = school.open_sitting(contents=[Written(stem="Explain.", marks=4, rubric=RUBRIC)], students=1)
        device = devices(sitting)[0]
        device.join()
        device.answer(refs(sitting)[0], {"kind": "written", "text": text}, 1)
        device.post("hand-in")
        return services.close_sitting(sitting).pk

    marked, waits, blank, *latest = [sat(text) for text in ("Because.", "Therefore.", "  ", *"abcd")]
    ref = refs(Sitting.objects.get(pk=marked))[0]
    (desk_number,) = Sitting.objects.get(pk=marked).seats.values_list("desk", flat=True)
    body = {"points": {"idea": 1, "words": 1}, "comment": ""}
    address = f"/api/v1/sittings/{marked}/marking/{ref}/{desk_number}"
    assert school.client.put(address, body, content_type="application/json").status_code == 200
    to_mark = {line["sitting"]["id"]: line["answers"] for line in desk(school)["to_mark"]}  # type: ignore[index]
    assert to_mark == dict.fromkeys([*latest, waits], 1)
    assert blank not in to_mark


def test_a_planned_sitting_follows_the_class_list_until_it_opens(school: Staffroom) -> None:
    sitting = school.sitting(students=0)
    add_students(sitting.school_class, ["Ada Bright", "Ben Okri"])
    waiting = desk(school)["waiting"][0]
    assert (waiting["state"], waiting["seats"], waiting["missing"]) == ("ready", 2, [])
    leave_class(places_of(sitting.school_class)[0])
    add_students(sitting.school_class, ["Cleo Martin"])
    assert devices(sitting)[1].join().json()["student"] == "Cleo M."
    services.open_sitting(sitting_of(school.teacher, sitting.pk))
    add_students(sitting.school_class, ["Too Late"])
    names = [seat["name"] for seat in school.client.get(f"/api/v1/sittings/{sitting.pk}").json()["list"]]
    assert names == ["Cleo M.", "Ben O."]  # who stands at the door comes first


def test_sooner_sittings_come_first_and_undated_ones_last(school: Staffroom) -> None:
    sittings = [school.sitting() for _ in range(3)]
    for sitting, day in zip(sittings[:2], ("2031-05-02", "2031-05-01"), strict=True):
        body = {"planned_for": f"{day}T09:40:00Z"}
        moved = school.client.put(f"/api/v1/sittings/{sitting.pk}", body, content_type="application/json")
        assert moved.status_code == 200
    assert [line["id"] for line in desk(school)["waiting"]] == [sittings[1].pk, sittings[0].pk, sittings[2].pk]


def test_the_finder_wants_every_word_in_any_order(school: Staffroom) -> None:
    sitting = school.sitting()

    def kinds(typed: str) -> list[str]:
        return [line["kind"] for line in school.client.get("/api/v1/find", {"typed": typed}).json()]

    assert kinds("student2 FAMILY") == ["student"]
    assert kinds("so is it") == ["question"]
    assert kinds("test a") == ["test", "sitting"]
    assert kinds(sitting.code) == ["sitting"]
    assert kinds("student2 nowhere") == []
    assert kinds("  ") == []
    for found in school.client.get("/api/v1/find", {"typed": "a"}).json():
        assert found["path"].startswith("/")
        assert found["title"]
