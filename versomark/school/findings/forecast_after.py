"""How good the forecast of a test was, once a class has sat it."""

from typing import Any, Literal

from pydantic import BaseModel

from versomark.core.editions import PredictedStatistics
from versomark.core.findings.words import FEWEST_STUDENTS
from versomark.school.delivery.public import Sitting


class ForecastLine(BaseModel):
    """One figure as it was foretold, nine times in ten from low to high, and as it came."""

    figure: Literal["mean", "sd", "reliability"]
    middle: float
    low: float
    high: float
    came: float | None
    """None where it is not defined for what came."""


class ForecastAfter(BaseModel):
    """What was foretold when the paper was frozen, of a class of so many, and what came of it."""

    students: int
    known: int
    questions: int
    lines: list[ForecastLine]
    why_not: Literal["", "too few", "other marks"]
    """Why it is not put beside what came: too few students, or not all of its marks counted."""


def forecast_after(sitting: Sitting, body: dict[str, Any]) -> ForecastAfter | None:
    """None where nothing was foretold."""
    stored = sitting.edition.forecast
    predicted = PredictedStatistics.model_validate(stored) if stored else None
    if predicted is None or predicted.foretold is None:
        return None
    test, foretold = body["test"], predicted.foretold
    whole = abs(test["max"] - predicted.marks) < 1e-6 and body["complete"]
    came = {"mean": test["mean"], "sd": test["sd"], "reliability": test["alpha"]}
    ranges = {"mean": foretold.mean, "sd": foretold.sd, "reliability": foretold.reliability}
    return ForecastAfter(
        students=foretold.students,
        known=predicted.known,
        questions=predicted.questions,
        lines=[
            ForecastLine(
                figure=figure,
                middle=entry.middle,
                low=entry.low,
                high=entry.high,
                came=came[figure],
            )
            for figure, entry in ranges.items()
        ],
        why_not="too few" if test["students"] < FEWEST_STUDENTS else "" if whole else "other marks",
    )
