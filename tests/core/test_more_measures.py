"""Classical figures against R's psych and psychometric; DIF, cuts, the student–problem table, units and growth against
statsmodels, SciPy, pingouin, and what is known to hold.

`Rscript tests/core/references/classical.R > tests/core/references/classical.json` made the R values.
"""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pingouin
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.contingency_tables import StratifiedTable
from statsmodels.stats.proportion import confint_proportions_2indep

from tests.core.tables import points
from versomark.core.stats import item_measures, reliability
from versomark.core.stats.decisions import (
    conditional_sem,
    consistency,
    length_for,
    lengthened,
    scores,
    stratified_alpha,
)
from versomark.core.stats.differential import group_difference, mantel_haenszel
from versomark.core.stats.gains import gains, hedges
from versomark.core.stats.student_problem import student_problem

HERE = Path(__file__).parent / "references"
R: dict[str, Any] = json.loads((HERE / "classical.json").read_text())
ANSWERS = json.loads((HERE / "models.json").read_text())["rasch_data"]
EXACT = 1e-8
SEEDS = st.integers(0, 100_000)


def test_classical_figures_as_psych_and_psychometric_have_them() -> None:
    table = points(ANSWERS)
    m, results = item_measures(table), reliability(table)
    assert results.alpha == pytest.approx(R["alpha"][0], abs=EXACT)
    assert results.alpha == pytest.approx(R["alpha_psychometric"][0], abs=EXACT)
    np.testing.assert_allclose(m.r_total[0], R["r_raw"], atol=EXACT)
    np.testing.assert_allclose(m.r_rest[0], R["r_drop"], atol=EXACT)
    np.testing.assert_allclose(m.alpha_without[0], R["alpha_drop"], atol=EXACT)
    np.testing.assert_allclose(m.p[0], R["difficulty"], atol=EXACT)
    np.testing.assert_allclose(m.r_total[0], R["item_total"], atol=EXACT)
    np.testing.assert_allclose(m.r_rest[0], R["item_rest"], atol=EXACT)


@given(SEEDS)
@settings(max_examples=40)
def test_dif_is_that_of_statsmodels_stratified_tables(seed: int) -> None:
    rng = np.random.default_rng(seed)
    focal, totals = rng.random(150) < 0.4, rng.integers(0, 6, 150)
    right = rng.random(150) < (0.2 + 0.1 * totals + 0.15 * focal)
    result = mantel_haenszel(right, totals, focal)
    assert result is not None
    layers = [
        np.array([[(group & hit & at).sum() for hit in (right, ~right)] for group in (~focal, focal)], float)
        for at in (totals == value for value in range(6))
    ]
    reference = StratifiedTable([layer for layer in layers if layer.sum() > 1])
    assert result.odds_ratio == pytest.approx(reference.oddsratio_pooled, abs=EXACT)
    null = reference.test_null_odds(correction=True)
    if result.chi_square > 0:
        assert (result.chi_square, result.p) == pytest.approx((null.statistic, null.pvalue), abs=EXACT)
    else:
        # The correction takes a difference to 0 and not beyond, as R's mantelhaen.test has it.
        assert null.statistic < 0.5
    low, high = reference.oddsratio_pooled_confint()
    assert (result.delta_high, result.delta_low) == pytest.approx(
        (-2.35 * np.log(low), -2.35 * np.log(high)), abs=EXACT
    )
    # The other way round the sign turns, and nothing else.
    turned = mantel_haenszel(right, totals, ~focal)
    assert turned is not None
    assert (turned.delta, turned.p, turned.letter) == (
        pytest.approx(-result.delta),
        pytest.approx(result.p),
        result.letter,
    )


def test_classes_of_dif_and_what_cannot_be_said() -> None:
    """Dorans & Holland 1993: no difference is A, a large one among 600 is C. One group alone says nothing."""
    rng = np.random.default_rng(3)
    focal, totals = np.arange(600) % 2 == 0, rng.integers(3, 8, 600)
    same = mantel_haenszel(rng.random(600) < totals / 10, totals, focal)
    apart = mantel_haenszel(rng.random(600) < totals / 10 - 0.3 * focal + 0.1, totals, focal)
    assert same is not None
    assert apart is not None
    assert (same.letter, apart.letter) == ("A", "C")
    assert apart.delta < -1.5
    assert mantel_haenszel([True, False], [1, 1], np.array([False, False])) is None


@given(SEEDS)
@settings(max_examples=20)
def test_difference_of_groups_is_newcombes(seed: int) -> None:
    rng = np.random.default_rng(seed)
    focal = rng.random(40) < 0.5
    assume(3 < focal.sum() < 37)
    right = (rng.random((40, 3)) < 0.6).astype(float)
    result = group_difference(right, np.ones(3), focal)
    for j in range(3):
        a, b = right[~focal, j], right[focal, j]
        low, high = confint_proportions_2indep(a.sum(), len(a), b.sum(), len(b), method="newcomb")
        assert (result.low[j], result.high[j]) == pytest.approx((low, high), abs=EXACT)
        assert result.difference[j] == pytest.approx(a.mean() - b.mean())


