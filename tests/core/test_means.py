"""Means and how far apart they are, against worked examples of the NIST/SEMATECH e-Handbook of Statistical Methods (the
figures from memory of its pages 1.3.5.2 and 1.3.5.3)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from scipy.stats import t as t_distribution

from versomark.core.stats.means import apart, mean_of, mean_share


def values_of(count: int, mean: float, deviation: float) -> np.ndarray:
    """Some values with exactly this mean and standard deviation: of a mean's interval nothing else matters."""
    raw = np.random.default_rng(count).normal(size=count)
    return mean + deviation * (raw - raw.mean()) / raw.std(ddof=1)


def test_the_interval_of_a_mean_is_that_of_the_handbook() -> None:
    """1.3.5.2, heat flow (ZARR13.DAT): N = 195, mean 9.261460, deviation 0.022789, interval 9.258242 to 9.264679."""
    mean = mean_of(values_of(195, 9.261460, 0.022789))
    assert (mean.count, mean.mean) == (195, pytest.approx(9.261460))
    assert mean.low == pytest.approx(9.258242, abs=2e-6)
    assert mean.high == pytest.approx(9.264679, abs=2e-6)


def test_two_means_are_as_far_apart_as_in_the_handbook() -> None:
    """1.3.5.3, miles per gallon (AUTO83B.DAT): 249 cars, 20.14458, 6.41470, and 79, 30.48101, 6.10771; with unequal
    variances t = -12.94627 with 136.8750 degrees of freedom."""
    result = apart(values_of(249, 20.14458, 6.41470), values_of(79, 30.48101, 6.10771))
    assert result.difference == pytest.approx(20.14458 - 30.48101)
    assert result.low is not None
    assert result.high is not None
    half = (result.high - result.low) / 2
    assert result.difference / (half / t_distribution.ppf(0.975, 136.8750)) == pytest.approx(-12.94627, abs=1e-4)
    assert result.sure


VALUES = arrays(float, st.integers(1, 30), elements=st.integers(0, 40).map(lambda marks: marks / 40))


@given(VALUES, VALUES)
def test_turned_round_it_is_the_same_and_what_cannot_be_said_is_not(one: np.ndarray, other: np.ndarray) -> None:
    there, back = apart(one, other), apart(other, one)
    assert there.difference == pytest.approx(-back.difference)
    assert there.sure == back.sure
    if there.low is None:
        assert min(len(one), len(other)) < 2 or (np.ptp(one) == 0 and np.ptp(other) == 0)
        assert there.high is back.low is back.high is None
        assert not there.sure
    else:
        assert there.high is not None
        assert back.low is not None
        assert there.low <= there.difference <= there.high
        assert back.low == pytest.approx(-there.high)
    mean = mean_of(one)
    assert (mean.low is None) == (len(one) < 2 or np.ptp(one) == 0)
    share = mean_share(one)
    assert share.mean == mean.mean
    if mean.low is not None and mean.high is not None:
        assert mean.low < mean.mean < mean.high
        assert (share.low, share.high) == (max(0.0, mean.low), min(1.0, mean.high))


def test_an_interval_of_shares_ends_where_shares_do() -> None:
    few = mean_share([0.0, 0.1, 0.9])
    assert few.low == 0
    assert few.high == 1
    # A total that a teacher set above the full marks leads it further, and never below its own mean.
    bonus = mean_share([1.0, 1.1, 1.3])
    assert bonus.high == pytest.approx(bonus.mean)
    assert mean_share([0.5, 0.5]).low is None
