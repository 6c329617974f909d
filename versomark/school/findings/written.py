"""What marks say of written work: the levels that were reached, what is wrong with a rubric, and where two markers
disagree."""

from collections.abc import Collection, Mapping, Sequence

import numpy as np

from versomark.core.findings import FindingFacts, Flag, Thresholds
from versomark.core.findings.criteria import CriterionFinding, CriterionMarks, RubricFigures, rubric_figures
from versomark.core.findings.facts import LevelFacts, facts_of_criterion
from versomark.core.findings.raters import disagreement
from versomark.core.items.by_rubric import ByRubric
from versomark.core.items.rubric import Rubric
from versomark.core.response_table import ResponseTable
from versomark.core.stats import known
from versomark.school.delivery.public import Sitting
from versomark.school.grading.public import (
    Mark,
    MarkingPass,
    MarkState,
    SecondMarking,
    levels_of,
    marked_twice,
    marks_by_pass,
    with_rubrics_of_now,
)

from .report import CriterionSpread, FindingsReport, FoundFlag, LevelCount, PaperQuestion


def with_levels(body: FindingsReport, sittings: Sequence[Sitting], table: ResponseTable) -> FindingsReport:
    """The same with how many reached which level, and what that says of the rubric, of the questions that a person has
    marked for all who count."""
    rubrics = marks_by_rubric(sittings, set(body.totals))
    columns = {item.id: at for at, item in enumerate(table.items)}
    flags, paper = list(body.flags), list[PaperQuestion]()
    for entry in body.paper:
        if entry.figures is not None and entry.ref in rubrics:
            content, marks = rubrics[entry.ref]
            # What was waived or not to be taken by a student says nothing of the rubric.
            given = {int(seat) for seat in np.array(table.students)[table.answered[:, columns[entry.ref]]]}
            marks = {seat: mark for seat, mark in marks.items() if seat in given}
            judged = _criterion_marks(content.rubric, marks, table)
            figures = rubric_figures(judged, table, columns[entry.ref])
            flags += [_of_criterion(entry, finding, judged) for finding in figures.findings]
            entry = entry.model_copy(update={"criteria": _spreads(content.rubric, marks, figures)})
        paper.append(entry)
    return body.model_copy(update={"paper": paper, "flags": flags})


RubricMarks = tuple[ByRubric, dict[int, Mark]]
"""A question and the mark of each seat."""


def marks_by_rubric(sittings: Sequence[Sitting], seats: Collection[int]) -> dict[str, RubricMarks]:
    """By question, of these seats, the mark that their students read: what was agreed on, else the first."""
    rubrics = {ref: item.content for ref, item in with_rubrics_of_now(sittings[0]).items()}
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
        ref: (content, marks[ref]) for ref, content in rubrics.items() if isinstance(content, ByRubric) and marks[ref]
    }


def _criterion_marks(rubric: Rubric, marks: Mapping[int, Mark], table: ResponseTable) -> list[CriterionMarks]:
    own = [marks.get(int(seat)) for seat in table.students]
    return [
        CriterionMarks(
            criterion.name,
            criterion.max,
            tuple(sorted(level.points for level in criterion.levels)),
            np.array([np.nan if mark is None else mark.points.get(criterion.id, 0.0) for mark in own]),
        )
        for criterion in rubric.criteria
    ]


def _spreads(rubric: Rubric, marks: Mapping[int, Mark], figures: RubricFigures) -> list[CriterionSpread]:
    spreads = []
    for criterion, levels, r in zip(rubric.criteria, figures.levels, figures.r_rest, strict=True):
        names = {level.points: level.words for level in criterion.levels}
        counts = [
            LevelCount(
                points=level.points,
                words=names.get(level.points, ""),
                seats=[
                    seat for seat, mark in sorted(marks.items()) if mark.points.get(criterion.id, 0.0) == level.points
                ],
                rest=known(level.rest),
            )
            for level in levels
        ]
        spreads.append(CriterionSpread(name=criterion.name, max=criterion.max, levels=counts, r_rest=known(r)))
    return spreads


def _of_criterion(question: PaperQuestion, finding: CriterionFinding, judged: Sequence[CriterionMarks]) -> FoundFlag:
    criterion = judged[finding.criterion]
    facts = facts_of_criterion(
        question.ref,
        finding.flag,
        finding.probability,
        criterion.name,
        int((~np.isnan(criterion.points)).sum()),
        [LevelFacts(points=at.points, students=at.students, rest=known(at.rest)) for at in finding.levels],
        known(finding.r),
    )
    return _on_question(facts, question.number, question.label)


def _on_question(facts: FindingFacts, number: int, label: str) -> FoundFlag:
    return FoundFlag(**facts.model_dump(), ref=facts.item, number=number, label=label, urgent=facts.flag.urgent)


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
            facts = facts_of_criterion(ref, Flag.RATERS_DISAGREE, likeliest, worst.name, len(pairs))
            flags.append(_on_question(facts, numbers[ref], label))
    return flags
