"""The analysis of one response table, in the shape that `./verso analyse` writes and the findings screen shows.

A value that does not exist is None, and `reasons` says why under its path, such as `items.q3.r_rest`.
"""

import math
from collections.abc import Mapping, Sequence

import numpy as np
from pydantic import BaseModel

from versomark.core.language import N_, _
from versomark.core.response_table import ItemColumn, ResponseTable
from versomark.core.stats import (
    ItemMeasures,
    distribution,
    item_measures,
    omitted_and_not_reached,
    part_mark_intervals,
    reliability,
    rest_discrimination,
    wilson,
)

from . import words
from .explaining import explain
from .explanations import ItemExplanations, OptionProbability
from .facts import FindingFacts, facts_of
from .flags import Thresholds, find_flags
from .ideas import SharedIdea, shared_ideas, with_ideas
from .scales import DifFigures, ScaleFigures, dif_figures, scale_figures

SWITCHED_OFF = N_("Switched off.")
NOT_ASKED = N_("Not asked for here.")
NOT_THE_SAME = N_("Students did not all take the same questions.")
NOBODY_TOOK_IT = N_("Nobody took it.")
NOBODY_THERE = N_("Nobody of the upper or of the lower group took it.")
NO_GROUPS = N_("No groups of students were given.")


class TestFigures(BaseModel):
    students: int
    items: int
    max: float
    mean: float | None
    median: float | None
    sd: float | None
    min: float | None
    max_score: float | None
    q1: float | None
    q3: float | None
    skewness: float | None
    kurtosis: float | None
    alpha: float | None
    alpha_low: float | None
    alpha_high: float | None
    kr20: float | None
    kr21: float | None
    lambda2: float | None
    split_half: float | None
    sem: float | None


class OptionFigures(BaseModel):
    option: str
    key: bool
    count: int
    share: float
    upper: float | None
    middle: float | None
    lower: float | None
    mean_total: float | None
    r_rest: float | None


class FlagFigures(BaseModel):
    flag: str
    option: str | None
    p: float
    says: str


class OptionExplanation(BaseModel):
    option: str
    p: float


class ExplanationFigures(BaseModel):
    """Probabilities that add up to 1."""

    fair: float
    guessing: float
    wrong_key: list[OptionExplanation]
    two_right: list[OptionExplanation]
    shared_idea: list[OptionExplanation]


class ItemFigures(BaseModel):
    id: str
    max: float
    p: float | None
    sd: float | None
    """Of its points, with N − 1."""
    p_low: float | None
    p_high: float | None
    r_total: float | None
    r_rest: float | None
    d: float | None
    """On the totals, as handbooks have it."""
    d_rest: float | None
    """On the totals without the item: the one that is shown and put in words."""
    alpha_without: float | None
    omitted: int
    not_reached: int
    options: list[OptionFigures]
    explanations: ExplanationFigures | None
    flags: list[FlagFigures]


class SignFigures(BaseModel):
    """An option that shows an idea."""

    item: str
    option: str
    p: float
    """That it shows it."""
    chosen: int


class HolderFigures(BaseModel):
    student: str
    p: float


class IdeaFigures(BaseModel):
    """An idea of students across questions: how likely it is there, and, if it is, who holds it."""

    idea: str
    p: float
    expected: float
    low: int
    high: int
    """Nine times in ten the number of those who hold it lies from low to high."""
    signs: list[SignFigures]
    students: list[HolderFigures]


class SkillFigures(BaseModel):
    skill: str
    max: float
    mean: float
    alpha: float | None


class Analysis(BaseModel):
    test: TestFigures
    items: list[ItemFigures]
    rasch: ScaleFigures | None = None
    ideas: list[IdeaFigures]
    skills: list[SkillFigures]
    dif: list[DifFigures] | None = None
    reasons: dict[str, str]


class _Reasons(dict[str, str]):
    def value(self, path: str, value: float, why: str) -> float | None:
        if math.isfinite(value):
            return float(value)
        self[path] = why
        return None


