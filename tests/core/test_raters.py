"""Agreement of markers against published tables and against scikit-learn, statsmodels and pingouin."""

import numpy as np
import pandas as pd
import pingouin
import pytest
import statsmodels.formula.api as smf
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from sklearn.metrics import cohen_kappa_score
from statsmodels.stats.inter_rater import cohens_kappa

from versomark.core.findings.raters import disagreement
from versomark.core.stats import agreement, cohen_kappa, intraclass, krippendorff_alpha, severity
from versomark.core.stats.raters import POWER, Weights

WEIGHTS: tuple[Weights, ...] = ("none", "linear", "quadratic")


def pairs(table: list[list[int]]) -> tuple[list[int], list[int]]:
    """A table of counts as two lists of ratings."""
    cells = [(i, j) for i, row in enumerate(table) for j, count in enumerate(row) for _ in range(count)]
    return [i for i, _ in cells], [j for _, j in cells]


def test_published_tables_of_kappa() -> None:
    """Cohen 1960, Table 2 (200 cases, kappa .492); Fleiss, Levin & Paik 2003, Table 18.1 (100 cases, kappa .68, known
    here from memory)."""
    cohen = cohen_kappa(*pairs([[88, 14, 18], [10, 40, 10], [2, 6, 12]]), [0, 1, 2])
    fleiss = cohen_kappa(*pairs([[75, 1, 4], [5, 4, 1], [0, 0, 10]]), [0, 1, 2])
    assert cohen is not None
    assert fleiss is not None
    assert round(cohen.value, 3) == 0.492
    assert round(fleiss.value, 2) == 0.68


def test_the_six_targets_of_shrout_and_fleiss() -> None:
    """Shrout & Fleiss 1979, Tables 2 and 4: ICC(1,1) .17, ICC(2,1) .29, ICC(3,1) .71."""
    result = intraclass([[9, 2, 5, 8], [6, 1, 3, 2], [8, 4, 6, 8], [7, 1, 2, 6], [10, 5, 6, 9], [6, 2, 4, 7]])
    assert result is not None
    assert [round(entry.value, 2) for entry in (result.one_way, result.absolute, result.consistent)] == [
        0.17,
        0.29,
        0.71,
    ]


def test_the_reliability_data_of_krippendorff() -> None:
    """Krippendorff 2011, "Computing Krippendorff's Alpha-Reliability", D: four observers, twelve units, some missing:
    nominal .743, ordinal .815, interval .849."""
    rows = ["1 2 3 3 2 1 4 1 2 . . .", "1 2 3 3 2 2 4 1 2 5 . 3", ". 3 3 3 2 3 4 2 2 5 1 .", "1 2 3 3 2 4 4 1 2 5 1 ."]
    data = [[float("nan") if cell == "." else float(cell) for cell in row.split()] for row in rows]
    results = {level: krippendorff_alpha(data, level) for level in ("nominal", "ordinal", "interval")}
    assert {level: round(value or 0, 3) for level, value in results.items()} == {
        "nominal": 0.743,
        "ordinal": 0.815,
        "interval": 0.849,
    }
    assert krippendorff_alpha([[1, 1], [1, 1]]) is None
    assert krippendorff_alpha([[1, float("nan")], [float("nan"), 2]]) is None


RATINGS = st.integers(2, 40).flatmap(lambda n: arrays(np.int64, (n, 2), elements=st.integers(0, 4)))


@given(RATINGS, st.sampled_from(WEIGHTS))
@settings(max_examples=60)
def test_kappa_is_that_of_scikit_learn_and_its_interval_that_of_statsmodels(
    ratings: np.ndarray, weights: Weights
) -> None:
    one, other = ratings.T
    result = cohen_kappa(one, other, range(5), weights)
    table = np.zeros((5, 5))
    np.add.at(table, (one, other), 1)
    if result is None:
        assert len(set(ratings.ravel())) == 1
        return
    library = cohen_kappa_score(one, other, labels=range(5), weights=None if weights == "none" else weights)
    assert result.value == pytest.approx(library, abs=1e-8)
    weighed = {} if weights == "none" else {"wt": "toeplitz", "weights": np.arange(5) ** POWER[weights]}
    reference = cohens_kappa(table, **weighed)
    assert result.value == pytest.approx(float(reference.kappa), abs=1e-8)
    half = 1.959963984540054 * float(np.sqrt(max(0.0, reference.var_kappa)))
    assert result.low == pytest.approx(max(-1, result.value - half), abs=1e-5)
    assert result.high == pytest.approx(min(1, result.value + half), abs=1e-5)


