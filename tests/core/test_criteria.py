"""Rubrics judged by their marks. How often each word is right is measured on real ratings by `bench/criteria.py`; here
are the rules by hand, what must hold for any marks, and how true they are on marks of a generator of the test's own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from tests.core.tables import points
from versomark.core.findings.criteria import CriterionMarks, RubricFigures, rubric_figures
from versomark.core.findings.flags import Flag
from versomark.core.response_table import ResponseTable

LEVELS = (0.0, 1.0, 2.0, 3.0)


def rubric(marks: np.ndarray, others: np.ndarray | None = None) -> tuple[list[CriterionMarks], ResponseTable]:
    """Criteria of three points as the first item, beside other items of one mark."""
    columns = [np.nan_to_num(marks).sum(axis=1, keepdims=True)] + ([others] if others is not None else [])
    table = points(
        np.hstack(columns).tolist(), maxima=[3 * marks.shape[1], *([1] * (0 if others is None else others.shape[1]))]
    )
    return [CriterionMarks(f"c{j}", 3, LEVELS, marks[:, j]) for j in range(marks.shape[1])], table


def judged(marks: np.ndarray, others: np.ndarray | None = None) -> RubricFigures:
    return rubric_figures(*rubric(marks, others), 0)


def found(figures: RubricFigures) -> dict[Flag, int]:
    return {finding.flag: finding.criterion for finding in figures.findings}


def class_of(rng: np.random.Generator, students: int, criteria: int = 4) -> np.ndarray:
    seen = rng.normal(size=(students, 1)) + 0.7 * rng.normal(size=(students, criteria))
    return np.digitize(seen, [-0.8, 0.0, 0.8]).astype(float)


def test_figures_are_those_of_everything_else() -> None:
    rng = np.random.default_rng(4)
    marks, others = class_of(rng, 40, 3), (rng.random((40, 5)) < 0.6).astype(float)
    figures = judged(marks, others)
    for j in range(3):
        rest = np.delete(marks, j, axis=1).sum(axis=1) + others.sum(axis=1)
        assert figures.r_rest[j] == pytest.approx(stats.pearsonr(marks[:, j], rest)[0])
        for level in figures.levels[j]:
            here = marks[:, j] == level.points
            assert level.students == here.sum()
            assert level.rest == pytest.approx(rest[here].mean() / 11)


def test_planted_troubles_are_found_on_the_criterion_that_has_them() -> None:
    swapped = elsewhere = unused = quiet = 0
    for seed in range(40):
        rng = np.random.default_rng(seed)
        marks = class_of(rng, 150)
        quiet += not judged(marks).findings
        turned = marks.copy()
        turned[:, 1] = np.where(marks[:, 1] == 1, 2, np.where(marks[:, 1] == 2, 1, marks[:, 1]))
        swapped += found(judged(turned)) == {Flag.LEVELS_OUT_OF_ORDER: 1}
        odd = marks.copy()
        odd[:, 2] = rng.integers(0, 4, size=150)
        elsewhere += found(judged(odd)) == {Flag.SOMETHING_ELSE: 2}
        coarse = marks.copy()
        coarse[:, 3] = np.where(marks[:, 3] == 2, 1, marks[:, 3])
        result = judged(coarse)
        unused += found(result) == {Flag.UNUSED_LEVELS: 3} and result.findings[0].levels[0].points == 2
    assert (quiet, unused) == (40, 40)
    assert swapped >= 30
    assert elsewhere >= 36


def test_how_likely_levels_are_out_of_order_is_how_often_they_are() -> None:
    """One pair in twenty is turned, as the prior has it; what is called probable or more is right as often."""
    probabilities, true = [], []
    for seed in range(1500):
        rng = np.random.default_rng([7, seed])
        marks = class_of(rng, 60)
        turned = int(rng.integers(4)) if rng.random() < 0.4 else -1  # four criteria of three pairs: 0.4 of 12 is a 30th
        if turned >= 0:
            low = int(rng.integers(3))
            column = marks[:, turned]
            marks[:, turned] = np.where(column == low, low + 1, np.where(column == low + 1, low, column))
        for finding in judged(marks).findings:
            if finding.flag is Flag.LEVELS_OUT_OF_ORDER:
                probabilities.append(finding.probability)
                true.append(finding.criterion == turned)
    assert len(probabilities) > 60
    assert np.mean(true) > np.mean(probabilities) - 0.05


def test_most_criteria_apart_is_the_question_apart() -> None:
    rng = np.random.default_rng(2)
    marks = rng.integers(0, 4, size=(200, 3)).astype(float)
    assert Flag.SOMETHING_ELSE not in found(judged(marks))


@given(st.integers(0, 9999), st.integers(1, 30), st.integers(1, 4))
def test_nothing_is_claimed_of_few_and_nothing_breaks(seed: int, students: int, criteria: int) -> None:
    rng = np.random.default_rng(seed)
    marks = rng.integers(0, rng.integers(1, 5), size=(students, criteria)).astype(float)
    marks[rng.random(students) < 0.3] = np.nan
    figures = judged(marks)
    for finding in figures.findings:
        assert 0.75 <= finding.probability <= 1
        assert int((~np.isnan(marks[:, finding.criterion])).sum()) >= 8
    for j, levels in enumerate(figures.levels):
        assert sum(level.students for level in levels) == int((~np.isnan(marks[:, j])).sum())


def test_criteria_of_another_class_are_refused() -> None:
    criteria, table = rubric(class_of(np.random.default_rng(1), 12))
    with pytest.raises(ValueError, match="points of 'c0' must be of 12 students"):
        rubric_figures([CriterionMarks("c0", 3, LEVELS, np.zeros(5))], table, 0)
    with pytest.raises(ValueError, match="item must be a place in the table"):
        rubric_figures(criteria, table, 3)
