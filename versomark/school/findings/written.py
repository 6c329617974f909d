"""What marks say of written work: the levels that were reached, and where two markers disagree."""

from collections.abc import Collection, Sequence

import numpy as np

from versomark.core.findings import Flag, Thresholds
from versomark.core.findings.raters import disagreement
from versomark.core.items.by_rubric import ByRubric
from versomark.core.items.rubric import Criterion
from versomark.school.delivery.public import Sitting
from versomark.school.grading.public import (
    Mark,
    MarkingPass,
    MarkState,
    SecondMarking,
    by_hand,
    levels_of,
    marked_twice,
    marks_by_pass,
)

from .report import CriterionSpread, FindingsReport, FoundFlag, LevelCount


def with_levels(body: FindingsReport, sittings: Sequence[Sitting]) -> FindingsReport:
    """The same with how many reached which level, of the questions that a person has marked for all who count."""
    spreads = level_spreads(sittings, set(body.totals))
    paper = [
        entry.model_copy(update={"criteria": spreads[entry.ref]})
        if entry.figures is not None and entry.ref in spreads
        else entry
        for entry in body.paper
    ]
    return body.model_copy(update={"paper": paper})


def level_spreads(sittings: Sequence[Sitting], seats: Collection[int]) -> dict[str, list[CriterionSpread]]:
    """By question, of these seats, by the mark that their students read: what was agreed on, else the first."""
    rubrics = {ref: item.content for ref, item in by_hand(sittings[0]).items()}
    if not rubrics:
        return {}
    marks: dict[str, dict[int, Mark]] = {ref: {} for ref in rubrics}
    for sitting in sittings:
        turns = marks_by_pass(sitting)
        for turn in (MarkingPass.FIRST, MarkingPass.AGREED):
            for (seat, ref), mark in turns[turn].items():
                if seat in seats and ref in marks and mark.state == MarkState.KEPT:
                    marks[ref][seat] = mark
    return {
        ref: [_spread(criterion, marks[ref]) for criterion in content.rubric.criteria]
        for ref, content in rubrics.items()
        if isinstance(content, ByRubric) and marks[ref]
    }


def _spread(criterion: Criterion, marks: dict[int, Mark]) -> CriterionSpread:
    reached: dict[float, list[int]] = {level.points: [] for level in criterion.levels}
    for seat, mark in sorted(marks.items()):
        reached.setdefault(mark.points.get(criterion.id, 0.0), []).append(seat)
    names = {level.points: level.words for level in criterion.levels}
    levels = [
        LevelCount(points=points, words=names.get(points, ""), seats=who) for points, who in sorted(reached.items())
    ]
    return CriterionSpread(name=criterion.name, max=criterion.max, levels=levels)


def raters_flags(sitting: Sitting) -> list[FoundFlag]:
    """A flag a question on whose criteria two markers are apart; the criterion on which that is likeliest."""
    if not SecondMarking.objects.filter(sitting=sitting).exists():
        return []
    thresholds = Thresholds()
    numbers = {item.ref: number for number, item in enumerate(sitting.edition.read().items(), start=1)}
    flags = []
    for ref, content, pairs in marked_twice(sitting):
        worst, likeliest = None, 0.0
        for criterion in content.rubric.criteria:
            both = np.array([[mark.points[criterion.id] for mark in pair] for pair in pairs], float).reshape(-1, 2)
            levels = levels_of(both, criterion.max)
            likely = disagreement(both[:, 0], both[:, 1], levels)
            if likely is not None and likely >= thresholds.possible and likely > likeliest:
                worst, likeliest = criterion, likely
        if worst is not None:
            label = content.own_label or str(numbers[ref])
            flags.append(_flag(numbers[ref], label, ref, worst, len(pairs), likeliest))
    return flags


def _flag(number: int, label: str, ref: str, criterion: Criterion, answers: int, probability: float) -> FoundFlag:
    return FoundFlag(
        item=ref,
        ref=ref,
        number=number,
        label=label,
        urgent=True,
        flag=Flag.RATERS_DISAGREE,
        probability=probability,
        options=[],
        students=answers,
        takers=answers,
        right=0,
        keys=[],
        counts=[],
        offered=False,
        idea_note="",
        upper_key=None,
        upper_option=None,
        lower_option=None,
        earned=None,
        r_rest=None,
        alpha=None,
        alpha_without=None,
        criterion=criterion.name,
        rivals=[],
    )
