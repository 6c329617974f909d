"""Rasch and partial credit against R's eRm and psychotools, on the data those packages carry.

The values were made once by `Rscript tests/core/references/models.R > tests/core/references/models.json`; data:
`raschdat1` and `pcmdat2` of eRm (Mair & Hatzinger 2007).
"""

import json
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import minimize_scalar

from versomark.core.stats.model_fit import andersen_test, fits
from versomark.core.stats.partial_credit import NoScale, PartialCredit, _given_totals, fit_partial_credit
from versomark.core.stats.persons import moments, place_persons

R: dict[str, Any] = json.loads((Path(__file__).parent / "references" / "models.json").read_text())
FITTED = 1e-4


def known(name: str) -> np.ndarray:
    return np.array([np.nan if value is None else value for value in R[name]], float)


@pytest.fixture(scope="module")
def rasch() -> PartialCredit:
    return fit_partial_credit(R["rasch_data"])


@pytest.fixture(scope="module")
def steps() -> PartialCredit:
    return fit_partial_credit(R["pcm_data"])


def test_rasch_as_erm_and_psychotools_have_it(rasch: PartialCredit) -> None:
    np.testing.assert_allclose(rasch.difficulty, known("rasch_beta"), atol=FITTED)
    # psychotools stops its search a little earlier.
    np.testing.assert_allclose(rasch.difficulty, known("rasch_psychotools"), atol=3e-4)
    np.testing.assert_allclose(rasch.difficulty_errors, known("rasch_se"), atol=FITTED)
    assert rasch.log_likelihood == pytest.approx(known("rasch_loglik")[0], abs=FITTED)
    assert rasch.difficulty.sum() == pytest.approx(0, abs=1e-9)


def test_fit_of_items_at_the_levels_erm_gives_its_persons(rasch: PartialCredit) -> None:
    """eRm places persons by maximum likelihood and leaves those out who have none or all; so are they here."""
    items, persons = fits(rasch, R["rasch_data"], known("rasch_theta"))
    for ours, theirs in ((items.infit, "infit"), (items.outfit, "outfit"), (items.infit_z, "infit_z")):
        np.testing.assert_allclose(ours, known(f"rasch_{theirs}"), atol=2e-4)
    np.testing.assert_allclose(items.outfit_z, known("rasch_outfit_z"), atol=2e-4)
    # Our own placing by maximum likelihood is eRm's, so a file's columns of that convention are too.
    own = place_persons(rasch, R["rasch_data"], weighted=False).theta
    np.testing.assert_allclose(own, known("rasch_theta"), atol=2e-4)
    assert np.isnan(persons.infit[np.isnan(known("rasch_theta"))]).all()


def test_the_likelihood_ratio_test_of_andersen() -> None:
    chi, df, p = known("rasch_lr")
    result = andersen_test(R["rasch_data"])
    assert (result.chi_square, result.df, result.p) == (pytest.approx(chi, abs=1e-3), df, pytest.approx(p, abs=FITTED))


def test_partial_credit_as_erm_and_psychotools_have_it(steps: PartialCredit) -> None:
    """eRm's sums of thresholds have mean 0 over all categories, ours the thresholds: a shift of k for category k."""
    thresholds = np.concatenate(steps.thresholds)
    np.testing.assert_allclose(thresholds, known("pcm_psychotools"), atol=FITTED)
    beta = known("pcm_beta").reshape(-1, 2)
    shifted = beta - np.array([1, 2]) * beta[:, 1].sum() / (2 * len(beta))
    np.testing.assert_allclose(
        thresholds.reshape(-1, 2), np.column_stack([shifted[:, 0], np.diff(shifted)[:, 0]]), atol=FITTED
    )
    assert steps.log_likelihood == pytest.approx(known("pcm_loglik")[0], abs=FITTED)
    items, _ = fits(steps, R["pcm_data"], known("pcm_theta") - beta[:, 1].sum() / (2 * len(beta)))
    np.testing.assert_allclose(items.infit, known("pcm_infit"), atol=5e-4)
    np.testing.assert_allclose(items.outfit, known("pcm_outfit"), atol=5e-4)


def test_persons_by_weighted_likelihood(steps: PartialCredit) -> None:
    """In a model of the exponential family Warm's estimate is where likelihood times root information is largest (Firth
    1993): found here by SciPy's optimiser."""
    placed = place_persons(steps, R["pcm_data"])
    totals = np.sum(R["pcm_data"], axis=1)
    for total in np.unique(totals):

        def against(theta: float, total: int = total) -> float:
            at = np.array([theta])
            log = total * theta
            information = 0.0
            for entry in steps.thresholds:
                beta = np.concatenate([[0.0], np.cumsum(entry)])
                log -= np.log(np.exp(np.arange(len(beta)) * theta - beta).sum())
                information += moments(at, entry)[1][0]
            return -(log + 0.5 * np.log(information))

        best = minimize_scalar(against, bounds=(-8, 8), method="bounded", options={"xatol": 1e-9}).x
        assert placed.theta[totals == total][0] == pytest.approx(best, abs=1e-5)
    # Who has none and who has all are on the scale too, at its ends.
    assert np.isfinite(placed.theta).all()
    assert placed.theta[totals == 0].max(initial=-9) < placed.theta.mean() < placed.theta[totals == 8].min(initial=9)
    assert 0 < placed.separation_reliability < 1


