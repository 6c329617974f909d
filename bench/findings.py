"""How true findings are: on classes of three generators whose truth is known (`bench/classes`), how often each word is
right, whether the first line is, how often a page on a sound test stays quiet, and what is found at which rate of false
accusations. The real answers need R with psychTools (Debian's `r-cran-psych` and `r-cran-psychtools`)."""

from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from types import ModuleType

import numpy as np

from bench.classes import Planted, PlantedClass, alike, oracle, real_answers, unlike
from versomark.core.findings import Confidence, Flag, ItemExplanations, Thresholds, explain, worth
from versomark.core.findings.explanations import Explanation, ExplanationPriors
from versomark.core.findings.flags import EXPLAINED

CLASSES = 200
SIZES = (12, 24, 30, 60, 120)
GENERATORS: dict[str, tuple[ModuleType, int]] = {
    "unlike": (unlike, 20),
    "real answers": (real_answers, 16),
    "alike": (alike, 20),
}
PLANTED = {
    Explanation.WRONG_KEY: Planted.WRONG_KEY,
    Explanation.TWO_RIGHT: Planted.TWO_RIGHT,
    Explanation.SHARED_IDEA: Planted.SHARED_IDEA,
    Explanation.GUESSING: Planted.GUESSING,
}
ALLOWED = {
    Explanation.WRONG_KEY: 0.02,
    Explanation.TWO_RIGHT: 0.10,
    Explanation.GUESSING: 0.20,
    Explanation.SHARED_IDEA: 0.20,
}
"""False accusations of sound questions a class at which what is found is compared."""


@dataclass(frozen=True)
class Judged:
    """One question: what leads its page, and, of each explanation, the likeliest option."""

    planted: Planted
    leads: Explanation
    probability: float
    true: bool
    concerned: float
    likeliest: dict[Explanation, tuple[float, bool]]


def one_class(
    seed: int,
    generator: str,
    students: int,
    troubled: bool,
    priors: ExplanationPriors | None = None,
    classes: int = 1,
    told: bool = False,
) -> list[Judged]:
    """classes: how many took the same test; all but the first are earlier evidence. told: by the judge that knows the
    generator, in place of ours."""
    module, items = GENERATORS[generator]
    rng = np.random.default_rng([seed, students, troubled])
    made: PlantedClass = module.make_class(students * classes, items, rng, troubled)
    each = [range(at * students, (at + 1) * students) for at in range(classes)]
    first, *earlier = (made.table.rows(rows) for rows in each)
    items_explained = oracle.told(made) if told else explain(first, earlier, priors).items
    return [_judged(made, j, item, first.choice[:, j]) for j, item in enumerate(items_explained) if item is not None]


def _judged(made: PlantedClass, j: int, item: ItemExplanations, choice: np.ndarray) -> Judged:
    def true(kind: Explanation, option: int) -> bool:
        return PLANTED.get(kind) is made.planted[j] and option in (-1, made.option[j])

    ranked = item.ranked()
    leads, option, p = next(entry for entry in ranked if entry[0] is not Explanation.FAIR)
    likeliest: dict[Explanation, tuple[float, bool]] = {}
    for kind, named, probability in ranked:
        likeliest.setdefault(kind, (probability, true(kind, named)))
    concerned = float((choice == option).mean()) if option >= 0 else 1.0
    return Judged(made.planted[j], leads, p, true(leads, option), concerned, likeliest)


def judge(
    generator: str, students: int, classes: int = 1, priors: ExplanationPriors | None = None, told: bool = False
) -> str:
    """A line of figures."""
    call = partial(one_class, generator=generator, students=students, priors=priors, classes=classes, told=told)
    with ProcessPoolExecutor() as pool:
        troubled = list(pool.map(partial(call, troubled=True), range(CLASSES), chunksize=10))
        sound = list(pool.map(partial(call, troubled=False), range(CLASSES), chunksize=10))
    every = [entry for found in troubled for entry in found]
    thresholds = Thresholds()
    words = []
    for word in Confidence:
        said = [
            entry
            for entry in every
            if entry.probability >= thresholds.possible and thresholds.confidence(entry.probability) is word
        ]
        words.append(f"{_mean(e.true for e in said):.2f} of {len(said):4}")
    quiet = np.mean([all(entry.probability < thresholds.possible for entry in found) for found in sound])
    found = [f"{_found(every, kind):.2f} ({_at_rate(every, kind, rate):.2f})" for kind, rate in ALLOWED.items()]
    return (
        f"  {students:4}{'' if classes == 1 else f' × {classes}':<6}{'   '.join(words)}   first {_first(troubled):.2f}"
        f"   quiet {quiet:.2f}   {'   '.join(found)}"
    )


def _mean(values: Iterable[bool]) -> float:
    known = list(values)
    return float(np.mean(known)) if known else float("nan")


def _first(classes: Sequence[Sequence[Judged]]) -> float:
    """Of the classes in which something is said, how often the first line is true."""
    first = []
    for found in classes:
        said = [entry for entry in found if entry.probability >= Thresholds.possible]
        if said:
            first.append(max(said, key=_worth).true)
    return _mean(first)


def _worth(entry: Judged) -> float:
    flag: Flag = EXPLAINED[entry.leads]
    return worth(flag, entry.probability, entry.concerned)


def _found(every: Sequence[Judged], kind: Explanation) -> float:
    """Of what was planted, how much is said."""
    planted = [entry for entry in every if entry.planted is PLANTED[kind]]
    return _mean(e.leads is kind and e.true and e.probability >= Thresholds.possible for e in planted)


def _at_rate(every: Sequence[Judged], kind: Explanation, rate: float) -> float:
    """The same where the line is drawn so that sound questions are accused at this rate a class."""
    accused = sorted(
        (e.likeliest[kind][0] for e in every if e.planted is Planted.FAIR and kind in e.likeliest), reverse=True
    )
    line = accused[min(len(accused) - 1, round(rate * CLASSES))]
    planted = [entry for entry in every if entry.planted is PLANTED[kind]]
    return _mean(e.likeliest[kind][0] > line and e.likeliest[kind][1] for e in planted if kind in e.likeliest)


HEADS = (
    "  students  almost certain  probable  possible: share true, and how many; first line true; sound tests quiet;"
    "\n            found (found at .02, .10, .20, .20 false accusations a class): wrong key, two right, guessing, idea"
)


def run() -> None:
    print(f"findings, {CLASSES} classes each")
    print(HEADS)
    _table("", lambda generator: [judge(generator, students) for students in SIZES])
    print(" unlike, by a judge that is told the abilities and the generator: the bound")
    for students in SIZES:
        print(judge("unlike", students, told=True))
    _table(
        ", classes of 24 of the same test: one, two and four",
        lambda generator: [judge(generator, 24, classes) for classes in (1, 2, 4)],
    )
    usual = ExplanationPriors()
    for factor in (0.5, 2.0):
        priors = replace(
            usual,
            **{name: factor * getattr(usual, name) for name in ("wrong_key", "two_right", "shared_idea", "guessing")},
        )
        _table(f", prior odds × {factor:g}", lambda generator, p=priors: [judge(generator, 24, priors=p)])  # type: ignore[misc]


def _table(title: str, lines: Callable[[str], list[str]]) -> None:
    for generator in GENERATORS:
        print(f" {generator}{title}")
        for line in lines(generator):
            print(line)