def analyse(
    table: ResponseTable,
    explained: bool = True,
    thresholds: Thresholds | None = None,
    models: bool = False,
    groups: Mapping[str, str] | None = None,
    earlier: Sequence[ResponseTable] = (),
    totals: ResponseTable | None = None,
) -> tuple[Analysis, list[FindingFacts]]:
    """Every measure and flag of a table with at least one student and one item.

    models: the scale too, which takes longer than all the rest. groups: student -> group, for differences between them.
    earlier: classes that took the same items before, evidence of what is true of them. totals: the same answers with
    points as they count in totals, where that is another number (`scoring.formula_scored`).

    explained: without it there are no explanations, ideas and flags, which is the fast way through very large files.
    The findings come in the order to read them; the same ones stand under each item of the analysis.
    """
    if not table.students or not table.items:
        raise ValueError("an analysis needs at least one student and one item")
    thresholds = thresholds or Thresholds()
    reasons = _Reasons() if models else _Reasons(rasch=_(NOT_ASKED))
    if not groups:
        reasons["dif"] = _(NO_GROUPS)
    measures = item_measures(table, share=thresholds.end_group)
    explanations: list[ItemExplanations | None] = [None] * len(table.items)
    findings: list[FindingFacts] = []
    ideas: list[SharedIdea] = []
    if explained:
        if len(table.students) >= thresholds.fewest_students:
            by_item = explain(table, earlier)
            ideas = shared_ideas(by_item)
            explanations = with_ideas(by_item, ideas)
        flagged = find_flags(table, measures, thresholds, explanations)
        findings = [facts_of(finding, table, measures) for finding in flagged]
    if explained and len(table.students) < thresholds.fewest_students:
        reasons["flags"] = _(
            "{too_few} to flag a question; {fewest_students} are needed.",
            too_few=words.too_few(len(table.students)),
            fewest_students=thresholds.fewest_students,
        )
    elif not explained:
        reasons["flags"] = _(SWITCHED_OFF)
    analysis = Analysis(
        test=_test_figures(totals or table, reasons),
        items=_item_figures(table, measures, findings, explanations, thresholds, explained, reasons),
        rasch=scale_figures(table, reasons) if models else None,
        ideas=[_idea_figures(idea, table) for idea in ideas],
        skills=_skill_figures(table, reasons),
        dif=dif_figures(table, groups, reasons) if groups else None,
        reasons=reasons,
    )
    return analysis, findings


def _test_figures(table: ResponseTable, reasons: _Reasons) -> TestFigures:
    spread, coefficients = distribution(table.totals), reliability(table)
    flat = bool(np.ptp(table.totals) <= 1e-9 * max(1.0, table.max_total))
    few = f"{words.too_few(len(table.students))}." if len(table.students) < 4 else ""
    same = _("Every student has the same total.") if flat else ""
    one_item = _("A test of one item has no internal consistency.") if len(table.items) < 2 else ""
    why_shape = same or few or _("Not defined for these totals.")
    why_reliability = one_item or same or few or _("Not defined for these scores.")
    why_all = why_reliability if table.complete else _(NOT_THE_SAME)
    why_halves = _("A half has no variance.") if table.complete else _(NOT_THE_SAME)
    not_one_mark = _("Needs items of one mark each, right or wrong.")
    if not table.complete:
        not_one_mark = _(NOT_THE_SAME)

    def defined(name: str, value: float, why: str) -> float | None:
        return reasons.value(f"test.{name}", value, why)

    return TestFigures(
        students=len(table.students),
        items=len(table.items),
        max=table.max_total,
        mean=spread.mean,
        median=spread.median,
        sd=defined("sd", spread.sd, few),
        min=spread.min,
        max_score=spread.max,
        q1=spread.q1,
        q3=spread.q3,
        skewness=defined("skewness", spread.skewness, why_shape),
        kurtosis=defined("kurtosis", spread.kurtosis, why_shape),
        alpha=defined("alpha", coefficients.alpha, why_reliability),
        alpha_low=defined("alpha_low", coefficients.alpha_low, why_all),
        alpha_high=defined("alpha_high", coefficients.alpha_high, why_all),
        kr20=defined("kr20", coefficients.kr20, one_item or same or few or not_one_mark),
        kr21=defined("kr21", coefficients.kr21, one_item or same or few or not_one_mark),
        lambda2=defined("lambda2", coefficients.lambda2, why_all),
        split_half=defined("split_half", coefficients.split_half, one_item or same or why_halves),
        sem=defined("sem", coefficients.sem, why_reliability),
    )


