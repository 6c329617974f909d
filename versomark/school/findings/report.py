"""What is said about a sitting: its figures and flags, and its paper with who chose what. Pure: the bench and the tests
call it on data of their own."""

from collections.abc import Collection, Mapping, Sequence

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from versomark.core.editions import Edition
from versomark.core.findings import (
    Analysis,
    FindingFacts,
    IdeaFigures,
    ItemFigures,
    OptionTrace,
    TestFigures,
    Thresholds,
    analyse,
    option_traces,
)
from versomark.core.items import AnsweredOption, EditionContent, ItemResponse
from versomark.core.items.numeric import Numeric
from versomark.core.response_table import ResponseTable
from versomark.core.scoring import Responses, ScoringOverrides, formula_scored, to_mark
from versomark.core.text import plain

MOST_PARTS = 24
"""Above so many things to say, only those that somebody said are listed."""


class FoundFlag(FindingFacts):
    """A finding on a question of the paper. Kept without a word: those are made when it is read (`flag_notes.py`)."""

    ref: str
    number: int
    label: str
    """What the question is called on its paper: its number, or the label of one given elsewhere."""
    urgent: bool


class PaperOption(BaseModel):
    option: str
    text: str
    key: bool
    idea_note: str
    seats: list[int]
    """Who chose it."""
    part: str = ""
    """The gap, row or entry it answers, where the question has several."""


class ScoreCount(BaseModel):
    score: float
    students: int


class OftenGiven(BaseModel):
    """A wrong answer that several typed and of which nobody has said what it shows: it may be worth a name."""

    typed: str
    """As the first of them typed it."""
    seats: list[int]


class EarnedMark(BaseModel):
    points: float
    seats: list[int]


class GivenValue(BaseModel):
    value: float
    seats: list[int]


class ValueIdea(BaseModel):
    low: float | None
    high: float | None
    says: str


class ValueSpread(BaseModel):
    """Of a question that asks for a number: the numbers given, in the unit of the key, and where they show an idea."""

    key: float
    unit: str
    values: list[GivenValue]
    """Least first."""
    ideas: list[ValueIdea]


class LevelCount(BaseModel):
    points: float
    words: str
    """Of the level that was reached."""
    seats: list[int]
    rest: float | None
    """The mean share of everything else that they earned."""


class CriterionSpread(BaseModel):
    """One criterion of a rubric: how many reached which level, lowest first."""

    name: str
    max: float
    levels: list[LevelCount]
    r_rest: float | None
    """How it goes with everything else."""


class PaperQuestion(BaseModel):
    """One question of the paper, annotated."""

    ref: str
    number: int
    label: str
    stem: str
    kind: str
    skills: list[str]
    marks: float
    figures: ItemFigures | None
    """None where a person has to mark it, or it was not asked."""
    asked: bool
    """Whether a lesson came to it; always, where the whole paper was given."""
    waiting: int
    """Answers that wait for a person."""
    waived: bool
    """Left out of this sitting by its teacher."""
    left_out: bool
    """Left out of these figures by whoever looks at them."""
    settled: bool
    """Scored otherwise than by its key, as its teacher settled it."""
    follow_up: str
    """What to ask again of those who missed it, where the teacher has said it."""
    options: list[PaperOption]
    parts: list[PaperOption]
    """For questions that say several things at once: each of them, with who said it. Then `options` is empty."""
    earned: list[EarnedMark]
    """For questions of which only the mark is known: who earned which, least first."""
    spread: ValueSpread | None
    often: list[OftenGiven]
    """Wrong answers that were typed often and are no named idea, most given first."""
    criteria: list[CriterionSpread]
    """For questions marked with a rubric, once they are marked."""
    traces: list[OptionTrace]
    not_given: list[int]
    not_taken: list[int]
    """Who chose others in a section with a choice, or was not given it; nothing is said of them."""


