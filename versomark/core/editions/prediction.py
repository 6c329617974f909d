"""What a test asks, beside its plan, and what it is likely to do."""

from collections.abc import Mapping
from dataclasses import replace

from versomark.core.items.base import Frozen

from .checks import marks_by_skill
from .forecast import Forecast, QuestionHistory, Range, forecast
from .freezing import BankItem
from .layout import Layout

MINUTES_A_MARK = 1.0
"""Common practice in school examinations: a minute a mark. No source."""
USUAL_CLASS = 24
USUAL_CUT = 0.5


class PlanLine(Frozen):
    skill: str
    wanted: float
    there: float
    questions: int


class ForetoldRange(Frozen):
    """Nine times in ten it lies from low to high."""

    middle: float
    low: float
    high: float


class Foretold(Frozen):
    """Of a class of so many students: mean and spread of its totals, reliability (alpha), standard error, in marks; how
    many students come out within `margin` marks of the cut (a share of the marks)."""

    students: int
    cut: float
    mean: ForetoldRange
    sd: ForetoldRange
    reliability: ForetoldRange
    sem: ForetoldRange
    margin: float
    near_cut: ForetoldRange


class PredictedStatistics(Frozen):
    """The plan of a test beside what is there, and what its history leads one to expect.

    known: how many questions have a history.
    """

    lines: list[PlanLine]
    marks: float
    minutes: float
    questions: int
    known: int
    foretold: Foretold | None
    """None where too few questions have a history."""


def foretell(
    layout: Layout, bank: Mapping[str, BankItem], students: int = USUAL_CLASS, cut: float = USUAL_CUT
) -> PredictedStatistics:
    """What the test as laid out asks, and what a class of so many will make of it."""
    placed = [(bank[entry.ref], entry.marks or bank[entry.ref].content.marks) for entry in layout.items()]
    there, wanted = marks_by_skill(layout, bank), {row.skill: row.marks for row in layout.plan}
    count = {skill: sum(skill in item.skills for item, _ in placed) for skill in {*there, *wanted}}
    lines = [
        PlanLine(skill=skill, wanted=wanted.get(skill, 0), there=there.get(skill, 0), questions=count[skill])
        for skill in dict.fromkeys([*wanted, *there])
    ]
    asked = [replace(item.history, worth=worth) if item.history else QuestionHistory(worth) for item, worth in placed]
    predicted = forecast(asked, students, cut)
    return PredictedStatistics(
        lines=lines,
        marks=sum(worth for _, worth in placed),
        minutes=sum(item.minutes or MINUTES_A_MARK * worth for item, worth in placed),
        questions=len(placed),
        known=sum(entry.known for entry in asked),
        foretold=_figures(predicted, cut) if predicted else None,
    )


def _figures(predicted: Forecast, cut: float) -> Foretold:
    def of(values: Range) -> ForetoldRange:
        return ForetoldRange(middle=values.middle, low=values.low, high=values.high)

    return Foretold(
        students=predicted.students,
        cut=cut,
        mean=of(predicted.mean),
        sd=of(predicted.sd),
        reliability=of(predicted.reliability),
        sem=of(predicted.sem),
        margin=predicted.margin,
        near_cut=of(predicted.near_cut),
    )