@given(st.integers(3, 20), st.integers(2, 4), st.integers(0, 10_000))
@settings(max_examples=40)
def test_intraclass_correlations_are_those_of_pingouin(n: int, k: int, seed: int) -> None:
    rng = np.random.default_rng(seed)
    ratings = np.round(rng.normal(3, 1, (n, 1)) + rng.normal(0, 0.8, (n, k)) + rng.normal(0, 0.3, k), 1)
    assume(np.ptp(ratings.mean(axis=1)) > 0)
    result = intraclass(ratings)
    assert result is not None
    long = pd.DataFrame(
        [(i, j, ratings[i, j]) for i in range(n) for j in range(k)], columns=["answer", "marker", "points"]
    )
    library = pingouin.intraclass_corr(long, targets="answer", raters="marker", ratings="points")
    for one, row in zip(
        (result.one_way, result.absolute, result.consistent), library.to_dict("records")[:3], strict=True
    ):
        assert one.value == pytest.approx(row["ICC"], abs=1e-8)
        # pingouin rounds its intervals to two places
        column = next(name for name in row if name.startswith("CI95"))
        if not np.isnan(row[column]).any():
            assert [one.low, one.high] == pytest.approx(list(row[column]), abs=0.0051)


@given(st.integers(0, 10_000))
@settings(max_examples=20)
def test_severity_is_the_marker_effect_of_an_additive_model(seed: int) -> None:
    """Against ordinary least squares of statsmodels with sum-to-zero contrasts, some marks missing."""
    rng = np.random.default_rng(seed)
    ratings = rng.integers(0, 7, (12, 3)).astype(float)
    ratings[rng.random(ratings.shape) < 0.3] = np.nan
    ratings[0] = [3, 2, 4]
    long = pd.DataFrame(
        [(f"a{i}", f"m{j}", v) for (i, j), v in np.ndenumerate(ratings) if not np.isnan(v)],
        columns=["answer", "marker", "points"],
    )
    fitted = smf.ols("points ~ C(answer) + C(marker, Sum)", long).fit().params
    effects = [fitted["C(marker, Sum)[S.m0]"], fitted["C(marker, Sum)[S.m1]"]]
    result = severity(ratings)
    assert result is not None
    assert result[:2] == pytest.approx(-np.array(effects), abs=1e-8)
    assert result.sum() == pytest.approx(0, abs=1e-9)


def test_who_marked_apart_cannot_be_called_harsh() -> None:
    nan = float("nan")
    assert severity([[3, nan], [nan, 2]]) is None
    assert severity([[3, 2], [nan, 2]]) == pytest.approx([-0.5, 0.5])


@given(RATINGS)
def test_two_markers_at_a_glance(ratings: np.ndarray) -> None:
    """Exact is never above adjacent, and turning the two about turns the sign of the difference alone."""
    one, other = ratings.T
    results, turned = (agreement(a, b, range(5), 1) for a, b in ((one, other), (other, one)))
    assert results.answers == len(one)
    assert (results.exact or 0) <= (results.adjacent or 0) <= 1
    assert turned.difference == pytest.approx(-(results.difference or 0))
    assert (turned.exact, turned.adjacent) == (results.exact, results.adjacent)
    assert agreement([], [], range(5), 1).reasons == {"answers": "no answer has two marks yet"}


def test_a_mark_between_the_levels_is_refused() -> None:
    with pytest.raises(ValueError, match="not one of the levels"):
        cohen_kappa([0.25], [1], [0, 0.5, 1])


def test_markers_who_are_apart_are_flagged_and_those_who_agree_are_not() -> None:
    """Two markers simulated about a true level: errors of .4 of a point agree well, of 2 points they do not
    (common practice, no source). A kappa of exactly .60 is on the good side of Fleiss's line."""
    rng = np.random.default_rng(7)
    results = {}
    for noise in (0.4, 2.0):
        firm = []
        for _ in range(40):
            level = rng.integers(0, 5, 24)
            one, other = (np.clip(np.round(level + noise * rng.normal(size=24)), 0, 4) for _ in range(2))
            firm.append(disagreement(one, other, range(5)))
        results[noise] = firm
    assert all(value is None or value < 0.5 for value in results[0.4])
    assert np.mean([value is not None and value >= 0.7 for value in results[2.0]]) >= 0.75
    assert disagreement([0, 4] * 3, [4, 0] * 3, range(5)) is None  # six answers say nothing
    assert disagreement([2] * 20, [2] * 20, range(5)) is None  # nothing but one level
    apart, order = [0, 4] * 10, [4, 0] * 10
    assert disagreement(apart, order, range(5)) == 1.0
    # Cohen 1968's kappa is symmetric, so it does not matter who is the first.
    level = rng.integers(0, 5, 30)
    other = rng.integers(0, 5, 30)
    assert disagreement(level, other, range(5)) == pytest.approx(disagreement(other, level, range(5)))