@given(st.integers(0, 10_000))
@settings(max_examples=15)
def test_what_holds_for_any_answers(seed: int) -> None:
    """The order of students and items does not matter; students with none or all tell nothing; half marks are steps
    like whole ones; an item everybody has right is left out with the reason."""
    rng = np.random.default_rng(seed)
    points = (rng.normal(size=(80, 1)) + rng.normal(size=(80, 5)) > rng.normal(size=5)).astype(float)
    points[:, 0] += rng.random(80) < 0.5
    try:
        fitted = fit_partial_credit(points)
    except NoScale:
        return
    if fitted.left_out:
        return
    rows, columns = rng.permutation(80), rng.permutation(5)
    turned = fit_partial_credit(points[rows][:, columns])
    np.testing.assert_allclose(turned.difficulty, fitted.difficulty[columns], atol=1e-6)
    more = np.vstack([points, np.tile(points.min(axis=0), (3, 1)), np.tile(points.max(axis=0), (3, 1))])
    np.testing.assert_allclose(fit_partial_credit(more).difficulty, fitted.difficulty, atol=1e-6)
    halves = points / 2
    np.testing.assert_allclose(fit_partial_credit(halves).difficulty, fitted.difficulty, atol=1e-6)
    wide = fit_partial_credit(np.column_stack([points, np.ones(80)]))
    assert wide.left_out == {5: "Every student has the same on it."}
    np.testing.assert_allclose(wide.difficulty, fitted.difficulty, atol=1e-6)


@given(
    st.lists(st.lists(st.floats(-9, 9), min_size=1, max_size=3), min_size=2, max_size=5),
    st.lists(st.integers(0, 4), min_size=20, max_size=20),
)
def test_what_a_total_tells_of_each_category_is_as_counting_every_pattern(
    logs: list[list[float]], students: list[int]
) -> None:
    """`_given_totals` beside the sum over all patterns of answers, also where some are ten thousand times rarer."""
    weights = [np.exp([0.0, *own]) / np.exp([0.0, *own]).sum() for own in logs]
    full = sum(map(len, logs))
    counts = np.array(students[: full + 1], float)
    counts[0] = counts[-1] = 0
    if not counts.sum():
        return
    patterns = list(product(*(range(len(own) + 1) for own in logs)))
    chance = np.array([np.prod([w[k] for w, k in zip(weights, p, strict=True)]) for p in patterns])
    totals = np.array([sum(p) for p in patterns])
    inside = np.array(
        [[float(p[j] == k) for j, own in enumerate(logs) for k in range(1, len(own) + 1)] for p in patterns]
    )
    log_whole, expected, spread = 0.0, np.zeros(full), np.zeros((full, full))
    for total in np.flatnonzero(counts):
        given_total = np.where(totals == total, chance, 0)
        whole = given_total.sum()
        here = inside.T @ given_total / whole
        log_whole += counts[total] * np.log(whole)
        expected += counts[total] * here
        spread += counts[total] * ((inside.T * given_total) @ inside / whole - np.outer(here, here))
    ours = _given_totals(weights, counts)
    assert ours[0] == pytest.approx(log_whole, rel=1e-9)
    np.testing.assert_allclose(ours[1], expected, atol=1e-8)
    np.testing.assert_allclose(ours[2], spread, atol=1e-8)


def test_different_students_on_different_items() -> None:
    """Two forms with three items in common: as one scale, near to what all on all would give; from known difficulties
    the intervals hold what they promise."""
    rng = np.random.default_rng(5)
    truth = np.array([-1.5, -0.8, -0.2, 0.0, 0.4, 0.8, 1.3])
    truth -= truth.mean()
    inside = []
    for _ in range(40):
        points = (rng.random((400, 7)) < 1 / (1 + np.exp(truth - rng.normal(size=(400, 1))))).astype(float)
        points[:200, 5:] = np.nan
        points[200:, :2] = np.nan
        fitted = fit_partial_credit(points)
        inside.append(np.abs(fitted.difficulty - truth) < 1.96 * fitted.difficulty_errors)
    # 280 intervals of 95%: between 92 and 98 percent hold the truth (binomial, four standard errors either way).
    assert 0.9 < np.mean(inside) < 0.99


@pytest.mark.parametrize(
    ("points", "says"),
    [
        ([[1, 1], [1, 1]], "two questions on which students differ"),
        ([[1, 0], [1, 0], [1, 1], [0, 0]], "more answers are needed"),
    ],
)
def test_what_cannot_be_put_on_a_scale_says_why(points: list[list[float]], says: str) -> None:
    with pytest.raises(NoScale, match=says):
        fit_partial_credit(points)