@given(SEEDS)
@settings(max_examples=25)
def test_the_student_problem_table_by_covariances(seed: int) -> None:
    """Sato's index as 1 − cov/cov with NumPy's covariance, row by row; the modified one against its two ends."""
    right = np.random.default_rng(seed).random((12, 7)) < 0.55
    result = student_problem(right)
    columns = right.sum(axis=0)
    order = np.argsort(-columns, kind="stable")
    for i, row in enumerate(right):
        best, worst = np.zeros(7), np.zeros(7)
        best[order[: row.sum()]] = 1
        worst[order[7 - row.sum() :]] = 1
        spread = np.cov(best, columns)[0, 1]
        if spread <= 1e-12:
            assert np.isnan(result.student_caution[i])
            continue
        assert result.student_caution[i] == pytest.approx(1 - np.cov(row.astype(float), columns)[0, 1] / spread)
        most, least = best @ columns, worst @ columns
        if most > least:
            assert result.student_modified[i] == pytest.approx((most - row @ columns) / (most - least))
    assert result.student_curve.tolist() == sorted(right.sum(axis=1), reverse=True)
    assert result.problem_curve.tolist() == sorted(columns, reverse=True)
    turned = student_problem(right.T)
    np.testing.assert_array_equal(turned.student_caution, result.problem_caution)


def test_subkoviak_by_hand_and_at_its_ends() -> None:
    """Students of 4 and 8 in 10 marks, reliability 1, cut 6: passing has P(X ≥ 6) of binomials .4 and .8 (SciPy)."""
    weak, strong = stats.binom.sf(5, 10, [0.4, 0.8])
    result = consistency([4, 8], 10, 6, 1.0)
    assert result is not None
    assert result.agreement == pytest.approx(np.mean([p**2 + (1 - p) ** 2 for p in (weak, strong)]))
    mean = (weak + strong) / 2
    chance = mean**2 + (1 - mean) ** 2
    assert result.kappa == pytest.approx((result.agreement - chance) / (1 - chance))
    # Without reliability all are alike, so agreement is what chance gives.
    none = consistency([4, 8], 10, 6, 0.0)
    assert none is not None
    assert none.kappa == pytest.approx(0, abs=1e-12)
    assert consistency([4, 8], 10, 6, float("nan")) is None
    assert consistency([5, 5], 10, 0, 0.5) is None


@given(SEEDS)
@settings(max_examples=20)
def test_lords_errors_average_to_that_of_kr21(seed: int) -> None:
    """Lord 1955: the mean of the conditional error variances is σ²(1 − KR-21)."""
    rng = np.random.default_rng(seed)
    table = points((rng.normal(size=(30, 1)) > rng.normal(size=(30, 9))).astype(int).tolist(), maxima=[1] * 9)
    result = reliability(table)
    assume(np.isfinite(result.kr21))
    mean = float(np.mean(conditional_sem(table.totals, 9) ** 2))
    assert mean == pytest.approx(float(np.var(table.totals)) * (1 - result.kr21))
    assert np.isnan(conditional_sem([1.0], 1)).all()


def test_length_for_a_wanted_reliability() -> None:
    """Spearman–Brown: from .60, .80 needs 8/3 of the length; and that length gives .80."""
    times = length_for(0.6, 0.8)
    assert times == pytest.approx(8 / 3)
    assert lengthened(0.6, times or 0) == pytest.approx(0.8)
    assert length_for(-0.1, 0.8) is None


@given(SEEDS)
@settings(max_examples=20)
def test_stratified_alpha_written_out(seed: int) -> None:
    """1 − Σ σ²(1 − α)/σ², each α from pingouin."""
    rng = np.random.default_rng(seed)
    x = rng.integers(0, 4, (25, 6)) + rng.integers(0, 4, (25, 1))
    table = points(x.tolist(), maxima=[6] * 6)
    parts = [[0, 1, 2], [3, 4], [5]]
    lost = 0.0
    for part in parts:
        alpha = pingouin.cronbach_alpha(pd.DataFrame(x[:, part]))[0] if len(part) > 1 else 0
        lost += x[:, part].sum(axis=1).var() * (1 - alpha)
    assert stratified_alpha(table, parts) == pytest.approx(1 - lost / x.sum(axis=1).var())
    assert stratified_alpha(table, [list(range(6))]) == pytest.approx(reliability(table).alpha)


@given(st.lists(st.integers(0, 20), min_size=2, max_size=40))
def test_scores_in_other_units(totals: list[int]) -> None:
    result = scores(totals, 20)
    assert result.rank.tolist() == pytest.approx([stats.percentileofscore(totals, t, kind="mean") for t in totals])
    if len(set(totals)) > 1:
        np.testing.assert_allclose(result.z, stats.zscore(totals, ddof=1), atol=EXACT)
        assert result.t.mean() == pytest.approx(50)
    assert set(result.stanine) <= set(range(1, 10))
    assert (np.diff(result.stanine[np.argsort(totals)]) >= 0).all()


@given(SEEDS)
@settings(max_examples=20)
def test_growth_against_pingouin_and_scipy(seed: int) -> None:
    rng = np.random.default_rng(seed)
    before = rng.integers(0, 15, 18).astype(float)
    after = before + rng.integers(-1, 6, 18)
    result = gains(before, after, 20)
    assert result.effect is not None
    plain = pingouin.compute_effsize(after, before, paired=True, eftype="cohen")
    assert result.effect == pytest.approx(plain * hedges(17))
    interval = stats.ttest_rel(after, before).confidence_interval()
    root = np.sqrt((before.var(ddof=1) + after.var(ddof=1)) / 2)
    assert (result.low, result.high) == pytest.approx(
        (hedges(17) * interval.low / root, hedges(17) * interval.high / root)
    )
    assert result.mean_normalised == pytest.approx((after.mean() - before.mean()) / (20 - before.mean()))
    # Hedges 1981: J(m) is close to 1 − 3/(4m − 1).
    assert hedges(17) == pytest.approx(1 - 3 / (4 * 17 - 1), abs=2e-4)
    assert gains([5, 5], [5, 5], 5).effect is None
