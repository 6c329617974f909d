"""What a test will do in a class, foretold from how its questions did before, with how sure that is.

The class is imagined a few hundred times. Each time the questions are drawn from what their history leaves open, the
class from classes of its kind, and its students from the class; what comes out of all the imagined classes is the
forecast. Every assumption stands in `docs/methods.md`, with how often its intervals were right.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

DRAWS = 400
SEED = 20261129
FEWEST_KNOWN = 2
INTERVAL = (0.05, 0.95)


@dataclass(frozen=True)
class ForecastPriors:
    """What is known before anything is: argued in `docs/methods.md`."""

    easiness: tuple[float, float] = (0.4, 0.6)
    """Of a question without history, as the normal deviate of the share of its marks: .65, mostly .42 to .84."""
    rest_correlation: tuple[float, float] = (0.35, 0.12)
    """Of the questions of a test in the mean, on Fisher's z, and how tests differ in it."""
    apart: float = 0.15
    """How the questions of one test differ in it."""
    class_spread: float = 0.42
    """Of the means of classes, in standard deviations of students within one: an intraclass correlation of .15, as
    between classes of one school (from memory)."""
    reliability: float = 0.70
    """Of an earlier test of which it is not known."""
    part_marks: float = 0.35
    """Standard deviation of the share of its marks that a question of several marks has, where it has no history."""


@dataclass(frozen=True)
class QuestionHistory:
    """A question of the test with what earlier classes say of it.

    worth: its marks in this test. students, classes: how many sat it; 0 where it has no history, and then nothing else
    is known. share: of its marks, in the mean. r_rest: its correlation with the rest of its tests; reliability: alpha
    of those. spread: standard deviation of its share.
    """

    worth: float
    students: int = 0
    classes: int = 0
    share: float | None = None
    r_rest: float | None = None
    reliability: float | None = None
    spread: float | None = None

    @property
    def known(self) -> bool:
        return self.students > 0 and self.share is not None


@dataclass(frozen=True)
class Range:
    """The middle of what may come, and between which values nine in ten of it lie."""

    middle: float
    low: float
    high: float

    @classmethod
    def of(cls, values: Floats) -> "Range":
        low, high = np.quantile(values, INTERVAL)
        return cls(float(np.median(values)), float(low), float(high))


@dataclass(frozen=True)
class Forecast:
    """mean, sd: of totals, in marks. reliability: alpha. sem: in marks. near_cut: how many students come out within
    `margin` marks of the cut, closer than one standard error of measurement there."""

    students: int
    mean: Range
    sd: Range
    reliability: Range
    sem: Range
    margin: float
    near_cut: Range


def forecast(
    questions: Sequence[QuestionHistory], students: int, cut: float, priors: ForecastPriors | None = None
) -> Forecast | None:
    """What a class will make of these questions.

    Parameters
    ----------
    questions : sequence of QuestionHistory
    students : int
        In the class, at least 2.
    cut : float
        The share of the marks at which a decision is made, 0 to 1.

    Returns
    -------
    Forecast or None
        None where fewer than two questions have a history.

    Raises
    ------
    ValueError
        If students or cut is out of range.

    Examples
    --------
    >>> asked = [QuestionHistory(1, students=100, classes=4, share=0.6, r_rest=0.4, reliability=0.8)] * 20
    >>> predicted = forecast(asked, students=24, cut=0.5)
    >>> predicted.mean.low < 12 < predicted.mean.high
    True
    """
    if students < 2:
        raise ValueError(f"students must be 2 or more, and is {students}.")
    if not 0 <= cut <= 1:
        raise ValueError(f"cut must be from 0 to 1, and is {cut}.")
    if sum(question.known for question in questions) < FEWEST_KNOWN:
        return None
    from scipy.special import ndtr  # as the distributions do: imported when first needed

    priors = priors or ForecastPriors()
    random = np.random.default_rng(SEED)
    worth = np.array([question.worth for question in questions])
    known = np.array([question.known for question in questions])
    before = [question for question in questions if question.known]
    sat, classes = (float(np.mean(numbers)) for numbers in zip(*((q.students, q.classes) for q in before), strict=True))
    easiness, easy_error = _easiness(questions, priors)
    correlations = _Correlations.of(questions, sat, priors)
    parts = np.array([_spread_of_parts(question, priors) for question in questions])
    rows = np.empty((DRAWS, 6))
    for draw in range(DRAWS):
        easy = easiness + easy_error * random.normal(size=len(worth))
        correlation = correlations.drawn(random)
        # Which class comes, and which classes were there before, with the luck of who was in them.
        to_come = priors.class_spread * random.normal()
        earlier = math.sqrt(priors.class_spread**2 / classes + 1 / sat) * random.normal()
        ability = random.normal(size=(students, 1)) + to_come - np.where(known, earlier, 0.0)
        share = ndtr(easy)
        density = np.exp(-(easy**2) / 2) / math.sqrt(2 * math.pi)
        loading = np.clip(correlation * np.sqrt(share * (1 - share)) / density, -0.3, 0.95)
        chance = ndtr((easy + loading * ability) / np.sqrt(1 - loading**2))
        right = random.random(chance.shape) < chance
        # A question with part marks keeps the spread that it had; its share moves with ability like any other's.
        correlation = np.clip(correlation, -0.95, 0.95)
        off = parts * np.sqrt(1 - correlation**2) * random.normal(size=chance.shape)
        expected = np.where(parts > 0, share + parts * correlation * ability, chance)
        points = worth * np.where(parts > 0, expected + off, right)
        errors = worth**2 * np.where(parts > 0, parts**2 * (1 - correlation**2), chance * (1 - chance))
        totals, true_totals = points.sum(axis=1), (worth * expected).sum(axis=1)
        nearest = int(np.argmin(np.abs(true_totals - cut * worth.sum())))
        margin = math.sqrt(errors[nearest].sum())
        near = float((np.abs(totals - cut * worth.sum()) <= margin).sum())
        spread, consistency = float(totals.std(ddof=1)), _alpha(points)
        error_of_totals = spread * math.sqrt(max(0.0, 1 - consistency))
        rows[draw] = totals.mean(), spread, consistency, error_of_totals, margin, near
    mean, sd, alpha, sem, margins, near_cut = (Range.of(column) for column in rows.T)
    return Forecast(students, mean, sd, alpha, sem, margins.middle, near_cut)


