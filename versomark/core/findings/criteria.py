"""What marks by a rubric say of the rubric: levels that nobody is given, levels out of order, a criterion that measures
something else than the rest. The rules, their sources and how often they are right stand in `docs/methods.md`.

Each student's mark on a criterion is put beside *everything else*: all that the student earned in the test but on this
criterion, the other criteria of the same question included.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import ResponseTable
from versomark.core.stats.distributions import beta_below, normal_tail

from .flags import Flag, Thresholds

Floats = NDArray[np.float64]

FEWEST_AT_A_LEVEL = 3
"""Students at each of two levels, before it is asked whether the levels are in order (our choice)."""


@dataclass(frozen=True)
class CriterionPriors:
    """What is known of criteria before a class is seen. On Fisher's z where it is of correlations."""

    goes_with_the_rest: tuple[float, float] = (0.50, 0.20)
    """Mean and spread of how a criterion goes with everything else where it belongs there: marks on several criteria
    of one piece of work correlate .4 to .7 (from memory)."""
    something_else: tuple[float, float] = (0.0, 0.15)
    out_of_order: float = 0.05
    """Of two neighbouring levels. This and the next: our choice, no source."""
    measures_something_else: float = 0.10


@dataclass(frozen=True)
class CriterionMarks:
    """The marks of one criterion.

    levels: points of the levels that the rubric describes, none where it describes none. points: (N,), NaN for a
    student whose answer has no mark.
    """

    name: str
    max: float
    levels: tuple[float, ...]
    points: Floats


@dataclass(frozen=True)
class LevelMean:
    """Who was given so many points, and the mean share of everything else that they earned (NaN for nobody)."""

    points: float
    students: int
    rest: float


@dataclass(frozen=True)
class CriterionFinding:
    """One flag on one criterion (its place). levels: those it is about; r: of the criterion with everything else."""

    criterion: int
    flag: Flag
    probability: float
    levels: tuple[LevelMean, ...] = ()
    r: float = float("nan")


@dataclass(frozen=True)
class RubricFigures:
    """What marks say of one rubric: by criterion its correlation with everything else, NaN where there is none, and
    its levels; and what to look at, of each flag on the criterion on which it is likeliest."""

    r_rest: list[float]
    levels: list[list[LevelMean]]
    findings: list[CriterionFinding] = field(default_factory=list)


def rubric_figures(
    criteria: Sequence[CriterionMarks],
    table: ResponseTable,
    item: int,
    thresholds: Thresholds | None = None,
    priors: CriterionPriors | None = None,
) -> RubricFigures:
    """Figures and findings of the rubric by which an item was marked.

    Parameters
    ----------
    criteria : sequence of CriterionMarks
        Of N students each, in the order of the table.
    table : ResponseTable
    item : int
        Its place in the table.

    Raises
    ------
    ValueError
        If a criterion is not of the students of the table, or the table has no such item.
    """
    thresholds, priors = thresholds or Thresholds(), priors or CriterionPriors()
    if not 0 <= item < len(table.items):
        raise ValueError(f"item must be a place in the table, and is {item}.")
    for criterion in criteria:
        if criterion.points.shape != (len(table.students),):
            raise ValueError(f"points of {criterion.name!r} must be of {len(table.students)} students.")
    rest = [_rest(criteria, at, table, item) for at in range(len(criteria))]
    levels = [_level_means(criterion, share) for criterion, share in zip(criteria, rest, strict=True)]
    r = [_correlation(criterion.points, share) for criterion, share in zip(criteria, rest, strict=True)]
    findings = list[CriterionFinding]()
    elsewhere = [
        _something_else(criterion, value, thresholds, priors) for criterion, value in zip(criteria, r, strict=True)
    ]
    # Where most criteria do not go with the rest, it is the question that does not, and none of them is the odd one.
    odd = [p >= thresholds.possible for p in elsewhere]
    may_be_odd = 2 * sum(odd) <= len(criteria)
    for at, criterion in enumerate(criteria):
        if int((~np.isnan(criterion.points)).sum()) < thresholds.fewest_students:
            continue
        findings += _unused(at, criterion, levels[at], thresholds)
        if may_be_odd and elsewhere[at] >= thresholds.shown_from(Flag.SOMETHING_ELSE):
            # That its levels do not rise with the rest follows from it, and is not said again.
            findings.append(CriterionFinding(at, Flag.SOMETHING_ELSE, elsewhere[at], r=r[at]))
        else:
            findings += _out_of_order(at, criterion, levels[at], rest[at], thresholds, priors)
    likeliest: dict[Flag, CriterionFinding] = {}
    for finding in findings:
        if finding.flag not in likeliest or finding.probability > likeliest[finding.flag].probability:
            likeliest[finding.flag] = finding
    order = list(Flag)
    return RubricFigures(r, levels, sorted(likeliest.values(), key=lambda entry: order.index(entry.flag)))


def _rest(criteria: Sequence[CriterionMarks], at: int, table: ResponseTable, item: int) -> Floats:
    """(N,) share of everything else that each student earned; NaN for who has no mark on this criterion, or where
    there is nothing else."""
    whole = sum(criterion.max for criterion in criteria)
    worth = table.items[item].max / whole if whole else 0.0
    others = [criterion for place, criterion in enumerate(criteria) if place != at]
    own = sum((criterion.points for criterion in others), np.zeros(len(table.students))) * worth
    elsewhere, most = table.rest[:, item], table.max_total - table.items[item].max
    most += worth * sum(criterion.max for criterion in others)
    share: Floats = np.where(np.isnan(criteria[at].points), np.nan, elsewhere + own) / (most or np.nan)
    return share


