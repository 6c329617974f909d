"""Averages that say over what, a school's scale, a class in groups: against exact fractions and plain counting."""

from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.giving.grouping import divide
from versomark.core.scoring.averages import weighted_average
from versomark.core.scoring.school_scale import USUAL, BadScale, scale_of

marks = st.lists(st.tuples(st.integers(0, 4), st.integers(0, 100)), max_size=20)
weights = st.dictionaries(st.integers(0, 4), st.integers(0, 9), max_size=5)


@given(marks, weights)
def test_an_average_is_the_weighted_mean_of_the_categories_that_have_any(
    given_marks: list[tuple[int, int]], weighing: dict[int, int]
) -> None:
    result = weighted_average([(c, m / 100) for c, m in given_marks], dict(weighing))
    had = {c: [Fraction(m, 100) for k, m in given_marks if k == c] for c, _ in given_marks if weighing.get(c, 0)}
    if not had:
        assert (result.share, result.over) == (None, 0)
        return
    whole = sum(weighing[c] for c in had)
    exact = sum(weighing[c] * sum(own) / len(own) for c, own in had.items()) / whole
    assert result.share == pytest.approx(float(exact))
    assert result.over == sum(map(len, had.values()))
    assert result.weight == pytest.approx(whole / sum(weighing.values()))
    # Whatever the weights are, in one category it is the plain mean.
    if len(had) == 1:
        (own,) = had.values()
        assert result.share == pytest.approx(float(sum(own) / len(own)))


@given(st.floats(-0.2, 1.5))
def test_usual_scales_have_a_word_for_every_share(share: float) -> None:
    for scale in USUAL:
        word = scale.word(share)
        place = [step.word for step in scale.steps].index(word)
        assert share >= scale.steps[place].least - 1e-9 or place == len(scale.steps) - 1
        assert place == 0 or share < scale.steps[place - 1].least
    assert USUAL[0].word(0.9) == "A"
    assert [USUAL[-1].word(x) for x in (0.04, 0.05, 0.94, 0.95, 1)] == ["0", "1", "9", "10", "10"]


@pytest.mark.parametrize(
    "steps",
    [
        [],
        [(0, "F")],
        [(0.5, "A"), (0.2, "B")],
        [(0, "a"), (0.5, "A")],
        [(0, "F"), (0, "E")],
        [(0, " "), (0.5, "A")],
        [(0, "F"), (1.2, "A")],
    ],
)
def test_a_scale_with_a_hole_is_none(steps: list[tuple[float, str]]) -> None:
    with pytest.raises(BadScale):
        scale_of("x", steps)


@given(st.lists(st.integers(), min_size=1, max_size=40, unique=True), st.integers(1, 12))
def test_groups_hold_everybody_once_and_differ_by_one_at_most(ranked: list[int], count: int) -> None:
    if count > len(ranked):
        with pytest.raises(ValueError, match="cannot be divided"):
            divide(ranked, count, "alike")
        return
    for way in ("alike", "mixed"):
        groups = divide(ranked, count, way)  # type: ignore[arg-type]
        assert sorted(entry for group in groups for entry in group) == sorted(ranked)
        sizes = [len(group) for group in groups]
        assert max(sizes) - min(sizes) <= 1
        if way == "alike":
            assert [entry for group in groups for entry in group] == ranked
        else:
            # One of each turn goes to every group, so no group is ahead of another by a whole turn.
            place = {one: at for at, one in enumerate(ranked)}
            for group in groups:
                assert all(place[b] // count == place[a] // count + 1 for a, b in pairwise(group))