def _easiness(questions: Sequence[QuestionHistory], priors: ForecastPriors) -> tuple[Floats, Floats]:
    """Of each question as a normal deviate, and how far it is open."""
    from scipy.special import ndtri

    rows = []
    for question in questions:
        if question.share is None or not question.known:
            rows.append(priors.easiness)
            continue
        of = question.students + 1
        share = (question.share * question.students + 0.5) / of
        easy = float(ndtri(share))
        density = math.exp(-(easy**2) / 2) / math.sqrt(2 * math.pi)
        rows.append((easy, math.sqrt(share * (1 - share) / of) / density))
    easy_column, error_column = np.array(rows).T
    return easy_column, error_column


@dataclass(frozen=True)
class _Correlations:
    """How questions go with ability: each is drawn towards what those of its test have in common, which is itself
    open, the more so the fewer sat them, since all of them heard the same class."""

    z: Floats
    weight: Floats
    """1 over the error variance of each z; 0 without a history."""
    common: tuple[float, float]
    reliability: Floats
    apart: float

    @classmethod
    def of(cls, questions: Sequence[QuestionHistory], sat: float, priors: ForecastPriors) -> "_Correlations":
        heard = [q.known and q.r_rest is not None and q.students > 4 for q in questions]
        z = np.array([math.atanh(min(0.95, max(-0.95, q.r_rest or 0.0))) for q in questions]) * heard
        weight = np.array([max(0, q.students - 3) for q in questions]) * heard
        mean, spread = priors.rest_correlation
        if any(heard):
            inside = 1 / (1 / weight[heard] + priors.apart**2)
            seen = float(inside @ z[heard] / inside.sum())
            # The spread of abilities in a class is known to one part in √(2N), and with it every correlation.
            error = 1 / inside.sum() + seen**2 / (2 * sat)
            mean = (mean / spread**2 + seen / error) / (1 / spread**2 + 1 / error)
            spread = math.sqrt(1 / (1 / spread**2 + 1 / error))
        reliability = np.array([min(0.95, max(0.3, q.reliability or priors.reliability)) for q in questions])
        return cls(z, weight, (mean, spread), reliability, priors.apart)

    def drawn(self, random: np.random.Generator) -> Floats:
        """(n,) correlations with ability itself."""
        common = self.common[0] + self.common[1] * random.normal()
        whole = self.weight + 1 / self.apart**2
        z = (self.weight * self.z + common / self.apart**2) / whole + random.normal(size=len(whole)) / np.sqrt(whole)
        correlation: Floats = np.tanh(z) / np.sqrt(self.reliability)
        return correlation


def _spread_of_parts(question: QuestionHistory, priors: ForecastPriors) -> float:
    """The standard deviation of the share of a question with part marks; 0 for one that is right or wrong."""
    if not question.known or question.share is None or question.spread is None:
        return priors.part_marks if question.worth > 1 and not question.known else 0.0
    all_or_nothing = math.sqrt(question.share * (1 - question.share))
    return question.spread if question.spread < 0.9 * all_or_nothing else 0.0


def _alpha(points: Floats) -> float:
    """Coefficient alpha; 0 where totals do not vary."""
    items, whole = points.var(axis=0, ddof=1).sum(), points.sum(axis=1).var(ddof=1)
    n = points.shape[1]
    return float(n / (n - 1) * (1 - items / whole)) if whole > 0 and n > 1 else 0.0
