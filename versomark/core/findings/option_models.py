"""Models of how students choose among the options of one item, drawn once from generic priors.

Whoever knows the item takes what is true; whoever does not takes an option by its pull, and pulls are unequal. Each
draw is a whole model of one item, as the chance of every option at every ability on a grid. What is true of an item is
then a matter of which draws explain its answers (`explanations.py`).

The priors are argued in `docs/methods.md` and were not fitted to any simulator: slopes and difficulties as wide as
handbooks report them for classroom tests, pulls from even to very uneven.
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Singles = NDArray[np.float32]

ABILITIES: Floats = np.linspace(-2.8, 2.8, 11)
"""(G,) in standard deviations of a class."""
STANDARD = np.exp(-(ABILITIES**2) / 2) / np.exp(-(ABILITIES**2) / 2).sum()
"""(G,) weights of a standard normal distribution on the grid."""
DRAWS = 600
SEED = 20261129


class Truth(StrEnum):
    """What a family of models says is true of the options in its first places."""

    ONE_RIGHT = "one right"
    """The first is right."""
    TWO_RIGHT = "two right"
    """Those who know divide between the first and the second."""
    SHARED_IDEA = "shared idea"
    """The first is right, but some, able or not, hold an idea that takes them to the second."""
    NOBODY_KNOWS = "nobody knows"
    """Hardly anybody knows; all take an option by its pull."""


PLACED = {Truth.ONE_RIGHT: 1, Truth.TWO_RIGHT: 2, Truth.SHARED_IDEA: 2, Truth.NOBODY_KNOWS: 0}
"""How many first places mean something; the others can be exchanged."""


@dataclass(frozen=True)
class ModelPriors:
    """Spreads of what a model of an item is made of. Logits are on the natural scale, ability in class deviations."""

    slope: float = 1.2
    slope_spread: float = 0.5
    """Of the logarithm of slopes: half of them from 0.86 to 1.7."""
    difficulty_spread: float = 1.4
    slip: float = 0.04
    """How many, in the mean, know and still take something else."""
    evenness: tuple[float, ...] = (0.7, 2.0, 8.0)
    """Of pulls, as the concentration of a Dirichlet distribution; draws take them in turns, so that `draw % len`
    tells."""
    drift: float = 0.4
    """How far the pull of an option rises or falls with ability: partial knowledge."""
    split: tuple[float, float] = (0.3, 0.7)
    """Of those who know, the share that takes the first of two right answers."""
    holders: tuple[float, float] = (0.2, 0.75)
    """Share of average students who hold an idea."""
    idea_slope: tuple[float, float] = (-0.3, 0.4)
    """Mean and spread of how its odds change with ability."""
    idea_wins: tuple[float, float] = (0.8, 1.0)
    """How often who holds it follows it."""
    least_known: float = 0.10
    """Where fewer of a class know, nobody is said to."""
    even_guessing: tuple[float, ...] = (2.0, 8.0, 40.0)


@lru_cache(maxsize=64)
def option_models(truth: Truth, options: int, priors: ModelPriors = ModelPriors(), with_idea: bool = True) -> Singles:
    """Drawn models of one item.

    Parameters
    ----------
    truth : Truth
        What is true of the first places.
    options : int
        How many options there are, K; at least two.
    priors : ModelPriors, optional
    with_idea : bool, default True
        Of a shared idea: of the whole class, or else of those who do not hold it.

    Returns
    -------
    ndarray of float32, shape (DRAWS, K, G)
        The chance of each option at each ability; sums to 1 over the options.

    Raises
    ------
    ValueError
        If there are fewer options than two.
    """
    if options < 2:
        raise ValueError(f"options must be 2 or more, not {options}")
    rng = np.random.default_rng([SEED, list(Truth).index(truth), options])
    if truth is Truth.NOBODY_KNOWS:
        pull = _pulls(rng, options, priors.even_guessing, 0.3 * priors.drift)
        known = rng.uniform(0, priors.least_known, DRAWS)[:, None] * np.ones_like(ABILITIES)
        # The true option stands in any place: which of them it is does not matter to who does not know it.
        chance = (1 - known)[:, None, :] * pull
        chance[:, 0] += known
        return chance.astype(np.float32)
    known = _known(rng, priors)
    chance = (1 - known)[:, None, :] * _pulls(rng, options, priors.evenness, priors.drift)
    if truth is Truth.TWO_RIGHT:
        first = rng.uniform(*priors.split, DRAWS)[:, None]
        chance[:, 0] += first * known
        chance[:, 1] += (1 - first) * known
    else:
        chance[:, 0] += known
    if truth is Truth.SHARED_IDEA:
        share_held = rng.uniform(*priors.holders, DRAWS)
        slope = rng.normal(*priors.idea_slope, DRAWS)
        follows = rng.uniform(*priors.idea_wins, DRAWS)[:, None] * logistic(
            np.log(share_held / (1 - share_held))[:, None] + slope[:, None] * ABILITIES
        )
        if with_idea:
            chance *= (1 - follows)[:, None, :]
            chance[:, 1] += follows
    return chance.astype(np.float32)


def _known(rng: np.random.Generator, priors: ModelPriors) -> Floats:
    """(DRAWS, G) the chance of knowing an item, of items that at least a few of a class know."""
    accepted = np.empty((0, len(ABILITIES)))
    while len(accepted) < DRAWS:
        strata = (np.argsort(rng.random((2, DRAWS)), axis=1) + rng.random((2, DRAWS))) / DRAWS
        normal = _normal(strata)
        slope = priors.slope * np.exp(priors.slope_spread * normal[0])
        difficulty = priors.difficulty_spread * normal[1]
        slip = np.minimum(rng.exponential(priors.slip, DRAWS), 0.4)
        known = (1 - slip)[:, None] * logistic(slope[:, None] * (ABILITIES - difficulty[:, None]))
        accepted = np.concatenate([accepted, known[known @ STANDARD >= priors.least_known]])
    return accepted[:DRAWS]


def _pulls(rng: np.random.Generator, options: int, evenness: tuple[float, ...], drift: float) -> Floats:
    """(DRAWS, K, G) what those take who do not know."""
    concentration = np.resize(np.array(evenness), DRAWS)
    pull = rng.gamma(np.repeat(concentration[:, None], options, axis=1)) + 1e-3
    drifts = rng.normal(0, drift, (DRAWS, options))
    pulls = pull[:, :, None] * np.exp(drifts[:, :, None] * ABILITIES)
    return np.asarray(pulls / pulls.sum(axis=1, keepdims=True))


def _normal(uniform: Floats) -> Floats:
    """Standard normal deviates at these probabilities."""
    from scipy.special import ndtri

    return np.asarray(ndtri(uniform))


def logistic(logit: Floats) -> Floats:
    return np.asarray(1 / (1 + np.exp(-logit)))
