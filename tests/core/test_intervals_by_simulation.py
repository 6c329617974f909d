"""What the intervals and the simulated class promise, checked by simulation from known parameters.

The truth is the parameter that each sample was drawn from; bounds allow four standard errors of the simulation.
"""

import numpy as np
import pytest

from tests.core.tables import points
from versomark.core.stats import bootstrap_means, reliability, resample_weights, wilson
from versomark.stand_ins.class_of_students import SimulatedItem, answer, answer_paper, make_class

RUNS = 2000
FOUR_ERRORS = 4 * (0.95 * 0.05 / RUNS) ** 0.5


@pytest.mark.parametrize("p", [0.2, 0.5, 0.9])
def test_wilson_covers_about_95_of_100(p: float) -> None:
    # Agresti & Coull 1998: Wilson's interval covers close to its nominal level even in small samples.
    counts = np.random.default_rng(1).binomial(24, p, size=RUNS)
    low, high = wilson(counts, 24)
    assert np.mean((low <= p) & (p <= high)) == pytest.approx(0.95, abs=0.025 + FOUR_ERRORS)


def test_feldts_interval_covers_alpha() -> None:
    """Items that are parallel, with normal errors: the case for which Feldt (1965) derived the F distribution."""
    rng, items, students = np.random.default_rng(2), 10, 40
    true_alpha = items * 0.3 / (1 + (items - 1) * 0.3)  # Spearman–Brown from an inter-item correlation of .3
    inside = 0
    runs = 600
    for _ in range(runs):
        scores = np.sqrt(0.3) * rng.normal(size=(students, 1)) + np.sqrt(0.7) * rng.normal(size=(students, items))
        r = reliability(points(scores, maxima=[5] * items))
        inside += r.alpha_low <= true_alpha <= r.alpha_high
    assert inside / runs == pytest.approx(0.95, abs=4 * (0.95 * 0.05 / runs) ** 0.5)


def test_the_bootstrap_covers_the_mean() -> None:
    rng, inside, runs = np.random.default_rng(3), 0, 200
    for run in range(runs):
        values = rng.integers(0, 5, size=(40, 1)).astype(float)
        low, high = bootstrap_means(values, seed=run, resamples=400)
        inside += bool(low[0] <= 2.0 <= high[0])
    assert inside / runs == pytest.approx(0.94, abs=0.07)


def test_resamples_draw_as_many_students_as_there_are() -> None:
    weights = resample_weights(17, 500, seed=4)
    assert weights.shape == (500, 17)
    np.testing.assert_array_equal(weights.sum(axis=1), 17)
    assert weights.mean() == 1
    np.testing.assert_array_equal(weights, resample_weights(17, 500, seed=4))


PLAIN = SimulatedItem(("A", "B", "C", "D"), "A", 0.0, {})
DRAWN = SimulatedItem(("A", "B", "C", "D"), "A", 0.0, {"C": "used up"})


def test_simulated_students_follow_the_model_that_is_written_down() -> None:
    rng = np.random.default_rng(5)
    students = make_class(4000, {"used up": 0.35}, rng)
    abilities = np.array([student.ability for student in students])
    holders = np.array(["used up" in student.ideas for student in students])
    assert abilities.mean() == pytest.approx(0, abs=0.07)
    assert abilities.std() == pytest.approx(1, abs=0.05)
    assert holders[np.abs(abilities) < 0.3].mean() == pytest.approx(0.35, abs=0.06)
    assert holders[abilities < -1].mean() > holders[abilities > 1].mean()
    taken = [answer(student, DRAWN, rng) for student in students]
    assert np.mean([t == "C" for t, held in zip(taken, holders, strict=True) if held]) == pytest.approx(0.83, abs=0.05)
    plain = [answer(student, PLAIN, rng) for student in students]
    # Average over ability: half know it; of the rest a quarter guess it, 4% of them leave it out.
    assert np.mean([t == "A" for t in plain]) == pytest.approx(0.5 + 0.5 * 0.96 / 4, abs=0.03)
    assert np.mean([t is None for t in plain]) == pytest.approx(0.5 * 0.04, abs=0.01)
    slow = next(student for student in students if student.reaches < 0.9)
    paper = answer_paper(slow, [PLAIN] * 20, rng)
    assert paper[int(np.ceil(slow.reaches * 20)) :] == [None] * (20 - int(np.ceil(slow.reaches * 20)))
