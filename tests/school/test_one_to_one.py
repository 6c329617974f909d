"""One to one: what is said at a card is a mark like any other; pick up where one stopped; tries; whom to call."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import Staffroom
from tests.school.test_teacher_side import send
from versomark.core.editions import ExternalAssessment, ExternalGroup
from versomark.core.giving.calling import AtTheCards, calling_order
from versomark.school.classes.services import add_students, make_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.external import keep_described, make_described
from versomark.school.editions.services import freeze

CARDS = ["ta ta", "ta ti-ti", "rest ta"]


def cards_for(school: Staffroom, marks: float = 1) -> Sitting:
    groups = [
        ExternalGroup(ref=f"{at:x}", label=f"Card {at}", marks=marks, skills=["Rhythm"], about=about)
        for at, about in enumerate(CARDS, start=1)
    ]
    school_class = make_class(school.teacher, "Club")
    add_students(school_class, ["Ada Ash", "Ben Birch", "Cem Cedar"])
    test = keep_described(make_described(school.teacher, "Cards"), "Cards", ExternalAssessment(groups=groups))
    return services.plan(school.teacher, freeze(test), school_class, None)


def page(school: Staffroom, sitting_id: int) -> Any:
    return school.client.get(f"/api/v1/sittings/{sitting_id}/one-to-one").json()


def tell(school: Staffroom, sitting_id: int, seat: int, card: int, known: bool | None, note: str | None = None) -> Any:
    item = page(school, sitting_id)["cards"][card]["ref"]
    path = f"sittings/{sitting_id}/one-to-one/{seat}"
    return send(school.client, "put", path, {"item": item, "known": known, "note": note})


def called(found: Any) -> list[str]:
    names = {student["seat"]: student["name"].split()[0] for student in found["students"]}
    return [names[seat] for seat in found["calling"]]


@pytest.mark.django_db
def test_a_card_said_is_a_mark_and_another_try_remembers(school: Staffroom) -> None:
    sitting = cards_for(school)
    start = page(school, sitting.pk)
    assert start["opening"] == "Nobody has been asked yet."
    assert [card["text"] for card in start["cards"]] == CARDS
    ada, ben, _ = (student["seat"] for student in start["students"])
    for card, known in enumerate((True, True, False)):
        assert tell(school, sitting.pk, ada, card, known).status_code == 200
    body = tell(school, sitting.pk, ben, 0, False, "Claps the rest.").json()
    assert called(body) == ["Ben", "Cem"]  # Ada is through, Ben was stopped after one
    assert (body["cards"][0]["known"], body["cards"][0]["asked"]) == (1, 2)
    assert body["cards"][0]["needs"] == [ben]
    assert list(body["students"][1]["notes"].values()) == ["Claps the rest."]
    assert "Fewest know “rest ta”: 0 of 1 asked." in body["opening"]
    # Taken back, it was not asked; the note stays until it is emptied.
    body = tell(school, sitting.pk, ben, 0, None).json()
    assert (body["students"][1]["asked"], len(body["students"][1]["notes"])) == (0, 1)
    assert tell(school, sitting.pk, ben, 0, None, "").json()["students"][1]["notes"] == {}
    # It is what the grid of marks has, and what results and records will have.
    grid = school.client.get(f"/api/v1/sittings/{sitting.pk}/marks").json()
    assert [row["total"] for row in grid["rows"]] == [2, 0, 0]

    assert send(school.client, "post", f"sittings/{sitting.pk}/steps/close").status_code == 200
    assert tell(school, sitting.pk, ben, 0, True).status_code == 409
    other = send(school.client, "post", f"sittings/{sitting.pk}/one-to-one/again").json()["sitting"]
    again = page(school, other)
    assert [one["sitting"] for one in again["tries"]] == [sitting.pk, other]
    assert again["students"][0]["earlier"] == {
        card["ref"]: known for card, known in zip(again["cards"], (1, 1, 0), strict=True)
    }
    assert again["students"][0]["before"] == 2
    assert called(again)[0] == "Ada"  # of whom it is known how many she knows
    assert send(school.client, "post", f"sittings/{other}/one-to-one/again").status_code == 409


@pytest.mark.django_db
def test_lines_of_several_marks_and_strangers_are_refused(school: Staffroom) -> None:
    sitting = cards_for(school, marks=3)
    reply = school.client.get(f"/api/v1/sittings/{sitting.pk}/one-to-one")
    assert (reply.status_code, "one mark each" in reply.json()["detail"]) == (409, True)
    questions = school.sitting()
    assert school.client.get(f"/api/v1/sittings/{questions.pk}/one-to-one").status_code == 409


students = st.lists(
    st.builds(AtTheCards, st.integers(0, 5), st.integers(0, 5), st.none() | st.integers(0, 5)), max_size=12
)


@given(students)
def test_whom_to_call(who: list[AtTheCards]) -> None:
    order = calling_order(who, 5)
    assert sorted(order) == [at for at, one in enumerate(who) if one.asked < 5]
    begun = [at for at in order if who[at].asked]
    assert order[: len(begun)] == begun
    assert [who[at].asked for at in begun] == sorted((who[at].asked for at in begun), reverse=True)
    rest = [5 if (before := who[at].before) is None else before for at in order[len(begun) :]]
    assert rest == sorted(rest)
