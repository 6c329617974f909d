"""What the intervals and the simulated class promise, checked by simulation from known parameters.

The truth is the parameter that each sample was drawn from; bounds allow four standard errors of the simulation.
"""

import numpy as np
import pytest

from tests.core.tables import points
from versomark.core.findings.groups import compare_groups
from versomark.core.findings.totals import totals_figures
from versomark.core.stats import part_mark_intervals, reliability, wilson
from versomark.core.stats.differential import share_difference
from versomark.core.stats.mastery import mastery
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


@pytest.mark.parametrize("students", [5, 8, 24, 60])
@pytest.mark.parametrize("true", [0.15, 0.5, 0.9])
def test_the_interval_of_part_marks_covers_the_mean(students: int, true: float) -> None:
    """Four marks, binomial; a little too wide in the smallest classes, and never too narrow."""
    values = np.random.default_rng(3).binomial(4, true, size=(students, RUNS)).astype(float)
    low, high = part_mark_intervals(values, np.full(RUNS, 4.0))
    assert np.mean((low <= true) & (true <= high)) >= 0.95 - FOUR_ERRORS
    assert ((low >= 0) & (high <= 1)).all()
    if students >= 24:
        assert np.mean(high - low) < 2.6 * 1.96 * (true * (1 - true) / 4 / students) ** 0.5


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
    assert np.mean([t == "C" for t, holder in zip(taken, holders, strict=True) if holder]) == pytest.approx(
        0.83, abs=0.05
    )
    plain = [answer(student, PLAIN, rng) for student in students]
    # Average over ability: half know it; of the rest a quarter guess it, 4% of them leave it out.
    assert np.mean([t == "A" for t in plain]) == pytest.approx(0.5 + 0.5 * 0.96 / 4, abs=0.03)
    assert np.mean([t is None for t in plain]) == pytest.approx(0.5 * 0.04, abs=0.01)
    slow = next(student for student in students if student.reaches < 0.9)
    paper = answer_paper(slow, [PLAIN] * 20, rng)
    assert paper[int(np.ceil(slow.reaches * 20)) :] == [None] * (20 - int(np.ceil(slow.reaches * 20)))


@pytest.mark.parametrize(("p", "q", "n", "m"), [(0.5, 0.5, 24, 26), (0.8, 0.6, 24, 24), (0.1, 0.3, 15, 40)])
def test_newcombes_interval_covers_the_difference_of_two_classes(p: float, q: float, n: int, m: int) -> None:
    # Newcombe 1998: method 10 covers close to its nominal level where others fall far below.
    rng = np.random.default_rng(6)
    one, other = rng.binomial(n, p, RUNS) / n, rng.binomial(m, q, RUNS) / m
    result = share_difference(one, np.full(RUNS, n), other, np.full(RUNS, m))
    covered = np.mean((result.low <= p - q) & (p - q <= result.high))
    assert covered == pytest.approx(0.95, abs=0.03 + FOUR_ERRORS)
    assert result.difference.mean() == pytest.approx(p - q, abs=4 * np.sqrt((p * (1 - p) / n + q * (1 - q) / m) / RUNS))


def test_groups_that_are_alike_are_called_different_in_one_of_twenty_and_no_item_unfair() -> None:
    """Two groups of one population and a test without any item that favours one: what is found is chance."""
    rng, runs, hard = np.random.default_rng(7), 150, np.linspace(-1, 1, 10)
    apart = unfair = 0
    for _ in range(runs):
        ability = rng.normal(size=(60, 1))
        table = points((ability + rng.logistic(size=(60, 10)) > hard).astype(float), maxima=[1] * 10)
        result = compare_groups(table, np.arange(60) < 30, ("one", "other"))
        apart += bool(result.low is not None and result.high is not None and (result.low > 0 or result.high < 0))
        unfair += sum(item.letter == "C" for item in result.items)
    assert apart / runs == pytest.approx(0.05, abs=4 * (0.95 * 0.05 / runs) ** 0.5)
    # Class C asks for a large effect beyond chance: rarer than the twentieth of a test of significance.
    assert unfair / (10 * runs) < 0.04


def test_an_item_that_favours_a_group_is_found_where_groups_are_large_enough() -> None:
    rng, runs, hard = np.random.default_rng(8), 40, np.linspace(-1, 1, 10)
    result = 0
    for _ in range(runs):
        ability, second = rng.normal(size=(400, 1)), np.arange(400) < 200
        unfair = np.zeros((400, 10))
        unfair[second, 4] = 1.5  # logits harder for the second group: about 3.5 on the scale of delta, far into C
        right = (ability + rng.logistic(size=(400, 10)) > hard + unfair).astype(float)
        items = compare_groups(points(right, maxima=[1] * 10), second, ("one", "other")).items
        result += items[4].letter == "C" and (items[4].delta or 0) < 0
    assert result / runs > 0.9


def test_a_cut_is_as_sure_as_a_parallel_test_shows() -> None:
    """Subkoviak's (1976) agreement from one sitting against a second one of the same students, simulated: Rasch, 30
    questions. His estimate leans on the binomial, so it may be a few hundredths off."""
    rng, hard = np.random.default_rng(9), np.linspace(-1.5, 1.5, 30)
    said, seen = [], []
    for _ in range(40):
        ability = rng.normal(size=(60, 1))
        first, again = ((ability + rng.logistic(size=(60, 30)) > hard).astype(float) for _ in range(2))
        (cut,) = totals_figures(points(first, maxima=[1] * 30), [0.6]).cuts
        said.append(cut.agreement)
        seen.append(np.mean((first.sum(axis=1) >= 18 - 1e-9) == (again.sum(axis=1) >= 18 - 1e-9)))
    assert np.mean([entry for entry in said if entry is not None]) == pytest.approx(np.mean(seen), abs=0.04)


@pytest.mark.parametrize("true", [0.3, 0.65, 0.9])
def test_the_interval_of_a_skill_covers_what_a_student_can(true: float) -> None:
    earned = np.random.default_rng(10).binomial(1, true, size=(RUNS, 6)).astype(float)
    result = mastery(earned, np.ones(6), [["loops"]] * 6)
    covered = np.mean((result.low[:, 0] <= true) & (true <= result.high[:, 0]))
    # Six marks are few, and a count has steps: Wilson's interval is then somewhat wide or narrow, never far off.
    assert 0.88 <= covered <= 1.0


@pytest.mark.parametrize("items", [5, 10, 20])
def test_the_interval_of_a_class_on_a_skill_takes_students_as_the_sample(items: int) -> None:
    """Classes of 24 whose abilities differ: marks as trials covered .86, .69 and .59 of the true shares."""
    rng, runs, covered = np.random.default_rng(12), 400, 0
    able = rng.normal(size=200_000)
    true = float(np.mean(1 / (1 + np.exp(-1.5 * able))))
    for _ in range(runs):
        chance = 1 / (1 + np.exp(-1.5 * rng.normal(size=(24, 1))))
        result = mastery((rng.random((24, items)) < chance).astype(float), np.ones(items), [["loops"]] * items)
        covered += bool(result.class_low[0] <= true <= result.class_high[0])
    assert covered / runs == pytest.approx(0.95, abs=4 * (0.95 * 0.05 / runs) ** 0.5)
