"""What marks say of written work: the levels that were reached, and where two markers disagree."""

from collections.abc import Collection, Sequence

import numpy as np

from versomark.core.findings import Flag, Thresholds, words
from versomark.core.findings.analysis import RESAMPLES, SEED
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

from .report import CriterionSpread, FindingsReport, FlagNote, LevelCount


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


def raters_flags(sitting: Sitting) -> list[FlagNote]:
    """A flag a question on whose criteria two markers are apart; the criterion on which they are most firmly so."""
    if not SecondMarking.objects.filter(sitting=sitting).exists():
        return []
    thresholds = Thresholds()
    numbers = {item.ref: number for number, item in enumerate(sitting.edition.read().items(), start=1)}
    flag_notes = []
    for ref, content, pairs in marked_twice(sitting):
        worst, firmest = None, 0.0
        for criterion in content.rubric.criteria:
            both = np.array([[mark.points[criterion.id] for mark in pair] for pair in pairs], float).reshape(-1, 2)
            levels = levels_of(both, criterion.max)
            firm = disagreement(both[:, 0], both[:, 1], levels, RESAMPLES, SEED)
            if firm is not None and firm >= thresholds.hint and firm > firmest:
                worst, firmest = criterion, firm
        if worst is not None:
            label = content.own_label or str(numbers[ref])
            flag_notes.append(_flag(numbers[ref], label, ref, worst, len(pairs), firmest))
    return flag_notes


def _flag(number: int, label: str, ref: str, criterion: Criterion, answers: int, firmness: float) -> FlagNote:
    return FlagNote(
        ref=ref,
        number=number,
        label=label,
        flag=Flag.RATERS_DISAGREE.value,
        firmness=firmness,
        firmness_word=Thresholds().firmness_word(firmness),
        heading=f"Two markers do not agree on “{criterion.name}”.",
        short="Markers disagree",
        says=f"On {answers} answers marked twice their points for it agree little better than chance would.",
        options=[],
        urgent=True,
        advice=words.ADVICE[Flag.RATERS_DISAGREE],
    )
