"""The partial credit model, of which Rasch's is the case of one mark an item, by conditional maximum likelihood.

P(x = k | θ) ∝ exp(kθ − β_k), β_0 = 0; thresholds δ_k = β_k − β_{k−1} (Masters 1982). Given their total, students drop
out of the likelihood (Andersen 1972), so items are compared without any assumption about who sat the test. Everything
the likelihood needs are elementary symmetric functions: distributions of totals, built by convolution.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .checks import Floats, as_table

MOST_STEPS = 60
MOST_CATEGORIES = 40
CLOSE = 1e-9
MISSING = -1
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
        chances, whole, pairs = _chances([weights[j] for j in pattern.items])
        used = pattern.totals > 0
        n = pattern.totals[used]
        value += float(n @ np.log(whole[used])) + float(n.sum() * logs[pattern.items].sum())
        at = np.concatenate([np.arange(starts[j], starts[j] + most[j]) for j in pattern.items])
        chance = chances[used]
        gradient[at] -= n @ chance
        information[np.ix_(at, at)] += np.tensordot(n, pairs[used], 1) - (chance.T * n) @ chance
    return value, gradient, information


def _chances(weights: Sequence[Floats]) -> tuple[Floats, Floats, Floats]:
    """Given each total r of these items: the chance of each category above 0 (R, C), that of two categories together
    (R, C, C); and the distribution of totals (R,)."""
    n, sizes = len(weights), np.array([len(weight) - 1 for weight in weights])
    reach = int(sizes.sum()) + 1
    item = np.repeat(np.arange(n), sizes)
    step = np.concatenate([np.arange(1, size + 1) for size in sizes])
    weight = np.concatenate([weight[1:] for weight in weights])
    # The distribution of the total without one item, and without two: all at once, item after item.
    rest, two = np.zeros((reach, n)), np.zeros((reach, n, n))
    rest[0] = two[0] = 1
    whole = np.ones(1)
    for at, own in enumerate(weights):
        # Totals beyond the items so far have no chance yet.
        here = len(whole) + len(own) - 1
        left, both = rest[:here, at].copy(), two[:here, at].copy()
        rest[:here], two[:here] = _and(rest[:here], own), _and(two[:here], own)
        rest[:here, at], two[:here, at], two[:here, :, at] = left, both, both
        whole = np.convolve(whole, own)
    chances, pairs = np.zeros((reach, len(item))), np.zeros((reach, len(item), len(item)))
    for k in range(1, int(sizes.max()) + 1):
        a = np.flatnonzero(step == k)
        chances[k:, a] = weight[a] * rest[: reach - k, item[a]]
        for h in range(1, int(sizes.max()) + 1):
            b = np.flatnonzero(step == h)
            if k + h < reach:
                product = np.outer(weight[a], weight[b])
                pairs[k + h :, a[:, None], b] = product * two[: reach - k - h, item[a][:, None], item[b]]
    # A student is in one category of an item.
    pairs[:, item[:, None] == item[None, :]] = 0
    pairs[:, np.arange(len(item)), np.arange(len(item))] = chances
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.nan_to_num(chances / whole[:, None]), whole, np.nan_to_num(pairs / whole[:, None, None])


def _and(totals: Floats, weights: Floats) -> Floats:
    """Distributions of totals (R, …) with one item more."""
    result: Floats = totals * weights[0]
    for k, weight in enumerate(weights[1:], start=1):
        result[k:] += weight * totals[:-k]
    return result


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
