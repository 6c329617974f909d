"""A finding as it leaves the core: typed facts, without a sentence. Words are made of them at the edge (`words.py`), so
that a change of words never means a new analysis."""

import math
from collections.abc import Sequence

from pydantic import BaseModel

from versomark.core.response_table import ResponseTable
from versomark.core.stats import ItemMeasures

from .flags import Finding, Flag


class RivalFacts(BaseModel):
    """Another explanation of the same answers."""

    flag: Flag | None
    """None: nothing is wrong with the question."""
    option: str
    """Empty where none is named."""
    idea_note: str
    probability: float


class CountedOption(BaseModel):
    option: str
    count: int


class LevelFacts(BaseModel):
    """A level of a criterion that a finding is about."""

    points: float
    students: int
    rest: float | None
    """The share of everything else that those who were given it earned."""


class FindingFacts(BaseModel):
    """What is found of one item, and what it rests on. Figures that do not exist are None."""

    item: str
    flag: Flag
    probability: float
    options: list[str]
    """Those it is about."""
    students: int
    """How many it concerns."""
    takers: int
    right: int
    """Who earned all of its marks."""
    keys: list[str]
    counts: list[CountedOption]
    offered: bool
    """Whether its answers are chosen from what is printed."""
    idea_note: str
    """Of the first option it is about."""
    upper_key: float | None
    upper_option: float | None
    lower_option: float | None
    """Shares within the end groups that chose a key, or the first option it is about."""
    earned: float | None
    """Share of its marks that the class earned."""
    r_rest: float | None
    alpha: float | None
    alpha_without: float | None
    criterion: str = ""
    """Of a rubric, where it is about one."""
    levels: list[LevelFacts] = []
    """Of that criterion, lowest first."""
    rivals: list[RivalFacts]

    @property
    def option(self) -> str:
        return self.options[0] if self.options else ""

    def count_of(self, option: str) -> int:
        return next((entry.count for entry in self.counts if entry.option == option), 0)


def facts_of_criterion(
    item: str,
    flag: Flag,
    probability: float,
    criterion: str,
    marked: int,
    levels: Sequence[LevelFacts] = (),
    r_rest: float | None = None,
) -> FindingFacts:
    """What is found of a criterion of a rubric. marked: answers with a mark."""
    return FindingFacts(
        item=item,
        flag=flag,
        probability=probability,
        options=[],
        students=marked,
        takers=marked,
        right=0,
        keys=[],
        counts=[],
        offered=False,
        idea_note="",
        upper_key=None,
        upper_option=None,
        lower_option=None,
        earned=None,
        r_rest=r_rest,
        alpha=None,
        alpha_without=None,
        criterion=criterion,
        levels=list(levels),
        rivals=[],
    )


def facts_of(finding: Finding, table: ResponseTable, m: ItemMeasures) -> FindingFacts:
    """What words and pages need of a finding, from the table it was found in."""
    j, item = finding.item, table.items[finding.item]
    first = finding.options[0] if finding.options else None
    keys = [k for k, option in enumerate(item.options) if option.key]

    def known(value: float) -> float | None:
        return float(value) if math.isfinite(value) else None

    return FindingFacts(
        item=item.id,
        flag=finding.flag,
        probability=finding.probability,
        options=[item.options[k].label for k in finding.options],
        students=finding.students,
        takers=int(table.takers[j]),
        right=int(((table.points[:, j] >= item.max) & table.taken[:, j]).sum()),
        keys=[item.options[k].label for k in keys],
        counts=[
            CountedOption(option=option.label, count=round(float(m.count[0, j, k])))
            for k, option in enumerate(item.options)
        ],
        offered=bool(item.options) and all(option.offered for option in item.options),
        idea_note=item.options[first].idea_note if first is not None else "",
        upper_key=known(m.upper[0, j, keys].sum()) if keys else None,
        upper_option=known(m.upper[0, j, first]) if first is not None else None,
        lower_option=known(m.lower[0, j, first]) if first is not None else None,
        earned=known(m.p[0, j]),
        r_rest=known(m.r_rest[0, j]),
        alpha=known(m.alpha[0]),
        alpha_without=known(m.alpha_without[0, j]),
        rivals=[
            RivalFacts(
                flag=rival.flag,
                option=item.options[rival.option].label if rival.option >= 0 else "",
                idea_note=item.options[rival.option].idea_note if rival.option >= 0 else "",
                probability=rival.probability,
            )
            for rival in finding.rivals
        ],
    )
