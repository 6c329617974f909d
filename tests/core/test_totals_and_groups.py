"""Tables put together, the test's totals and two groups, against general libraries and what must always hold."""

from itertools import pairwise

import numpy as np
import pandas as pd
import pingouin
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import ttest_ind
from statsmodels.stats.contingency_tables import StratifiedTable

from tests.core.tables import choices, points
from versomark.core.findings.groups import compare_groups
from versomark.core.findings.groups import opening as groups_opening
from versomark.core.findings.totals import opening, totals_figures
from versomark.core.response_table import ItemColumn, ResponseTable, put_together
from versomark.core.stats.decisions import lengthened


def simulated(students: int, items: int, seed: int) -> np.ndarray:
    """Right or wrong under a Rasch model."""
    rng = np.random.default_rng(seed)
    ability, hard = rng.normal(size=(students, 1)), np.linspace(-1.5, 1.5, items)
    return (ability + rng.logistic(size=(students, items)) > hard).astype(float)


def skilled(table: ResponseTable) -> ResponseTable:
    """The first half of the questions under one skill, the second under another, each half a section too."""
    half = len(table.items) // 2
    items = tuple(
        ItemColumn(item.id, item.max, skills=("loops" if j < half else "meters",), section=int(j >= half), number=j + 1)
        for j, item in enumerate(table.items)
    )
    return ResponseTable(table.students, items, table.points, table.choice, table.answered)


@given(st.lists(st.integers(1, 6), min_size=2, max_size=4), st.integers(0, 99))
def test_students_put_together_are_the_students_as_they_were(sizes: list[int], seed: int) -> None:
    rng = np.random.default_rng(seed)
    rows = ["".join(rng.choice(list("ABC-"), 5)) for _ in range(sum(sizes))]
    whole, at = choices(rows, "ABCAB"), np.cumsum([0, *sizes])
    parts = [whole.rows(range(start, end)) for start, end in pairwise(at)]
    # The second was not asked the last question.
    parts[1] = parts[1].columns([3, 1, 0, 2])
    together = put_together(parts)
    assert [item.id for item in together.items] == ["q1", "q2", "q3", "q4"]
    assert together.students == whole.students
    for name in ("points", "choice", "answered"):
        assert np.array_equal(getattr(together, name), getattr(whole.columns(range(4)), name))


def test_a_choice_that_would_mean_something_else_is_not_put_together() -> None:
    with pytest.raises(ValueError, match="other options"):
        put_together([choices(["A"], "A"), choices(["A"], "A", options="AB")])


def test_reliability_of_the_whole_its_parts_and_without_each_question_is_that_of_pingouin() -> None:
    marks = simulated(60, 12, 3)
    result = totals_figures(skilled(points(marks, np.ones(12))), sections={0: "First", 1: "Second"})
    assert result.alpha == pytest.approx(pingouin.cronbach_alpha(pd.DataFrame(marks))[0], abs=1e-9)
    named = {(subtest.by, subtest.name): subtest for subtest in result.subtests}
    for at, names in ((slice(0, 6), ("loops", "First")), (slice(6, 12), ("meters", "Second"))):
        alpha, (low, high) = pingouin.cronbach_alpha(pd.DataFrame(marks[:, at]))
        for by, name in zip(("skill", "section"), names, strict=True):
            one = named[by, name]
            assert one.alpha == pytest.approx(alpha, abs=1e-9)
            assert (one.alpha_low, one.alpha_high) == pytest.approx((low, high), abs=1e-3)  # it rounds to 3 places
            assert (one.items, one.mean) == (6, pytest.approx(marks[:, at].sum(axis=1).mean()))
    for j, one in enumerate(result.without):
        without = pingouin.cronbach_alpha(pd.DataFrame(np.delete(marks, j, axis=1)))[0]
        assert one.alpha == pytest.approx(without, abs=1e-9)
        assert one.change == pytest.approx(without - (result.alpha or 0), abs=1e-9)


