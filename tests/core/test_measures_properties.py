"""What must hold for any data (Hypothesis)."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from numpy.typing import NDArray

from tests.core.tables import choices, points
from versomark.core.findings import analyse
from versomark.core.response_table import ResponseTable
from versomark.core.stats import (
    ScoreBlocks,
    item_measures,
    omitted_and_not_reached,
    option_shares_by_group,
    reliability,
)

papers = st.integers(2, 7).flatmap(
    lambda items: st.lists(st.text("ABCD-", min_size=items, max_size=items), min_size=2, max_size=30)
)
FIELDS = ("p", "r_total", "r_rest", "d", "alpha_without", "share", "upper", "lower", "mean_total", "option_r_rest")


def table_of(rows: list[str]) -> ResponseTable:
    return choices(rows, "ABCDABC"[: len(rows[0])])


def take(table: ResponseTable, at: NDArray[np.intp]) -> ResponseTable:
    students = tuple(str(n) for n in range(len(at)))
    return ResponseTable(students, table.items, table.points[at], table.choice[at], table.answered[at])


@given(papers, st.randoms(use_true_random=False))
def test_the_order_of_students_never_matters(rows: list[str], random: object) -> None:
    shuffled = list(rows)
    random.shuffle(shuffled)  # type: ignore[attr-defined]
    one, other = item_measures(table_of(rows)), item_measures(table_of(shuffled))
    for name in FIELDS:
        np.testing.assert_allclose(getattr(one, name), getattr(other, name), atol=1e-9)


@given(papers, st.data())
def test_counting_a_student_twice_is_having_them_twice(rows: list[str], data: st.DataObject) -> None:
    """Weighting a student twice is the same as having them twice."""
    table = table_of(rows)
    weights = data.draw(arrays(int, len(rows), elements=st.integers(0, 3)).filter(lambda w: w.sum() > 1))
    weighted = item_measures(table, weights[None, :].astype(float))
    repeated = item_measures(take(table, np.repeat(np.arange(len(rows)), weights)))
    for name in FIELDS:
        np.testing.assert_allclose(getattr(weighted, name), getattr(repeated, name), atol=1e-7, err_msg=name)


@given(papers)
def test_kr20_is_alpha_on_right_or_wrong(rows: list[str]) -> None:
    r = reliability(table_of(rows))
    assert r.kr20 == pytest.approx(r.alpha, abs=1e-9, nan_ok=True)
    if np.isfinite(r.alpha):
        assert r.alpha_low <= r.alpha <= r.alpha_high
        assert r.lambda2 >= r.alpha - 1e-9  # Guttman 1945: lambda-2 is never below alpha (his lambda-3)


@given(papers, st.floats(0.05, 0.5))
def test_groups_hold_their_share_exactly(rows: list[str], share: float) -> None:
    table = table_of(rows)
    n = len(rows)
    blocks = ScoreBlocks.of(table.totals)
    fractions = blocks.group_shares(np.ones((1, n)), (share, 1 - 2 * share, share))[0]
    sizes = fractions @ np.bincount(blocks.block)
    np.testing.assert_allclose(sizes, [share * n, (1 - 2 * share) * n, share * n], atol=1e-9)
    np.testing.assert_allclose(fractions.sum(axis=0), 1)


@given(papers)
def test_options_add_up(rows: list[str]) -> None:
    table = table_of(rows)
    m = item_measures(table)
    given_nothing = (~table.answered).sum(axis=0)
    np.testing.assert_allclose(m.count[0].sum(axis=1) + given_nothing, len(rows))
    thirds, sizes = option_shares_by_group(table, 3)
    np.testing.assert_allclose(thirds.sum(axis=0), m.count[0], atol=1e-9)
    np.testing.assert_allclose(sizes, len(rows) / 3)
    omitted, unreached = omitted_and_not_reached(table)
    np.testing.assert_array_equal(omitted + unreached, given_nothing)


@given(arrays(float, st.tuples(st.integers(1, 12), st.integers(1, 6)), elements=st.integers(0, 4).map(float)))
@settings(max_examples=60)
def test_every_analysis_is_numbers_or_null_with_a_reason(values: NDArray[np.float64]) -> None:
    analysis, _ = analyse(points(values))
    text = analysis.model_dump_json()
    assert "NaN" not in text
    assert "Infinity" not in text
    for name, value in analysis.test.model_dump().items():
        assert value is not None or f"test.{name}" in analysis.reasons
    for item in analysis.items:
        for name, value in item.model_dump().items():
            assert value is not None or f"items.{item.id}.{name}" in analysis.reasons
