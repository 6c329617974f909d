"""Ideas of students across questions: who holds one, how many do, and in which answers it shows.

An idea is of students, not of items. Options with the same idea note, on any item, are signs of one latent idea: who
holds it takes them, able or not. How many hold it and which signs work are weighed together, over every combination of
working signs and a grid of shares of holders; an option that does not behave like the idea is left out, and said to be.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np
from numpy.typing import NDArray

from versomark.core.stats.distributions import normal_tail

from .explanations import Explained, ExplanationPriors, ItemExplanations, OptionProbability, SignOfIdea
from .option_models import ABILITIES, STANDARD, logistic

Floats = NDArray[np.float64]

MOST_SIGNS, MANY, SIGNS_OF_MANY = 6, 300, 4
"""Of one idea that are weighed together: the likeliest; the others count each by itself. Of many students fewer, since
the answers of many need less help from one another, and every sign doubles the work."""
SHARES = np.linspace(0.05, 0.85, 9)
"""Of average students who hold it, each as likely as the others."""
FOLLOWS = 0.85
"""How often who holds an idea follows it."""
LEANS = 0.10
"""How often who does not hold an idea leans to it all the same: ideas are held more or less, and not wholly or not
at all."""
DRAWS = 1000
SEED = 20261130


@dataclass(frozen=True)
class IdeaSign:
    item: int
    option: int
    probability: float
    """That it shows the idea, by the answers to all questions of it."""
    chosen: int


@dataclass(frozen=True)
class SharedIdea:
    """An idea that options of some questions are signs of."""

    note: str
    probability: float
    """That it shows in at least one of them."""
    signs: tuple[IdeaSign, ...]
    holding: Floats
    """(N,) that each student holds it, if it is there."""
    expected: float
    """How many hold it, if it is there."""
    low: int
    high: int
    """Nine times in ten the number lies between them."""


def same_idea(note: str) -> str:
    """What counts as the same idea: its words, however they are spaced, capitalised or ended."""
    return " ".join(note.split()).rstrip(".").casefold()


def shared_ideas(explained: Explained, priors: ExplanationPriors | None = None) -> list[SharedIdea]:
    """Every noted idea with how likely it is there and who holds it; likeliest times most held first.

    Parameters
    ----------
    explained : Explained
        Of one table of N students.
    priors : ExplanationPriors, optional

    Returns
    -------
    list of SharedIdea
    """
    priors = priors or ExplanationPriors()
    by_idea: dict[str, list[SignOfIdea]] = {}
    for sign in explained.signs:
        by_idea.setdefault(same_idea(sign.note), []).append(sign)
    ideas = [_weighed(signs, explained.likelihood, priors) for signs in by_idea.values()]
    return sorted(ideas, key=lambda idea: (-idea.probability * idea.expected, idea.note))


def with_ideas(explained: Explained, ideas: Sequence[SharedIdea]) -> list[ItemExplanations | None]:
    """The explanations of each item, what its other questions say of an idea taken in."""
    items = list(explained.items)
    for idea in ideas:
        for sign in idea.signs:
            item = items[sign.item]
            if item is not None:
                items[sign.item] = _with_idea(item, sign)
    return items


def _with_idea(item: ItemExplanations, sign: IdeaSign) -> ItemExplanations:
    """One explanation has another probability; all the others share what is left as they did."""
    before = next(entry.probability for entry in item.shared_idea if entry.option == sign.option)
    scale = (1 - sign.probability) / max(1e-12, 1 - before)

    def scaled(entries: tuple[OptionProbability, ...]) -> tuple[OptionProbability, ...]:
        return tuple(OptionProbability(entry.option, entry.probability * scale) for entry in entries)

    ideas = tuple(
        OptionProbability(entry.option, sign.probability if entry.option == sign.option else entry.probability * scale)
        for entry in item.shared_idea
    )
    return ItemExplanations(
        item.fair * scale, item.guessing * scale, scaled(item.wrong_key), scaled(item.two_right), ideas
    )


def _weighed(signs: Sequence[SignOfIdea], likelihood: Floats, priors: ExplanationPriors) -> SharedIdea:
    ranked = sorted(signs, key=lambda sign: -sign.probability)
    most = MOST_SIGNS if len(likelihood) <= MANY else SIGNS_OF_MANY
    together, alone = ranked[:most], ranked[most:]
    items = sorted({sign.item for sign in together})
    abilities = likelihood.sum(axis=1) - likelihood[:, items].sum(axis=1) + np.log(STANDARD)
    abilities = np.exp(abilities - abilities.max(axis=1, keepdims=True))
    abilities /= abilities.sum(axis=1, keepdims=True)
    slope = priors.models.idea_slope[0]
    share_holding = logistic(np.log(SHARES / (1 - SHARES))[:, None] + slope * ABILITIES)  # (shares, G)
    working = [np.array(row) for row in product((False, True), repeat=len(together))]
    fits = np.empty((len(working), len(SHARES)))
    holds = np.empty((len(working), len(SHARES), len(abilities)))
    for at, works in enumerate(working):
        who, rest = _answers(together, works)
        hold = np.einsum("ng,sg->sn", abilities * who, share_holding)
        whole = hold + np.einsum("ng,sg->sn", abilities * rest, 1 - share_holding)
        fits[at] = np.log(np.maximum(whole, 1e-300)).sum(axis=1)
        holds[at] = hold / np.maximum(whole, 1e-300)
    posterior = _posterior(fits, working, together, priors)
    present = posterior[1:].sum()
    there = posterior[1:] / max(present, 1e-300)
    low, high, expected = _number(there, holds[1:])
    own = [float(posterior[[works[at] for works in working]].sum()) for at in range(len(together))]
    weighed_signs = [*zip(together, own, strict=True), *((sign, sign.probability) for sign in alone)]
    weighed_signs.sort(key=lambda entry: entry[0].item)
    return SharedIdea(
        note=signs[0].note,
        probability=float(present),
        signs=tuple(IdeaSign(sign.item, sign.option, p, int(sign.chosen.sum())) for sign, p in weighed_signs),
        holding=np.einsum("ws,wsn->n", there, holds[1:]),
        expected=expected,
        low=low,
        high=high,
    )


@dataclass(frozen=True)
class IdeaCount:
    """How many of so many students hold an idea, if it is there at all. probability: that it is. From `low` to `high`
    nine times in ten."""

    probability: float
    expected: float
    low: int
    high: int
    students: int

    @property
    def there(self) -> bool:
        return self.probability >= 0.5


def probability_of_fewer(then: IdeaCount, now: IdeaCount) -> float:
    """How likely it is that a smaller share of the students holds an idea now than then.

    Of each time the idea is either not there, or held by a share that is normal about what is expected and as wide as
    its interval; the two times are taken as independent. Where it is there neither time, neither is the smaller.
    """
    spreads = [max(0.5, (count.high - count.low) / (2 * 1.645)) / max(1, count.students) for count in (then, now)]
    apart = then.expected / max(1, then.students) - now.expected / max(1, now.students)
    both = then.probability * now.probability
    neither = (1 - then.probability) * (1 - now.probability)
    fewer = 1 - normal_tail(apart / math.hypot(*spreads))
    return both * fewer + then.probability * (1 - now.probability) + 0.5 * neither


def _answers(signs: Sequence[SignOfIdea], works: NDArray[np.bool_]) -> tuple[Floats, Floats]:
    """(N, G) the chance of each student's answers to these items, did they hold the idea and did they not."""
    who = np.ones_like(signs[0].without)
    rest = np.ones_like(who)
    for sign, does in zip(signs, works, strict=True):
        if not does:
            who, rest = who * sign.otherwise, rest * sign.otherwise
            continue
        answered = (sign.without != 1.0).any(axis=1)[:, None]
        drawn = FOLLOWS * sign.chosen[:, None] + (1 - FOLLOWS) * sign.without
        leaning = LEANS * sign.chosen[:, None] + (1 - LEANS) * sign.without
        who, rest = who * np.where(answered, drawn, 1.0), rest * np.where(answered, leaning, 1.0)
    return who, rest


