"""Averages over several sittings that say over what."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Average:
    """share: of the marks; None over nothing. over: how many sittings. weight: of the categories that had any, as a
    share of all weight."""

    share: float | None
    over: int
    weight: float


def weighted_average(shares: Sequence[tuple[int, float]], weights: Mapping[int, float]) -> Average:
    """(category, share of the marks) of each sitting that counts, and what each category weighs.

    Sittings of a category count the same; categories by their weights, those without any sitting left out and not
    taken as nothing (common practice, no source). A category without a weight weighs 0.
    """
    by_category: dict[int, list[float]] = {}
    for category, share in shares:
        if weights.get(category, 0.0) > 0:
            by_category.setdefault(category, []).append(share)
    had = sum(weights[category] for category in by_category)
    whole = sum(weight for weight in weights.values() if weight > 0)
    if not by_category or had <= 0:
        return Average(None, 0, 0.0)
    mean = sum(weights[category] * sum(own) / len(own) for category, own in by_category.items()) / had
    return Average(mean, sum(len(own) for own in by_category.values()), had / whole)
