"""Comparing in pairs at the API: what judges see, two at once, a lost connection, a scale and the marks made of it."""

from typing import Any

import numpy as np
import pytest
from django.test import Client

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import RUBRIC
from tests.school.test_piles import ask, colleague, signed_in
from versomark.core.items.by_rubric import Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.classes.services import share_class
from versomark.school.comparison.models import Comparison, Judgement, PairInHand
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.grading.models import Mark, MarkState
from versomark.school.grading.queries import marks_of

ONE = Rubric(criteria=[Criterion(id="whole", name="The whole", max=10)])


def sat_with(school: Staffroom, rubric: Rubric, students: int = 10) -> Sitting:
    sitting = school.open_sitting(contents=[Written(stem="Explain.", marks=10, rubric=rubric)], students=students)
    for at, device in enumerate(devices(sitting)):
        device.join()
        device.answer(refs(sitting)[0], {"kind": "written", "text": f"Worth {at}."}, 1)
        device.post("hand-in")
    return services.close_sitting(sitting)


def begun(school: Staffroom, sitting: Sitting, judges: list[int], criterion: str = "whole", **more: Any) -> int:
    body = {"sittings": [sitting.pk], "item": refs(sitting)[0], "criterion": criterion, "question": "Which?"}
    body |= {"judges": judges, **more}
    return int(ask(school.client, "comparisons", body)["id"])


def worth(piece: dict[str, Any]) -> int:
    return int(piece["text"].split()[1].rstrip("."))


def say(client: Client, comparison: int, pair: dict[str, Any], wrong: bool = False) -> Any:
    one, other = pair["left"], pair["right"]
    better, worse = (one, other) if (worth(one) > worth(other)) != wrong else (other, one)
    return ask(client, f"comparisons/{comparison}/pair", {"better": better["number"], "worse": worse["number"]}, "put")


def test_two_judges_make_a_scale_and_it_becomes_marks(school: Staffroom) -> None:
    sitting = sat_with(school, ONE)
    kavi = colleague(school, "கவிதா")
    comparison = begun(school, sitting, [school.teacher.pk, kavi.pk], each=8)
    clients = [school.client, signed_in(kavi)]
    pairs = [ask(client, f"comparisons/{comparison}/pair", {}) for client in clients]
    numbers = [{pair["left"]["number"], pair["right"]["number"]} for pair in pairs]
    assert not numbers[0] & numbers[1]  # two at once have other work before them
    names = [seat.student.family_name.encode() for seat in sitting.seats.select_related("student")]
    shown = clients[1].post(f"/api/v1/comparisons/{comparison}/pair", content_type="application/json").content
    assert ask(clients[1], f"comparisons/{comparison}/pair", {})["left"] == pairs[1]["left"]  # the same after a reload
    assert not any(name in shown for name in names)
    # What lies before somebody else, and the scale, are not for a judge.
    other = next(iter(numbers[0]))
    assert clients[1].get(f"/api/v1/comparisons/{comparison}/pieces/{other}").status_code == 404
    assert clients[1].get(f"/api/v1/comparisons/{comparison}").status_code == 403
    while pairs[0]["left"] or pairs[1]["left"]:
        for at, client in enumerate(clients):
            pair = ask(client, f"comparisons/{comparison}/pair", {})
            pairs[at] = say(client, comparison, pair) if pair["left"] else pair
    page = ask(school.client, f"comparisons/{comparison}")
    assert page["done"] >= page["wanted"] == 40
    assert page["pieces"][0]["name"] == ""  # whoever judges knows no names
    numbered = [piece["number"] for piece in page["pieces"]]
    truth = {number: worth(ask(school.client, f"comparisons/{comparison}/pieces/{number}")) for number in numbered}
    order = [truth[piece["number"]] for piece in page["pieces"]]
    assert np.corrcoef(order, range(10))[0, 1] < -0.9
    assert page["separation"] > 0.6
    assert page["pieces"][0]["mark"] is None
    assert "two answers" in page["why_no_marks"]
    refused = school.client.post(f"/api/v1/comparisons/{comparison}/marks", {}, content_type="application/json")
    assert refused.status_code == 409
    best, worst = page["pieces"][0]["number"], page["pieces"][-1]["number"]
    anchors = f"comparisons/{comparison}/pieces"
    ask(school.client, f"{anchors}/{best}/anchor", {"points": 9}, "put")
    page = ask(school.client, f"{anchors}/{worst}/anchor", {"points": 1}, "put")
    marks = [piece["mark"] for piece in page["pieces"]]
    assert marks[0] == 9
    assert marks[-1] == 1
    assert marks == sorted(marks, reverse=True)
    assert all(mark * 2 == int(mark * 2) for mark in marks)
    turned = ask(school.client, f"{anchors}/{worst}/anchor", {"points": 10}, "put")
    assert "do not follow" in turned["why_no_marks"]
    ask(school.client, f"{anchors}/{worst}/anchor", {"points": 1}, "put")
    assert ask(school.client, f"comparisons/{comparison}/marks", {})["given"] == 10
    assert marks_of(sitting) == {}  # asked for first, and nothing is given
    ask(school.client, f"comparisons/{comparison}/marks", {"really": True})
    given = {worth_of(sitting, seat): points for seat, items in marks_of(sitting).items() for points in items.values()}
    assert given == {truth[piece["number"]]: piece["mark"] for piece in page["pieces"]}
    # Once more changes nothing: what has a mark keeps it.
    again = ask(school.client, f"comparisons/{comparison}/marks", {"really": True})
    assert again == {"given": 0, "stay": 10, "drafts": False}


