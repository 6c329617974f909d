"""Keys settled after the fact. Reference: a test that had had the other key from the beginning."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import RUBRIC, findings, put
from versomark.core.editions import Edition, freeze, one_section
from versomark.core.editions.freezing import BankItem
from versomark.core.findings import analyse
from versomark.core.items import Option, SingleChoice, TrueFalse
from versomark.core.items.by_rubric import Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.core.items.single_choice import SingleChoiceResponse
from versomark.core.items.true_false import TrueFalseResponse
from versomark.core.scoring import KeyOverride, ScoringOverrides, band_of, score
from versomark.school.classes.services import share_class
from versomark.school.delivery import services
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import Sitting
from versomark.school.findings.report import FindingsReport
from versomark.school.findings.services import findings_of

LETTERS = "abcd"


def paper(key: str, truth: bool) -> Edition:
    options = [Option(id=name, text=name) for name in LETTERS]
    contents = [
        SingleChoice(stem="One?", options=options, key=key, marks=2),
        TrueFalse(stem="So?", key=truth),
        SingleChoice(stem="Two?", options=options, key="a"),
    ]
    bank = {f"{at:x}": BankItem(f"{at:x}", content) for at, content in enumerate(contents)}
    return freeze("T", "", one_section(list(bank)), bank, lambda rule: [], seed=1)


CLASS = st.lists(
    st.tuples(st.sampled_from([*LETTERS, None]), st.sampled_from([True, False, None]), st.sampled_from(LETTERS)),
    min_size=3,
    max_size=24,
)


@given(CLASS, st.sampled_from(LETTERS), st.booleans())
def test_settled_is_as_if_the_key_had_been_so_from_the_beginning(
    class_: list[tuple[str | None, bool | None, str]], key: str, truth: bool
) -> None:
    responses: dict[str, Any] = {
        str(at): {
            **({"0": SingleChoiceResponse(option=one)} if one else {}),
            **({"1": TrueFalseResponse(value=so)} if so is not None else {}),
            "2": SingleChoiceResponse(option=two),
        }
        for at, (one, so, two) in enumerate(class_)
    }
    wrong, right = paper("b", True), paper(key, truth)
    settled = {"0": KeyOverride(frozenset({key})), "1": KeyOverride(frozenset({"true" if truth else "false"}))}
    ours, theirs = score(wrong, responses, judged=ScoringOverrides(settled=settled)), score(right, responses)
    assert ours.points.tolist() == theirs.points.tolist()
    assert [item.options for item in ours.items] == [item.options for item in theirs.items]
    assert analyse(ours)[0].test == analyse(theirs)[0].test

    # Two right answers earn what each earns alone; all of them, the marks for whoever chose; everybody, for all.
    both = score(wrong, responses, judged=ScoringOverrides(settled={"0": KeyOverride(frozenset({"b", key}))}))
    alone = [score(paper(entry, True), responses).points[:, 0] for entry in ("b", key)]
    assert both.points[:, 0].tolist() == [max(pair) for pair in zip(*alone, strict=True)]
    any_ = score(wrong, responses, judged=ScoringOverrides(settled={"0": KeyOverride(frozenset(LETTERS))}))
    assert any_.points[:, 0].tolist() == [2 if one else 0 for one, _, _ in class_]
    free = score(wrong, responses, judged=ScoringOverrides(settled={"0": KeyOverride(everybody=True)}))
    assert free.points[:, 0].tolist() == [2] * len(class_)
    without = score(wrong, responses, judged=ScoringOverrides(waived=frozenset({"0"})))
    assert without.points.tolist() == score(wrong, responses, leave_out={"0"}).points.tolist()


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    sitting = school.open_sitting(students=4)
    one, two = refs(sitting)
    for device, option in zip(devices(sitting), "ccbd", strict=True):
        device.join()
        device.answer(one, {"kind": "single_choice", "option": option}, 1)
        device.answer(two, {"kind": "true_false", "value": option != "d"}, 2)
        device.post("hand-in")
    return services.close_sitting(sitting)


def body_of(sitting: Sitting) -> FindingsReport:
    kept = findings_of(sitting)
    assert kept is not None
    return FindingsReport.model_validate(kept.body)


@pytest.mark.django_db
def test_the_effect_comes_first_the_reason_with_it_and_it_can_be_taken_back(
    school: Staffroom, sat: Sitting, staffroom: Any
) -> None:
    one, _ = refs(sat)
    path = f"/api/v1/sittings/{sat.pk}/settling/{one}"

    def post(to: str, body: dict[str, Any], client: Any = school.client) -> Any:
        return client.post(to, body, content_type="application/json")

    before = body_of(sat)
    effect = post(f"{path}/effect", {"accepted": ["c"]}).json()
    assert [(line["desk"], line["before"], line["after"]) for line in effect["moved"]] == [
        (1, 1, 2), (2, 1, 2), (3, 2, 1),
    ]  # fmt: skip
    assert (effect["mean_before"], effect["mean_after"]) == (1, 1.25)
    assert body_of(sat) == before  # looking changes nothing

    assert "reason" in post(path, {"accepted": ["c"], "reason": "  "}).json()["detail"]
    assert "Say which answer" in post(path, {"accepted": [], "reason": "so"}).json()["detail"]
    assert post(path, {"accepted": ["zz"], "reason": "so"}).status_code == 404
    assert post(f"/api/v1/sittings/{sat.pk}/settling/0f", {"everybody": True, "reason": "so"}).status_code == 404
    colleague = staffroom("varga")
    colleague.teacher.school = school.teacher.school
    colleague.teacher.save()
    share_class(sat.school_class, colleague.teacher.pk, may_mark=False, may_run=True)
    assert post(path, {"accepted": ["c"], "reason": "so"}, colleague.client).status_code == 403
    assert body_of(sat) == before

    assert post(path, {"accepted": ["b", "c"], "reason": "Both hold,  read closely."}).status_code == 200
    after = body_of(sat)
    assert after.totals == {seat.pk: {"1": 2, "2": 2, "3": 2, "4": 0}[str(seat.desk)] for seat in sat.seats.all()}
    assert [option.option for option in after.paper[0].options if option.key] == ["B", "C"]
    page = school.client.get(path).json()
    assert (page["by_key"], page["reason"], page["by"]) == (False, "Both hold, read closely.", "Brandt")
    # Settled anew, the last one holds; left out, it is out of the total; taken back, all is as it was.
    post(path, {"everybody": True, "reason": "Nobody could know."})
    assert body_of(sat).paper[0].figures.p == 1  # type: ignore[union-attr]
    post(path, {"left_out": True, "reason": "It was not taught."})
    assert (body_of(sat).test.max, body_of(sat).paper[0].waived) == (1, True)
    page = school.client.get(path).json()
    assert (page["left_out"], page["by_key"], page["reason"]) == (True, False, "It was not taught.")
    assert school.client.delete(path).status_code == 200
    assert body_of(sat) == before
    sentences = [event_words(event) for event in sat.events.order_by("pk")]
    assert "question 1: B and C are right: Both hold, read closely." in sentences
    assert sentences[-1] == "question 1: the key holds again"


CRITERION = st.tuples(st.integers(1, 8).map(float), st.integers(0, 8).map(float), st.floats(0, 1))
CRITERIA = st.lists(CRITERION, min_size=1, max_size=5)


@given(CRITERIA, st.integers(1, 40).map(lambda half: half / 2))
def test_weights_of_criteria(drawn: list[tuple[float, float, float]], to: float) -> None:
    """Weights as the maxima change nothing; equal ones give the mean of the shares (NumPy); what has no weight does not
    matter; full points are full marks exactly."""
    criteria = [Criterion(id=f"c{at}", name=f"C{at}", max=most) for at, (most, _, _) in enumerate(drawn)]
    rubric = Rubric(criteria=criteria)
    points = {
        criterion.id: round(share * criterion.max * 2) / 2
        for criterion, (_, _, share) in zip(criteria, drawn, strict=True)
    }
    weights = {criterion.id: weight for criterion, (_, weight, _) in zip(criteria, drawn, strict=True)}
    shares = np.array([points[criterion.id] / criterion.max for criterion in criteria])
    assert rubric.scaled(points, to, {criterion.id: criterion.max for criterion in criteria}) == rubric.scaled(
        points, to
    )
    assert rubric.scaled(points, to, {criterion.id: 3 for criterion in criteria}) == pytest.approx(to * shares.mean())
    if not any(weights.values()):
        with pytest.raises(ValueError, match="needs a weight"):
            rubric.scaled(points, to, weights)
        return
    result = rubric.scaled(points, to, weights)
    assert result == pytest.approx(to * np.average(shares, weights=list(weights.values())))
    assert rubric.scaled({criterion.id: criterion.max for criterion in criteria}, to, weights) == to
    for criterion in criteria:
        if weights[criterion.id] == 0:
            assert rubric.scaled(points | {criterion.id: 0}, to, weights) == result


@pytest.mark.parametrize(
    ("points", "band"), [(8, "secure"), (7.9, "nearly"), (5, "nearly"), (4.9, "not yet"), (0, "not yet")]
)
def test_bands(points: float, band: str) -> None:
    """80 and 50 percent, each in the band above."""
    assert band_of(points, 10) == band
    assert band_of(points, 0) is None


@pytest.mark.django_db
def test_weights_are_settled_with_their_effect_first(school: Staffroom) -> None:
    """By hand: 2 of 3 and 0 of 1 are half of 8 marks; with equal weights a third of them, below the lower cut."""
    sitting = school.open_sitting(contents=[Written(stem="Explain.", marks=8, rubric=RUBRIC)], students=2)
    explain = refs(sitting)[0]
    for device in devices(sitting):
        device.join()
        device.answer(explain, {"kind": "written", "text": "So."}, 1)
        device.post("hand-in")
    services.close_sitting(sitting)
    path = f"/api/v1/sittings/{sitting.pk}/settling/{explain}"

    def post(where: str, body: dict[str, Any]) -> Any:
        return school.client.post(where, body, content_type="application/json").json()

    even = {"weights": {"idea": 1, "words": 1}}
    put(school.client, sitting, f"{explain}/1", {"points": {"idea": 2, "words": 0}})
    assert "has its mark yet" in post(f"{path}/effect", even)["detail"]
    put(school.client, sitting, f"{explain}/2", {"points": {"idea": 3, "words": 1}})
    effect = post(f"{path}/effect", even)
    assert [
        (entry["name"], entry["before"], entry["band_before"], entry["band_after"]) for entry in effect["moved"]
    ] == [("Student1 F.", 4, "nearly", "not yet")]
    assert effect["moved"][0]["after"] == pytest.approx(8 / 3)
    assert "weight" in post(f"{path}/effect", {"weights": {"idea": 0, "words": 0}})["detail"]
    assert "criterion" in post(f"{path}/effect", {"weights": {"idea": 1}})["detail"]

    post(path, even | {"reason": "Words are half of it."})
    totals = {seat.desk: body.totals[seat.pk] for body in [findings(sitting)] for seat in sitting.seats.all()}
    assert totals == {1: pytest.approx(8 / 3), 2: 8}
    now = school.client.get(path).json()
    assert [criterion["weight"] for criterion in now["criteria"]] == [1, 1]
    assert now["reason"] == "Words are half of it."
    school.client.delete(path)
    assert findings(sitting).totals[sitting.seats.get(desk=1).pk] == 4
    assert "weights Idea 1, Words 1" in " ".join(map(event_words, sitting.events.all()))
