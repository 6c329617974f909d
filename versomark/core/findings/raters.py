"""The flag *raters disagree*: how likely it is that two markers of one criterion are apart."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import ArrayLike

from versomark.core.stats import cohen_kappa

LEAST_KAPPA = 0.60
"""Fleiss (1981): .40 to .75 is fair to good; under this a mark depends on who gives it."""
DRAWS = 500
SEED = 20261103
FEWEST = 8
"""Answers with two marks; fewer say nothing."""


def disagreement(first: ArrayLike, second: ArrayLike, levels: Sequence[float]) -> float | None:
    """The probability that kappa with quadratic weights is under .60 on one criterion, where these answers are a
    sample: the share of draws of the Bayesian bootstrap (Rubin 1981) in which it is.

    (N,) points each, out of `levels`. None where it is not on the answers as they are, where they are too few, or where
    chance alone agrees fully.
    """
    one, other = np.asarray(first, float), np.asarray(second, float)
    if len(one) < FEWEST:
        return None
    now = cohen_kappa(one, other, levels, "quadratic")
    if now is None or now.value >= LEAST_KAPPA:
        return None
    weights = np.random.default_rng(SEED).dirichlet(np.ones(len(one)), size=DRAWS)
    apart = (one[:, None] - other[None, :]) ** 2  # by chance, each of one marker beside each of the other
    seen = (weights * (one - other) ** 2).sum(axis=1)
    by_chance = np.einsum("ri,ij,rj->r", weights, apart, weights)
    # A draw in which all marks are the same has no kappa, and nobody disagrees in it.
    kappa = 1 - np.divide(seen, by_chance, out=np.zeros_like(seen), where=by_chance > 0)
    return float((kappa < LEAST_KAPPA).mean())
