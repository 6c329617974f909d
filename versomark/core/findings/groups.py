"""Two groups of students on the same questions: how far apart, how surely, and whether a question differs between them
at the same total."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from versomark.core.language import _, _n, in_figures, listed
from versomark.core.response_table import ResponseTable
from versomark.core.stats import known
from versomark.core.stats.differential import group_difference, mantel_haenszel
from versomark.core.stats.means import apart as means_apart

from .scales import FEW
from .words import FEWEST_STUDENTS

Bools = NDArray[np.bool_]


class GroupItem(BaseModel):
    """One question: share of its marks in either group, and the first less the second with its 95% interval."""

    id: str
    first: float | None
    second: float | None
    difference: float | None
    low: float | None
    high: float | None
    delta: float | None
    """At the same total; below 0 it is harder for the second group."""
    letter: Literal["A", "B", "C"] | None
    """Class of that: negligible, moderate, large."""


class GroupsCompared(BaseModel):
    first: str
    second: str
    first_students: int
    second_students: int
    first_mean: float
    """Share of all marks."""
    second_mean: float
    difference: float
    low: float | None
    high: float | None
    """95% interval by Welch's t; None for a group of one."""
    items: list[GroupItem]
    warning: str
    """Where numbers are too small to say; empty else."""


def compare_groups(table: ResponseTable, second: Bools, names: tuple[str, str]) -> GroupsCompared:
    """second (N,): who is in the second group; the others are the first. Raises ValueError where one is empty."""
    if not second.any() or second.all():
        raise ValueError("Both groups need students.")
    apart = group_difference(table.scored, table.maxima, second)
    totals = [table.standing[group] / (table.max_total or 1) for group in (~second, second)]
    means = means_apart(totals[0], totals[1])
    small = [name for name, own in zip(names, totals, strict=True) if len(own) < FEW]
    items = []
    for j, item in enumerate(table.items):
        took = table.taken[:, j]
        full = table.points[took, j] >= item.max - 1e-9
        same_total = mantel_haenszel(full, table.standing[took], second[took])
        items.append(
            GroupItem(
                id=item.id,
                first=known(apart.shares[0][j]),
                second=known(apart.shares[1][j]),
                difference=known(apart.difference[j]),
                low=known(apart.low[j]),
                high=known(apart.high[j]),
                delta=same_total.delta if same_total else None,
                letter=same_total.letter if same_total else None,
            )
        )
    return GroupsCompared(
        first=names[0],
        second=names[1],
        first_students=len(totals[0]),
        second_students=len(totals[1]),
        first_mean=float(totals[0].mean()),
        second_mean=float(totals[1].mean()),
        difference=means.difference,
        low=means.low,
        high=means.high,
        items=items,
        warning=_("Fewer than {few} students in {list}: nothing here is certain.", few=FEW, list=" and in ".join(small))
        if small
        else "",
    )


def opening(comparison: GroupsCompared, labels: dict[str, str]) -> str:
    """The sentences that matter, for a teacher."""
    sentences = [
        _(
            "{first} ({first_students}) earned {first_mean} of the marks, {second} ({second_students}) {second_mean}.",
            first=comparison.first,
            first_students=comparison.first_students,
            first_mean=in_figures(comparison.first_mean, ".0%"),
            second=comparison.second,
            second_students=comparison.second_students,
            second_mean=in_figures(comparison.second_mean, ".0%"),
        )
    ]
    sure = comparison.low is not None and comparison.high is not None and (comparison.low > 0 or comparison.high < 0)
    if not sure:
        sentences.append(_("Groups of this size differ by as much through chance alone."))
    if min(comparison.first_students, comparison.second_students) < FEWEST_STUDENTS:
        sentences.append(
            _(
                "Of single questions nothing is said: both need {fewest_students} students at least.",
                fewest_students=FEWEST_STUDENTS,
            )
        )
        return " ".join(sentences)
    large = [labels.get(item.id, item.id) for item in comparison.items if item.letter == "C"]
    if large:
        sentences.append(
            _n(
                "At the same total question {labels} is not equally hard for both: look whether wording or context "
                "favours one of them.",
                "At the same total questions {labels} are not equally hard for both: look whether wording or context "
                "favours one of them.",
                len(large),
                labels=listed(large),
            )
        )
    elif not comparison.warning:
        sentences.append(_("No question is much harder for one of them at the same total."))
    return " ".join(sentences)
