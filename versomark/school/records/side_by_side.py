"""Classes and marking periods side by side: what each has earned of the marks, how sure that is, and how two differ.

Averages are over what each class sat, so tests that several of them sat stand beside each other too: those are what
can be compared without a second thought.
"""

from collections.abc import Mapping, Sequence
from datetime import date
from typing import NamedTuple

from pydantic import BaseModel

from versomark.core.language import _, _n, in_figures, listed
from versomark.core.stats.means import Mean, MeanDifference, apart, mean_of, mean_share
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass, classes_of
from versomark.school.errors import DomainError, NotFound

from .class_record import ClassRecord, record_of
from .rules import terms_of
from .standing import sittings_over

MOST = 8
"""Classes beside each other."""

Shares = Mapping[int, float]
"""student -> share of the marks"""


class SideChoice(BaseModel):
    id: int
    name: str
    archived: bool


class SideMean(BaseModel):
    """Of a class in one period, or in one test."""

    count: int
    mean: float | None
    low: float | None
    high: float | None
    difference: float | None
    """To the class that the others are put against, in the same period or test."""
    difference_low: float | None
    difference_high: float | None
    sure: bool
    change: float | None
    """From the period before in which the class has something, over the students who have both."""
    change_low: float | None
    change_high: float | None


class SideClass(BaseModel):
    id: int
    name: str
    students: int
    sittings: int
    spans: list[SideMean]


class SideTestCell(BaseModel):
    sitting: int
    held_on: date
    result: SideMean


class SideTest(BaseModel):
    title: str
    cells: list[SideTestCell | None]
    """By class: its latest sitting of the test."""


class SideBySide(BaseModel):
    opening: str
    spans: list[str]
    """All of it first, then the terms, oldest first."""
    classes: list[SideClass]
    against: int | None
    tests: list[SideTest]
    """That at least two of the classes sat, the latest first."""
    choices: list[SideChoice]


class _Beside(NamedTuple):
    school_class: SchoolClass
    record: ClassRecord
    spans: list[Shares]
    tests: dict[int, tuple[str, int, date, Shares]]
    """test -> title, sitting, day, totals"""


def side_by_side(teacher: Teacher, chosen: Sequence[int], against: int | None) -> SideBySide:
    """These classes, or all that the teacher has now; put against one of them, the first unless named."""
    every = [*classes_of(teacher), *classes_of(teacher, archived=True)]
    known = {entry.pk: entry for entry in every}
    if set(chosen) - set(known):
        raise NotFound(_("class"))
    shown = [known[pk] for pk in dict.fromkeys(chosen)] or [entry for entry in every if not entry.archived][:MOST]
    if len(shown) > MOST:
        raise DomainError(_("More than {most} classes do not fit beside each other.", most=MOST), status=422)
    if against is not None and against not in [entry.pk for entry in shown]:
        raise NotFound(_("class among these"))
    # Terms are each teacher's own: a class that a colleague shares is in theirs.
    terms = terms_of(teacher)
    beside = [_beside(entry, [term.pk for term in terms]) for entry in shown]
    at = next((place for place, column in enumerate(shown) if column.pk == against), 0)
    spans = [_("All of it"), *(term.name for term in terms)]
    classes = [_class(column, beside[at] if place != at else None) for place, column in enumerate(beside)]
    tests = _tests(beside, at)
    return SideBySide(
        opening=_opening(classes, tests, at),
        spans=spans,
        classes=classes,
        against=shown[at].pk if shown else None,
        tests=tests,
        choices=[SideChoice(id=entry.pk, name=entry.name, archived=entry.archived) for entry in every],
    )


def _beside(school_class: SchoolClass, terms: Sequence[int]) -> _Beside:
    record = record_of(school_class)
    places = {term.id: at for at, term in enumerate(record.terms)}
    spans: list[Shares] = [{row.student: row.average for row in record.students if row.average is not None}]
    for term in terms:
        at = places.get(term)
        spans.append(
            {
                row.student: standing.share
                for row in record.students
                if at is not None and (standing := row.terms[at]).share is not None and not standing.carried
            }
        )
    tests: dict[int, tuple[str, int, date, Shares]] = {}
    for at, (sitting, column) in enumerate(zip(sittings_over(school_class), record.sittings, strict=True)):
        shares = {
            row.student: cell.share
            for row in record.students
            if (cell := row.cells[at]) is not None and cell.share is not None
        }
        if shares:
            tests.setdefault(sitting.edition.test_id, (column.title, sitting.pk, column.held_on, shares))
    return _Beside(school_class, record, spans, tests)