def _posterior(
    fits: Floats, working: Sequence[NDArray[np.bool_]], signs: Sequence[SignOfIdea], priors: ExplanationPriors
) -> Floats:
    """(2^m, shares) probability of each set of working signs and share of holders.

    What one item says by itself was weighed with all that is not known of its options (`explanations.py`), and is taken
    from there; here only what the items say *together* is added: how much better a set of signs fits than its members
    one by one.
    """
    logs = np.logaddexp.reduce(fits, axis=1) - np.log(fits.shape[1])
    prior = float(np.mean([sign.prior for sign in signs]))
    anybody = min(0.9, prior / priors.sign_works)
    alone = {int(np.flatnonzero(works)[0]): logs[at] for at, works in enumerate(working) if works.sum() == 1}
    odds = [_logit(sign.probability) - _logit(sign.prior) for sign in signs]
    weights = np.empty(len(working))
    for at, works in enumerate(working):
        on = np.flatnonzero(works).tolist()
        together = logs[at] - logs[0] - sum(alone[k] - logs[0] for k in on)
        chance = anybody * np.prod(np.where(works, priors.sign_works, 1 - priors.sign_works))
        weights[at] = np.log(chance + (1 - anybody) * (len(on) == 0)) + sum(odds[k] for k in on) + together
    whole = weights[:, None] + fits - np.logaddexp.reduce(fits, axis=1, keepdims=True)
    posterior = np.exp(whole - whole.max())
    return np.asarray(posterior / posterior.sum())


def _number(there: Floats, holds: Floats) -> tuple[int, int, float]:
    """How many hold it: the ends of nine times in ten, and the expected number."""
    flat, students = there.reshape(-1), holds.shape[2]
    rng = np.random.default_rng(SEED)
    drawn = rng.choice(len(flat), size=DRAWS, p=flat / flat.sum())
    counts = (rng.random((DRAWS, students)) < holds.reshape(len(flat), students)[drawn]).sum(axis=1)
    low, high = np.quantile(counts, [0.05, 0.95], method="nearest")
    return int(low), int(high), float(flat @ holds.reshape(len(flat), students).sum(axis=1) / flat.sum())


def _logit(probability: float) -> float:
    clipped = min(max(probability, 1e-9), 1 - 1e-9)
    return float(np.log(clipped / (1 - clipped)))
