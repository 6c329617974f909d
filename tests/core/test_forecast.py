"""Forecasts of a test, judged by classes they were not made from. How often the intervals hold on classes of other
generators and on real answers is measured by `bench/forecasts.py`."""

import numpy as np
import pandas as pd
import pingouin
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from versomark.core.editions.forecast import QuestionHistory, forecast

STUDENTS = 24


def answers(rng: np.random.Generator, hard: np.ndarray, students: int, shift: float = 0.0) -> np.ndarray:
    """A logistic model, where the forecast has a normal one."""
    ability = shift + rng.normal(size=(students, 1))
    return (rng.random((students, len(hard))) < 1 / (1 + np.exp(-1.2 * (ability - hard)))).astype(float)


def history_of(data: np.ndarray, classes: int = 1) -> list[QuestionHistory]:
    total = data.sum(axis=1)
    alpha = pingouin.cronbach_alpha(pd.DataFrame(data))[0]
    return [
        QuestionHistory(
            1, len(data), classes, float(x.mean()), float(np.corrcoef(x, total - x)[0, 1]), alpha, float(x.std(ddof=1))
        )
        for x in data.T
    ]


def test_a_large_history_gives_what_large_classes_come_to() -> None:
    rng = np.random.default_rng(5)
    hard = rng.normal(0, 0.8, 25)
    earlier, later = answers(rng, hard, 3000), answers(rng, hard, 3000)
    predicted = forecast(history_of(earlier, classes=100), 400, 0.5)
    assert predicted is not None
    total = later.sum(axis=1)
    alpha = pingouin.cronbach_alpha(pd.DataFrame(later))[0]
    assert predicted.reliability.middle == pytest.approx(alpha, abs=0.03)
    assert predicted.sd.middle == pytest.approx(total.std(ddof=1), rel=0.08)
    assert predicted.mean.middle == pytest.approx(total.mean(), abs=0.5)
    assert predicted.sem.middle == pytest.approx(total.std(ddof=1) * (1 - alpha) ** 0.5, rel=0.05)
    near = 400 * float((np.abs(total - 12.5) <= predicted.margin).mean())
    assert predicted.near_cut.low <= near <= predicted.near_cut.high


def test_nine_in_ten_classes_come_out_as_foretold() -> None:
    inside = np.zeros(3)
    for seed in range(60):
        rng = np.random.default_rng([3, seed])
        hard = rng.normal(-0.2, 0.8, 20)
        before, now = (answers(rng, hard, STUDENTS, rng.normal(0, 0.42)) for _ in range(2))
        predicted = forecast(history_of(before[:, :14]) + [QuestionHistory(1)] * 6, STUDENTS, 0.6)
        assert predicted is not None
        total = now.sum(axis=1)
        came = (total.mean(), total.std(ddof=1), pingouin.cronbach_alpha(pd.DataFrame(now))[0])
        inside += [
            r.low <= c <= r.high
            for r, c in zip((predicted.mean, predicted.sd, predicted.reliability), came, strict=True)
        ]
    # Four binomial standard errors under .90; and not so wide that nothing could lie outside.
    assert (inside / 60 > 0.74).all(), inside / 60
    assert (inside < 60).any()


HISTORY = st.builds(
    QuestionHistory,
    worth=st.sampled_from([0.5, 1, 2, 6]),
    students=st.sampled_from([0, 1, 3, 24, 500]),
    classes=st.integers(1, 5),
    share=st.floats(0, 1),
    r_rest=st.none() | st.floats(-1, 1),
    reliability=st.none() | st.floats(-1, 1),
    spread=st.none() | st.floats(0, 0.5),
)


@given(st.lists(HISTORY, max_size=12), st.integers(2, 40), st.floats(0, 1))
@settings(max_examples=25, deadline=None)
def test_whatever_the_history_a_forecast_is_in_order_or_is_not_made(
    questions: list[QuestionHistory], students: int, cut: float
) -> None:
    predicted = forecast(questions, students, cut)
    if sum(question.known for question in questions) < 2:
        assert predicted is None
        return
    assert predicted is not None
    assert predicted == forecast(questions, students, cut)  # the same every time
    for values in (predicted.mean, predicted.sd, predicted.reliability, predicted.sem, predicted.near_cut):
        assert values.low <= values.middle <= values.high
        assert np.isfinite([values.low, values.high]).all()
    assert 0 <= predicted.near_cut.low <= predicted.near_cut.high <= students


def test_what_cannot_be_is_refused() -> None:
    with pytest.raises(ValueError, match="students"):
        forecast([], 1, 0.5)
    with pytest.raises(ValueError, match="cut"):
        forecast([], 24, 1.5)
