"""Time on items, against the quantiles of Python's own statistics (method `inclusive`, which is type 7)."""

import statistics

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from tests.core.tables import points
from versomark.core.findings.times import FEWEST, opening, time_figures

seconds = st.one_of(st.floats(0, 5000), st.just(float("nan")))


@given(st.tuples(st.integers(2, 25), st.integers(1, 8)).flatmap(lambda shape: arrays(float, shape, elements=seconds)))
def test_quartiles_of_those_whose_time_is_known(spent: np.ndarray[tuple[int, int], np.dtype[np.float64]]) -> None:
    rng = np.random.default_rng(3)
    table = points(rng.integers(0, 2, spent.shape), np.ones(spent.shape[1]))
    result = time_figures(table, spent)
    for j, item in enumerate(result.items):
        own = [float(entry) for entry in spent[:, j] if not np.isnan(entry)]
        right = [float(one) for one, x in zip(spent[:, j], table.points[:, j], strict=True) if x and not np.isnan(one)]
        assert item.students == len(own)
        assert item.right == (pytest.approx(statistics.median(right)) if right else None)
        if len(own) < 2:
            assert item.median == (pytest.approx(own[0]) if own else None)
        else:
            q1, median, q3 = statistics.quantiles(own, method="inclusive")
            assert [item.q1, item.median, item.q3] == pytest.approx([q1, median, q3])
    whole = [float(np.nansum(row)) for row in spent if not np.isnan(row).all()]
    assert result.test.median == (pytest.approx(statistics.median(whole)) if whole else None)
    medians = {item.id: item.median for item in result.items if item.students >= FEWEST}
    assert all(medians[a] >= medians[b] for a in result.longest for b in medians if b not in result.longest)  # type: ignore[operator]
    assert ("is not known" in opening(result, table, {item.id: item.id for item in table.items})) == (not whole)
