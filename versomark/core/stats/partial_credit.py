"""The partial credit model, of which Rasch's is the case of one mark an item, by conditional maximum likelihood.

P(x = k | θ) ∝ exp(kθ − β_k), β_0 = 0; thresholds δ_k = β_k − β_{k−1} (Masters 1982). Given their total, students drop
out of the likelihood (Andersen 1972), so items are compared without any assumption about who sat the test. Everything
the likelihood needs are elementary symmetric functions: distributions of totals, built by convolution.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .checks import Floats, as_table

MOST_STEPS = 60
MOST_CATEGORIES = 40
CLOSE = 1e-9
MISSING = -1
TILT = 4.0
"""In standard deviations of the total, from one tilt to the next: totals are then never rarer than about e⁻⁸ there."""
VANISHES = 1e-30
"""What stands for a generating function that is 0 at a point; it is divided out again, so its size does not matter."""
LARGEST_ERROR = 4.0
"""In logits. An interval of two of them each way runs from 3 in 10,000 to 9,997: it says nothing of where a step is
(our own limit; with 24 students and part marks errors of 266 and 1,152 were seen before there was one)."""

Ints = NDArray[np.int64]
Codes = NDArray[np.int16]


@dataclass(frozen=True)
class PartialCredit:
    """A scale of items.

    items: (k,) places of the items on it, in rising order. thresholds: of each, in logits, all of them together with
    mean 0; `errors` are their standard errors. difficulty, difficulty_errors: (k,) the mean of an item's thresholds.
    points: of each item, the least points of its categories 0, 1, …; those nobody earned are passed over.
    merged: place of an item -> how many of its steps are taken together with the one before, since no more than
    chance would place them. left_out: place of an item -> why it is not on the scale. log_likelihood: conditional.
    """

    items: Ints
    thresholds: list[Floats]
    errors: list[Floats]
    difficulty: Floats
    difficulty_errors: Floats
    points: list[Floats]
    merged: dict[int, int]
    left_out: dict[int, str]
    log_likelihood: float
    students: int
    """Whose totals say something: neither nothing nor everything."""

    @property
    def parameters(self) -> int:
        """Free ones."""
        return sum(len(entry) for entry in self.thresholds) - 1


class NoScale(ValueError):
    """The items cannot be put on one scale; the message says why, in words for a teacher."""


def fit_partial_credit(points: ArrayLike) -> PartialCredit:
    """The Rasch or partial credit model by conditional maximum likelihood.

    Parameters
    ----------
    points : array_like, shape (N, n)
        NaN where an item was not given to a student.

    Returns
    -------
    PartialCredit
        Thresholds in logits with mean 0, their errors, and which items are left out with the reason: on which all
        have the same, which have over 40 different amounts of points, or which too few answers place among the
        others.

    Raises
    ------
    NoScale
        Where fewer than two items are left, or no student ties the items together: then some are easier than others
        beyond any amount that could be told.

    References
    ----------
    Masters, G. N. (1982). A Rasch model for partial credit scoring. *Psychometrika*, 47, 149-174. Fischer, G. H.
    (1981). On the existence and uniqueness of maximum-likelihood estimates in the Rasch model. *Psychometrika*, 46,
    59-77.

    Examples
    --------
    Two items, and more students who did the first alone than the second alone: their difficulties lie log(3) apart.

    >>> scale = fit_partial_credit([[1, 0], [1, 0], [1, 0], [0, 1]])
    >>> round(float(scale.difficulty[1] - scale.difficulty[0]), 4)
    1.0986
    """
    table = as_table("points", points)
    left_out, columns, values = _categories(table)
    merged = dict[int, int]()
    while True:
        if len(columns) < 2:
            raise NoScale("A scale needs two questions on which students differ.")
        codes = np.column_stack([codes_of(table[:, j], value) for j, value in zip(columns, values, strict=True)])
        most = np.array([len(value) - 1 for value in values])
        _tied_together(codes, most)
        beta, information, log_likelihood, used = _estimate(codes, most)
        cuts = np.cumsum([0, *most])
        flat, errors, means, mean_errors = _thresholds(beta, information, most)
        worst = int(np.argmax(np.where(np.isfinite(errors), errors, np.inf)))
        if errors[worst] <= LARGEST_ERROR:
            break
        # A step that these answers cannot place: the two categories around it are taken as one, and where there is
        # no other step the question is not on the scale.
        at = int(np.searchsorted(cuts, worst, side="right")) - 1
        if most[at] > 1:
            values[at] = np.delete(values[at], worst - cuts[at] + 1)
            merged[columns[at]] = merged.get(columns[at], 0) + 1
        else:
            left_out[columns[at]] = "Too few answers to place it among the others."
            del columns[at], values[at]
    return PartialCredit(
        items=np.array(columns),
        thresholds=[flat[a:b] for a, b in pairwise(cuts)],
        errors=[errors[a:b] for a, b in pairwise(cuts)],
        difficulty=means,
        difficulty_errors=mean_errors,
        points=values,
        merged=merged,
        left_out=left_out,
        log_likelihood=log_likelihood,
        students=used,
    )


def _categories(table: Floats) -> tuple[dict[int, str], list[int], list[Floats]]:
    """Points as categories 0, 1, …: half marks and gaps are closed up, since only their order is modelled."""
    left_out, columns, values = dict[int, str](), list[int](), list[Floats]()
    for j in range(table.shape[1]):
        given = ~np.isnan(table[:, j])
        known = np.unique(table[given, j])
        if len(known) < 2:
            left_out[j] = "Every student has the same on it." if len(known) else "Nobody was given it."
        elif len(known) > MOST_CATEGORIES:
            left_out[j] = "Its points take too many values to be steps of a scale."
        else:
            columns.append(j)
            values.append(known)
    return left_out, columns, values


def codes_of(points: Floats, least: Floats) -> Codes:
    """(N,) categories of an item, MISSING where it was not given."""
    codes = np.full(len(points), MISSING, dtype=np.int16)
    given = ~np.isnan(points)
    codes[given] = np.clip(np.searchsorted(least, points[given], side="right") - 1, 0, None)
    return codes


def _tied_together(codes: Codes, most: Ints) -> None:
    """Fischer's (1981) condition: from every item a chain of students leads to every other, each of whom did the one
    above the least and the next below the most. Sufficient for one mark an item, needed for all."""
    above, below = (codes > 0).astype(np.float32), ((codes >= 0) & (codes < most)).astype(np.float32)
    leads = above.T @ below > 0
    # All lead to each other where the first leads to all, and all lead to the first.
    if not (_reached(leads).all() and _reached(leads.T).all()):
        raise NoScale("Some questions were done by all who did any of the others, or by none: more answers are needed.")


def _reached(leads: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """(n,) whether a chain leads from the first item to each. leads: (n, n)"""
    reached = np.zeros(len(leads), dtype=bool)
    reached[:1] = True
    while (further := reached | leads[reached].any(axis=0)).sum() > reached.sum():
        reached = further
    return reached


@dataclass(frozen=True)
class _Pattern:
    """Students who were given the same items: which, and how many have each total."""

    items: Ints
    totals: Floats


def _patterns(codes: Codes, most: Ints) -> list[_Pattern]:
    given = codes >= 0
    first, of = same_items(given)
    patterns = []
    for at, row in enumerate(given[first]):
        items = np.flatnonzero(row)
        if len(items) < 2:
            continue
        totals = codes[of == at][:, items].sum(axis=1)
        counts = np.bincount(totals, minlength=int(most[items].sum()) + 1).astype(float)
        counts[0] = counts[-1] = 0  # nothing and everything can come about in one way only
        if counts.sum():
            patterns.append(_Pattern(items, counts))
    return patterns


def same_items(given: NDArray[np.bool_], totals: Ints | None = None) -> tuple[Ints, Ints]:
    """Students who were given the same items, and with `totals` have the same total: the first of each kind (K,), and
    which kind each student is of (N,).

    Eight items are a byte and eight bytes a number: sorting whole rows would take most of the time of a large file.
    """
    packed = np.packbits(given, axis=1)
    words = np.pad(packed, ((0, 0), (0, -packed.shape[1] % 8))).view(np.uint64)
    kind = np.zeros(len(given), dtype=np.int64) if totals is None else totals.astype(np.int64)
    first = np.zeros(min(1, len(given)), dtype=np.int64)
    for column in words.T:
        values, word = np.unique(column, return_inverse=True)
        _, first, kind = np.unique(kind * len(values) + word, return_index=True, return_inverse=True)
    return first, kind


def _estimate(codes: Codes, most: Ints) -> tuple[Floats, Floats, float, int]:
    """β of all categories above 0, item after item, the information matrix, the log likelihood, students used."""
    patterns = _patterns(codes, most)
    starts = np.cumsum([0, *most])
    observed = _observed(codes, most, patterns)
    ahead = np.concatenate([np.arange(1, m + 1) for m in most]).astype(float)
    """Adding a multiple of it to β moves all students and no item: the direction that nothing can tell."""
    beta = _from_counts(codes, most, ahead)
    value, gradient, information = _likelihood(beta, most, starts, patterns, observed)
    for _ in range(MOST_STEPS):
        if np.abs(gradient).max() < CLOSE * max(1.0, observed.sum()):
            break
        scale = np.trace(information) / len(beta) / (ahead @ ahead)
        try:
            step = np.linalg.solve(information + scale * np.outer(ahead, ahead), gradient)
        except np.linalg.LinAlgError:
            raise NoScale(
                "The answers do not tell the steps of the questions apart: more of them are needed."
            ) from None
        size = 1.0
        while size > 1e-6:
            new = _likelihood(beta - size * step, most, starts, patterns, observed)
            if new[0] <= value + 1e-10 * abs(value):
                break
            size /= 2
        beta, (value, gradient, information) = beta - size * step, new
    else:
        raise NoScale("The answers do not tell the steps of the questions apart: more of them are needed.")
    if np.abs(beta).max() > 30:
        raise NoScale("A step of a question was taken by all or by none of those who came to it.")
    return beta, information, -value, int(sum(pattern.totals.sum() for pattern in patterns))


def _from_counts(codes: Codes, most: Ints, ahead: Floats) -> Floats:
    """Where to begin: as if every student were at the same place, with a half added so that no count is 0."""
    counts = [np.bincount(column[column >= 0], minlength=m + 1) + 0.5 for column, m in zip(codes.T, most, strict=True)]
    beta = np.concatenate([np.log(of_item[0] / of_item[1:]) for of_item in counts])
    # Without the direction that nothing can tell, so that the size of what is found says something.
    centred: Floats = beta - ahead * (ahead @ beta) / (ahead @ ahead)
    return centred


def _observed(codes: Codes, most: Ints, patterns: Sequence[_Pattern]) -> Floats:
    """How often each category above 0 was earned, by students whose total says something."""
    given = codes >= 0
    totals = np.where(given, codes, 0).sum(axis=1)
    full = np.where(given, most, 0).sum(axis=1)
    use = (totals > 0) & (totals < full) & (given.sum(axis=1) >= 2)
    return np.concatenate([[float((codes[use, j] == k).sum()) for k in range(1, m + 1)] for j, m in enumerate(most)])


def _likelihood(
    beta: Floats, most: Ints, starts: Ints, patterns: Sequence[_Pattern], observed: Floats
) -> tuple[float, Floats, Floats]:
    """Minus the conditional log likelihood, its gradient, and its second derivatives."""
    weights = []
    value, gradient = float(observed @ beta), observed.copy()
    logs = np.zeros(len(most))
    for j, m in enumerate(most):
        steps = -np.concatenate([[0.0], beta[starts[j] : starts[j] + m]])
        top = steps.max()
        raw = np.exp(steps - top)
        logs[j] = np.log(raw.sum()) + top
        weights.append(raw / raw.sum())
    information = np.zeros((len(beta), len(beta)))
    for pattern in patterns:
        log_whole, expected, spread = _given_totals([weights[j] for j in pattern.items], pattern.totals)
        value += log_whole + float(pattern.totals.sum() * logs[pattern.items].sum())
        at = np.concatenate([np.arange(starts[j], starts[j] + most[j]) for j in pattern.items])
        gradient[at] -= expected
        information[np.ix_(at, at)] += spread
    return value, gradient, information


def _given_totals(weights: Sequence[Floats], students: Floats) -> tuple[float, Floats, Floats]:
    """Of students (R,) with each total on these items: the sum of the logs of how likely their totals are, how many of
    them are expected in each category above 0 (C,), and the covariance of those counts (C, C).

    A distribution of totals is the product of its items' generating functions, here taken at the roots of unity: one
    item or two are left out of it by division, and the sum over totals is a product of matrices, so that the work
    grows with the square of the items where building each distribution grows with their fourth power. Where a total is
    rare its chance would drown in rounding; every item is therefore first tilted by e^(kθ) towards it, which no chance
    given the total is changed by, for a few θ each of which serves the totals near its mean.
    """
    sizes = np.array([len(weight) - 1 for weight in weights])
    table = np.zeros((len(weights), int(sizes.max()) + 1))
    for row, weight in zip(table, weights, strict=True):
        row[: len(weight)] = weight
    with np.errstate(divide="ignore"):
        table = np.log(table)
    item, step = np.repeat(np.arange(len(weights)), sizes), np.concatenate([np.arange(1, m + 1) for m in sizes])
    # An odd number of points: none is −1, at which an item of one mark as easy as hard would vanish.
    points = len(students) | 1
    half = np.arange(points // 2 + 1)  # the rest are their conjugates
    root = np.exp(-2j * np.pi / points * half)
    share = np.where(half == 0, 1.0, 2.0) / points
    log_whole, expected, pairs, squares = 0.0, np.zeros(len(item)), *np.zeros((2, len(item), len(item)))
    for theta, totals in _tilts(table, np.flatnonzero(students)):
        n = students[totals]
        tilted, log_sums = _tilted(table, theta)
        of_items = tilted @ root ** np.arange(table.shape[1])[:, None]
        of_items = np.where(np.abs(of_items) < VANISHES, VANISHES, of_items)
        whole = of_items.prod(axis=0) * share
        back = np.conj(root) ** totals[:, None]
        likely = np.real(back @ whole)
        log_whole += float(n @ (np.log(likely) - theta * totals + log_sums))
        own = tilted[item, step][:, None] * root ** step[:, None] / of_items[item]
        chance = np.real(own @ (whole * back).T) / likely  # (C, totals)
        expected += chance @ n
        squares += (chance * n) @ chance.T
        weighed = own * (whole * ((n / likely) @ back))
        pairs += weighed.real @ own.real.T - weighed.imag @ own.imag.T
    # A student is in one category of an item.
    pairs[item[:, None] == item] = 0
    return log_whole, expected, pairs + np.diag(expected) - squares


def _tilts(table: Floats, totals: Ints) -> Iterator[tuple[float, Ints]]:
    """Values of θ, and those of the totals that are common at each: within a few standard deviations of its mean.
    table: (n, m + 1) logs of chances."""
    k = np.arange(table.shape[1])

    def mean_and_spread(theta: float) -> tuple[float, float]:
        chance, _ = _tilted(table, theta)
        means = chance @ k
        return float(means.sum()), float(np.sqrt(max((chance @ k**2 - means**2).sum(), 1e-12)))

    theta, (mean, spread) = 0.0, mean_and_spread(0.0)
    while mean > totals[0]:
        theta -= min(1.0, TILT / spread)
        mean, spread = mean_and_spread(theta)
    thetas, means, spreads = [theta], [mean], [spread]
    while means[-1] < totals[-1]:
        thetas.append(thetas[-1] + min(1.0, TILT / spreads[-1]))
        mean, spread = mean_and_spread(thetas[-1])
        means.append(mean)
        spreads.append(spread)
    nearest = np.argmin(np.abs(totals[:, None] - means) / spreads, axis=1)
    return ((thetas[at], totals[nearest == at]) for at in np.unique(nearest))


def _tilted(table: Floats, theta: float) -> tuple[Floats, float]:
    """Chances of categories (n, m + 1) at θ, and the sum over items of the logs of what they were divided by."""
    raw = table + theta * np.arange(table.shape[1])
    top = raw.max(axis=1, keepdims=True)
    chance = np.exp(raw - top)
    sums = chance.sum(axis=1, keepdims=True)
    return chance / sums, float((np.log(sums) + top).sum())


def _thresholds(beta: Floats, information: Floats, most: Ints) -> tuple[Floats, Floats, Floats, Floats]:
    """Thresholds with mean 0 and the means of each item's, with standard errors from the information matrix."""
    ends = np.cumsum(most) - 1
    ahead = np.concatenate([np.arange(1, m + 1) for m in most]).astype(float)
    scale = np.trace(information) / len(beta) / (ahead @ ahead)
    covariance = np.linalg.inv(information + scale * np.outer(ahead, ahead))
    # Fixed so that the thresholds, whose sum is that of the last β of each item, have mean 0.
    last = np.zeros(len(beta))
    last[ends] = 1
    fix = np.eye(len(beta)) - np.outer(ahead, last) / (last @ ahead)
    beta, covariance = fix @ beta, fix @ covariance @ fix.T
    steps = np.eye(len(beta)) - np.diag(np.ones(len(beta) - 1), -1)
    for first in ends[:-1] + 1:
        steps[first, first - 1] = 0
    mean = np.zeros((len(most), len(beta)))
    mean[np.arange(len(most)), ends] = 1 / most
    flat, means = steps @ beta, mean @ beta
    return (
        flat,
        np.sqrt(np.diag(steps @ covariance @ steps.T)),
        means,
        np.sqrt(np.diag(mean @ covariance @ mean.T)),
    )