@given(st.integers(0, 60), st.lists(st.sampled_from([0.3, 0.5, 0.65, 0.8, 1.0]), min_size=1, max_size=3))
def test_cuts_count_everybody_once_and_a_longer_test_is_as_long_as_it_must_be(seed: int, cuts: list[float]) -> None:
    marks = simulated(15, 10, seed)
    result = totals_figures(points(marks, np.ones(10)), cuts)
    totals = marks.sum(axis=1)
    for cut, share in zip(result.cuts, cuts, strict=True):
        assert (cut.reach, cut.below) == ((totals >= 10 * share - 1e-9).sum(), (totals < 10 * share - 1e-9).sum())
        near = [
            f"s{i}" for i in range(15) if result.sem is not None and abs(totals[i] - 10 * share) <= result.sem + 1e-9
        ]
        assert cut.near == near
    for length in result.lengths:
        if length.items is not None:
            # Spearman 1910, Brown 1910, the other way round.
            assert lengthened(result.alpha or 0, length.items / 10) >= length.wanted - 1e-9
            assert length.items == 1 or lengthened(result.alpha or 0, (length.items - 1) / 10) < length.wanted


def test_words_for_the_totals_name_who_is_too_close_and_what_a_longer_test_brings() -> None:
    marks = simulated(40, 10, 5)
    table = points(marks, np.ones(10))
    result = totals_figures(table, [0.5])
    says = opening(result, 10, {student: student.upper() for student in table.students})
    assert f"{result.cuts[0].reach} of 40 reach 5 of 10 marks." in says
    assert result.cuts[0].near[0].upper() in says
    longer = next(length for length in result.lengths if (length.items or 0) > 10)
    assert f"{(longer.items or 0) - 10} more question" in says
    flat = totals_figures(points(np.ones((5, 4)), np.ones(4)), [0.5])
    assert (flat.alpha, flat.cuts[0].near, flat.lengths[0].items) == (None, [], None)
    assert flat.reasons["alpha"]
    parts = totals_figures(points([[2, 0], [1, 3]], [2, 3]), [0.5])
    assert parts.reasons["consistency"]
    assert parts.cuts[0].agreement is None
    assert parts.errors == []


def test_groups_are_as_far_apart_as_scipy_says_and_differ_as_statsmodels_says() -> None:
    marks, rng = simulated(120, 8, 9), np.random.default_rng(9)
    second = rng.random(120) < 0.5
    # The fourth question is much harder for the second group, whatever they can do.
    marks[:, 3] = np.where(second & (rng.random(120) < 0.8), 0, marks[:, 3])
    table = points(marks, np.ones(8))
    result = compare_groups(table, second, ("Heron", "Tern"))
    shares = marks.sum(axis=1) / 8
    interval = ttest_ind(shares[~second], shares[second], equal_var=False).confidence_interval(0.95)
    assert (result.low, result.high) == pytest.approx((interval.low, interval.high))
    totals = marks.sum(axis=1)
    tables = [
        [[(hit & own & at).sum() for hit in (marks[:, 3] == 1, marks[:, 3] == 0)] for own in (~second, second)]
        for at in (totals == value for value in np.unique(totals))
    ]
    odds = StratifiedTable([np.array(table, float) for table in tables]).oddsratio_pooled
    assert result.items[3].delta == pytest.approx(-2.35 * np.log(odds))
    assert [item.letter for item in result.items].count("C") == 1
    assert result.items[3].letter == "C"
    assert (result.items[3].low or 0) > 0
    says = groups_opening(result, {"q4": "4b"})
    assert "question 4b is not equally hard for both" in says
    assert result.warning == ""


def test_small_groups_are_warned_of_and_an_empty_one_is_none() -> None:
    table = points(simulated(24, 5, 1), np.ones(5))
    result = compare_groups(table, np.arange(24) < 4, ("the others", "Red"))
    assert "Fewer than 20 students in Red" in result.warning
    assert "through chance alone" in groups_opening(result, {})
    with pytest.raises(ValueError, match="need students"):
        compare_groups(table, np.zeros(24, bool), ("the others", "Red"))
