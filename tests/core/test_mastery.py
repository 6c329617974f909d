"""Mastery of skills: shares and intervals against statsmodels, bands by exact fractions, and what must always hold."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.stats.proportion import proportion_confint

from versomark.core.stats.mastery import TOO_LITTLE, mastery

SKILLS = [["loops"], ["loops", "meters"], ["meters"], ["loops"], []]
TOPS = [1, 1, 1, 1, 4]
RIGHT = st.lists(st.lists(st.sampled_from([0.0, 1.0]), min_size=4, max_size=4), min_size=1, max_size=9)


@given(RIGHT)
def test_shares_and_intervals_are_those_of_statsmodels(rows: list[list[float]]) -> None:
    points = np.array([[*row, 2.0] for row in rows])
    result = mastery(points, TOPS, SKILLS)
    assert result.skills == ("loops", "meters")
    for skill, at in enumerate(([0, 1, 3], [1, 2])):
        earned = points[:, at].sum(axis=1)
        low, high = proportion_confint(earned, len(at), method="wilson")
        assert result.low[:, skill] == pytest.approx(low, abs=1e-12)
        assert result.high[:, skill] == pytest.approx(high, abs=1e-12)
        assert result.share[:, skill] == pytest.approx(earned / len(at))
        low, high = proportion_confint(earned.sum(), len(at) * len(rows), method="wilson")
        if len(rows) == 1:
            # One student is no sample; of more the interval is that of students (test_intervals_by_simulation.py).
            assert (result.class_low[skill], result.class_high[skill]) == pytest.approx((low, high), abs=1e-12)
    # Two marks are too few to say anything of one student.
    assert all(result.band(i, 1) is None for i in range(len(rows)))
    for i, row in enumerate(rows):
        share = Fraction(int(row[0] + row[1] + row[3]), 3)
        exact = "secure" if share >= Fraction(4, 5) else "nearly" if share >= Fraction(1, 2) else "not yet"
        assert result.band(i, 0) == exact


@given(RIGHT, st.permutations(range(5)))
def test_the_order_of_questions_and_of_students_does_not_matter(rows: list[list[float]], order: list[int]) -> None:
    points = np.array([[*row, 2.0] for row in rows])
    result = mastery(points, TOPS, SKILLS)
    other = mastery(points[::-1][:, order], np.array(TOPS)[order], [SKILLS[j] for j in order])
    for at, name in enumerate(result.skills):
        assert other.share[::-1, other.skills.index(name)] == pytest.approx(result.share[:, at])


def test_a_skill_without_marks_has_no_share() -> None:
    result = mastery([[0.0], [0.0]], [0.0], [["empty"]])
    assert np.isnan(result.share).all()
    assert np.isnan(result.class_share).all()
    assert result.band(0, 0) is None
    assert mastery(np.zeros((2, 0)), [], []).skills == ()
    assert TOO_LITTLE == 3  # common practice, no source; docs/methods.md says so
