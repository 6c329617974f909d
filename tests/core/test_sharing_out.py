"""A pile shared out fairly and for good, and how harsh a marker is measured to be beside agreed marks."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from versomark.core.scoring import Hands, Way, shared_out, with_checks
from versomark.core.stats import adjusted, closeness, shrunk

PLACES = [(seat, item) for item in "ab" for seat in range(1, 13)]
MARKERS = st.lists(
    st.builds(
        Hands,
        marker=st.integers(1, 9),
        share=st.sampled_from([0.5, 1, 2, 3]),
        items=st.frozensets(st.sampled_from("ab")),
        barred=st.frozensets(st.integers(1, 12), max_size=4),
    ),
    min_size=1,
    max_size=4,
    unique_by=lambda hands: hands.marker,
)


@given(MARKERS, st.sampled_from(Way), st.integers(0, 24))
def test_every_answer_goes_to_somebody_who_may_and_what_is_held_stays(
    markers: list[Hands], way: Way, first: int
) -> None:
    early = shared_out(PLACES[:first], markers, way, {})
    late = shared_out([place for place in PLACES[first:] if place not in early], markers, way, early)
    result = {**early, **late}
    by_id = {hands.marker: hands for hands in markers}
    assert all(by_id[marker].may(place) for place, marker in result.items())
    if way == Way.NEXT:
        assert not result
    else:
        assert set(result) == {place for place in PLACES if any(hands.may(place) for hands in markers)}
    if way == Way.STUDENT:
        for seat in range(1, 13):
            mine = {item: result[seat, item] for item in "ab" if (seat, item) in result}
            able = [hands for hands in markers if all(hands.may((seat, item)) for item in mine)]
            if len(mine) == 2 and mine["a"] in {hands.marker for hands in able}:
                assert len(set(mine.values())) == 1


@given(st.lists(st.sampled_from([1, 2, 3]), min_size=2, max_size=4))
def test_shares_come_out_as_they_were_wanted(shares: list[float]) -> None:
    markers = [Hands(marker, share) for marker, share in enumerate(shares)]
    places = [(seat, "a") for seat in range(120)]
    result = list(shared_out(places, markers, Way.QUESTION, {}).values())
    for hands in markers:
        assert abs(result.count(hands.marker) - 120 * hands.share / sum(shares)) <= 1


@given(st.integers(0, 60), st.integers(0, 9), st.integers(1, 12))
def test_checks_are_among_ones_own_and_stay_where_they_are_while_more_come(own: int, checks: int, every: int) -> None:
    mine, known = list(range(own)), [-1 - at for at in range(checks)]
    result = with_checks(mine, known, every)
    assert [entry for entry in result if entry >= 0] == mine
    assert [entry for entry in result if entry < 0] == known[: sum(entry < 0 for entry in result)]
    assert with_checks([*mine, own], known, every)[: len(result)] == result
    places = [at for at, entry in enumerate(result) if entry < 0]
    assert all(then - now == every + 1 for now, then in itertools.pairwise(places))


def test_severity_and_its_interval_are_those_of_scipy() -> None:
    rng = np.random.default_rng(20261130)
    agreed = rng.integers(0, 7, 12).astype(float)
    given_points = np.clip(agreed - 0.5 + rng.choice([-1, 0, 1], 12), 0, 6)
    result = closeness(agreed, given_points)
    low, high = stats.ttest_1samp(agreed - given_points, 0).confidence_interval(0.95)
    assert result.severity is not None
    assert (result.severity.low, result.severity.high) == pytest.approx((low, high))
    less = agreed - given_points
    welch = stats.ttest_ind(less[6:], less[:6], equal_var=False).confidence_interval(0.95)
    assert result.lately is not None
    assert (result.lately.low, result.lately.high) == pytest.approx((welch.low, welch.high))


def test_few_or_like_differences_are_not_taken_for_certainty() -> None:
    assert closeness([3], [2]).severity is None
    same = closeness([3, 4, 5, 2, 3], [2, 3, 4, 1, 2])
    assert same.severity is not None
    assert same.severity.low < 1 < same.severity.high


def test_marks_come_nearer_to_the_truth_by_what_is_measured_and_intervals_hold() -> None:
    """A generator unlike the model: markers stretch and squeeze the scale, tire, round to whole points and stop at its
    ends; the agreed marks have an error of their own."""
    rng = np.random.default_rng(20261130)
    held, before, after, unshrunk = [], [], [], []
    for _ in range(400):
        truth = rng.normal(3.5, 1.5, 60)
        harsh, noise = np.empty(4), np.empty(4)
        marks = []
        for marker in range(4):
            bias, stretch = rng.normal(0, 0.5), rng.uniform(0.85, 1.15)
            tired = np.linspace(0, rng.normal(0, 0.2), 60)
            given_points = 3.5 + stretch * (truth - 3.5) - bias - tired + rng.normal(0, 0.6, 60)
            given_points = np.clip(np.round(given_points), 0, 7)
            checks = rng.choice(60, 10, replace=False)
            agreed = np.clip(np.round(truth[checks] + rng.normal(0, 0.3, 10)), 0, 7)
            result = closeness(agreed, given_points[checks])
            assert result.severity is not None
            real = float(np.mean(np.clip(truth, 0, 7) - given_points))
            held.append(result.severity.low <= real <= result.severity.high)
            harsh[marker], noise[marker] = result.severity.value, result.error or 0
            marks.append(given_points)
        for given_points, by, plain in zip(marks, shrunk(harsh, noise), harsh, strict=True):
            moved = np.array([adjusted(float(mark), float(by), 7) for mark in given_points])
            whole = np.array([adjusted(float(mark), float(plain), 7) for mark in given_points])
            before.append(np.mean((given_points - truth) ** 2))
            after.append(np.mean((moved - truth) ** 2))
            unshrunk.append(np.mean((whole - truth) ** 2))
    assert np.mean(held) >= 0.93
    assert np.mean(after) < 0.85 * np.mean(before)
    assert np.mean(after) <= np.mean(unshrunk)


def test_nobody_is_moved_where_markers_do_not_differ_beyond_chance() -> None:
    assert shrunk([0.2, -0.1, 0.1], [0.3, 0.3, 0.3]).tolist() == [0, 0, 0]
    assert (adjusted(0, 1, 6), adjusted(6, -1, 6), adjusted(1, -2, 6)) == (0, 6, 0)
    for call in (lambda: adjusted(7, 0, 6), lambda: shrunk([1.0], [-1.0]), lambda: with_checks([1], [2], 0)):
        with pytest.raises(ValueError, match=r"mark|error|agreed"):
            call()
