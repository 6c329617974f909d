"""What may lie behind the answers to an item, how likely each of it is, and how likely it is before any answer."""

from dataclasses import dataclass, field
from enum import StrEnum
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .option_models import ModelPriors

Floats = NDArray[np.float64]


class Explanation(StrEnum):
    """What may lie behind the answers to an item."""

    FAIR = "fair"
    WRONG_KEY = "wrong_key"
    TWO_RIGHT = "two_right"
    SHARED_IDEA = "shared_idea"
    GUESSING = "guessing"


@dataclass(frozen=True)
class ExplanationPriors:
    """Prior odds of an item, and how a test may differ from the usual one. Argued in `docs/methods.md`."""

    wrong_key: float = 0.025
    two_right: float = 0.025
    shared_idea: float = 0.10
    guessing: float = 0.04
    noted_idea: float = 0.25
    """Of an item with idea notes, that one of its options with a note draws by that idea: a teacher who names an
    idea has met it."""
    sign_works: float = 0.80
    """That an option with an idea note draws who holds the idea, where anybody does."""
    idea_rates: tuple[float, ...] = (0.2, 0.6, 1.0, 2.0)
    """How many times as many ideas as usual a test may show, each as likely as the others before it is seen."""
    error_rates: tuple[float, ...] = (1.0,)
    """The same of wrong keys, second right answers and guessing."""
    alike: float = 2.0
    """How many items' worth of doubt there is that the wrong options of one test are alike in how even they pull."""
    trusted: float = 200.0
    """No model is exactly true, so a likelihood of N students is raised to the power trusted / (trusted + N): the
    coarsened posterior of Miller and Dunson (2019)."""
    models: ModelPriors = field(default_factory=ModelPriors)


class OptionProbability(NamedTuple):
    option: int
    """Its place among the item's options."""
    probability: float


@dataclass(frozen=True)
class ItemExplanations:
    """Probabilities of one item; they add up to 1."""

    fair: float
    guessing: float
    wrong_key: tuple[OptionProbability, ...]
    two_right: tuple[OptionProbability, ...]
    shared_idea: tuple[OptionProbability, ...]
    """Of each option that could be it, in printed order."""

    def ranked(self) -> list[tuple[Explanation, int, float]]:
        """Every explanation with the place of the option it names, −1 where it names none, and its probability;
        likeliest first."""
        named = (
            (Explanation.WRONG_KEY, self.wrong_key),
            (Explanation.TWO_RIGHT, self.two_right),
            (Explanation.SHARED_IDEA, self.shared_idea),
        )
        entries = [(Explanation.FAIR, -1, self.fair), (Explanation.GUESSING, -1, self.guessing)]
        entries += [(kind, option, p) for kind, of_options in named for option, p in of_options]
        return sorted(entries, key=lambda entry: -entry[2])


@dataclass(frozen=True)
class SignOfIdea:
    """An option with an idea note, as a sign that who chose it holds the idea."""

    item: int
    option: int
    note: str
    prior: float
    probability: float
    """That it draws by the idea, by the answers to this item alone."""
    chosen: NDArray[np.bool_]
    """(N,)"""
    without: Floats
    """(N, G) the chance of each student's answer, did they not hold the idea; 1 where nothing was answered."""
    otherwise: Floats
    """(N, G) the same, were the option no sign of it at all."""


@dataclass(frozen=True)
class Explained:
    items: list[ItemExplanations | None]
    signs: list[SignOfIdea]
    likelihood: Floats
    """(N, n, G) logarithms, of each student's answers at each ability."""
