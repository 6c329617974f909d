"""The flag *raters disagree*: how firmly two markers of one criterion are apart."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import ArrayLike

from versomark.core.stats import cohen_kappa

LEAST_KAPPA = 0.60
"""Fleiss (1981): .40 to .75 is fair to good; under this a mark depends on who gives it."""
FEWEST = 8
"""Answers with two marks; fewer say nothing."""


def disagreement(
    first: ArrayLike, second: ArrayLike, levels: Sequence[float], resamples: int, seed: int
) -> float | None:
    """Firmness of *raters disagree* on one criterion: the share of seeded resamples of the answers in which kappa with
    quadratic weights is under .60. (N,) points each, out of `levels`. None where it is not on the answers as they are,
    where they are too few, or where chance alone agrees fully."""
    one, other = np.asarray(first, float), np.asarray(second, float)
    if len(one) < FEWEST or resamples < 1:
        return None
    now = cohen_kappa(one, other, levels, "quadratic")
    if now is None or now.value >= LEAST_KAPPA:
        return None
    rng = np.random.default_rng(seed)
    draws = (rng.integers(len(one), size=len(one)) for _ in range(resamples))
    kappas = [cohen_kappa(one[at], other[at], levels, "quadratic") for at in draws]
    # A resample in which all marks are the same has no kappa, and nobody disagrees in it.
    return sum(kappa is not None and kappa.value < LEAST_KAPPA for kappa in kappas) / resamples
