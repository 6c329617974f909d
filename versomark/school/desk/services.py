"""The desk: what waits, what is open, what is new; and finding anything by typing."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from django.db.models import Q

from versomark.core.findings.words import FEWEST_STUDENTS
from versomark.core.language import _, _n
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import ItemFilter, find_items, items_of
from versomark.school.classes.public import Enrolment, classes_of
from versomark.school.comparison.public import judging
from versomark.school.delivery.public import AFTER, Sitting, sittings_of
from versomark.school.editions.public import Test, question_count, tests_of
from versomark.school.findings.public import (
    CachedAnalysis,
    FlagNote,
    FoundFlag,
    dismissed_in,
    findings_of_several,
    flag_note,
    standing,
)
from versomark.school.grading.public import names_hidden, waiting_in, waiting_piles, with_unmarked
from versomark.school.practice.public import run_of

from .schemas import FirstPath, SharedWork

MOST_NEW = 4
MOST_FOUND = 6
MOST_TO_MARK = 12
"""Of earlier sittings; with more of them the page of all that is to be marked is the place to look."""


@dataclass(frozen=True)
class News:
    """The first findings of a sitting that was closed lately."""

    sitting: Sitting
    students: int
    too_few: bool
    """So few that nothing is said of any question, neither that it failed nor that it did not."""
    first: FlagNote | None
    """The flag to read first, of those that say a question failed or misled."""
    flagged: int
    """How many questions have such a flag."""


@dataclass(frozen=True)
class SearchHit:
    kind: str
    title: str
    detail: str
    path: str


def latest_closed(sittings: Iterable[Sitting]) -> list[tuple[Sitting, CachedAnalysis | None]]:
    """The sittings closed last, each with its findings."""
    closed = [sitting for sitting in sittings if sitting.state in AFTER]
    latest = sorted(closed, key=lambda sitting: sitting.closed_at or sitting.made_at, reverse=True)[:MOST_NEW]
    return list(zip(latest, findings_of_several(latest), strict=True))


def to_mark(
    sittings: Iterable[Sitting], latest: Sequence[tuple[Sitting, CachedAnalysis | None]]
) -> list[tuple[Sitting, int]]:
    """The closed sittings in which answers wait for a person, and how many; those closed last come first."""
    results = [
        (
            sitting,
            sum(question["waiting"] for question in marked_at.body["paper"])
            if marked_at and not names_hidden(sitting)
            else sum(entry.to_mark - entry.marked for entry in waiting_in(sitting)),
        )
        for sitting, marked_at in latest
    ]
    known = {sitting.pk for sitting, _answers in results}
    earlier = [sitting for sitting in sittings if sitting.state in AFTER and sitting.pk not in known]
    wait = with_unmarked(earlier)
    results += [
        (sitting, sum(entry.to_mark - entry.marked for entry in waiting_in(sitting)))
        for sitting in [sitting for sitting in earlier if sitting.pk in wait][:MOST_TO_MARK]
    ]
    return [(sitting, answers) for sitting, answers in results if answers]


def shared_work(teacher: Teacher) -> list[SharedWork]:
    """Answers in the teacher's hands in shared piles, and pairs that they may still compare."""
    piles = [
        SharedWork(kind="pile", id=line.id, title=line.title, head=line.head, left=line.mine_left)
        for line in waiting_piles(teacher, only_open=True)
        if line.mine_left
    ]
    pairs = [
        SharedWork(kind="pairs", id=judge.comparison_id, title=judge.comparison.question,
                   head=judge.comparison.head.name, left=left)
        for judge, left in judging(teacher)
    ]  # fmt: skip
    return [*piles, *pairs]


def news(latest: Iterable[tuple[Sitting, CachedAnalysis | None]]) -> list[News]:
    """Each with its most telling flag."""
    results, lines = [], list(latest)
    aside = dismissed_in(sitting for sitting, _ in lines)
    for sitting, marked_at in lines:
        if marked_at is not None:
            urgent = [flag for flag in standing(marked_at.body["flags"], aside[sitting.pk]) if flag["urgent"]]
            first = flag_note(FoundFlag.model_validate(urgent[0])) if urgent else None
            students = marked_at.body["test"]["students"]
            results.append(
                News(sitting, students, students < FEWEST_STUDENTS, first, len({flag["ref"] for flag in urgent}))
            )
    return results


def first_path(teacher: Teacher, sittings: Iterable[Sitting]) -> FirstPath | None:
    """How far somebody is from class to finding; None for whoever has been there."""
    real = [sitting for sitting in sittings if not sitting.school_class.is_practice]
    if any(sitting.state in AFTER for sitting in real):
        return None
    run = run_of(teacher)
    tests = tests_of(teacher)
    if run is not None and run.test_id is not None:
        tests = tests.exclude(pk=run.test_id)
    return FirstPath(
        classes=classes_of(teacher).filter(is_practice=False).count(),
        questions=items_of(teacher).exclude(pk__in=run.items if run else ()).count(),
        tests=tests.count(),
        frozen=tests.exclude(editions=None).count(),
        sittings=len(real),
    )


def unfinished_tests(teacher: Teacher) -> list[Test]:
    """Tests that were begun and never frozen."""
    return list(tests_of(teacher).filter(editions=None)[:MOST_NEW])


def find(teacher: Teacher, typed: str) -> list[SearchHit]:
    """Classes, students, tests, sittings and questions in which every typed word stands."""
    words = typed.split()[:6]
    if not words:
        return []

    def holding(*fields: str) -> Q:
        query = Q()
        for word in words:
            either = Q()
            for field in fields:
                either |= Q(**{f"{field}__icontains": word})
            query &= either
        return query

    results = [
        SearchHit(
            "class",
            c.name,
            _n("{count} student", "{count} students", c.student_count, count=c.student_count),  # type: ignore[attr-defined]
            f"/classes/{c.pk}",
        )
        for c in classes_of(teacher).filter(holding("name"))[:MOST_FOUND]
    ]
    places = Enrolment.objects.filter(school_class__owner=teacher, left=False).select_related("student", "school_class")
    results += [
        SearchHit(
            "student",
            p.student.full_name,
            _("{name}, desk {desk}", name=p.school_class.name, desk=p.desk),
            f"/records/{p.school_class_id}/students/{p.student_id}",
        )
        for p in places.filter(holding("student__given_name", "student__family_name"))[:MOST_FOUND]
    ]
    results += [
        SearchHit(
            "test",
            t.title or _("Untitled test"),
            _n("{count} question", "{count} questions", question_count(t), count=question_count(t)),
            f"/tests/{t.pk}",
        )
        for t in tests_of(teacher).filter(holding("title"))[:MOST_FOUND]
    ]
    sittings = sittings_of(teacher).filter(holding("edition__test__title", "school_class__name", "code"))
    results += [
        SearchHit("sitting", f"{s.edition.content['title']} · {s.school_class.name}", s.state, f"/sittings/{s.pk}")
        for s in sittings[:MOST_FOUND]
    ]
    results += [
        SearchHit(
            "question",
            plain(item.content.get("stem", "")) or plain(item.content.get("text", "")),
            ", ".join(skill.name for skill in item.skills.all()),
            f"/bank/{item.pk}",
        )
        for item in find_items(teacher, ItemFilter(typed=typed))[:MOST_FOUND]
    ]
    return results
