"""From measures to flags: which questions to look at, how firm each flag is, and whom it concerns.

The rules are those of `docs/methods.md`. Each is an array expression over a leading axis of weightings, so the very
same line of code decides for the class as it is and for each of its resamples: the share of resamples in which a
rule still fires is the flag's firmness.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import ResponseTable
from versomark.core.stats import ItemMeasures, ScoreBlocks, item_measures, not_reached, resample_weights
from versomark.core.stats.distributions import chi_square_point

Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]


class Flag(StrEnum):
    """Named problems of a question, in the order a teacher should care about them."""

    CHECK_THE_KEY = "check the key"
    TWO_RIGHT_ANSWERS = "two right answers"
    SHARED_IDEA = "shared idea"
    GUESSING = "guessing"
    DOES_NOT_TELL_APART = "does not tell apart"
    TOO_HARD = "too hard"
    WORKS_AGAINST = "works against the test"
    TOO_EASY = "too easy"
    NOT_REACHED = "not reached"
    RATERS_DISAGREE = "raters disagree"
    """Comes from second marks, not from the answers: `raters.py`."""
    DEAD_OPTION = "dead option"

    @property
    def urgent(self) -> bool:
        """Whether the question itself failed or misled, rather than wanting polish before its next use."""
        return self not in (Flag.WORKS_AGAINST, Flag.TOO_EASY, Flag.NOT_REACHED, Flag.DEAD_OPTION)


@dataclass(frozen=True)
class Thresholds:
    """The lines a measure must cross. Sources in `docs/methods.md`."""

    end_group: float = 0.27
    key_lead: float = 0.20
    """By how much the share and r of another option together must be above those of the key."""
    idea_excess: float = 0.20
    """By how much the share of a wrong option must be above the mean of the other wrong ones."""
    two_right_share: float = 0.30
    """Of the upper group, on the key and on the other option each."""
    guessing_p: float = 0.10
    """Above it answers are as even as chance makes them."""
    guessing_least: int = 20
    guessing_near: float = 0.10
    """How far p may be from one in the number of options."""
    not_reached: float = 0.10
    alpha_gain: float = 0.01
    whole_class: int = 24
    """Under so many students both must be larger, as chance is: by the root of this number over theirs."""
    least_rivals: int = 3
    """So many students at least must have chosen an option that is to be the key."""
    chance_margin: float = 0.05
    too_easy: float = 0.95
    least_d: float = 0.20
    d_from_p: float = 0.20
    d_to_p: float = 0.90
    dead_share: float = 0.05
    hint: float = 0.50
    likely: float = 0.70
    clear: float = 0.90
    fewest_students: int = 8
    """Under this many students no flag is raised: a resample of five answers says nothing."""

    def firmness_word(self, firmness: float) -> str:
        return "clear" if firmness >= self.clear else "likely" if firmness >= self.likely else "hint"


@dataclass(frozen=True)
class Finding:
    """One flag on one item (its place in the table), with its evidence."""

    item: int
    flag: Flag
    firmness: float
    options: tuple[int, ...] = ()
    """Places of the options it is about: the rival of the key, the idea, the dead ones."""
    students: int = 0
    """How many students it concerns, for ordering."""


@dataclass(frozen=True)
class _Fired:
    by_item: dict[Flag, Bools]  # (R, n)
    by_option: dict[Flag, Bools]  # (R, n, K)


class _Shape:
    """What the rules need to know of the items, as arrays: which places are keys, and which are options at all."""

    def __init__(self, table: ResponseTable) -> None:
        places = max((len(item.options) for item in table.items), default=0)
        self.key = np.zeros((len(table.items), places), dtype=bool)
        self.wrong = np.zeros_like(self.key)
        self.offered = np.zeros_like(self.key)
        self.one_answer = np.zeros_like(self.key)
        """Where choosing it is one answer: “another value” gathers many different ones and is no rival of a key."""
        for j, item in enumerate(table.items):
            keys = [option.key for option in item.options]
            self.key[j, : len(keys)] = keys
            self.wrong[j, : len(keys)] = np.logical_not(keys)
            self.offered[j, : len(keys)] = [option.offered for option in item.options]
            self.one_answer[j, : len(keys)] = [option.offered or bool(option.idea_note) for option in item.options]
        self.options = self.key.sum(1) + self.wrong.sum(1)
        self.students = table.takers
        """(n,) who took it."""
        # Where every answer is one of those offered, guessing spreads answers evenly over them.
        self.places = self.offered.sum(1)
        self.guessable = (self.places >= 2) & (self.places == self.options)
        # Only what is offered can be hit by guessing.
        self.chance = np.where(self.offered.any(1), self.key.sum(1) / np.maximum(self.options, 1), 0.0)


def find_flags(
    table: ResponseTable, observed: ItemMeasures, thresholds: Thresholds, resamples: int, seed: int
) -> list[Finding]:
    """Flags that fire on the students as they are and hold in at least the *hint* share of resamples.

    Ordered as a teacher should read them: wrong keys, then shared ideas by number of students, then the rest as
    `Flag` lists them, firmest first. Empty without resamples, or under `thresholds.fewest_students`.
    """
    if resamples < 1 or len(table.students) < thresholds.fewest_students or not table.items:
        return []
    shape = _Shape(table)
    unreached, taken = not_reached(table).astype(float), table.taken.astype(float)
    now = _rules(observed, (unreached.sum(axis=0) / np.maximum(table.takers, 1))[None, :], shape, thresholds)
    held_item = {flag: np.zeros(fired.shape[1:]) for flag, fired in now.by_item.items()}
    held_option = {flag: np.zeros(fired.shape[1:]) for flag, fired in now.by_option.items()}
    blocks = ScoreBlocks.of(table.standing)
    for weights in _batches(resample_weights(len(table.students), resamples, seed)):
        missed = weights @ unreached / np.maximum(weights @ taken, 1)
        fired = _rules(item_measures(table, weights, thresholds.end_group, blocks), missed, shape, thresholds)
        for flag in held_item:
            held_item[flag] += fired.by_item[flag].sum(0) / resamples
        for flag in held_option:
            held_option[flag] += fired.by_option[flag].sum(0) / resamples
    findings = list(_collect(now, held_item, held_option, observed, unreached.sum(axis=0), thresholds))
    order = list(Flag)
    return sorted(findings, key=lambda f: (order.index(f.flag), -f.students, -f.firmness, f.item))


def _batches(weights: NDArray[np.float64]) -> Iterator[NDArray[np.float64]]:
    """Rows of weights in slices that keep the intermediate arrays small however many students there are."""
    rows = max(1, 1_000_000 // max(1, weights.shape[1]))
    for start in range(0, len(weights), rows):
        yield weights[start : start + rows]


NEARLY = 1e-9
"""A measure this near to a line stands on it: rounding must not decide whether a flag fires."""


def _below(measure: Floats | float, line: Floats | float) -> Bools:
    return np.asarray(np.asarray(measure) < np.asarray(line) - NEARLY)


def _at_least(measure: Floats, line: Floats | float) -> Bools:
    return np.asarray(measure >= np.asarray(line) - NEARLY)


def _rules(m: ItemMeasures, missed: Floats, shape: _Shape, t: Thresholds) -> _Fired:
    """Every rule, for every weighting at once. A comparison with NaN is false: an undefined measure fires nothing.

    missed: (R, n), share of the students who did not come to an item.
    """
    with np.errstate(invalid="ignore"):
        few = np.clip(shape.students, 1, t.whole_class)
        chance = np.sqrt(t.whole_class / few)[None, :, None]
        enough = shape.students >= t.fewest_students
        key_share = np.where(shape.key, m.share, 0).sum(2)[:, :, None]
        # How much an option looks like the key: chosen by many, and by the able. What nobody chose has no r.
        like_key = m.share + np.nan_to_num(m.option_r_rest, nan=0.0)
        best_key = np.where(shape.key, like_key, -np.inf).max(2, initial=-np.inf)[:, :, None]
        rival = (
            shape.wrong
            & shape.one_answer
            & _below(0.0, m.option_r_rest)
            & _at_least(m.count, t.least_rivals)
            & _at_least(like_key - np.where(np.isfinite(best_key), best_key, 0.0), t.key_lead * chance)
        )
        # More than an even spread over the options would bring: at a hard question where all guess, four students
        # on one option are not an idea. And more than the other wrong options: where a question is hard for other
        # reasons, they share what the key loses.
        drawn = _below(1 / np.maximum(shape.options, 1)[None, :, None], m.share)
        others = (shape.wrong.sum(1) - 1)[None, :, None]
        wrong_share = np.where(shape.wrong, m.share, 0).sum(2)[:, :, None]
        excess = np.where(others > 0, m.share - (wrong_share - m.share) / np.maximum(others, 1), m.share - key_share)
        least = np.where(others > 0, t.idea_excess * chance, 0.0)
        shared = shape.wrong & shape.one_answer & drawn & _at_least(excess, least)
        # Two answers that the strong divide between them, and that both go with a high total.
        good = _at_least(m.upper, t.two_right_share) & _below(0.0, m.option_r_rest) & _at_least(m.count, t.least_rivals)
        key_good = np.any(shape.key & good, axis=2, keepdims=True)
        many = (shape.options > 2)[None, :, None]  # with two options a dead one only repeats “too easy”
        between = _below(t.d_from_p, m.p) & _below(m.p, t.d_to_p)
        fired = _Fired(
            by_item={
                Flag.DOES_NOT_TELL_APART: _below(m.d, t.least_d) & between,
                Flag.TOO_HARD: _at_least(shape.chance + t.chance_margin, m.p),
                Flag.TOO_EASY: _at_least(m.p, t.too_easy),
                Flag.GUESSING: _even(m, shape, t),
                Flag.WORKS_AGAINST: _at_least(m.alpha_without - m.alpha[:, None], t.alpha_gain),
                Flag.NOT_REACHED: _at_least(missed, t.not_reached),
            },
            by_option={
                Flag.CHECK_THE_KEY: rival,
                Flag.TWO_RIGHT_ANSWERS: shape.wrong & shape.one_answer & good & key_good,
                Flag.SHARED_IDEA: shared,
                Flag.DEAD_OPTION: shape.wrong & shape.offered & _below(m.share, t.dead_share) & many,
            },
        )
        return _Fired(
            by_item={flag: fired_on & enough for flag, fired_on in fired.by_item.items()},
            by_option={flag: fired_on & enough[None, :, None] for flag, fired_on in fired.by_option.items()},
        )


def _even(m: ItemMeasures, shape: _Shape, t: Thresholds) -> Bools:
    """Where the answers given are spread over the options as evenly as guessing would spread them (Pearson's chi-square
    against an even spread), and the share right is what guessing gives."""
    even = m.count.sum(2) / np.maximum(shape.places, 1)
    off = np.where(shape.offered, (m.count - even[:, :, None]) ** 2, 0.0).sum(2) / even
    line = chi_square_point(t.guessing_p, np.maximum(shape.places - 1, 1))
    near = _at_least(np.full_like(m.p, t.guessing_near), np.abs(m.p - shape.chance))
    return np.asarray(shape.guessable & (shape.students >= t.guessing_least) & _below(off, line) & near)


def _collect(
    now: _Fired,
    held_item: dict[Flag, NDArray[np.float64]],
    held_option: dict[Flag, NDArray[np.float64]],
    observed: ItemMeasures,
    missed: Floats,
    t: Thresholds,
) -> Iterator[Finding]:
    counts = observed.count[0]
    guessed = now.by_item[Flag.GUESSING][0] & (held_item[Flag.GUESSING] >= t.hint)
    for flag, fired in now.by_item.items():
        for j in np.flatnonzero(fired[0] & (held_item[flag] >= t.hint)):
            # That hardly anyone could do it is what guessing looks like; one of the two is said.
            if flag is not Flag.TOO_HARD or not guessed[j]:
                students = round(missed[j]) if flag is Flag.NOT_REACHED else 0
                yield Finding(int(j), flag, float(held_item[flag][j]), students=students)
    held_up = {flag: fired[0] & (held_option[flag] >= t.hint) for flag, fired in now.by_option.items()}
    suspects = set()
    for j in np.flatnonzero(held_up[Flag.CHECK_THE_KEY].any(1)):
        # One accusation an item, by its strongest rival.
        rivals = np.where(held_up[Flag.CHECK_THE_KEY][j], held_option[Flag.CHECK_THE_KEY][j], -1)
        k = int(rivals.argmax())
        suspects.add((int(j), k))
        yield Finding(int(j), Flag.CHECK_THE_KEY, float(rivals[k]), (k,), round(counts[j, k]))
    for j, k in np.argwhere(held_up[Flag.TWO_RIGHT_ANSWERS]):
        # What may be the key instead of this one is not at the same time a second one.
        if (int(j), int(k)) not in suspects:
            suspects.add((int(j), int(k)))
            firmness = float(held_option[Flag.TWO_RIGHT_ANSWERS][j, k])
            yield Finding(int(j), Flag.TWO_RIGHT_ANSWERS, firmness, (int(k),), round(counts[j, k]))
    for j, k in np.argwhere(held_up[Flag.SHARED_IDEA]):
        # An option that may be right is not at the same time a wrong idea.
        if (int(j), int(k)) not in suspects:
            firmness = float(held_option[Flag.SHARED_IDEA][j, k])
            yield Finding(int(j), Flag.SHARED_IDEA, firmness, (int(k),), round(counts[j, k]))
    for j in np.flatnonzero(held_up[Flag.DEAD_OPTION].any(1)):
        dead = np.flatnonzero(held_up[Flag.DEAD_OPTION][j])
        firmness = float(held_option[Flag.DEAD_OPTION][j, dead].min())
        yield Finding(int(j), Flag.DEAD_OPTION, firmness, tuple(int(k) for k in dead))
