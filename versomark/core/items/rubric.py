"""Rubrics: criteria with a maximum each, levels in words, and sample answers with their marks."""

import operator
from collections.abc import Mapping, Sequence
from fractions import Fraction
from typing import Annotated, NamedTuple

from pydantic import Field

from versomark.core.language import _, in_figures
from versomark.core.text import RichText

from .base import Frozen, OptionId, Words
from .numbers import exact

HalfPoints = Annotated[float, Field(ge=0, le=1000, multiple_of=0.5)]


class Level(Frozen):
    points: HalfPoints
    words: Annotated[str, Field(max_length=600)] = ""


class Criterion(Frozen):
    id: OptionId
    name: Words = ""
    max: Annotated[float, Field(gt=0, le=1000, multiple_of=0.5)] = 4
    levels: Annotated[list[Level], Field(max_length=12)] = []

    def about(self, points: float) -> tuple[Level | None, Level | None]:
        """The levels that say what these points are given for: the one that was reached, and the next one where the
        points lie between two."""
        below = max((level for level in self.levels if level.points <= points), key=_points, default=None)
        if below is not None and below.points == points:
            return below, None
        return below, min((level for level in self.levels if level.points > points), key=_points, default=None)

    def says_other_of(self, points: float, before: "Criterion") -> bool:
        """Whether these levels mean something else by these points than those `before` did: their words are others, or
        a level stands beside them now that was not there to choose from.

        Examples
        --------
        >>> one = Criterion(id="c", max=2, levels=[Level(points=0), Level(points=2, words="Sound")])
        >>> split = one.model_copy(update={"levels": [*one.levels, Level(points=1, words="Sound, not shown")]})
        >>> [split.says_other_of(points, one) for points in (0, 1, 2)]
        [True, True, True]
        """
        if _words(self.about(points)) != _words(before.about(points)):
            return True
        known = {level.points for level in before.levels}
        all_points = sorted({level.points for level in self.levels} | known)
        if points not in all_points:
            return False
        at = all_points.index(points)
        beside = all_points[max(0, at - 1) : at] + all_points[at + 1 : at + 2]
        return any(other not in known for other in beside)


def _points(level: Level) -> float:
    return level.points


def _words(levels: tuple[Level | None, Level | None]) -> list[tuple[float, str] | None]:
    return [None if level is None else (level.points, " ".join(level.words.split())) for level in levels]


class Exemplar(Frozen):
    """A sample answer and what it earns; points and why, by criterion id."""

    id: OptionId
    name: Words = ""
    text: RichText = ""
    points: dict[OptionId, HalfPoints] = {}
    reasons: Annotated[dict[OptionId, Words], Field(exclude_if=operator.not_)] = {}
    """Not stored where nobody gives one, so that what is frozen without keeps its fingerprint."""
    remark: Annotated[str, Field(max_length=1000)] = ""


class Rubric(Frozen):
    criteria: Annotated[list[Criterion], Field(max_length=12)] = []
    exemplars: Annotated[list[Exemplar], Field(max_length=12)] = []

    @property
    def total(self) -> float:
        return sum(criterion.max for criterion in self.criteria)

    def with_levels(self, levels: Mapping[str, Sequence[Level]]) -> "Rubric":
        """The same with other levels, by criterion; what they are worth at most stays."""
        criteria = [
            criterion.model_copy(update={"levels": sorted(levels[criterion.id], key=_points)})
            if criterion.id in levels
            else criterion
            for criterion in self.criteria
        ]
        return self.model_copy(update={"criteria": criteria})

    def problems(self) -> list[str]:
        problems = [] if self.criteria else [_("The rubric has no criterion yet.")]
        for at, criterion in enumerate(self.criteria, start=1):
            name = criterion.name or str(at)
            if not criterion.name:
                problems.append(_("Criterion {at} has no name.", at=at))
            if any(level.points > criterion.max for level in criterion.levels):
                problems.append(_("Criterion {name}: a level is worth more than its maximum.", name=name))
            points = [level.points for level in criterion.levels]
            if len(set(points)) < len(points):
                problems.append(_("Criterion {name}: two levels are worth the same.", name=name))
        problems += [
            _("Sample answer {value}: {problem}", value=exemplar.name or at, problem=problem)
            for at, exemplar in enumerate(self.exemplars, start=1)
            for problem in self.refuses(exemplar.points)
        ]
        return problems

    def refuses(self, points: Mapping[str, float]) -> list[str]:
        """Why these points by criterion cannot stand, in words; empty when they can. Missing criteria are allowed."""
        limits = {criterion.id: criterion for criterion in self.criteria}
        problems = [_("It has points for a criterion that is not in the rubric.")] if set(points) - set(limits) else []
        return problems + [
            _(
                "{value} has at most {max}.",
                value=limits[id].name or _("A criterion"),
                max=in_figures(limits[id].max, "g"),
            )
            for id, value in points.items()
            if id in limits and value > limits[id].max
        ]

    def scaled(
        self, points: Mapping[str, float], to: float, weights: Mapping[str, float] | None = None
    ) -> float | None:
        """The points on a scale whose full marks are `to`; None while a criterion is not marked.

        weights: how much each criterion counts beside the others, by id; its maximum where none is given, so that a
        point is worth the same everywhere. Worked out in fractions, so that full points give `to` exactly: 13 + 20 + 3
        of 36 are 100 of 100. Raises ValueError where no criterion has a weight.
        """
        if not self.criteria or any(criterion.id not in points for criterion in self.criteria):
            return None
        share = {criterion.id: exact((weights or {}).get(criterion.id, criterion.max)) for criterion in self.criteria}
        whole = sum(share.values(), Fraction(0))
        if whole <= 0:
            raise ValueError(_("One criterion at least needs a weight."))
        earned = sum(
            (exact(points[criterion.id]) / exact(criterion.max) * share[criterion.id] for criterion in self.criteria),
            Fraction(0),
        )
        return float(earned * exact(to) / whole)


class AcrossQuestions(NamedTuple):
    """What one thing that several questions are marked for has earned in all of them."""

    name: str
    points: float
    of: float
    questions: int


def same_name(name: str) -> str:
    """By which criteria of several questions are one: their name, whatever its case and the space in it."""
    return " ".join(name.split()).casefold()


def across_questions(marked: Sequence[tuple[Rubric, Mapping[str, float]]]) -> list[AcrossQuestions]:
    """
    Criteria that several questions share by their name (“Spelling”, “Units”), each as one sum.

    Parameters
    ----------
    marked
        Of each question that has its mark, its rubric and the points by criterion id. A question that waits for its
        mark, or was waived, is left out by whoever calls: it is neither in the points nor in what they are out of.

    Returns
    -------
    list of AcrossQuestions
        In the order in which they come first; nothing of a criterion that only one question has. Names are the same
        whatever their case and the space around them.

    Examples
    --------
    >>> units = Rubric(criteria=[Criterion(id="u", name="Units", max=2)])
    >>> across_questions([(units, {"u": 1}), (units, {"u": 2})])
    [AcrossQuestions(name='Units', points=3, of=4.0, questions=2)]
    """
    shared: dict[str, list[tuple[str, float, float]]] = {}
    for rubric, points in marked:
        for criterion in rubric.criteria:
            if criterion.name.strip() and criterion.id in points:
                part = (criterion.name.strip(), points[criterion.id], criterion.max)
                shared.setdefault(same_name(criterion.name), []).append(part)
    return [
        AcrossQuestions(parts[0][0], sum(part[1] for part in parts), sum(part[2] for part in parts), len(parts))
        for parts in shared.values()
        if len(parts) > 1
    ]
