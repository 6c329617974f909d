"""Same answers together: what is equal after cleaning, one judgement for all of it, and back into the key."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from rapidfuzz.distance import OSA

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import findings, put
from versomark.core.editions import Edition, EditionItem, Section
from versomark.core.items import ItemContent
from versomark.core.items.gaps import Gap, Gaps, GapsResponse
from versomark.core.items.numeric import Numeric, NumericResponse
from versomark.core.items.short_text import ShortText, ShortTextResponse
from versomark.core.items.wording import Wording, WrongWords
from versomark.core.scoring import ScoringOverrides, same_answers, score
from versomark.school.bank.models import Item
from versomark.school.delivery import services
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import Sitting

WORD = ShortText(
    stem="What is it?", marks=2, wording=Wording(accepted=["resistance"], wrong=[WrongWords(text="power")])
)
VALUE = Numeric(stem="How much?", marks=2, value=0.2, unit="A", unit_rule="accepted")
GAPS = Gaps(
    text="[a] and [b]",
    marks=2,
    gaps=[Gap(name="a", wording=Wording(accepted=["one"])), Gap(name="b", wording=Wording(accepted=["two"]))],
)
TYPED = st.sampled_from(["resistance", "Resistance ", "resistence", "the resistance", "power", "Power.", "ohm", "volt"])


@given(st.lists(TYPED, min_size=1, max_size=20))
def test_every_answer_is_in_one_group_and_groups_hold_what_is_near(typed: list[str]) -> None:
    groups = same_answers(WORD, {str(at): ShortTextResponse(text=text) for at, text in enumerate(typed)}, {})
    assert sorted(name for group in groups for answer in group.answers for name in answer.names) == sorted(
        map(str, range(len(typed)))
    )
    for group in groups:
        first = group.answers[0]
        assert {answer.share for answer in group.answers} == {first.share}
        assert all(len(answer.names) <= len(first.names) for answer in group.answers)
        # Reference: the distance by its library, over the shorter of two words.
        for answer in group.answers[1:]:
            shorter = min(len(first.compared), len(answer.compared))
            assert OSA.distance(first.compared, answer.compared) <= min(2, shorter // 4)


def test_what_counts_as_equal() -> None:
    """By hand: 0,2 A, .2 and 200 mA are one value; a bare one and one with its unit are told apart."""
    typed = ["0.2 A", "0,2A", "200 mA", "0.2", ".20", "0.8 A", "loads"]
    groups = same_answers(VALUE, {str(at): NumericResponse(text=text) for at, text in enumerate(typed)}, {})
    assert [(group.answers[0].typed, group.answers[0].share) for group in groups] == [
        (("0.8 A",), 0),
        (("loads",), 0),
        (("0.2 A", "0,2A", "200 mA"), 1),
        (("0.2", ".20"), 1),
    ]
    same = "More spaces than one, other quotation marks and dashes, a full stop at the end and capitals"
    assert WORD.compares() == f"{same} make no difference."
    gaps = same_answers(
        GAPS, {"1": GapsResponse(gaps={"a": "one", "b": "tow"}), "2": GapsResponse(gaps={"b": "Tow"})}, {}
    )
    assert [(group.part, group.answers[0].names) for group in gaps] == [("a", ("1",)), ("b", ("1", "2"))]


@given(
    st.lists(TYPED, min_size=2, max_size=12),
    st.sets(TYPED, max_size=3),
    st.sampled_from([0.0, 0.5, 1.0]),
)
def test_judging_an_answer_is_as_if_the_key_had_said_so(typed: list[str], judged: set[str], share: float) -> None:
    """Reference: full marks as an edition with the words accepted, none as one with them named wrong; half by hand."""
    responses = {str(at): {"a1": ShortTextResponse(text=text)} for at, text in enumerate(typed)}
    cleaned = {WORD.wording.cleaned(words) for words in judged}
    shares = {("", words): share for words in cleaned}

    def points(content: ItemContent, decided: ScoringOverrides) -> Any:
        edition = Edition(title="T", sections=[Section(items=[EditionItem(ref="a1", content=content)])])
        return score(edition, responses, judged=decided).points[:, 0]

    result = points(WORD, ScoringOverrides(shares={"a1": shares}))
    if share == 1:
        other = WORD.accepting("", sorted(judged))
        assert other is not None
        assert result.tolist() == points(other, ScoringOverrides()).tolist()
    else:
        by_key = points(WORD, ScoringOverrides())
        expected = [2 * share if WORD.wording.cleaned(text) in cleaned else by_key[at] for at, text in enumerate(typed)]
        assert np.allclose(result, expected)


@pytest.mark.parametrize(("credit", "marks"), [("each", 1.5), ("all", 0), ("right_minus_wrong", 1)])
def test_a_gap_that_is_half_right(credit: str, marks: float) -> None:
    """One gap right, the other judged half: 1.5 of 2 for each, nothing for all or nothing, 1.5 − 0.5 for the third."""
    content = GAPS.model_copy(update={"credit": credit})
    given_two = GapsResponse(gaps={"a": "one", "b": "tow"})
    assert content.with_shares(given_two, {("b", "tow"): 0.5})[0] == marks
    points, picks = content.with_shares(given_two, {("b", "tow"): 1.0, ("a", "one"): 0.0})
    assert (points, picks) == (content.score(GapsResponse(gaps={"a": "x", "b": "two"})), ("a:other", "b:right"))


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    sitting = school.open_sitting(contents=[WORD, VALUE, GAPS], students=5)
    word, value, _ = refs(sitting)
    sentences = ["resistance", "the resistance", "The Resistance.", "resistence", "power"]
    for at, device in enumerate(devices(sitting)):
        device.join()
        device.answer(word, {"kind": "short_text", "text": sentences[at]}, 1)
        device.answer(value, {"kind": "numeric", "text": "0.2" if at else "0.8"}, 2)
        device.post("hand-in")
    return services.close_sitting(sitting)


@pytest.mark.django_db
def test_from_the_pile_to_the_key(school: Staffroom, sat: Sitting) -> None:
    word = refs(sat)[0]
    path = f"/api/v1/sittings/{sat.pk}/marking/{word}/same"
    page = school.client.get(path).json()
    assert page["key"] == "resistance"
    assert [[(answer["compared"], answer["numbers"]) for answer in group["answers"]] for group in page["groups"]] == [
        [("the resistance", [2, 3])],
        [("power", [5])],
        [("resistence", [4])],
        [("resistance", [1])],
    ]
    before = findings(sat)
    assert before.paper[0].options[0].seats == [sat.seats.get(desk=1).pk]

    right = {"answers": [{"part": "", "compared": "the resistance"}], "share": 1}
    page = put(school.client, sat, f"{word}/same", right).json()
    assert page["for_the_key"] == 1
    put(school.client, sat, f"{word}/same", {"answers": [{"part": "", "compared": "resistence"}], "share": 0.5})
    after = findings(sat)
    seats = {seat.desk: seat.pk for seat in sat.seats.all()}
    assert [after.totals[seats[desk]] - before.totals[seats[desk]] for desk in range(1, 6)] == [0, 2, 2, 1, 0]
    assert after.paper[0].options[0].seats == [seats[desk] for desk in (1, 2, 3)]
    says = [event_words(event) for event in sat.events.all()]
    assert any("“the resistance” (2): 2 of 2" in say for say in says)

    # Into the key of the bank, once; the sitting's own edition stays as it was frozen.
    added = school.client.post(f"{path}/to-key", content_type="application/json").json()
    assert added == {"added": ["the resistance"]}
    assert Item.objects.get(pk=word).content["wording"]["accepted"] == ["resistance", "the resistance"]
    assert Item.objects.get(pk=word).versions.exists()
    assert findings(sat).totals == after.totals
    refused = school.client.post(f"{path}/to-key", content_type="application/json")
    assert refused.status_code == 200  # this edition's key still does not know it; adding it again changes nothing
    assert Item.objects.get(pk=word).content["wording"]["accepted"] == ["resistance", "the resistance"]

    # Back to the key of the edition.
    put(school.client, sat, f"{word}/same", {**right, "share": None})
    assert findings(sat).totals[seats[2]] == before.totals[seats[2]]
    wrong = put(
        school.client, sat, f"{word}/same", {"answers": [{"part": "", "compared": "nobody said it"}], "share": 1}
    )
    assert wrong.status_code == 404
    assert school.client.get(f"/api/v1/sittings/{sat.pk}/marking/nothing/same").status_code == 404


@pytest.mark.django_db
def test_nothing_names_a_student_while_names_are_hidden(school: Staffroom, sat: Sitting) -> None:
    put(school.client, sat, "names", {"hidden": True})
    sent = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/{refs(sat)[0]}/same").content.decode()
    assert "Family" not in sent
    assert "Student" not in sent