def worth_of(sitting: Sitting, seat: str) -> int:
    return list(sitting.seats.order_by("desk").values_list("pk", flat=True)).index(int(seat))


def test_a_judgement_is_taken_back_sent_twice_counts_once_and_a_stale_one_is_refused(school: Staffroom) -> None:
    sitting = sat_with(school, ONE, 4)
    comparison = begun(school, sitting, [school.teacher.pk])
    pair = ask(school.client, f"comparisons/{comparison}/pair", {})
    body = {"better": pair["left"]["number"], "worse": pair["right"]["number"]}
    address = f"/api/v1/comparisons/{comparison}/pair"
    key = {"Idempotency-Key": "6f1c3c0e-0f4e-4d0c-9b1a-1f2d3c4b5a69"}
    answers = [school.client.put(address, body, content_type="application/json", headers=key) for _ in range(2)]
    assert [answer.status_code for answer in answers] == [200, 200]
    assert Judgement.objects.count() == 1
    stale = school.client.put(address, body, content_type="application/json")
    assert stale.status_code == 409
    back = ask(school.client, f"comparisons/{comparison}/pair", {}, "delete")
    assert {back["left"]["number"], back["right"]["number"]} == set(body.values())
    assert back["mine"] == 0
    assert Judgement.objects.get().taken_back_at is not None
    ask(school.client, f"comparisons/{comparison}", {}, "delete")
    assert PairInHand.objects.count() == 0
    assert ask(school.client, f"comparisons/{comparison}/pair", {})["ended"]


def test_nobody_judges_their_own_class_where_that_is_asked_and_other_criteria_stay_to_be_marked(
    school: Staffroom,
) -> None:
    sitting = sat_with(school, RUBRIC, 4)
    ben = colleague(school, "Ben")
    comparison = begun(school, sitting, [school.teacher.pk, ben.pk], "idea", not_own=True, each=4)
    assert ask(school.client, f"comparisons/{comparison}/pair", {})["left"] is None
    pair = ask(signed_in(ben), f"comparisons/{comparison}/pair", {})
    while pair["left"]:
        pair = say(signed_in(ben), comparison, pair)
    pieces = ask(school.client, f"comparisons/{comparison}")["pieces"]
    for number, points in ((pieces[0]["number"], 3), (pieces[-1]["number"], 0)):
        ask(school.client, f"comparisons/{comparison}/pieces/{number}/anchor", {"points": points}, "put")
    assert ask(school.client, f"comparisons/{comparison}/marks", {"really": True})["drafts"]
    assert set(Mark.objects.values_list("state", flat=True)) == {MarkState.DRAFT}
    assert {tuple(points) for points in Mark.objects.values_list("points", flat=True)} == {("idea",)}
    assert marks_of(sitting) == {}  # begun, and nothing counts before all of it is marked
    # A right to the class comes back into view: then Ben judges none of it.
    share_class(sitting.school_class, ben.pk, may_mark=True, may_run=False)
    Comparison.objects.update(each=40)
    assert ask(signed_in(ben), f"comparisons/{comparison}/pair", {})["left"] is None


@pytest.mark.parametrize("change", [{"judges": []}, {"criterion": "none"}, {"sittings": []}, {"question": ""}])
def test_what_cannot_be_compared_is_refused_in_words(school: Staffroom, change: dict[str, Any]) -> None:
    sitting = sat_with(school, ONE, 3)
    body = {"sittings": [sitting.pk], "item": refs(sitting)[0], "criterion": "whole", "question": "Which?"}
    body |= {"judges": [school.teacher.pk]}
    refused = school.client.post("/api/v1/comparisons", {**body, **change}, content_type="application/json")
    assert refused.status_code == 422
    assert Comparison.objects.count() == 0
