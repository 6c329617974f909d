"""The probability of each explanation: against a slow reading of the same definition, as properties, and judged on
classes of a generator that shares nothing with the model (`bench/classes/unlike.py`). At length: `./verso bench
explanations`."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench.classes import Planted, unlike
from tests.core.tables import choices
from versomark.core.findings import ItemExplanations, explain
from versomark.core.findings.ability_weights import ability_bins, first_likelihood, leave_one_out
from versomark.core.findings.explaining import ROUNDS
from versomark.core.findings.explanations import Explanation, ExplanationPriors
from versomark.core.findings.ideas import shared_ideas, with_ideas
from versomark.core.findings.item_places import candidates, layout_of, prior_of
from versomark.core.findings.option_models import ABILITIES, STANDARD, Truth, option_models
from versomark.core.response_table import ItemColumn, OptionColumn, ResponseTable

EQUAL_RATES = ExplanationPriors(idea_rates=(1.0,), alike=1e12, trusted=1e12)
"""Without what is shared between the items of a test, so that one item can be worked out by hand."""
PLANTED = {
    Explanation.WRONG_KEY: Planted.WRONG_KEY,
    Explanation.TWO_RIGHT: Planted.TWO_RIGHT,
    Explanation.SHARED_IDEA: Planted.SHARED_IDEA,
    Explanation.GUESSING: Planted.GUESSING,
}


def known(explanations: ItemExplanations | None) -> ItemExplanations:
    assert explanations is not None
    return explanations


def slow_probabilities(table: ResponseTable, j: int, weights: np.ndarray) -> dict[tuple[Explanation, int], float]:
    """The same by one student, one model and one order of the options at a time, in double precision.

    weights: (N, G) of the abilities of the students by the other items.
    """
    layout = layout_of(table.items[j], table.choice[:, j])
    assert layout is not None
    size, prior = len(layout.options), prior_of(layout, EQUAL_RATES)
    evidence = {}
    for at, candidate in enumerate(candidates(size)):
        models = option_models(candidate.truth, size).astype(float)
        likelihoods = []
        for order in candidate.orders:
            for model in models:
                logs = 0.0
                for i in range(len(table.students)):
                    if table.choice[i, j] >= 0:
                        place = int(layout.placed(table.choice[i : i + 1, j])[0])
                        logs += np.log(float(weights[i] @ model[order[place]]))
                likelihoods.append(logs)
        top = max(likelihoods)
        evidence[candidate.kind, candidate.rival] = top + np.log(
            np.mean(np.exp(np.array(likelihoods) - top)) * prior[at]
        )
    top = max(evidence.values())
    whole = sum(np.exp(value - top) for value in evidence.values())
    return {key: float(np.exp(value - top) / whole) for key, value in evidence.items()}


def test_one_item_comes_out_as_by_hand(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("versomark.core.findings.explaining.ROUNDS", 1)
    assert ROUNDS > 1  # and what follows is the first of them
    rows = ["ABA", "BAC", "CCA", "AAA", "BBB", "AA-", "ACA", "CAB", "AAA"]
    table = choices(rows, "AAA", options="ABC")
    found = known(explain(table, (), EQUAL_RATES).items[1])
    by_hand = slow_probabilities(table, 1, leave_one_out(first_likelihood(table))[:, 1])
    assert found.fair == pytest.approx(by_hand[Explanation.FAIR, 0], rel=1e-3)
    assert found.guessing == pytest.approx(by_hand[Explanation.GUESSING, 0], rel=1e-3)
    for entry in found.shared_idea:
        assert entry.probability == pytest.approx(by_hand[Explanation.SHARED_IDEA, entry.option], rel=1e-3)
    for entry in found.wrong_key:
        assert entry.probability == pytest.approx(by_hand[Explanation.WRONG_KEY, entry.option], rel=1e-3)


@given(
    st.lists(st.text("ABC-", min_size=4, max_size=4), min_size=8, max_size=20), st.text("ABC", min_size=4, max_size=4)
)
def test_probabilities_add_up_for_any_answers(rows: list[str], keys: str) -> None:
    for item in explain(choices(rows, keys, options="ABC")).items:
        ranked = known(item).ranked()
        assert all(0 <= p <= 1 for _, _, p in ranked)
        assert sum(p for _, _, p in ranked) == pytest.approx(1)


def test_models_are_chances_and_the_abilities_are_weights() -> None:
    for truth in Truth:
        for options in (2, 3, 5, 8):
            np.testing.assert_allclose(option_models(truth, options).sum(axis=1), 1, atol=1e-5)
    assert STANDARD.sum() == pytest.approx(1)
    assert pytest.approx(1, abs=0.03) == STANDARD @ ABILITIES**2
    with pytest.raises(ValueError, match="options"):
        option_models(Truth.ONE_RIGHT, 1)
    bins = ability_bins(np.random.default_rng(1).normal(size=(103, 5, len(ABILITIES))), 20)
    assert set(np.bincount(bins)) <= {5, 6}


def test_a_second_class_adds_evidence_and_another_version_does_not() -> None:
    """Of each planted wrong key, the probability after one class of 24 and after two of the same test."""
    one, two = [], []
    for seed in range(12):
        rng = np.random.default_rng(seed)
        tables = [_with_wrong_key(rng) for _ in range(2)]
        one.append(_of_wrong_key(explain(tables[0])))
        two.append(_of_wrong_key(explain(tables[0], tables[1:])))
        reworded = ResponseTable(
            tables[1].students,
            tuple(ItemColumn(i.id, i.max, (*i.options, OptionColumn("E", 0.0))) for i in tables[1].items),
            tables[1].points,
            tables[1].choice,
            tables[1].answered,
        )
        assert _of_wrong_key(explain(tables[0], [reworded])) == pytest.approx(one[-1], abs=1e-6)
    assert np.mean(two) > np.mean(one) + 0.1


def _with_wrong_key(rng: np.random.Generator) -> ResponseTable:
    ability = rng.normal(size=(24, 1))
    right = ability + rng.logistic(size=(24, 12)) > rng.normal(-0.3, 0.7, 12)
    rows = np.where(right, "A", rng.choice(list("ABCD"), size=right.shape))
    return choices(["".join(row) for row in rows], "D" + "A" * 11)


def _of_wrong_key(explained: object) -> float:
    item = known(explained.items[0])  # type: ignore[attr-defined]
    return next(entry.probability for entry in item.wrong_key if entry.option == 0)


def test_what_is_said_is_true_as_often_as_it_says_on_classes_of_another_kind() -> None:
    """Brier's decomposition in one line: in the mean, the probability said and the share true agree."""
    said, true, first = [], [], []
    for seed in range(40):
        made = unlike.make_class(24, 20, np.random.default_rng([seed, 77]))
        claims = []
        for j, item in enumerate(explain(made.table).items):
            kind, option, p = next(entry for entry in known(item).ranked() if entry[0] is not Explanation.FAIR)
            right = PLANTED[kind] is made.planted[j] and option in (-1, made.option[j])
            said.append(p)
            true.append(right)
            claims.append((p, right))
        if max(claims)[0] >= 0.5:
            first.append(max(claims)[1])
    spoken = np.array(said) >= 0.5
    # Four standard errors of some eighty findings.
    assert np.mean(np.array(true)[spoken]) >= np.mean(np.array(said)[spoken]) - 4 * 0.05
    assert np.mean(true) == pytest.approx(np.mean(said), abs=0.04)
    assert np.mean(first) >= 0.65


