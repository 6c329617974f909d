"""Every item measure once more, the long way: plain Python over one student at a time, straight from the definitions.

The vectorised code and this share nothing but the table, so agreement on random tables with ties, gaps and part marks
is evidence for both. Definitions: `docs/methods.md`.
"""

from dataclasses import dataclass
from math import isnan, sqrt

import numpy as np
import pytest

from tests.core.tables import choices, points
from versomark.core.findings import analyse
from versomark.core.response_table import ResponseTable


@dataclass
class Loops:
    """The slow reading of a table."""

    table: ResponseTable

    def totals(self, leave_out: int | None = None) -> list[float]:
        kept = [j for j in range(len(self.table.items)) if j != leave_out]
        return [sum(float(self.table.points[i, j]) for j in kept) for i in range(len(self.table.students))]

    def column(self, j: int) -> list[float]:
        return [float(value) for value in self.table.points[:, j]]

    def chose(self, j: int, k: int) -> list[float]:
        return [float(choice == k) for choice in self.table.choice[:, j]]

    def end_group(self, share: float, upper: bool, leave_out: int | None = None) -> list[float]:
        """How much of each student belongs to the group: fill it from the end, ties sharing what is left."""
        totals, left = self.totals(leave_out), share * len(self.table.students)
        weights = [0.0] * len(totals)
        for score in sorted(set(totals), reverse=upper):
            tied = [i for i, total in enumerate(totals) if total == score]
            part = min(1.0, left / len(tied))
            for i in tied:
                weights[i] = part
            left -= part * len(tied)
            if left <= 1e-12:
                break
        return weights

    def p_in(self, weights: list[float], j: int) -> float:
        earned = sum(w * x for w, x in zip(weights, self.column(j), strict=True))
        return earned / sum(weights) / self.table.items[j].max


def mean(values: list[float]) -> float:
    return sum(values) / len(values)


def variance(values: list[float]) -> float:
    centre = mean(values)
    return sum((value - centre) ** 2 for value in values) / len(values)


def pearson(one: list[float], other: list[float]) -> float | None:
    if variance(one) < 1e-12 or variance(other) < 1e-12:
        return None
    a, b = mean(one), mean(other)
    shared = sum((x - a) * (y - b) for x, y in zip(one, other, strict=True)) / len(one)
    return shared / sqrt(variance(one) * variance(other))


def alpha(columns: list[list[float]]) -> float | None:
    totals = [sum(row) for row in zip(*columns, strict=True)]
    if len(columns) < 2 or variance(totals) < 1e-12:
        return None
    n = len(columns)
    return n / (n - 1) * (1 - sum(variance(column) for column in columns) / variance(totals))


def random_choices(seed: int) -> ResponseTable:
    rng = np.random.default_rng(seed)
    students, items = int(rng.integers(5, 60)), int(rng.integers(2, 12))
    rows = ["".join(rng.choice(list("ABCD-"), size=items, p=[0.4, 0.25, 0.2, 0.1, 0.05])) for _ in range(students)]
    return choices(rows, "".join(rng.choice(list("AB"), size=items)))


def random_points(seed: int) -> ResponseTable:
    rng = np.random.default_rng(1000 + seed)
    values = rng.integers(0, 5, size=(int(rng.integers(5, 40)), int(rng.integers(2, 9)))) / 2
    values[0] = 2.0
    return points(values, maxima=[2.0] * values.shape[1])


def same(ours: float | None, theirs: float | None) -> None:
    assert (ours is None) == (theirs is None)
    if ours is not None and theirs is not None:
        assert ours == pytest.approx(theirs, abs=1e-9)


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("make", [random_choices, random_points])
def test_items(make: object, seed: int) -> None:
    table: ResponseTable = make(seed)  # type: ignore[operator]
    loops, (analysis, _) = Loops(table), analyse(table, explained=False)
    upper, lower = loops.end_group(0.27, upper=True), loops.end_group(0.27, upper=False)
    columns = [loops.column(j) for j in range(len(table.items))]
    upper_rest = [loops.end_group(0.27, upper=True, leave_out=j) for j in range(len(columns))]
    lower_rest = [loops.end_group(0.27, upper=False, leave_out=j) for j in range(len(columns))]
    for j, item in enumerate(analysis.items):
        same(item.p, mean(columns[j]) / item.max)
        same(item.r_total, pearson(columns[j], loops.totals()))
        same(item.r_rest, pearson(columns[j], loops.totals(leave_out=j)))
        same(item.d, loops.p_in(upper, j) - loops.p_in(lower, j))
        same(item.d_rest, loops.p_in(upper_rest[j], j) - loops.p_in(lower_rest[j], j))
        same(item.alpha_without, alpha(columns[:j] + columns[j + 1 :]))
    same(analysis.test.alpha, alpha(columns))


@pytest.mark.parametrize("seed", range(12))
def test_options(seed: int) -> None:
    table = random_choices(seed)
    loops, (analysis, _) = Loops(table), analyse(table, explained=False)
    groups = {"upper": loops.end_group(0.27, upper=True), "lower": loops.end_group(0.27, upper=False)}
    groups["middle"] = [1 - a - b for a, b in zip(groups["upper"], groups["lower"], strict=True)]
    totals = loops.totals()
    for j, item in enumerate(analysis.items):
        rest = loops.totals(leave_out=j)
        for k, option in enumerate(item.options):
            chose = loops.chose(j, k)
            assert option.count == sum(chose)
            same(option.share, mean(chose))
            same(option.r_rest, pearson(chose, rest))
            taken = [total for total, one in zip(totals, chose, strict=True) if one]
            same(option.mean_total, mean(taken) if taken else None)
            for name, weights in groups.items():
                held = sum(w * c for w, c in zip(weights, chose, strict=True)) / sum(weights)
                same(getattr(option, name), held)


@pytest.mark.parametrize("seed", range(6))
def test_omitted_and_not_reached(seed: int) -> None:
    table = random_choices(seed)
    analysis, _ = analyse(table, explained=False)
    for j, item in enumerate(analysis.items):
        omitted = not_reached = 0
        for row in table.choice.tolist():
            if row[j] < 0:
                later = any(choice >= 0 for choice in row[j + 1 :])
                omitted, not_reached = omitted + later, not_reached + (not later)
        assert (item.omitted, item.not_reached) == (omitted, not_reached)


def test_a_class_that_answers_alike_has_no_correlations_but_reasons() -> None:
    analysis, _ = analyse(choices(["AB"] * 10, "AA"))
    assert [item.r_rest for item in analysis.items] == [None, None]
    assert analysis.reasons["items.q1.r_rest"] == "Every student earned the same on it."
    assert analysis.test.alpha is None
    assert analysis.reasons["test.alpha"] == "Every student has the same total."
    assert not isnan(analysis.test.mean or 0)
