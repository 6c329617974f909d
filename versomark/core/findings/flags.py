"""From measures to findings: which questions to look at, how likely each reading is right, and whom it concerns.

What misled or failed (a wrong key, two right answers, a shared idea, guessing) comes from `explanations.py` with its
probability. What only wants polish has a rule on one measure, and the probability that the true value, of which this
class is a sample, crosses the line. The rules and their sources stand in `docs/methods.md`.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import ResponseTable
from versomark.core.stats import ItemMeasures, not_reached
from versomark.core.stats.distributions import beta_below, normal_tail

from .explanations import Explanation, ItemExplanations

Floats = NDArray[np.float64]


class Flag(StrEnum):
    """Named problems of a question, in the order a teacher should care about them."""

    CHECK_THE_KEY = "check the key"
    TWO_RIGHT_ANSWERS = "two right answers"
    SHARED_IDEA = "shared idea"
    GUESSING = "guessing"
    RATERS_DISAGREE = "raters disagree"
    """Comes from second marks, not from the answers: `raters.py`."""
    TOO_HARD = "too hard"
    NOT_REACHED = "not reached"
    DOES_NOT_TELL_APART = "does not tell apart"
    WORKS_AGAINST = "works against the test"
    TOO_EASY = "too easy"
    DEAD_OPTION = "dead option"
    SOMETHING_ELSE = "measures something else"
    """This and the next two are of a criterion of a rubric: `criteria.py`."""
    LEVELS_OUT_OF_ORDER = "levels out of order"
    UNUSED_LEVELS = "unused levels"

    @property
    def urgent(self) -> bool:
        """Whether the question itself failed or misled, rather than wanting polish before its next use."""
        return self in COST

    @property
    def a_fault(self) -> bool:
        """Whether it speaks against the question. An idea of students speaks for it: it brought the idea to light."""
        return self.urgent and self is not Flag.SHARED_IDEA


EXPLAINED = {
    Explanation.WRONG_KEY: Flag.CHECK_THE_KEY,
    Explanation.TWO_RIGHT: Flag.TWO_RIGHT_ANSWERS,
    Explanation.SHARED_IDEA: Flag.SHARED_IDEA,
    Explanation.GUESSING: Flag.GUESSING,
}
COST = {
    Flag.CHECK_THE_KEY: 3.0,
    Flag.TWO_RIGHT_ANSWERS: 2.5,
    Flag.RATERS_DISAGREE: 2.0,
    Flag.SHARED_IDEA: 1.0,
    Flag.GUESSING: 1.0,
}
"""What it costs to leave each be, against the others: wrong keys, second right answers and markers who differ
change marks. An idea costs more the more hold it: up to twice this where everybody does. Our choice, no source."""


PROBABLE_IS_ENOUGH = {Flag.DOES_NOT_TELL_APART, Flag.NOT_REACHED, Flag.SOMETHING_ELSE, Flag.LEVELS_OUT_OF_ORDER}


class Confidence(StrEnum):
    ALMOST_CERTAIN = "almost certain"
    PROBABLE = "probable"
    POSSIBLE = "possible"


@dataclass(frozen=True)
class Thresholds:
    """The lines a measure must cross, and how likely it must be that it does. Sources in `docs/methods.md`."""

    end_group: float = 0.27
    possible: float = 0.50
    probable: float = 0.75
    almost_certain: float = 0.95
    not_reached: float = 0.10
    chance_margin: float = 0.05
    too_easy: float = 0.95
    least_r: float = 0.20
    r_from_p: float = 0.20
    r_to_p: float = 0.90
    dead_share: float = 0.05
    fewest_students: int = 8
    """Under this many students nothing is said: five answers could mean anything."""
    usual_r: tuple[float, float] = (0.30, 0.20)
    """Mean and spread, on Fisher's z, of the correlation of a question with the rest of a classroom test."""

    def confidence(self, probability: float) -> Confidence:
        if probability >= self.almost_certain:
            return Confidence.ALMOST_CERTAIN
        return Confidence.PROBABLE if probability >= self.probable else Confidence.POSSIBLE

    def shown_from(self, flag: Flag) -> float:
        """The probability from which a flag is shown. What wants polish waits until it is all but certain: of 24
        students nobody can say that an option draws under 5%."""
        if flag.urgent or flag is Flag.TOO_HARD:
            return self.possible
        return self.probable if flag in PROBABLE_IS_ENOUGH else self.almost_certain


@dataclass(frozen=True)
class Rival:
    """Another explanation of the same answers."""

    flag: Flag | None
    """None where nothing is wrong with the question."""
    option: int
    """Its place, −1 where none is named."""
    probability: float


@dataclass(frozen=True)
class Finding:
    """One flag on one item (its place in the table), with how likely it is right."""

    item: int
    flag: Flag
    probability: float
    options: tuple[int, ...] = ()
    """Places of the options it is about: the rival of the key, the idea, the dead ones."""
    students: int = 0
    """How many students it concerns."""
    rivals: tuple[Rival, ...] = ()
    """What else may explain the answers, likeliest first."""


LEAST_RIVAL = 0.05
"""Explanations less likely than this are not spoken of."""


