"""What a test is likely to do, foretold from how its questions did before. An estimate, and said to be one."""

import math
from collections.abc import Mapping

from versomark.core.items.base import Frozen

from .checks import marks_by_skill
from .freezing import BankItem
from .layout import Layout

MINUTES_A_MARK = 1.0
"""Common practice in school examinations: a minute a mark. No source."""


class PlanLine(Frozen):
    skill: str
    wanted: float
    there: float
    questions: int


class PredictedStatistics(Frozen):
    """The plan of a test beside what is there, and what its history leads one to expect.

    known: how many questions have a history. mean, sd, sem: in marks. reliability: alpha.
    """

    lines: list[PlanLine]
    marks: float
    minutes: float
    questions: int
    known: int
    mean: float | None
    sd: float | None
    reliability: float | None
    sem: float | None


def foretell(layout: Layout, bank: Mapping[str, BankItem]) -> PredictedStatistics:
    """Mean, spread and reliability of the test as laid out.

    From each known item's difficulty p, maximum and correlation r with its total: its standard deviation is taken as
    that of a right-or-wrong item, m·√(p(1−p)); the total's is Σ σᵢ rᵢ (Gulliksen 1950, ch. 21); alpha follows from
    both (Cronbach 1951). Where only some items are known, alpha is stretched to the whole length by the
    Spearman–Brown formula. The foretold values are None with fewer than two known items.
    """
    placed = [(bank[entry.ref], entry.marks or bank[entry.ref].content.marks) for entry in layout.items()]
    marks = sum(worth for _, worth in placed)
    there, wanted = marks_by_skill(layout, bank), {row.skill: row.marks for row in layout.plan}
    count = {skill: sum(skill in item.skills for item, _ in placed) for skill in {*there, *wanted}}
    lines = [
        PlanLine(skill=skill, wanted=wanted.get(skill, 0), there=there.get(skill, 0), questions=count[skill])
        for skill in dict.fromkeys([*wanted, *there])
    ]
    known = [
        (worth, item.difficulty, item.discrimination)
        for item, worth in placed
        if item.difficulty is not None and item.discrimination is not None
    ]
    mean = sd = reliability = sem = None
    if len(known) >= 2:
        mean = marks * sum(worth * p for worth, p, _ in known) / sum(worth for worth, _, _ in known)
        spreads = [worth * math.sqrt(p * (1 - p)) for worth, p, _ in known]
        part = sum(spread * r for spread, (_, _, r) in zip(spreads, known, strict=True))
        if part > 0:
            alpha = len(known) / (len(known) - 1) * (1 - sum(spread**2 for spread in spreads) / part**2)
            longer = len(placed) / len(known)
            if alpha > 0:
                reliability = longer * alpha / (1 + (longer - 1) * alpha)
                # Error variance grows with length, true variance with its square (Lord and Novick 1968, ch. 4).
                sd = part * math.sqrt(longer * (1 + (longer - 1) * alpha))
                sem = sd * math.sqrt(1 - reliability)
    return PredictedStatistics(
        lines=lines,
        marks=marks,
        minutes=sum(item.minutes or MINUTES_A_MARK * worth for item, worth in placed),
        questions=len(placed),
        known=len(known),
        mean=mean,
        sd=sd,
        reliability=reliability,
        sem=sem,
    )