class FindingsReport(BaseModel):
    """What is computed, and kept by content."""

    complete: bool
    """Whether everybody took every question."""
    before: int
    """Students of earlier sittings whose answers are evidence too."""
    before_in_part: bool
    """Whether some of them were asked only some of its questions, or other versions of some."""
    test: TestFigures
    reasons: dict[str, str]
    flags: list[FoundFlag]
    ideas: list[IdeaFigures]
    """Ideas across questions, by `item` and `student` as refs and seats."""
    paper: list[PaperQuestion]
    distribution: list[ScoreCount]
    totals: dict[int, float]


def body_of(
    edition: Edition,
    responses: Responses,
    table: ResponseTable,
    judged: ScoringOverrides,
    not_asked: Collection[str] = (),
    left_out: Collection[str] = (),
    end_group: float = Thresholds.end_group,
    earlier: Sequence[ResponseTable] = (),
) -> FindingsReport:
    """Of answers that are scored already.

    not_asked: refs of questions that a lesson did not come to. left_out: those that whoever looks wants to see the
    figures without. earlier: sittings of the same edition before this one, evidence of what is true of its questions.
    """
    as_totals = formula_scored(edition, table)
    thresholds = Thresholds(end_group=end_group)
    analysis, findings = analyse(table, thresholds=thresholds, earlier=earlier, totals=as_totals)
    return FindingsReport(
        complete=table.complete,
        before=sum(len(entry.students) for entry in earlier),
        before_in_part=any({item.id for item in table.items} - {item.id for item in entry.items} for entry in earlier),
        test=analysis.test,
        reasons=analysis.reasons,
        flags=_on_paper(edition, table, findings),
        ideas=analysis.ideas,
        paper=_paper(edition, responses, table, analysis, not_asked, left_out, judged),
        distribution=counted(as_totals.totals),
        totals={int(seat): float(total) for seat, total in zip(table.students, as_totals.totals, strict=True)},
    )


def counted(points: NDArray[np.float64]) -> list[ScoreCount]:
    values, counts = np.unique(points, return_counts=True)
    return [ScoreCount(score=float(value), students=int(n)) for value, n in zip(values, counts, strict=True)]


def _earned(points: NDArray[np.float64], answered: NDArray[np.bool_], seats: NDArray[np.int64]) -> list[EarnedMark]:
    return [
        EarnedMark(points=float(value), seats=seats[answered & (points == value)].tolist())
        for value in np.unique(points[answered])
    ]


def _on_paper(edition: Edition, table: ResponseTable, findings: Sequence[FindingFacts]) -> list[FoundFlag]:
    labels = {item.ref: item.content.own_label for item in edition.items()}
    numbers = {item.id: item.number for item in table.items}
    return [
        FoundFlag(
            **finding.model_dump(),
            ref=finding.item,
            number=numbers[finding.item],
            label=labels[finding.item] or str(numbers[finding.item]),
            urgent=finding.flag.urgent,
        )
        for finding in findings
    ]


def _paper(
    edition: Edition,
    responses: Mapping[str, Mapping[str, ItemResponse]],
    table: ResponseTable,
    analysis: Analysis,
    not_asked: Collection[str],
    left_out: Collection[str],
    judged: ScoringOverrides,
) -> list[PaperQuestion]:
    seats = np.array([int(name) for name in table.students])
    traces = option_traces(table)
    columns = {column.id: j for j, column in enumerate(table.items)}
    by_a_person = to_mark(edition, responses)
    questions = []
    for number, item in enumerate(edition.items(), start=1):
        content, j = item.content, columns.get(item.ref)
        given = {int(seat): answers[item.ref] for seat, answers in responses.items() if item.ref in answers}
        waiting = sum(item.ref not in judged.marks.get(seat, {}) for seat in by_a_person.get(item.ref, ()))
        question = PaperQuestion(
            ref=item.ref,
            number=number,
            label=content.own_label or str(number),
            stem=content.stem,
            kind=content.kind,
            skills=item.skills,
            marks=content.marks,
            figures=None,
            asked=item.ref not in not_asked and item.ref not in judged.waived and item.ref not in left_out,
            waiting=0 if item.ref in not_asked or item.ref in judged.waived else waiting,
            waived=item.ref in judged.waived,
            left_out=item.ref in left_out,
            settled=item.ref in judged.settled,
            follow_up=content.to_ask_again,
            options=[],
            parts=[],
            earned=[],
            spread=_spread(content, given, seats),
            often=[],
            criteria=[],
            traces=[],
            not_given=[int(seat) for seat in seats if not content.given(given.get(int(seat)))],
            not_taken=[],
        )
        if j is not None:
            figures = analysis.items[j]
            question.figures, question.traces = figures, traces[j]
            took = table.taken[:, j]
            question.not_given = seats[took & ~table.answered[:, j]].tolist()
            question.not_taken = seats[~took].tolist()
            if content.exclusive:
                right = [option.key for option in table.items[j].options]
                question.options = _options(content, table.choice[:, j], seats, right)
                question.often = _often_given(content, given, question.options, int(table.takers[j]))
            else:
                question.parts = _parts(content, given)
            if not content.answers():
                question.earned = _earned(table.points[:, j], table.answered[:, j], seats)
        questions.append(question)
    return questions


