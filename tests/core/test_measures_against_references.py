"""The measures against published figures and general-purpose libraries. Each source stands beside its check."""

import numpy as np
import pandas as pd
import pingouin
import pytest
from scipy import stats
from statsmodels.stats.proportion import proportion_confint

from tests.core.tables import choices, points
from versomark.core.response_table import ResponseTable
from versomark.core.stats import ScoreBlocks, distribution, item_measures, reliability, wilson

EXACT = 1e-10

# Law School Admission Test, section 6: 1,000 examinees, 5 items, by answer pattern.
# Bock & Lieberman 1970, Psychometrika 35, table 1; the same data are `LSAT` in R's package ltm.
# Typed from memory: that the counts add to 1,000 and give the published proportions and coefficients is their check.
LSAT6 = {
    "00000": 3, "00001": 6, "00010": 2, "00011": 11, "00100": 1, "00101": 1, "00110": 3, "00111": 4,
    "01000": 1, "01001": 8, "01011": 16, "01101": 3, "01110": 2, "01111": 15,
    "10000": 10, "10001": 29, "10010": 14, "10011": 81, "10100": 3, "10101": 28, "10110": 15, "10111": 80,
    "11000": 16, "11001": 56, "11010": 21, "11011": 173, "11100": 11, "11101": 61, "11110": 28, "11111": 298,
}  # fmt: skip


@pytest.fixture(scope="module")
def lsat() -> ResponseTable:
    return points([[int(c) for c in pattern] for pattern, count in LSAT6.items() for _ in range(count)])


@pytest.fixture(scope="module")
def marks() -> ResponseTable:
    """Items with part marks; invented data, checked only against other implementations."""
    rng = np.random.default_rng(7)
    ability = rng.normal(size=(60, 1))
    return points(np.clip(np.round(2 + ability + rng.normal(size=(60, 9))), 0, 4), maxima=[4] * 9)


def test_lsat_section_6_is_whole(lsat: ResponseTable) -> None:
    assert len(lsat.students) == 1000
    # Bock & Lieberman 1970: proportions right.
    np.testing.assert_allclose(item_measures(lsat).p[0], [0.924, 0.709, 0.553, 0.763, 0.870], atol=EXACT)


def test_lsat_section_6_as_ltm_describes_it(lsat: ResponseTable) -> None:
    # From memory: R, ltm 1.2, descript(LSAT), printed to four places (Rizopoulos 2006, J. Stat. Softw. 17(5)).
    # Its point-biserial divides by a standard deviation of divisor N − 1, ours by N: a factor of sqrt(999/1000).
    m, factor = item_measures(lsat), 0.999**0.5
    np.testing.assert_allclose(m.r_total[0] * factor, [0.3618, 0.5665, 0.6181, 0.5342, 0.4351], atol=6e-5)
    np.testing.assert_allclose(m.r_rest[0] * factor, [0.1128, 0.1531, 0.1727, 0.1444, 0.1215], atol=1.2e-4)
    np.testing.assert_allclose(m.alpha_without[0], [0.2754, 0.2376, 0.2168, 0.2459, 0.2663], atol=6e-5)
    assert reliability(lsat).alpha == pytest.approx(0.2950, abs=6e-5)


def test_alpha_and_its_interval_against_pingouin(marks: ResponseTable) -> None:
    # pingouin.cronbach_alpha: alpha and the F-distribution interval of Feldt (1965).
    alpha, (low, high) = pingouin.cronbach_alpha(pd.DataFrame(marks.points))
    ours = reliability(marks)
    assert ours.alpha == pytest.approx(alpha, abs=EXACT)
    assert (ours.alpha_low, ours.alpha_high) == pytest.approx((low, high), abs=1e-3)  # pingouin rounds to 3 places


def test_correlations_against_scipy(marks: ResponseTable) -> None:
    m = item_measures(marks)
    for j in range(9):
        x, total = marks.points[:, j], marks.totals
        assert m.r_total[0, j] == pytest.approx(stats.pearsonr(x, total).statistic, abs=EXACT)
        assert m.r_rest[0, j] == pytest.approx(stats.pearsonr(x, total - x).statistic, abs=EXACT)


