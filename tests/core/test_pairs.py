"""Comparison of pairs: against R's BradleyTerry2, choix and statsmodels, and by simulation against known truth."""

from random import Random

import choix
import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.scoring import next_pair
from versomark.core.stats import marks_through, measure_pairs, misfits

# How often journals of statistics cited one another in 1987 and 1988 (Stigler 1994; Agresti, Categorical Data Analysis,
# 1990); a row is cited, a column cites. The estimates are those that the R package BradleyTerry2 prints in its example
# `citations` (Turner & Firth 2012, Journal of Statistical Software, 48(9)); figures from memory.
CITED = np.array([[714, 730, 498, 221], [33, 425, 68, 17], [320, 813, 1072, 142], [284, 276, 325, 188]])
IN_R = [0, -2.94907, -0.47957, 0.26895]
IN_R_ERRORS = [0.10255, 0.06059, 0.07083]


def judged(cited: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    cells = [(i, j) for i in range(4) for j in range(4) if i != j for _ in range(cited[i, j])]
    return np.array([i for i, _ in cells]), np.array([j for _, j in cells])


def test_measures_are_those_of_bradleyterry2_and_errors_those_of_logistic_regression() -> None:
    better, worse = judged(CITED)
    result = measure_pairs(better, worse, 4, prior_sd=1e4)
    assert result.measures - result.measures[0] == pytest.approx(IN_R, abs=5e-6)
    design = np.eye(4)[better] - np.eye(4)[worse]
    swap = np.arange(len(design)) % 2 == 0
    design[swap] *= -1
    fitted = sm.Logit(1 - swap, design[:, 1:]).fit(disp=0)
    assert fitted.bse == pytest.approx(IN_R_ERRORS, abs=5e-6)
    # Of each distance from the mean, by the same covariance.
    whole = np.zeros((4, 4))
    whole[1:, 1:] = fitted.cov_params()
    centred = np.eye(4) - 0.25
    assert result.errors == pytest.approx(np.sqrt(np.diag(centred @ whole @ centred.T)), rel=1e-4)


@given(st.integers(0, 10_000), st.sampled_from([1.0, 1.5, 3.0]))
def test_with_a_prior_measures_are_those_of_choix(seed: int, prior: float) -> None:
    rng = np.random.default_rng(seed)
    better = rng.integers(0, 8, 30)
    worse = (better + rng.integers(1, 8, 30)) % 8
    ours = measure_pairs(better, worse, 8, prior).measures
    theirs = choix.opt_pairwise(8, list(zip(better, worse, strict=True)), alpha=1 / (2 * prior**2))
    met = ~np.isnan(ours)
    assert ours[met] == pytest.approx(theirs[met] - theirs[met].mean(), abs=1e-4)


def compared(seed: int, spread: float, each: int, pieces: int = 30) -> tuple[np.ndarray, list[tuple[int, int]]]:
    """Pieces of known measure, compared as the product chooses pairs; measured anew once a round."""
    rng, draw = np.random.default_rng(seed), Random(seed)
    truth = rng.normal(0, spread, pieces)
    pairs: list[tuple[int, int]] = []
    so_far: dict[int, float] = {}
    for at in range(pieces * each // 2):
        if at % (pieces // 2) == 0 and pairs:
            values = measure_pairs(*zip(*pairs, strict=True), pieces).measures
            so_far = {piece: value for piece, value in enumerate(values) if not np.isnan(value)}
        pair = next_pair(range(pieces), pairs, [], [], so_far, draw)
        assert pair is not None
        one, other = pair
        first = rng.random() < 1 / (1 + np.exp(truth[other] - truth[one]))
        pairs.append((one, other) if first else (other, one))
    return truth, pairs


@pytest.mark.parametrize(("spread", "each", "least"), [(1.5, 12, 0.77), (2.5, 8, 0.80), (1.0, 20, 0.74)])
def test_pieces_are_recovered_and_the_scale_claims_no_more_than_it_has(spread: float, each: int, least: float) -> None:
    real, claimed, held = [], [], []
    for seed in range(14):
        truth, pairs = compared(seed, spread, each)
        result = measure_pairs(*zip(*pairs, strict=True), len(truth))
        real.append(np.corrcoef(truth, result.measures)[0, 1] ** 2)
        claimed.append(result.separation)
        # As marks are read off it: through anchors, whatever the unit of the scale.
        unit = np.cov(truth, result.measures)[0, 1] / result.measures.var(ddof=1)
        left = truth - truth.mean() - unit * result.measures
        held.append(np.mean(np.abs(left) < 1.96 * unit * result.errors))
    assert np.mean(real) >= least
    assert np.mean(claimed) <= np.mean(real) + 0.05
    assert np.mean(held) >= 0.90


def test_a_judge_who_tosses_a_coin_and_a_piece_that_divides_stand_out() -> None:
    rng = np.random.default_rng(20261130)
    truth = rng.normal(0, 2, 30)
    better = rng.integers(0, 30, 900)
    worse = (better + rng.integers(1, 30, 900)) % 30
    judge = np.arange(900) % 5
    right = rng.random(900) < 1 / (1 + np.exp(truth[worse] - truth[better]))
    right = np.where(judge == 3, rng.random(900) < 0.5, right)
    better, worse = np.where(right, better, worse), np.where(right, worse, better)
    measures = measure_pairs(better, worse, 30).measures
    result = misfits(better, worse, judge, measures, 5)
    surprises = [entry.surprise or 0 for entry in result]
    assert int(np.argmax(surprises)) == 3
    assert surprises[3] > 3
    assert sum(entry.comparisons for entry in result) == 900
    assert misfits([0], [1], [0], [0.0, 0.0], 1)[0].surprise is None  # too few to say


def test_pairs_meet_evenly_are_never_seen_twice_by_one_judge_and_never_by_two_at_once() -> None:
    draw, pairs = Random(1), list[tuple[int, int]]()
    for _ in range(45):
        pair = next_pair(range(10), pairs, pairs, [], {}, draw)
        assert pair is not None
        assert not {pair, pair[::-1]} & set(pairs)
        pairs.append(pair)
    assert next_pair(range(10), pairs, pairs, [], {}, draw) is None
    met = np.bincount(np.array(pairs[:20]).ravel(), minlength=10)
    assert met.max() - met.min() <= 1
    elsewhere = next_pair(range(4), [], [], [], {}, Random(2))
    assert elsewhere is not None
    assert set(next_pair(range(4), [], [], [elsewhere], {}, Random(2)) or ()) == set(range(4)) - set(elsewhere)


def test_marks_lie_on_a_line_through_what_is_known() -> None:
    at, marks = np.array([-2.0, -0.5, 0.4, 1.9]), np.array([3.0, 6.0, 7.0, 11.0])
    line = marks_through(at, np.full(4, 0.4), marks)
    slope, level = np.polyfit(at, marks, 1)
    assert (line.per_logit, line.at_mean) == pytest.approx((slope, level))
    assert line.mark(9, 12) == 12
    assert line.mark(-9, 12) == 0
    with pytest.raises(ValueError, match="lower marks"):
        marks_through([-1, 1], [0.3, 0.3], [8, 4])
    with pytest.raises(ValueError, match="two pieces"):
        marks_through([1], [0.3], [8])


def test_bad_comparisons_are_refused_by_name_and_nobody_compared_has_no_measure() -> None:
    with pytest.raises(ValueError, match="itself"):
        measure_pairs([1], [1], 3)
    with pytest.raises(ValueError, match="not among the pieces"):
        measure_pairs([0], [3], 3)
    nothing = measure_pairs([], [], 3)
    assert np.isnan(nothing.measures).all()
    assert nothing.separation is None
    alone = measure_pairs([0], [1], 3)
    assert np.isnan(alone.measures[2])
    assert alone.measures[0] > 0
