"""Every public function of the measures names what is wrong with what it is given, and figures that cannot be known are
not made up."""

from collections.abc import Callable
from typing import Any

import numpy as np
import pandas as pd
import pingouin as pg
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from versomark.core.findings import words
from versomark.core.stats import (
    agreement,
    cohen_kappa,
    distribution,
    intraclass,
    krippendorff_alpha,
    part_mark_intervals,
    severity,
    taking_part,
    trace_groups,
    wilson,
)
from versomark.core.stats.decisions import conditional_sem, consistency, lengthened, scores
from versomark.core.stats.differential import group_difference, mantel_haenszel, share_difference
from versomark.core.stats.gains import gains
from versomark.core.stats.mastery import mastery
from versomark.core.stats.means import apart, mean_of, mean_share
from versomark.core.stats.model_fit import andersen_test, fits
from versomark.core.stats.partial_credit import LARGEST_ERROR, NoScale, fit_partial_credit
from versomark.core.stats.persons import moments, place_persons
from versomark.core.stats.student_problem import student_problem
from versomark.core.stats.times import times

FLAT, DEEP, INF = [1.0, 2.0], [[1.0, 0.0], [0.0, 1.0]], [1.0, float("inf")]
SCALE = fit_partial_credit(np.random.default_rng(3).integers(0, 2, (60, 4)))


@pytest.mark.parametrize(
    ("call", "named"),
    [
        (lambda: consistency(DEEP, 4, 2, 0.5), "totals"),
        (lambda: consistency(FLAT, 0, 2, 0.5), "items"),
        (lambda: conditional_sem([5.0], 4), "totals"),
        (lambda: lengthened(0.5, -1), "times"),
        (lambda: scores(INF, 4), "totals"),
        (lambda: scores(FLAT, -1), "of"),
        (lambda: mantel_haenszel([1, 0, 2], [1, 2, 3], np.array([True, False, True])), "right"),
        (lambda: mantel_haenszel([1, 0], [1, 2, 3], np.array([True, False])), "totals"),
        (lambda: group_difference(np.array(DEEP), np.array([1.0]), np.array([True, False])), "maxima"),
        (lambda: share_difference(INF, 1, 1, 1), "one"),
        (lambda: gains(FLAT, [1.0], 4), "after"),
        (lambda: gains([], [], 4), "before"),
        (lambda: wilson(3, 2), "count"),
        (lambda: wilson(1, INF), "total"),
        (lambda: part_mark_intervals(np.array(FLAT), [1.0]), "values"),
        (lambda: part_mark_intervals([[1.0]], [0.0]), "maxima"),
        (lambda: mastery(DEEP, [1.0], [["a"], ["b"]]), "maxima"),
        (lambda: mean_of([]), "values"),
        (lambda: mean_share(INF), "values"),
        (lambda: apart([], FLAT), "one"),
        (lambda: student_problem(np.array([1, 0])), "right"),
        (lambda: taking_part(np.array([True])), "answered"),
        (lambda: times(np.array([[-1.0]])), "seconds"),
        (lambda: distribution(np.array([])), "totals"),
        (lambda: trace_groups(-1), "students"),
        (lambda: agreement(FLAT, [1.0], [1.0, 2.0], 1), "second"),
        (lambda: cohen_kappa(DEEP, FLAT, [1.0, 2.0]), "ratings"),
        (lambda: krippendorff_alpha(FLAT), "ratings"),
        (lambda: intraclass([[1.0, float("nan")], [0.0, 1.0]]), "ratings"),
        (lambda: severity([1.0]), "ratings"),
        (lambda: fit_partial_credit(FLAT), "points"),
        (lambda: andersen_test(INF), "points"),
        (lambda: moments(np.array(INF), np.array([0.0])), "theta"),
        (lambda: place_persons(SCALE, [[1.0, 0.0]]), "points"),
        (lambda: fits(SCALE, np.zeros((3, 4)), np.zeros(2)), "theta"),
    ],
)
def test_what_is_wrong_is_named(call: Callable[[], Any], named: str) -> None:
    with pytest.raises(ValueError, match=rf"\b{named}\b"):
        call()


@settings(max_examples=150)
@example([[0, 2], [3, 0], [3, 0], [3, 0]])
@given(st.lists(st.lists(st.integers(0, 3), min_size=2, max_size=2), min_size=3, max_size=12))
def test_intraclass_of_any_two_markers_is_a_number_and_that_of_pingouin(
    table: list[list[int]],
) -> None:
    """Against pingouin (Vallat 2018) wherever its mean squares leave it a value."""
    result = intraclass(table)
    if result is None:
        assert np.ptp(np.array(table)) == 0
        return
    for entry in (result.one_way, result.absolute, result.consistent):
        assert np.isfinite([entry.value, entry.low, entry.high]).all()
        assert entry.low <= entry.value + 1e-9 <= entry.high + 2e-9
    rows = [(i, k, value) for i, row in enumerate(table) for k, value in enumerate(row)]
    frame = pd.DataFrame(rows, columns=["answer", "marker", "points"])
    with np.errstate(all="ignore"):
        theirs = pg.intraclass_corr(frame, "answer", "marker", "points").set_index("Type")["ICC"]
    for entry, name in ((result.one_way, "ICC(1,1)"), (result.absolute, "ICC(A,1)"), (result.consistent, "ICC(C,1)")):
        value = float(theirs[name])
        if np.isfinite(value) and abs(value) < 50:
            assert entry.value == pytest.approx(value, abs=1e-6)


def test_two_of_opposite_minds_have_the_least_agreement_there_is() -> None:
    result = intraclass([[1, 0], [0, 1]])
    assert result is not None
    assert (result.absolute.value, result.consistent.value) == (-1, -1)


def test_a_scale_of_a_class_has_no_step_that_the_answers_cannot_place() -> None:
    """Classes of 24 with part marks, as a teacher has them: errors of hundreds of logits were seen."""
    rng = np.random.default_rng(11)
    merged = scales = 0
    for _ in range(60):
        ability = rng.normal(0, 1, 24)
        table = np.column_stack(
            [np.clip(np.round(2 + 1.4 * ability + rng.normal(0, 1, 24)), 0, most) for most in (1, 1, 3, 5, 6)]
        )
        try:
            scale = fit_partial_credit(table)
        except NoScale:
            continue
        scales += 1
        merged += len(scale.merged)
        assert max(errors.max() for errors in scale.errors) <= LARGEST_ERROR
        theta = place_persons(scale, table)
        assert np.isfinite(theta.theta).all()
    assert scales > 30
    assert merged > 0


def test_of_few_students_nothing_is_claimed() -> None:
    for students in (2, 3, 5, 7):
        opening = words.opening(students, 0.5, (0.9, None), [], True)
        assert "stands out" not in opening
        assert "dependable" not in opening
        assert "8 are needed" in opening
        assert "very well" not in words.d_in_words(0.93, students)
    assert "No question stands out." in words.opening(8, 0.5, (0.9, None), [], True)