def _class(column: _Beside, against: _Beside | None) -> SideClass:
    means = list[SideMean]()
    before: Shares = {}
    for at, shares in enumerate(column.spans):
        # The whole is no period, and nothing comes after it.
        means.append(_mean(shares, against.spans[at] if against else {}, before if at > 1 else {}))
        before = shares if at > 0 and shares else before
    return SideClass(
        id=column.school_class.pk,
        name=column.school_class.name,
        students=len(column.record.students),
        sittings=len(column.record.sittings),
        spans=means,
    )


def _mean(shares: Shares, against: Shares, before: Shares) -> SideMean:
    own: Mean | None = mean_share(list(shares.values())) if shares else None
    difference: MeanDifference | None = (
        apart(list(shares.values()), list(against.values())) if shares and against else None
    )
    gains = [share - before[student] for student, share in shares.items() if student in before]
    change: Mean | None = mean_of(gains) if gains else None
    return SideMean(
        count=len(shares),
        mean=own.mean if own else None,
        low=own.low if own else None,
        high=own.high if own else None,
        difference=difference.difference if difference else None,
        difference_low=difference.low if difference else None,
        difference_high=difference.high if difference else None,
        sure=difference.sure if difference else False,
        change=change.mean if change else None,
        change_low=change.low if change else None,
        change_high=change.high if change else None,
    )


def _tests(beside: Sequence[_Beside], at: int) -> list[SideTest]:
    shared = [test for test in _every_test(beside) if sum(test in entry.tests for entry in beside) > 1]
    side_tests = []
    for test in shared:
        theirs = beside[at].tests.get(test)
        cells: list[SideTestCell | None] = []
        for place, column in enumerate(beside):
            if test not in column.tests:
                cells.append(None)
                continue
            _rest, sitting, held_on, shares = column.tests[test]
            result = _mean(shares, theirs[3] if theirs and place != at else {}, {})
            cells.append(SideTestCell(sitting=sitting, held_on=held_on, result=result))
        title = next(entry.tests[test][0] for entry in beside if test in entry.tests)
        side_tests.append(SideTest(title=title, cells=cells))
    side_tests.sort(key=lambda side_test: max(cell.held_on for cell in side_test.cells if cell), reverse=True)
    return side_tests


def _every_test(beside: Sequence[_Beside]) -> list[int]:
    return list(dict.fromkeys(test for entry in beside for test in entry.tests))


def _opening(classes: Sequence[SideClass], tests: Sequence[SideTest], at: int) -> str:
    """The sentences that matter, for a teacher."""
    known = [school_class for school_class in classes if school_class.spans[0].mean is not None]
    if not known:
        return _("None of these classes has a total yet.")
    sentences = [
        ", ".join(
            _("{name} has {mean}", name=entry.name, mean=in_figures(entry.spans[0].mean, ".0%")) for entry in known
        )
        + _(" of the marks.")
    ]
    if len(known) > 1:
        sure = [entry.name for entry in known if entry.spans[0].sure]
        base = classes[at].name
        if sure:
            sentences.append(
                _n(
                    "{classes} differs from {base} by more than chance brings.",
                    "{classes} differ from {base} by more than chance brings.",
                    len(sure),
                    classes=listed(sure),
                    base=base,
                )
            )
        else:
            sentences.append(_("Classes of this size differ by as much through chance alone."))
        if tests:
            count = _n("{count} test", "{count} tests", len(tests), count=len(tests))
            sentences.append(_("Each average is over what that class sat; they have {count} in common.", count=count))
        else:
            sentences.append(_("They have no test in common, so it may be the tests that differ."))
    return " ".join(sentences)