def _level_means(criterion: CriterionMarks, rest: Floats) -> list[LevelMean]:
    """Lowest first: what was given, and what the rubric describes."""
    given = np.unique(criterion.points[~np.isnan(criterion.points)])
    means = []
    for points in sorted({*given.tolist(), *criterion.levels}):
        here = rest[criterion.points == points]
        means.append(LevelMean(points, len(here), float(here.mean()) if len(here) else float("nan")))
    return means


def _correlation(points: Floats, rest: Floats) -> float:
    both = ~np.isnan(points) & ~np.isnan(rest)
    if both.sum() < 4 or np.ptp(points[both]) == 0 or np.ptp(rest[both]) < 1e-12:
        return float("nan")
    return float(np.corrcoef(points[both], rest[both])[0, 1])


def _unused(
    at: int, criterion: CriterionMarks, levels: Sequence[LevelMean], thresholds: Thresholds
) -> list[CriterionFinding]:
    """Levels that the rubric describes and that all but certainly fewer than one in twenty answers reach."""
    marked = sum(level.students for level in levels)
    likely = {
        level: beta_below(level.students, marked - level.students, thresholds.dead_share)
        for level in levels
        if level.points in criterion.levels
    }
    unused = {level: p for level, p in likely.items() if p >= thresholds.shown_from(Flag.UNUSED_LEVELS)}
    return [CriterionFinding(at, Flag.UNUSED_LEVELS, min(unused.values()), tuple(unused))] if unused else []


def _out_of_order(
    at: int,
    criterion: CriterionMarks,
    levels: Sequence[LevelMean],
    rest: Floats,
    thresholds: Thresholds,
    priors: CriterionPriors,
) -> list[CriterionFinding]:
    """Two neighbouring levels of which the higher more likely stands for less.

    Two explanations are compared: the mean of everything else rises from the lower to the higher level as it usually
    does, or it falls as much. The difference of the means decides between them by their likelihoods under Student's t,
    with the spread within levels pooled.
    """
    used = [level for level in levels if level.students >= FEWEST_AT_A_LEVEL and math.isfinite(level.rest)]
    inside = np.isin(criterion.points, [level.points for level in used])
    df = int(inside.sum()) - len(used)
    if len(used) < 2 or df < 1:
        return []
    means = {level.points: level.rest for level in used}
    off = rest[inside] - np.array([means[points] for points in criterion.points[inside]])
    within = float(off @ off) / df
    spread_of_points = float(np.std(criterion.points[inside]))
    z_mean, z_spread = priors.goes_with_the_rest
    worst = None
    for low, high in pairwise(used):
        steps = (high.points - low.points) / spread_of_points * float(np.std(rest[inside]))
        rise, apart = math.tanh(z_mean) * steps, math.tanh(z_spread) * steps
        spread = within * (1 / low.students + 1 / high.students) + apart**2
        if spread <= 0:
            continue
        seen = high.rest - low.rest
        up, down = ((seen - expected) ** 2 / spread for expected in (rise, -rise))
        log_odds = math.log(priors.out_of_order / (1 - priors.out_of_order))
        log_odds += (df + 1) / 2 * (math.log1p(up / df) - math.log1p(down / df))
        probability = 1 / (1 + math.exp(-log_odds))
        if worst is None or probability > worst.probability:
            worst = CriterionFinding(at, Flag.LEVELS_OUT_OF_ORDER, probability, (low, high))
    shown = worst is not None and worst.probability >= thresholds.shown_from(Flag.LEVELS_OUT_OF_ORDER)
    return [worst] if worst is not None and shown else []


def _something_else(criterion: CriterionMarks, r: float, thresholds: Thresholds, priors: CriterionPriors) -> float:
    """The probability that a criterion hardly goes with the rest: that its true correlation with it is under .20. What
    was likely before is a mixture of criteria that go with the rest as usual and of those that do not."""
    students = int((~np.isnan(criterion.points)).sum())
    mean_points = float(np.nanmean(criterion.points)) / criterion.max if students else 0.0
    if students < max(4, thresholds.fewest_students) or not math.isfinite(r):
        return 0.0
    if not thresholds.r_from_p < mean_points < thresholds.r_to_p:
        return 0.0  # where nearly all are given the same, there is little that could go with anything
    z, error = math.atanh(max(-0.999, min(0.999, r))), 1 / (students - 3)
    before = (1 - priors.measures_something_else, priors.measures_something_else)
    weights, under = [], []
    for share, (mean, spread) in zip(before, (priors.goes_with_the_rest, priors.something_else), strict=True):
        variance = error + spread**2
        weights.append(share * math.exp(-((z - mean) ** 2) / (2 * variance)) / math.sqrt(variance))
        middle = (z * spread**2 + mean * error) / variance
        under.append(normal_tail((middle - math.atanh(thresholds.least_r)) * math.sqrt(variance / error) / spread))
    return (weights[0] * under[0] + weights[1] * under[1]) / sum(weights)
