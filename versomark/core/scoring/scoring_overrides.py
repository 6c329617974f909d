"""What people decided about a sitting after its edition was frozen: marks given, keys settled, items waived."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from versomark.core.items.base import Shares

Marks = Mapping[str, Mapping[str, float]]
"""seat name -> item ref -> marks that a person gave, on the scale of the item's own marks."""


@dataclass(frozen=True)
class KeyOverride:
    """How an item with a key is scored in place of that key.

    accepted: ids of the item's answers that earn full marks; every other one earns nothing.
    everybody: all students have full marks, whatever they gave; `accepted` says nothing then.
    """

    accepted: frozenset[str] = frozenset()
    everybody: bool = False


@dataclass(frozen=True)
class ScoringOverrides:
    marks: Marks = field(default_factory=dict)
    settled: Mapping[str, KeyOverride] = field(default_factory=dict)
    """By item ref."""
    shares: Mapping[str, Shares] = field(default_factory=dict)
    """By item ref, what was typed and judged by a person, whatever the key says."""
    waived: frozenset[str] = frozenset()
    """Refs of items that are out of the total and the analysis."""
