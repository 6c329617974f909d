"""The options of an item as the places of a model, and the explanations that its places allow."""

from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import ItemColumn

from .explanations import Explanation, ExplanationPriors
from .option_models import Truth

Floats = NDArray[np.float64]
Places = NDArray[np.int64]

MOST_PLACES = 8
"""Of options in a model; the least chosen of more are taken together."""


@dataclass(frozen=True)
class Layout:
    """The options of an item as places of a model: all keys as the first, then the wrong ones, the least chosen of
    many as the last."""

    options: tuple[tuple[int, ...], ...]
    """By place, the options there."""
    named: tuple[bool, ...]
    """By place, whether it is one answer that could be right, or drawn to by an idea."""
    noted: tuple[bool, ...]
    offered: bool
    """Whether the answers are chosen from what is printed, so that they can be guessed."""

    def placed(self, choice: NDArray[np.int16]) -> Places:
        """(N,) the place of each choice, −1 where there is none."""
        where = np.full(1 + max(option for group in self.options for option in group), -1)
        for place, group in enumerate(self.options):
            where[list(group)] = place
        return np.where(choice >= 0, where[np.maximum(choice, 0)], -1)


def layout_of(item: ItemColumn, choice: NDArray[np.int16]) -> Layout | None:
    keys = [k for k, option in enumerate(item.options) if option.key]
    wrong = [k for k, option in enumerate(item.options) if not option.key]
    if not keys or not wrong:
        return None
    groups: list[tuple[int, ...]] = [(k,) for k in wrong]
    if len(wrong) > MOST_PLACES - 1:
        counts = np.bincount(choice[choice >= 0], minlength=len(item.options))
        by_count = sorted(wrong, key=lambda k: (-counts[k], k))
        groups = [*((k,) for k in sorted(by_count[: MOST_PLACES - 2])), tuple(by_count[MOST_PLACES - 2 :])]
    alone = [len(group) == 1 and _is_one_answer(item, group[0]) for group in groups]
    return Layout(
        options=(tuple(keys), *groups),
        named=(True, *alone),
        noted=(
            False,
            *(is_one and bool(item.options[group[0]].idea_note) for is_one, group in zip(alone, groups, strict=True)),
        ),
        offered=all(option.offered for option in item.options),
    )


def _is_one_answer(item: ItemColumn, option: int) -> bool:
    """Not so of “another value”, which gathers many different ones."""
    return item.options[option].offered or bool(item.options[option].idea_note)


class Candidate(NamedTuple):
    kind: Explanation
    rival: int
    """The place that is named, 0 where none is."""
    truth: Truth
    orders: tuple[tuple[int, ...], ...]
    """By permutation of what can be exchanged: which place of the model each place of the item is."""


@lru_cache
def candidates(size: int) -> tuple[Candidate, ...]:
    def of(kind: Explanation, truth: Truth, *first: int) -> Candidate:
        rest = [k for k in range(size) if k not in first]
        turned = [[*first, *rest[at:], *rest[:at]] for at in range(max(1, len(rest)))]
        return Candidate(kind, first[-1], truth, tuple(tuple(order.index(k) for k in range(size)) for order in turned))

    rivals = range(1, size)
    return (
        of(Explanation.FAIR, Truth.ONE_RIGHT, 0),
        of(Explanation.GUESSING, Truth.NOBODY_KNOWS, 0),
        *(of(Explanation.WRONG_KEY, Truth.ONE_RIGHT, k) for k in rivals),
        *(of(Explanation.TWO_RIGHT, Truth.TWO_RIGHT, 0, k) for k in rivals),
        *(of(Explanation.SHARED_IDEA, Truth.SHARED_IDEA, 0, k) for k in rivals),
    )


def prior_of(layout: Layout, priors: ExplanationPriors) -> Floats:
    """(candidates,) probabilities before any answer; what cannot be has 0, and its share goes to *fair*."""
    size = len(layout.options)
    named = np.array(layout.named[1:], dtype=float)
    even = named / max(1.0, named.sum())
    noted = named * np.array(layout.noted[1:], dtype=float)
    others = named - noted
    ideas = priors.noted_idea * noted / max(1.0, noted.sum())
    ideas += priors.shared_idea * others / max(1.0, named.sum())
    guessing = priors.guessing if layout.offered else 0.0
    rivals = [priors.wrong_key * even, priors.two_right * even, ideas]
    prior = np.concatenate([[0.0, guessing], *rivals])
    prior[0] = 1 - prior.sum()
    assert len(prior) == len(candidates(size))
    return prior
