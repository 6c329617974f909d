"""A school's scale: words or numbers that stand for shares of the marks, by cut points."""

from collections.abc import Sequence
from dataclasses import dataclass

from versomark.core.language import _


@dataclass(frozen=True)
class Step:
    """From this share of the marks on, up to that of the next step above."""

    least: float
    word: str


@dataclass(frozen=True)
class SchoolScale:
    """steps: the highest first; the last begins at 0."""

    name: str
    steps: tuple[Step, ...]

    def word(self, share: float) -> str:
        """A share that is a cut belongs to the step above; below 0 (a total may be) is the lowest."""
        return next((step.word for step in self.steps if share + 1e-9 >= step.least), self.steps[-1].word)


class BadScale(ValueError):
    """What is wrong with it, in words."""


def scale_of(name: str, steps: Sequence[tuple[float, str]]) -> SchoolScale:
    """In any order. Raises BadScale for fewer than two steps, a step without a word, two that begin alike or are called
    alike, and where nothing stands for the lowest shares."""
    steps_down = tuple(Step(least, word.strip()) for least, word in sorted(steps, key=lambda step: -step[0]))
    if len(steps_down) < 2:
        raise BadScale(_("A scale has two steps or more."))
    if not all(step.word for step in steps_down):
        raise BadScale(_("Every step needs a word or a number."))
    if len({step.least for step in steps_down}) < len(steps_down):
        raise BadScale(_("Two steps begin at the same percent."))
    if len({step.word.casefold() for step in steps_down}) < len(steps_down):
        raise BadScale(_("Two steps are called the same."))
    if steps_down[-1].least != 0 or steps_down[0].least > 1:
        raise BadScale(_("The lowest step begins at 0%, and none above 100%."))
    return SchoolScale(name, steps_down)


USUAL = (
    scale_of("A to F", [(0.9, "A"), (0.8, "B"), (0.7, "C"), (0.6, "D"), (0, "F")]),
    scale_of("4 to 1", [(0.85, "4"), (0.65, "3"), (0.45, "2"), (0, "1")]),
    scale_of("pass or fail", [(0.5, "pass"), (0, "fail")]),
    scale_of("in words", [(0.8, "secure"), (0.5, "nearly"), (0, "not yet")]),
    scale_of("out of 10", [(0.05 + at / 10 - 0.1, str(at)) for at in range(10, 0, -1)] + [(0, "0")]),
)
"""Cut points to begin with (common practice, no source); a school sets its own."""