def _item_figures(
    table: ResponseTable,
    m: ItemMeasures,
    findings: list[FindingFacts],
    explanations: Sequence[ItemExplanations | None],
    thresholds: Thresholds,
    explained: bool,
    reasons: _Reasons,
) -> list[ItemFigures]:
    omitted, not_reached = omitted_and_not_reached(table)
    low, high = _difficulty_intervals(table)
    d_rest = rest_discrimination(table, thresholds.end_group)
    flags: dict[str, list[FlagFigures]] = {}
    for finding in findings:
        flags.setdefault(finding.item, []).append(
            FlagFigures(
                flag=finding.flag.value,
                option=finding.option or None,
                p=finding.probability,
                says=f"{words.heading(finding)} {words.says(finding)}",
            )
        )
    figures = []
    for j, item in enumerate(table.items):
        path = f"items.{item.id}"
        earned = table.points[table.taken[:, j], j]
        same = "" if not len(earned) else _("Every student earned the same on it.") if np.ptp(earned) == 0 else ""
        why_r = same or _("The other items have no variance.")
        no_marks = _("No student earned a mark, so its maximum is not known.") if item.max == 0 else _(NOBODY_TOOK_IT)
        no_interval = (
            no_marks if item.max == 0 or not len(earned) else _("One student says nothing of how a mean varies.")
        )
        figures.append(
            ItemFigures(
                id=item.id,
                max=item.max,
                p=reasons.value(f"{path}.p", m.p[0, j], no_marks),
                sd=reasons.value(
                    f"{path}.sd", float(earned.std(ddof=1)) if len(earned) > 1 else math.nan, _("Needs two students.")
                ),
                p_low=reasons.value(f"{path}.p_low", low[j], no_interval),
                p_high=reasons.value(f"{path}.p_high", high[j], no_interval),
                r_total=reasons.value(
                    f"{path}.r_total", m.r_total[0, j], same or _("Every student has the same total.")
                ),
                r_rest=reasons.value(f"{path}.r_rest", m.r_rest[0, j], why_r),
                d=reasons.value(f"{path}.d", m.d[0, j], no_marks if item.max == 0 else _(NOBODY_THERE)),
                d_rest=reasons.value(f"{path}.d_rest", d_rest[j], no_marks if item.max == 0 else _(NOBODY_TOOK_IT)),
                alpha_without=reasons.value(
                    f"{path}.alpha_without",
                    m.alpha_without[0, j],
                    _("Needs two other items with some variance.") if table.complete else _(NOT_THE_SAME),
                ),
                omitted=int(omitted[j]),
                not_reached=int(not_reached[j]),
                options=[_option_figures(table, m, j, k, f"{path}.options", reasons) for k in range(len(item.options))],
                explanations=_explanation_figures(explanations[j], item, f"{path}.explanations", reasons, explained),
                flags=flags.get(item.id, []),
            )
        )
    return figures


