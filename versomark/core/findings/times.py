"""How long the questions took, as it is shown: each with its quartiles, who has it right beside who has not."""

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from versomark.core.language import _, _n, listed
from versomark.core.response_table import ResponseTable
from versomark.core.stats import known
from versomark.core.stats.times import times

FEWEST = 4
"""Under so many students whose time is known nothing is said of a question."""
HARD = 0.5


class ItemTime(BaseModel):
    """Seconds on one question."""

    id: str
    students: int
    """Whose time is known."""
    median: float | None
    q1: float | None
    q3: float | None
    right: float | None
    """Median of those with full marks."""
    others: float | None


class TestTime(BaseModel):
    """Seconds on all questions together, of the students whose time is known."""

    students: int
    median: float | None
    q1: float | None
    q3: float | None


class TimeFigures(BaseModel):
    test: TestTime
    items: list[ItemTime]
    longest: list[str]
    """Of six questions the one that took longest, the longest first."""


def time_figures(table: ResponseTable, seconds: NDArray[np.float64]) -> TimeFigures:
    """seconds (N, n) of the table's students and items, NaN where not known."""
    full = table.points >= table.maxima - 1e-9
    whole, right = times(seconds), times(np.where(full, seconds, np.nan))
    others = times(np.where(full, np.nan, seconds))
    sums = np.nansum(seconds, axis=1)
    test = times(np.where(np.isnan(seconds).all(axis=1), np.nan, sums)[:, None])
    timed = [j for j in np.argsort(-np.nan_to_num(whole.median), kind="stable") if whole.students[j] >= FEWEST]
    return TimeFigures(
        longest=[table.items[j].id for j in timed[: max(1, len(table.items) // 6)]],
        test=TestTime(
            students=int(test.students[0]),
            median=known(test.median[0]),
            q1=known(test.q1[0]),
            q3=known(test.q3[0]),
        ),
        items=[
            ItemTime(
                id=item.id,
                students=int(whole.students[j]),
                median=known(whole.median[j]),
                q1=known(whole.q1[j]),
                q3=known(whole.q3[j]),
                right=known(right.median[j]),
                others=known(others.median[j]),
            )
            for j, item in enumerate(table.items)
        ],
    )


def opening(figures: TimeFigures, table: ResponseTable, labels: dict[str, str]) -> str:
    """The sentences that matter, for a teacher."""
    test = figures.test
    if test.median is None or test.q1 is None or test.q3 is None:
        return _("How long they took is not known: it is noted where a question at a time is answered on a device.")
    sentences = [
        _(
            "Half of the class took between {in_words} and {in_words_2} over the questions.",
            in_words=in_words(test.q1),
            in_words_2=in_words(test.q3),
        )
    ]
    places = {item.id: j for j, item in enumerate(table.items)}
    lost = [
        entry for entry in figures.longest if table.points[:, places[entry]].sum() < HARD * _due(table, places[entry])
    ]
    if figures.longest:
        sentences.append(_("{named} took longest.", named=_named([labels[entry] for entry in figures.longest])))
    if lost:
        sentences.append(
            _(
                "For all that time, less than half the marks of {named} came.",
                named=_named([labels[entry] for entry in lost], within=True),
            )
        )
    return " ".join(sentences)


def _due(table: ResponseTable, j: int) -> float:
    return float(table.takers[j] * table.items[j].max)


def _named(labels: list[str], within: bool = False) -> str:
    """within: inside a sentence."""
    if within:
        return _n("question {listed}", "questions {listed}", len(labels), listed=listed(labels))
    return _n("Question {listed}", "Questions {listed}", len(labels), listed=listed(labels))


def in_words(seconds: float) -> str:
    """`45 seconds`, `3 minutes`: as one would say it."""
    if seconds < 90:
        return _n("{count} second", "{count} seconds", round(seconds), count=round(seconds))
    return _n("{count} minute", "{count} minutes", round(seconds / 60), count=round(seconds / 60))