def _noted(item: ItemColumn, idea: str) -> ItemColumn:
    """The item with an idea note on C."""
    options = (OptionColumn(o.label, o.points, idea_note=idea * (o.label == "C")) for o in item.options)
    return ItemColumn(item.id, item.max, tuple(options))


def ideas_planted(rng: np.random.Generator, signs: int) -> tuple[ResponseTable, np.ndarray]:
    """A class with an idea that is held or not, in so many of twelve questions, and who holds it."""
    base = _with_wrong_key(rng)
    holds = rng.random(24) < 0.45
    choice = base.choice.copy()
    items = list(base.items)
    for j in range(1, 1 + signs):
        choice[holds & (rng.random(24) < 0.85), j] = 2
        items[j] = _noted(items[j], "Used up.")
    keys = np.array([3] + [0] * 11)
    return ResponseTable(base.students, tuple(items), (choice == keys).astype(float), choice, base.answered), holds


def test_holders_of_an_idea_are_counted_and_named() -> None:
    covered, right, named = [], [], []
    for seed in range(25):
        table, holds = ideas_planted(np.random.default_rng([seed, 5]), signs=3)
        explained = explain(table)
        (idea,) = shared_ideas(explained)
        assert idea.probability > 0.5
        covered.append(idea.low <= holds.sum() <= idea.high)
        right += list(holds[idea.holding >= 0.5])
        named += list(idea.holding[holds] >= 0.5)
        for item in with_ideas(explained, [idea]):
            assert sum(p for _, _, p in known(item).ranked()) == pytest.approx(1)
    assert np.mean(covered) >= 0.72  # nine of ten, less four standard errors of 25 classes
    assert np.mean(right) >= 0.85
    assert np.mean(named) >= 0.85


def test_an_idea_that_nobody_follows_is_not_seen_and_a_sign_that_does_not_work_is_left_out() -> None:
    seen, works = [], []
    for seed in range(20):
        rng = np.random.default_rng([seed, 6])
        table, _ = ideas_planted(rng, signs=3)
        # At one more question the option has the note, and nobody is drawn to it more than before.
        items = list(table.items)
        items[5] = _noted(items[5], "used up")
        items[8] = _noted(items[8], "another")
        changed = ResponseTable(table.students, tuple(items), table.points, table.choice, table.answered)
        ideas = {idea.note.rstrip(".").casefold(): idea for idea in shared_ideas(explain(changed))}
        seen.append(ideas["another"].probability >= 0.5)
        works.append(next(sign for sign in ideas["used up"].signs if sign.item == 5).probability >= 0.5)
    assert np.mean(seen) <= 0.1
    assert np.mean(works) <= 0.15