def test_distribution_against_scipy_and_numpy(marks: ResponseTable) -> None:
    ours, totals = distribution(marks.totals), marks.totals
    # scipy.stats with bias=False is G1 and G2 of Joanes & Gill 1998.
    assert ours.skewness == pytest.approx(stats.skew(totals, bias=False), abs=EXACT)
    assert ours.kurtosis == pytest.approx(stats.kurtosis(totals, bias=False), abs=EXACT)
    assert (ours.q1, ours.median, ours.q3) == pytest.approx(tuple(np.percentile(totals, [25, 50, 75])), abs=EXACT)
    assert ours.sd == pytest.approx(np.std(totals, ddof=1), abs=EXACT)


def test_wilson_against_statsmodels() -> None:
    for count, n in [(0, 24), (1, 24), (12, 24), (24, 24), (289, 1000)]:
        assert [float(end) for end in wilson(count, n)] == pytest.approx(
            proportion_confint(count, n, method="wilson"), abs=EXACT
        )


def test_lambda2_by_its_definition(marks: ResponseTable) -> None:
    # Guttman 1945, equation for L2, written out with loops.
    c, n = np.cov(marks.points.T, ddof=0), 9
    between = sum(c[i, j] for i in range(n) for j in range(n) if i != j)
    squares = sum(c[i, j] ** 2 for i in range(n) for j in range(n) if i != j)
    assert reliability(marks).lambda2 == pytest.approx((between + (n / (n - 1) * squares) ** 0.5) / c.sum(), abs=EXACT)


def test_split_half_by_pearson_and_spearman_brown(marks: ResponseTable) -> None:
    # Spearman 1910 and Brown 1910: 2r / (1 + r) on the odd and even halves.
    r = stats.pearsonr(marks.points[:, ::2].sum(1), marks.points[:, 1::2].sum(1)).statistic
    assert reliability(marks).split_half == pytest.approx(2 * r / (1 + r), abs=EXACT)


def test_kr20_and_kr21_worked_by_hand() -> None:
    # Kuder & Richardson 1937, formulas 20 and 21, on four students and three items; no published source for the data.
    # p = 3/4, 2/4, 1/4; sum pq = .1875 + .25 + .1875 = .625; totals 3, 2, 1, 0: mean 1.5, variance 1.25.
    r = reliability(points([[1, 1, 1], [1, 1, 0], [1, 0, 0], [0, 0, 0]], maxima=[1, 1, 1]))
    assert r.kr20 == pytest.approx(3 / 2 * (1 - 0.625 / 1.25))
    assert r.kr21 == pytest.approx(3 / 2 * (1 - 1.5 * 1.5 / (3 * 1.25)))
    assert r.sem == pytest.approx(np.std([3, 2, 1, 0], ddof=1) * (1 - 0.75) ** 0.5)


def test_option_correlations_against_scipy() -> None:
    rng = np.random.default_rng(3)
    table = choices(["".join(rng.choice(list("ABCD-"), size=6)) for _ in range(40)], "ABCDAB")
    m = item_measures(table)
    for j in range(6):
        rest = table.totals - table.points[:, j]
        for k in range(4):
            chose = (table.choice[:, j] == k).astype(float)
            assert m.option_r_rest[0, j, k] == pytest.approx(stats.pointbiserialr(chose, rest).statistic, abs=EXACT)
            assert m.mean_total[0, j, k] == pytest.approx(table.totals[chose == 1].mean(), abs=EXACT)


def test_d_shares_the_places_of_ties() -> None:
    """Ten students, groups of 2.7 (Kelley 1939). By hand: totals 3, 2, 2, 2, 1, 1, 1, 1, 0, 0.

    Upper: the one with 3, then 1.7 places for the three with 2. Lower: both with 0, then 0.7 of the four with 1.
    """
    rows = [[1, 1, 1], *[[1, 1, 0]] * 2, [0, 1, 1], *[[1, 0, 0]] * 2, *[[0, 1, 0]] * 2, [0, 0, 0], [0, 0, 0]]
    table = points(rows, maxima=[1, 1, 1])
    upper = (1 + 1.7 * 2 / 3) / 2.7
    lower = 0.7 * 2 / 4 / 2.7
    assert item_measures(table).d[0, 0] == pytest.approx(upper - lower)
    shares = ScoreBlocks.of(table.totals).group_shares(np.ones((1, 10)), (0.27, 0.46, 0.27))[0]
    np.testing.assert_allclose(shares[2], [0, 0, 1.7 / 3, 1])
