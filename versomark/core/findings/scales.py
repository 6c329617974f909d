"""The scale of a test, and differences between groups, in the shape that `./verso analyse` writes and screens show."""

from collections.abc import Mapping
from typing import Literal

import numpy as np
from pydantic import BaseModel, Field

from versomark.core.response_table import ResponseTable
from versomark.core.stats import all_known, known
from versomark.core.stats.differential import mantel_haenszel
from versomark.core.stats.model_fit import andersen_test, fits
from versomark.core.stats.partial_credit import NoScale, fit_partial_credit
from versomark.core.stats.persons import place_persons

from .words import too_few

FEW = 20
"""Under so many students in a group a difference is said to be uncertain (`docs/methods.md`)."""
FEWEST_FOR_SCALE = 10
MISFIT = (0.7, 1.3)
"""Mean squares outside are named (Wright & Linacre 1994, for tests with right and wrong answers)."""


class ScaleItem(BaseModel):
    """One item on the scale, in logits."""

    id: str
    difficulty: float
    difficulty_se: float
    thresholds: list[float]
    se: list[float]
    infit: float | None
    outfit: float | None
    infit_z: float | None
    outfit_z: float | None
    infit_ml: float | None
    """With students placed by maximum likelihood and without those who have nothing or everything, as R's eRm has
    them; the two differ in small classes."""
    outfit_ml: float | None


class ScalePerson(BaseModel):
    student: str
    total: float
    measure: float
    se: float
    infit: float | None
    outfit: float | None
    outfit_z: float | None


class AndersenFigures(BaseModel):
    chi2: float
    df: int
    p: float


class ScaleFigures(BaseModel):
    """A Rasch scale, or a partial credit one where an item has steps."""

    model: Literal["Rasch", "partial credit"]
    items: list[ScaleItem]
    persons: list[ScalePerson]
    separation_reliability: float | None
    andersen: AndersenFigures | None
    left_out: dict[str, str]
    """Items that are not on it, with the reason."""


class DifFigures(BaseModel):
    """One item, a group beside the reference group."""

    id: str
    group: str
    odds_ratio: float | None
    chi2: float | None
    p: float | None
    delta: float | None
    letter: Literal["A", "B", "C"] | None = Field(serialization_alias="class")


def scale_figures(table: ResponseTable, reasons: dict[str, str] | None = None) -> ScaleFigures | None:
    """None, with the reason under `rasch`, where the answers allow no scale."""
    reasons = {} if reasons is None else reasons
    if len(table.students) < FEWEST_FOR_SCALE:
        reasons["rasch"] = f"{too_few(len(table.students))} for a scale; {FEWEST_FOR_SCALE} are needed."
        return None
    try:
        scale = fit_partial_credit(table.scored)
    except NoScale as error:
        reasons["rasch"] = str(error)
        return None
    try:
        result = andersen_test(table.scored, scale)
        andersen = AndersenFigures(chi2=result.chi_square, df=result.df, p=result.p)
    except NoScale as error:
        andersen, reasons["rasch.andersen"] = None, str(error)
    for j, steps in scale.merged.items():
        reasons[f"rasch.{table.items[j].id}"] = (
            f"{steps} of its steps {'is' if steps == 1 else 'are'} taken together with the one before: too few students"
            " are on either side."
        )
    persons = place_persons(scale, table.scored)
    item_fit, person_fit = fits(scale, table.scored, persons.theta)
    item_fit_ml, _ = fits(scale, table.scored, place_persons(scale, table.scored, weighted=False).theta)
    separation = persons.separation_reliability
    if not np.isfinite(separation):
        reasons["rasch.separation_reliability"] = "All students are at the same place."
    return ScaleFigures(
        model="Rasch" if all(len(entry) == 1 for entry in scale.thresholds) else "partial credit",
        items=[
            ScaleItem(
                id=table.items[j].id,
                difficulty=float(scale.difficulty[at]),
                difficulty_se=float(scale.difficulty_errors[at]),
                thresholds=scale.thresholds[at].tolist(),
                se=scale.errors[at].tolist(),
                infit=known(item_fit.infit[at]),
                outfit=known(item_fit.outfit[at]),
                infit_z=known(item_fit.infit_z[at]),
                outfit_z=known(item_fit.outfit_z[at]),
                infit_ml=known(item_fit_ml.infit[at]),
                outfit_ml=known(item_fit_ml.outfit[at]),
            )
            for at, j in enumerate(scale.items)
        ],
        persons=[
            ScalePerson(
                student=student, total=total, measure=measure, se=se, infit=infit, outfit=outfit, outfit_z=outfit_z
            )
            for student, total, measure, se, infit, outfit, outfit_z in zip(
                table.students,
                table.totals.tolist(),
                persons.theta.tolist(),
                persons.error.tolist(),
                all_known(person_fit.infit),
                all_known(person_fit.outfit),
                all_known(person_fit.outfit_z),
                strict=True,
            )
        ],
        separation_reliability=known(separation),
        andersen=andersen,
        left_out={table.items[j].id: why for j, why in scale.left_out.items()},
    )


def dif_figures(table: ResponseTable, groups: Mapping[str, str], reasons: dict[str, str]) -> list[DifFigures] | None:
    """Every item, each other group beside the first one of `groups` (student -> group), which is the reference.

    Items are matched by total and taken as full marks or not. Reasons say which groups are too small to be sure.
    """
    names = list(dict.fromkeys(groups.values()))
    if len(names) < 2:
        reasons["dif"] = "It needs two groups of students."
        return None
    of = np.array([groups.get(student, "") for student in table.students])
    small = [name for name in names if (of == name).sum() < FEW]
    if small:
        reasons["dif"] = f"Under {FEW} students in {', '.join(small)}: nothing here is certain."
    figures = []
    for name in names[1:]:
        either = (of == names[0]) | (of == name)
        for j, item in enumerate(table.items):
            both = either & table.taken[:, j]
            full = table.points[both, j] >= item.max
            difference = mantel_haenszel(full, table.standing[both], of[both] == name)
            if difference is None:
                reasons[f"dif.{item.id}.{name}"] = "No total has students of both groups who differ on it."
            figures.append(
                DifFigures(
                    id=item.id,
                    group=name,
                    odds_ratio=difference.odds_ratio if difference else None,
                    chi2=difference.chi_square if difference else None,
                    p=difference.p if difference else None,
                    delta=difference.delta if difference else None,
                    letter=difference.letter if difference else None,
                )
            )
    return figures
