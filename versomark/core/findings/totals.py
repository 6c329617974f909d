"""The test as an instrument: how dependable its totals are, how sure a decision at a cut is, what more questions would
bring, and its subtests."""

import math
from collections.abc import Mapping, Sequence
from typing import Literal

import numpy as np
from pydantic import BaseModel

from versomark.core.language import _, _n, coefficient, in_figures, listed
from versomark.core.response_table import ResponseTable
from versomark.core.stats import distribution, item_measures, known, reliability
from versomark.core.stats.decisions import conditional_sem, consistency, length_for, stratified_alpha

from .words import FEWEST_STUDENTS, alpha_in_words

WANTED = (0.7, 0.8, 0.9)
CUTS = (0.5, 0.8)
"""Shares of the marks at which the bands of a skill begin, unless the teacher looks at others."""
MOST_NAMED = 6


class CutFigures(BaseModel):
    """A cut, in marks: who reaches it, and how sure that is."""

    at: float
    share: float
    reach: int
    below: int
    near: list[str]
    """Students whose total is within one standard error of measurement of it."""
    agreement: float | None
    kappa: float | None


class LengthFigures(BaseModel):
    wanted: float
    items: int | None
    """Questions like these that the test would need in all."""


class WithoutItem(BaseModel):
    id: str
    alpha: float | None
    change: float | None
    """Alpha without it less alpha with it: above 0 the test would be more dependable without it."""


class SubtestFigures(BaseModel):
    name: str
    by: Literal["skill", "section"]
    items: int
    max: float
    mean: float
    alpha: float | None
    alpha_low: float | None
    alpha_high: float | None
    sem: float | None


class ErrorAt(BaseModel):
    """The standard error of one total (Lord 1955)."""

    total: float
    error: float


class TotalsFigures(BaseModel):
    students: int
    max: float
    mean: float
    sd: float | None
    sem: float | None
    alpha: float | None
    alpha_low: float | None
    alpha_high: float | None
    lambda2: float | None
    split_half: float | None
    stratified: float | None
    cuts: list[CutFigures]
    lengths: list[LengthFigures]
    without: list[WithoutItem]
    subtests: list[SubtestFigures]
    errors: list[ErrorAt]
    """For tests of one mark a question; empty else."""
    reasons: dict[str, str]


def totals_figures(
    table: ResponseTable, cuts: Sequence[float] = CUTS, sections: Mapping[int, str] | None = None
) -> TotalsFigures:
    """cuts: shares of the marks. sections: the names of those that are subtests, by their number in the table."""
    spread, whole = distribution(table.totals), reliability(table)
    measures, reasons = item_measures(table), dict[str, str]()
    one_mark = table.right_or_wrong and bool(np.all(table.maxima == 1)) and not np.ptp(table.due)
    if not one_mark:
        reasons["consistency"] = _("Needs questions of one mark each, right or wrong.")
    parts = _parts(table, sections or {})
    strata = [at for _, by, at in parts if by == "section"] or _by_first_skill(table)
    alpha = known(whole.alpha)
    if alpha is None:
        reasons["alpha"] = (
            _("A test of one question has no internal consistency.")
            if len(table.items) < 2
            else _("The totals do not differ enough, or there are too few of them.")
        )
    return TotalsFigures(
        students=len(table.students),
        max=table.max_total,
        mean=spread.mean,
        sd=known(spread.sd),
        sem=known(whole.sem),
        alpha=alpha,
        alpha_low=known(whole.alpha_low),
        alpha_high=known(whole.alpha_high),
        lambda2=known(whole.lambda2),
        split_half=known(whole.split_half),
        stratified=known(stratified_alpha(table, strata)) if len(strata) > 1 and table.complete else None,
        cuts=[_cut(table, share, whole.alpha, known(whole.sem), one_mark) for share in cuts],
        lengths=[
            LengthFigures(wanted=wanted, items=None if times is None else math.ceil(times * table.length - 1e-9))
            for wanted, times in ((wanted, length_for(whole.alpha, wanted)) for wanted in WANTED)
        ],
        without=[
            WithoutItem(
                id=item.id,
                alpha=known(measures.alpha_without[0, j]),
                change=known(measures.alpha_without[0, j] - whole.alpha),
            )
            for j, item in enumerate(table.items)
        ],
        subtests=[_subtest(table.columns(at), name, by) for name, by, at in parts],
        errors=_errors(table) if one_mark and len(table.items) > 1 else [],
        reasons=reasons,
    )


