"""Like answers at the desk: in order beside one another, the nearest with their marks, and never a mark of itself."""

import pytest
from django.test import Client

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import RUBRIC
from tests.school.test_piles import agreed_pile, ask, colleague, give, sat_by, signed_in
from versomark.core.items.by_rubric import Written
from versomark.core.scoring import Way
from versomark.school.accounts.models import Teacher
from versomark.school.classes.services import share_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.grading import answers_alike, piles
from versomark.school.grading.models import Mark
from versomark.school.grading.piles import MarkerPlan, PilePlan

USED_UP = "The first lamp uses the current up."
SAME = "The current is the same all round the loop."


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    """Twelve who say one of two things, each in words of their own, and one who wrote nothing."""
    sitting = school.open_sitting(contents=[Written(stem="Explain.", marks=4, rubric=RUBRIC)], students=13)
    for at, device in enumerate(devices(sitting)):
        device.join()
        if at < 12:
            text = f"{USED_UP if at % 3 else SAME} {'So I think.' if at % 2 else 'That is why it is.'}"
            device.answer(refs(sitting)[0], {"kind": "written", "text": text}, 1)
        device.post("hand-in")
    return services.close_sitting(sitting)


def mark(client: Client, sitting: Sitting, desk: int, idea: int, turn: str = "first") -> None:
    body = {"points": {"idea": idea, "words": 1}, "turn": turn, "comment": "Say where it goes." if idea == 0 else ""}
    address = f"sittings/{sitting.pk}/marking/{refs(sitting)[0]}/{desk}"
    ask(client, address, body, "put")


def like(client: Client, sitting: Sitting, desk: int, turn: str = "first") -> list[int]:
    address = f"sittings/{sitting.pk}/marking/{refs(sitting)[0]}/{desk}/like?turn={turn}"
    return [entry["number"] for entry in ask(client, address)["nearest"]]


def test_like_answers_follow_one_another_and_the_nearest_have_their_marks(school: Staffroom, sat: Sitting) -> None:
    desks = [seat.desk for seat in sat.seats.order_by("desk")]
    says = {desk: at % 3 > 0 for at, desk in enumerate(desks[:12])}
    order = ask(school.client, f"sittings/{sat.pk}/marking/{refs(sat)[0]}/order")
    assert set(order) == set(desks)
    assert order[-1] == desks[12]  # who wrote nothing is like nobody
    assert [says[desk] for desk in order[:12]] == [True] * 8 + [False] * 4
    assert like(school.client, sat, desks[1]) == []  # nothing is marked yet
    mark(school.client, sat, desks[2], 0)
    mark(school.client, sat, desks[0], 3)
    assert like(school.client, sat, desks[1]) == [desks[2]]
    assert desks[2] not in like(school.client, sat, desks[2])  # not beside itself
    assert like(school.client, sat, desks[12]) == []
    assert Mark.objects.count() == 2  # being looked at gives no mark
    for at, desk in enumerate(desks[:12]):
        mark(school.client, sat, desk, 0 if at % 3 else 3)
    address = f"sittings/{sat.pk}/marking/{refs(sat)[0]}/{desks[1]}/like"
    agree = ask(school.client, address)["agree"]
    assert agree["same"] == 1
    assert agree["by_chance"] < 0.6


def test_a_second_reader_sees_no_first_mark_and_a_marker_of_a_pile_no_agreed_one(
    school: Staffroom, sat: Sitting
) -> None:
    desks = [seat.desk for seat in sat.seats.order_by("desk")]
    mark(school.client, sat, desks[2], 0)
    ask(school.client, f"sittings/{sat.pk}/marking/second", {"which": "all", "tolerance": 1}, "put")
    ben = colleague(school, "Ben")
    share_class(sat.school_class, ben.pk, may_mark=True, may_run=False)
    assert like(signed_in(ben), sat, desks[1], "second") == []
    pile_sat = sat_by(school, 8)
    pile, ann = agreed_pile(school, pile_sat, 3)
    entries = ask(signed_in(ann), f"piles/{pile.pk}/desk", {})["entries"]
    seen = ask(
        signed_in(ann),
        f"sittings/{pile_sat.pk}/marking/{entries[0]['item']}/{entries[0]['entry']['number']}/like?turn=pile",
    )
    assert seen == {"nearest": [], "agree": None}
    give(signed_in(ann), entries[0], 2)
    own = entries[2]
    after = ask(signed_in(ann), f"sittings/{pile_sat.pk}/marking/{own['item']}/{own['entry']['number']}/like?turn=pile")
    assert [entry["number"] for entry in after["nearest"]] in ([], [entries[0]["entry"]["number"]])


def test_a_pile_hands_out_like_answers_together_where_its_head_wants_that(school: Staffroom, sat: Sitting) -> None:
    ann, ben = colleague(school, "Ann"), colleague(school, "Ben")
    plan = PilePlan(way=Way.NEXT, sittings=[sat.pk], markers=[MarkerPlan(ann.pk), MarkerPlan(ben.pk)])
    pile = piles.make_pile(school.teacher, plan._replace(like_together=True))
    says = {seat.pk: at % 3 > 0 for at, seat in enumerate(sat.seats.order_by("desk"))}

    def handed(by: Teacher) -> list[bool]:
        piles.take(piles.marker_in(by, pile.pk))
        marker = piles.marker_in(by, pile.pk)
        return [says[place[0]] for place, hold in piles.held_in(pile).items() if hold.marker_id == marker.pk]

    assert handed(ann) == [True] * 6  # one thing, said in other words
    assert sorted(handed(ben)) == [False] * 4 + [True] * 2
    assert ask(school.client, f"piles/{pile.pk}")["like_together"]


def test_a_school_may_bring_its_own_likeness(school: Staffroom, sat: Sitting, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("django.conf.settings.LIKENESS", "tests.school.test_like_answers.by_length")
    answers_alike._compared.cache_clear()
    desks = [seat.desk for seat in sat.seats.order_by("desk")]
    mark(school.client, sat, desks[0], 1)
    assert like(school.client, sat, desks[1]) == [desks[0]]  # one and the same direction: all are alike
    answers_alike._compared.cache_clear()


def by_length(texts: list[str]) -> list[list[float]]:
    return [[float(len(text))] for text in texts]