def _explanation_figures(
    explanations: ItemExplanations | None, item: ItemColumn, path: str, reasons: _Reasons, explained: bool
) -> ExplanationFigures | None:
    if explanations is None:
        keys = sum(option.key for option in item.options)
        reasons[path] = (
            _(SWITCHED_OFF)
            if not explained
            else _("Its answers do not exclude one another, or are not known.")
            if not item.options
            else _("Needs a right and a wrong answer.")
            if keys in (0, len(item.options))
            else _("{fewest_students} students are needed.", fewest_students=Thresholds.fewest_students)
        )
        return None

    def of_options(probabilities: Sequence[OptionProbability]) -> list[OptionExplanation]:
        return [OptionExplanation(option=item.options[k].label, p=p) for k, p in probabilities]

    return ExplanationFigures(
        fair=explanations.fair,
        guessing=explanations.guessing,
        wrong_key=of_options(explanations.wrong_key),
        two_right=of_options(explanations.two_right),
        shared_idea=of_options(explanations.shared_idea),
    )


def _option_figures(
    table: ResponseTable, m: ItemMeasures, j: int, k: int, path: str, reasons: _Reasons
) -> OptionFigures:
    option, at = table.items[j].options[k], (0, j, k)
    here = f"{path}.{option.label}"
    count = int(m.count[at])
    everyone = count == table.takers[j]
    nobody = (
        _("Nobody chose it.")
        if count == 0
        else _("Everybody chose it.")
        if everyone
        else _("The rest has no variance.")
    )
    no_middle = _("The end groups leave no middle group.")
    return OptionFigures(
        option=option.label,
        key=option.key,
        count=count,
        share=float(m.share[at]) if table.takers[j] else 0.0,
        upper=reasons.value(f"{here}.upper", m.upper[at], _("The upper group is empty.")),
        middle=reasons.value(f"{here}.middle", m.middle[at], no_middle),
        lower=reasons.value(f"{here}.lower", m.lower[at], _("The lower group is empty.")),
        mean_total=reasons.value(f"{here}.mean_total", m.mean_total[at], nobody),
        r_rest=reasons.value(f"{here}.r_rest", m.option_r_rest[at], nobody),
    )


def _difficulty_intervals(
    table: ResponseTable,
) -> tuple[np.ndarray[tuple[int], np.dtype[np.float64]], np.ndarray[tuple[int], np.dtype[np.float64]]]:
    """95% intervals of difficulty (n,): Wilson where an item is right or wrong, `part_mark_intervals` where not."""
    maxima = table.maxima
    low, high = wilson(((table.points == maxima) & table.taken).sum(axis=0), table.takers)
    part = ((table.points != 0) & (table.points != maxima)).any(axis=0)
    if part.any():
        low[part], high[part] = part_mark_intervals(table.scored[:, part], maxima[part])
    low[maxima == 0] = high[maxima == 0] = np.nan
    return low, high


def _idea_figures(idea: SharedIdea, table: ResponseTable) -> IdeaFigures:
    return IdeaFigures(
        idea=idea.note,
        p=idea.probability,
        expected=idea.expected,
        low=idea.low,
        high=idea.high,
        signs=[
            SignFigures(
                item=table.items[sign.item].id,
                option=table.items[sign.item].options[sign.option].label,
                p=sign.probability,
                chosen=sign.chosen,
            )
            for sign in idea.signs
        ],
        students=[
            HolderFigures(student=name, p=float(p)) for name, p in zip(table.students, idea.holding, strict=True)
        ],
    )


def _skill_figures(table: ResponseTable, reasons: _Reasons) -> list[SkillFigures]:
    places: dict[str, list[int]] = {}
    for j, item in enumerate(table.items):
        for skill in item.skills:
            places.setdefault(skill, []).append(j)
    figures = []
    for skill, at in places.items():
        part = table.columns(at)
        why = (
            _("A skill with one item has no internal consistency.")
            if len(at) < 2
            else _("Its totals have no variance.")
        )
        figures.append(
            SkillFigures(
                skill=skill,
                max=part.max_total,
                mean=float(part.totals.mean()),
                alpha=reasons.value(f"skills.{skill}.alpha", reliability(part).alpha, why),
            )
        )
    return figures