def _errors(table: ResponseTable) -> list[ErrorAt]:
    totals = np.unique(table.totals)
    errors = conditional_sem(totals, round(table.max_total))
    return [ErrorAt(total=float(total), error=float(error)) for total, error in zip(totals, errors, strict=True)]


def _cut(table: ResponseTable, share: float, alpha: float, sem: float | None, one_mark: bool) -> CutFigures:
    at = share * table.max_total
    reach = int((table.totals >= at - 1e-9).sum())
    near = np.abs(table.totals - at) <= (sem or 0.0) + 1e-9
    sure = consistency(table.totals, round(table.max_total), at, alpha) if one_mark else None
    return CutFigures(
        at=at,
        share=share,
        reach=reach,
        below=len(table.students) - reach,
        near=[table.students[i] for i in np.flatnonzero(near)] if sem is not None else [],
        agreement=sure.agreement if sure else None,
        kappa=sure.kappa if sure else None,
    )


def _parts(
    table: ResponseTable, sections: Mapping[int, str]
) -> list[tuple[str, Literal["skill", "section"], list[int]]]:
    results: dict[tuple[str, Literal["skill", "section"]], list[int]] = {}
    for j, item in enumerate(table.items):
        if item.section in sections:
            results.setdefault((sections[item.section], "section"), []).append(j)
        for skill in item.skills:
            results.setdefault((skill, "skill"), []).append(j)
    whole = len(table.items)
    return [(name, by, at) for (name, by), at in results.items() if len(at) < whole]


def _by_first_skill(table: ResponseTable) -> list[list[int]]:
    """Strata share no item, so an item counts under the skill named first."""
    result: dict[str, list[int]] = {}
    for j, item in enumerate(table.items):
        result.setdefault(item.skills[0] if item.skills else "", []).append(j)
    return list(result.values())


def _subtest(part: ResponseTable, name: str, by: Literal["skill", "section"]) -> SubtestFigures:
    own = reliability(part)
    return SubtestFigures(
        name=name,
        by=by,
        items=len(part.items),
        max=part.max_total,
        mean=float(part.totals.mean()),
        alpha=known(own.alpha),
        alpha_low=known(own.alpha_low),
        alpha_high=known(own.alpha_high),
        sem=known(own.sem),
    )


def opening(figures: TotalsFigures, items: int, names: Mapping[str, str]) -> str:
    """The sentences that matter, for a teacher."""
    alphas = [alpha_in_words(figures.alpha, figures.alpha_low, figures.students)]
    few = figures.students < FEWEST_STUDENTS
    for cut in figures.cuts[:1]:
        # Where a line runs through the error of measurement, that error has to be known.
        near = [] if few else [names.get(student, student) for student in cut.near]
        marks = _("{at} of {max} marks", at=in_figures(cut.at, "g"), max=in_figures(figures.max, "g"))
        alphas.append(
            _("{reach} of {students} reach {marks}.", reach=cut.reach, students=figures.students, marks=marks)
        )
        if near:
            more = _(" and {value} more", value=len(near) - MOST_NAMED) if len(near) > MOST_NAMED else ""
            who = f"{', '.join(near[:MOST_NAMED])}{more}" if more else listed(near)
            alphas.append(
                _n(
                    "Too close to that line to be sure on which side they belong stands {who}",
                    "Too close to that line to be sure on which side they belong stand {who}",
                    len(near),
                    who=who,
                )
            )
            alphas[-1] = alphas[-1] if alphas[-1].endswith(".") else f"{alphas[-1]}."
    lengths = [] if few else figures.lengths
    longer = next((length for length in lengths if length.items is not None and length.items > items), None)
    if longer is not None and longer.items is not None:
        more_items = longer.items - items
        alphas.append(
            _n(
                "{more_items} more question like these would bring alpha to {wanted}.",
                "{more_items} more questions like these would bring alpha to {wanted}.",
                more_items,
                more_items=more_items,
                wanted=coefficient(longer.wanted),
            )
        )
    return " ".join(alphas)