def find_flags(
    table: ResponseTable,
    observed: ItemMeasures,
    thresholds: Thresholds,
    explanations: Sequence[ItemExplanations | None],
) -> list[Finding]:
    """What to look at, as a teacher should read it: what misled by probability times cost, then what wants polish.

    Empty under `thresholds.fewest_students`. One explanation leads an item; what follows from it is not said again.
    """
    if len(table.students) < thresholds.fewest_students or not table.items:
        return []
    findings = list(_explained(observed, thresholds, explanations, table))
    led = {finding.item for finding in findings}
    findings += _to_polish(table, observed, thresholds, led, explanations)
    order = list(Flag)
    return sorted(findings, key=lambda f: (-_worth(f, table), order.index(f.flag), -f.students, -f.probability, f.item))


def _worth(finding: Finding, table: ResponseTable) -> float:
    return worth(finding.flag, finding.probability, finding.students / max(1, int(table.takers[finding.item])))


def worth(flag: Flag, probability: float, concerned: float) -> float:
    """What a finding is worth to look at: probability times cost. concerned: the share of students it is about."""
    return probability * COST.get(flag, 0.0) * (1 + (concerned if flag is Flag.SHARED_IDEA else 0.0))


def _explained(
    observed: ItemMeasures,
    thresholds: Thresholds,
    explanations: Sequence[ItemExplanations | None],
    table: ResponseTable,
) -> Iterator[Finding]:
    for j, item in enumerate(explanations):
        if item is None or table.takers[j] < thresholds.fewest_students:
            continue
        ranked = item.ranked()
        leading = next(((kind, k, p) for kind, k, p in ranked if kind is not Explanation.FAIR), None)
        if leading is None or leading[2] < thresholds.possible:
            continue
        kind, option, probability = leading
        others = [entry for entry in ranked if entry != leading and entry[2] >= LEAST_RIVAL]
        yield Finding(
            j,
            EXPLAINED[kind],
            probability,
            (option,) if option >= 0 else (),
            round(float(observed.count[0, j, option])) if option >= 0 else int(table.takers[j]),
            tuple(Rival(EXPLAINED.get(other), k, p) for other, k, p in others),
        )


def _to_polish(
    table: ResponseTable,
    m: ItemMeasures,
    t: Thresholds,
    led: set[int],
    explanations: Sequence[ItemExplanations | None],
) -> Iterator[Finding]:
    """What is true of the measures of an item; of one that an explanation leads, only what does not follow from it."""
    takers = table.takers.astype(float)
    missed = not_reached(table).sum(axis=0).astype(float)
    right = table.points.sum(axis=0) / np.where(table.maxima > 0, table.maxima, 1)
    for j, item in enumerate(table.items):
        if takers[j] < t.fewest_students or item.max == 0:
            continue
        offered = [option.offered for option in item.options]
        chance = sum(option.key for option in item.options) / len(offered) if offered and all(offered) else 0.0
        by_flag = {
            Flag.NOT_REACHED: 1 - beta_below(missed[j], takers[j] - missed[j], t.not_reached),
            Flag.TOO_EASY: 1 - beta_below(right[j], takers[j] - right[j], t.too_easy),
            Flag.WORKS_AGAINST: _r_below(0.0, float(m.r_rest[0, j]), takers[j], t),
        }
        if j not in led and chance < 1:
            by_flag[Flag.TOO_HARD] = beta_below(right[j], takers[j] - right[j], chance + t.chance_margin)
            explained = explanations[j]
            if explained is not None and chance > 0:
                # As many right as by guessing, and yet those who are good at the rest: then they did know.
                by_flag[Flag.TOO_HARD] = min(by_flag[Flag.TOO_HARD], 1 - explained.fair)
            between = t.r_from_p < m.p[0, j] < t.r_to_p
            by_flag[Flag.DOES_NOT_TELL_APART] = (
                _r_below(t.least_r, float(m.r_rest[0, j]), takers[j], t) if between else 0.0
            )
        if Flag.DOES_NOT_TELL_APART in by_flag and by_flag[Flag.TOO_HARD] >= t.possible:
            # Where hardly anybody could do it, there is nobody to tell apart.
            by_flag.pop(Flag.DOES_NOT_TELL_APART)
        for flag, probability in by_flag.items():
            if probability >= t.shown_from(flag):
                students = round(missed[j]) if flag is Flag.NOT_REACHED else 0
                yield Finding(j, flag, float(probability), students=students)
        yield from _dead(j, m, table, t)


def _r_below(line: float, r: float, students: float, t: Thresholds) -> float:
    """The probability that the true correlation with the rest is under a line: Fisher's z, drawn towards what questions
    usually have as far as the class is small. 0 where there is none."""
    if not np.isfinite(r) or students < 4:
        return 0.0
    mean, spread = t.usual_r
    known, before = students - 3, 1 / spread**2
    middle = (known * np.arctanh(np.clip(r, -0.999, 0.999)) + before * mean) / (known + before)
    return normal_tail(float((middle - np.arctanh(line)) * np.sqrt(known + before)))


def _dead(j: int, m: ItemMeasures, table: ResponseTable, t: Thresholds) -> Iterator[Finding]:
    options = table.items[j].options
    if len(options) < 3:
        return  # with two options a dead one only repeats “too easy”
    takers = float(table.takers[j])
    likely = {
        k: beta_below(float(m.count[0, j, k]), takers - float(m.count[0, j, k]), t.dead_share)
        for k, option in enumerate(options)
        if option.offered and not option.key
    }
    dead = {k: probability for k, probability in likely.items() if probability >= t.shown_from(Flag.DEAD_OPTION)}
    if dead:
        yield Finding(j, Flag.DEAD_OPTION, min(dead.values()), tuple(dead))