OFTEN, OFTEN_SHARE = 3, 0.10
"""Students who typed the same, and their share of all, from which a wrong answer may show an idea: our choice."""


def _often_given(
    content: EditionContent, given: Mapping[int, ItemResponse], options: Sequence[PaperOption], takers: int
) -> list[OftenGiven]:
    named = {seat for option in options if option.key or option.idea_note for seat in option.seats}
    typed: dict[str, list[int]] = {}
    first: dict[str, str] = {}
    for seat, response in given.items():
        for part in content.typed(response):
            if seat not in named and part.share == 0:
                typed.setdefault(part.compared, []).append(seat)
                first.setdefault(part.compared, part.typed)
    often = [
        OftenGiven(typed=first[compared], seats=seats)
        for compared, seats in typed.items()
        if len(seats) >= max(OFTEN, OFTEN_SHARE * takers)
    ]
    return sorted(often, key=lambda entry: (-len(entry.seats), entry.typed))


def _spread(content: EditionContent, given: Mapping[int, ItemResponse], seats: NDArray[np.int64]) -> ValueSpread | None:
    # Where each student has other numbers, a value says nothing without them.
    if not isinstance(content, Numeric) or content.value is None or content.value_rule:
        return None
    values: dict[float, list[int]] = {}
    for seat in seats.tolist():
        value = content.value_given(given[seat]) if seat in given else None
        if value is not None:
            values.setdefault(value, []).append(seat)
    return ValueSpread(
        key=content.value,
        unit=content.unit,
        values=[GivenValue(value=value, seats=who) for value, who in sorted(values.items())],
        ideas=[ValueIdea(low=idea.low, high=idea.high, says=idea.idea_note) for idea in content.ideas],
    )


def _options(
    content: EditionContent, choice: NDArray[np.int16], seats: NDArray[np.int64], right: Sequence[bool]
) -> list[PaperOption]:
    return [_option(answer, seats[choice == k].tolist(), right[k]) for k, answer in enumerate(content.answers())]


def _parts(content: EditionContent, given: Mapping[int, ItemResponse]) -> list[PaperOption]:
    """Everything that can be said, in printed order; of what is not on the paper, only what somebody said."""
    values: dict[str, list[int]] = {}
    for seat, response in given.items():
        for pick in content.picks(response):
            values.setdefault(pick, []).append(seat)
    shown = [answer for answer in content.answers() if answer.id in values or answer.key or answer.offered]
    if len(shown) > MOST_PARTS:
        shown = [answer for answer in shown if answer.id in values or answer.key]
    return [_option(answer, values.get(answer.id, [])) for answer in shown]


def _option(answer: AnsweredOption, seats: list[int], right: bool | None = None) -> PaperOption:
    """`right` where that was settled, or else by the key."""
    key = answer.key if right is None else right
    return PaperOption(
        option=answer.letter,
        text=plain(answer.text),
        key=key,
        idea_note="" if key else answer.idea_note,
        seats=seats,
        part=answer.part,
    )
