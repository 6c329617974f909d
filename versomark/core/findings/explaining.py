"""How likely each explanation of the answers to an item is: fair, wrong key, two right answers, a shared idea,
guessing.

Every explanation is a family of models of how options are chosen (`option_models.py`). Students stand on a grid of
ability by their answers to the *other* items, so that an item never judges itself. The share of drawn models that
explain its answers, times prior odds, gives the probability of an explanation. In the next round each item is taken
for the mixture of explanations that the last one left, so that a question with a wrong key no longer misleads about
the students. The mathematics, the priors and what else was tried stand in `docs/methods.md`.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import ItemColumn, ResponseTable
from versomark.core.stats import not_reached

from .ability_weights import ability_bins, first_likelihood, leave_one_out
from .explanations import (
    Explained,
    Explanation,
    ExplanationPriors,
    ItemExplanations,
    OptionProbability,
    SignOfIdea,
)
from .item_places import Layout, Places, candidates, layout_of, prior_of
from .option_models import DRAWS, Truth, option_models

Floats = NDArray[np.float64]
Singles = NDArray[np.float32]

ROUNDS = 2
MOST_BINS = 20


def explain(
    table: ResponseTable, earlier: Sequence[ResponseTable] = (), priors: ExplanationPriors | None = None
) -> Explained:
    """The probability of each explanation of each item.

    Parameters
    ----------
    table : ResponseTable
        N students by n items.
    earlier : sequence of ResponseTable, optional
        Other classes that took the same version of some of its items (same id, labels and keys); their answers are
        evidence too, with abilities within each class.
    priors : ExplanationPriors, optional

    Returns
    -------
    Explained
        An item has None where its answers do not exclude one another, or all or none of them are right.

    Notes
    -----
    Work grows linearly with students and items.
    """
    priors = priors or ExplanationPriors()
    layouts = {j: layout for j, item in enumerate(table.items) if (layout := layout_of(item, table.choice[:, j]))}
    if not layouts:
        return Explained([None] * len(table.items), [], np.zeros((0, 0, 0)))
    by_size: dict[int, list[int]] = {}
    for j, layout in layouts.items():
        by_size.setdefault(len(layout.options), []).append(j)
    others = {size: [_other_class(other, table, at, layouts) for other in earlier] for size, at in by_size.items()}
    likelihood, silent = first_likelihood(table), not_reached(table)
    evidence: dict[int, Floats] = {}
    idea_curves: dict[int, list[tuple[Floats, Floats]]] = {}
    evenness = np.full(len(priors.models.evenness), 1 / len(priors.models.evenness))
    for _ in range(ROUNDS):
        weights, bins = leave_one_out(likelihood), ability_bins(likelihood, MOST_BINS)
        seen = priors.alike / len(evenness) * np.ones_like(evenness)
        for size, at in by_size.items():
            placed = np.stack([layouts[j].placed(table.choice[:, j]) for j in at], axis=1)
            here = _Answers.of(weights[:, at], placed, bins, size)
            prior = np.stack([prior_of(layouts[j], priors) for j in at])
            logs, curves, even, of_ideas = _evidence(size, [here], prior, evenness, priors)
            if earlier:
                everywhere, curves, *_ = _evidence(size, [here, *others[size]], prior, evenness, priors)
                logs = _faults_of_all(size, logs, everywhere)
            seen += even
            evidence.update(zip(at, logs, strict=True))
            for row, j in enumerate(at):
                answers = _answer_likelihood(curves[row], placed[:, row])
                likelihood[:, j] = np.where((silent[:, j] | ~table.taken[:, j])[:, None], 0.0, answers)
                idea_curves[j] = [(without[row], otherwise[row]) for without, otherwise in of_ideas]
        evenness = seen / seen.sum()
    items = _explanations(table, layouts, evidence, priors)
    signs = [
        sign
        for j, layout in layouts.items()
        for sign in _signs(j, layout, table, items[j], idea_curves[j], prior_of(layout, priors))
    ]
    return Explained(items, signs, likelihood)


def _signs(
    j: int,
    layout: Layout,
    table: ResponseTable,
    explanations: ItemExplanations | None,
    curves: Sequence[tuple[Floats, Floats]],
    prior: Floats,
) -> Iterator[SignOfIdea]:
    assert explanations is not None
    placed = layout.placed(table.choice[:, j])
    by_option = {entry.option: entry.probability for entry in explanations.shared_idea}
    size = len(layout.options)
    for place in range(1, size):
        if not layout.noted[place]:
            continue
        (option,) = layout.options[place]
        without, otherwise = (
            np.where((placed >= 0)[:, None], curve[np.maximum(placed, 0)], 1.0) for curve in curves[place - 1]
        )
        yield SignOfIdea(
            item=j,
            option=option,
            note=table.items[j].options[option].idea_note,
            prior=float(prior[-(size - 1) :][place - 1]),
            probability=by_option[option],
            chosen=placed == place,
            without=without,
            otherwise=otherwise,
        )


@dataclass(frozen=True)
class _Answers:
    """The answers of one class to items with the same number of places, by bin of ability."""

    weights: Singles
    """(J, G, B)"""
    counts: Singles
    """(J, B, K)"""

    @classmethod
    def of(cls, weights: Floats, placed: Places, bins: Places, size: int) -> "_Answers":
        """weights: (N, J, G). placed: (N, J)."""
        most, items = int(bins.max()) + 1, placed.shape[1]
        sums = np.zeros((most, *weights.shape[1:]))
        np.add.at(sums, bins, weights)
        sums /= np.bincount(bins)[:, None, None]
        counts = np.zeros((items, most, size), dtype=np.float32)
        student, item = np.nonzero(placed >= 0)
        np.add.at(counts, (item, bins[student], placed[student, item]), 1)
        return cls(np.ascontiguousarray(sums.transpose(1, 2, 0)).astype(np.float32), counts)


def _other_class(other: ResponseTable, table: ResponseTable, at: Sequence[int], layouts: dict[int, Layout]) -> _Answers:
    """Another class on the items at these places of the table; of an item it did not take, no answers."""
    columns = {item.id: j for j, item in enumerate(other.items)}
    likelihood = first_likelihood(other)
    by_item = leave_one_out(likelihood)
    placed = np.full((len(other.students), len(at)), -1)
    weights = np.zeros((len(other.students), len(at), likelihood.shape[2]))
    for row, j in enumerate(at):
        column = columns.get(table.items[j].id)
        if column is None or not _same_version(other.items[column], table.items[j]):
            continue
        placed[:, row] = layouts[j].placed(other.choice[:, column])
        weights[:, row] = by_item[:, column]
    return _Answers.of(weights, placed, ability_bins(likelihood, MOST_BINS), len(layouts[at[0]].options))


def _same_version(item: ItemColumn, other: ItemColumn) -> bool:
    return [(o.label, o.key) for o in item.options] == [(o.label, o.key) for o in other.options]


FAULTY = (Explanation.WRONG_KEY, Explanation.TWO_RIGHT)
"""What is true of a question in every class. What students know and think is true of one class."""


def _faults_of_all(size: int, here: Floats, everywhere: Floats) -> Floats:
    """(J, candidates) logarithms: faults of an item as the answers of all classes have it, and, where it has none, what
    this class alone says of itself. Another class that did not hold an idea says nothing of this one."""
    faulty = np.array([candidate.kind in FAULTY for candidate in candidates(size)])
    whole = everywhere - np.logaddexp.reduce(everywhere, axis=1, keepdims=True)
    sound = np.logaddexp.reduce(whole[:, ~faulty], axis=1, keepdims=True)
    alone = here - np.logaddexp.reduce(here[:, ~faulty], axis=1, keepdims=True)
    return np.where(faulty, whole, sound + alone)


def _evidence(
    size: int, classes: Sequence[_Answers], prior: Floats, evenness: Floats, priors: ExplanationPriors
) -> tuple[Floats, Floats, Floats, list[tuple[Floats, Floats]]]:
    """(J, candidates) logarithms of prior times likelihood, (J, K, G) the chance of each place as they mix it, and
    how many of the items pull how evenly."""
    answers = sum(entry.counts.sum(axis=(1, 2)) for entry in classes)
    trust = (priors.trusted / (priors.trusted + answers)).astype(np.float32)
    models = {truth: option_models(truth, size, priors.models) for truth in Truth}
    scores = {truth: _scores(drawn, classes) * trust[None, None, :, None] for truth, drawn in models.items()}
    possible = candidates(size)
    logs = np.empty((len(prior), len(possible)))
    shares = []
    kinds = len(evenness)
    by_draw = np.log(np.resize(evenness, DRAWS) * kinds).astype(np.float32)
    for at, candidate in enumerate(possible):
        of_models = scores[candidate.truth]
        fits = np.stack([sum(of_models[order[k], k] for k in range(size)) for order in candidate.orders], axis=1)
        if candidate.truth is not Truth.NOBODY_KNOWS:
            fits = fits + by_draw
        top = fits.max(axis=(1, 2), keepdims=True)
        share = np.exp(fits - top)  # (J, permutations, DRAWS)
        whole = share.sum(axis=(1, 2))
        with np.errstate(divide="ignore"):
            logs[:, at] = top[:, 0, 0] + np.log(whole / share[0].size) + np.log(prior[:, at])
        shares.append(share / whole[:, None, None])
    probabilities = np.exp(logs - logs.max(axis=1, keepdims=True))
    probabilities /= probabilities.sum(axis=1, keepdims=True)
    curves = np.zeros((len(prior), size, models[Truth.ONE_RIGHT].shape[2]))
    even = np.zeros(kinds)
    without_idea = option_models(Truth.SHARED_IDEA, size, priors.models, with_idea=False)
    of_ideas = []
    for at, candidate in enumerate(possible):
        drawn = models[candidate.truth]
        if candidate.truth is not Truth.NOBODY_KNOWS:
            by_draws = probabilities[:, at] @ shares[at].sum(axis=1)
            even += np.bincount(np.arange(DRAWS) % kinds, weights=by_draws)
        mixed = _mixed(drawn, shares[at], candidate.orders)
        curves += probabilities[:, at, None, None] * mixed
        if candidate.kind is Explanation.SHARED_IDEA:
            of_ideas.append(
                (_mixed(without_idea, shares[at], candidate.orders), probabilities[:, at, None, None] * mixed)
            )
    # What the answers would be without an idea at work: the mixture of everything else.
    of_ideas = [(without, _rest(curves, part)) for without, part in of_ideas]
    return logs, curves, even, of_ideas


def _mixed(drawn: Singles, shares: Singles, orders: Sequence[tuple[int, ...]]) -> Floats:
    """(J, K, G): models mixed by how well each explains the items, places of the item in printed order."""
    mixed = np.zeros((len(shares), *drawn.shape[1:]))
    for turn, order in enumerate(orders):
        mixed += (shares[:, turn] @ drawn.reshape(len(drawn), -1)).reshape(mixed.shape)[:, list(order)]
    return mixed


def _rest(curves: Floats, part: Floats) -> Floats:
    rest = np.maximum(curves - part, 1e-9)
    return np.asarray(rest / rest.sum(axis=1, keepdims=True))


def _scores(drawn: Singles, classes: Sequence[_Answers]) -> Singles:
    """(K, K, J, DRAWS): how well a model goes with the answers to a place of the item (second axis), were it a
    place of the model (first axis)."""
    draws, size, grid = drawn.shape
    flat, whole = drawn.reshape(draws * size, grid), 0.0
    for entry in classes:
        chances = np.log(np.maximum(flat @ entry.weights, 1e-12))  # (J, DRAWS × K, B)
        whole = whole + chances @ entry.counts
    return np.ascontiguousarray(np.asarray(whole).reshape(-1, draws, size, size).transpose(2, 3, 0, 1))


def _answer_likelihood(curves: Floats, placed: Places) -> Floats:
    """(N, G) logarithms; of who gave nothing, half of what a wrong answer would say."""
    logs = np.log(curves)
    return np.where((placed >= 0)[:, None], logs[np.maximum(placed, 0)], 0.5 * np.log1p(-curves[0]))


IDEAS, ERRORS = 1, 2
RATED = {
    Explanation.FAIR: 0,
    Explanation.SHARED_IDEA: IDEAS,
    Explanation.WRONG_KEY: ERRORS,
    Explanation.TWO_RIGHT: ERRORS,
    Explanation.GUESSING: ERRORS,
}


def _explanations(
    table: ResponseTable, layouts: dict[int, Layout], evidence: dict[int, Floats], priors: ExplanationPriors
) -> list[ItemExplanations | None]:
    """Tests differ in how many ideas they meet, so how many this one shows is weighed with all of its items."""
    results: list[ItemExplanations | None] = [None] * len(table.items)
    if not evidence:
        return results
    rated = {j: np.array([RATED[c.kind] for c in candidates(len(layouts[j].options))]) for j in evidence}
    posterior = {j: np.exp(logs - np.logaddexp.reduce(logs)) for j, logs in evidence.items()}
    prior = np.stack([_sums(prior_of(layouts[j], priors), rated[j]) for j in evidence])  # (items, 3)
    mass = np.stack([_sums(posterior[j], rated[j]) for j in evidence])
    ideas, errors = np.meshgrid(priors.idea_rates, priors.error_rates, indexing="ij")
    wanted = np.stack([np.ones(ideas.size), ideas.ravel(), errors.ravel()])[None] * prior[:, :, None]
    wanted[:, 0] = 1 - wanted[:, IDEAS] - wanted[:, ERRORS]  # (items, 3, rates)
    reweighted = np.divide(wanted, prior[:, :, None], out=np.zeros_like(wanted), where=prior[:, :, None] > 0)
    reweighted *= mass[:, :, None]
    whole = reweighted.sum(axis=1)
    rate = np.log(whole).sum(axis=0)
    rate = np.exp(rate - rate.max())
    shares = (reweighted / whole[:, None]) @ (rate / rate.sum())  # (items, 3)
    for row, j in enumerate(evidence):
        part = np.divide(shares[row], mass[row], out=np.zeros(3), where=mass[row] > 0)
        results[j] = _of_item(layouts[j], posterior[j] * part[rated[j]])
    return results


def _sums(values: Floats, groups: NDArray[np.int64]) -> Floats:
    return np.bincount(groups, weights=values, minlength=3).astype(float)


def _of_item(layout: Layout, shares: Floats) -> ItemExplanations:
    by_kind: dict[Explanation, list[OptionProbability]] = {kind: [] for kind in Explanation}
    for candidate, share in zip(candidates(len(layout.options)), shares / shares.sum(), strict=True):
        if candidate.rival == 0 or layout.named[candidate.rival]:
            by_kind[candidate.kind].append(OptionProbability(layout.options[candidate.rival][0], float(share)))
    return ItemExplanations(
        fair=by_kind[Explanation.FAIR][0].probability,
        guessing=by_kind[Explanation.GUESSING][0].probability,
        wrong_key=tuple(sorted(by_kind[Explanation.WRONG_KEY])),
        two_right=tuple(sorted(by_kind[Explanation.TWO_RIGHT])),
        shared_idea=tuple(sorted(by_kind[Explanation.SHARED_IDEA])),
    )
