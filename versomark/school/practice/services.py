"""A practice run: an invented class, a ready-made test, a sitting that the class answers, and all of it gone again."""

import tomllib
from dataclasses import dataclass
from pathlib import Path
from uuid import UUID, uuid4
from zlib import crc32

import numpy as np
from django.db import transaction
from django.utils import timezone

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import Item, Skill, items_of
from versomark.school.classes.public import SchoolClass, add_students, make_class
from versomark.school.delivery.public import (
    BEFORE,
    RUNNING,
    SeatState,
    Sitting,
    begin,
    hand_in,
    open_sitting,
    plan,
    sitting_of,
)
from versomark.school.editions.public import Edition, Test, copy_from_shelf, freeze
from versomark.school.errors import DomainError
from versomark.school.privacy.public import delete_whole_class
from versomark.school.responses.public import Change, current_answers, keep_answers

from .models import PracticeRun
from .simulated import answers_of_class

READY_MADE = "reading-scales"
NAMES = Path(__file__).with_name("invented_class.toml")


@dataclass(frozen=True)
class Standing:
    """How far a practice run has come."""

    run: PracticeRun
    sitting: Sitting | None
    """The newest of the invented class."""
    at_work: int
    """Seats that have not handed in."""


@dataclass(frozen=True)
class Cleared:
    sittings: int
    still_used: tuple[str, ...]
    """Questions that came with the practice run and stand in a test of the teacher's by now: they stay."""


def run_of(teacher: Teacher) -> PracticeRun | None:
    return PracticeRun.objects.filter(teacher=teacher).select_related("school_class", "test").first()


def standing_of(teacher: Teacher) -> Standing | None:
    run = run_of(teacher)
    if run is None:
        return None
    sitting = run.school_class.sittings.order_by("-made_at", "-pk").first()
    at_work = sitting.seats.exclude(state=SeatState.HANDED_IN).count() if sitting else 0
    return Standing(run, sitting, at_work)


@transaction.atomic
def start(teacher: Teacher) -> Standing:
    """An invented class sits a ready-made test from this moment on. One that goes on already is gone on with."""
    Teacher.objects.select_for_update().get(pk=teacher.pk)  # two clicks make one run
    standing = standing_of(teacher)
    if standing is not None and standing.sitting is not None:
        return standing
    run = standing.run if standing else _invent_class(teacher)
    test = run.test or _copy_test(run)
    sitting = plan(teacher, _edition_of(test), run.school_class, timezone.now())
    open_sitting(sitting)
    return Standing(run, sitting, sitting.seats.count())


def _invent_class(teacher: Teacher) -> PracticeRun:
    taken = set(teacher.classes.values_list("name", flat=True))
    base = _("Practice class")
    name = next(name for name in (base, *(f"{base} {at}" for at in range(2, 99))) if name not in taken)
    school_class = make_class(teacher, name)
    SchoolClass.objects.filter(pk=school_class.pk).update(is_practice=True)
    school_class.is_practice = True
    add_students(school_class, tomllib.loads(NAMES.read_text(encoding="utf-8"))["students"])
    return PracticeRun.objects.create(teacher=teacher, school_class=school_class)


def _copy_test(run: PracticeRun) -> Test:
    before = set(items_of(run.teacher).values_list("pk", flat=True))
    skills = set(Skill.objects.filter(owner=run.teacher).values_list("pk", flat=True))
    run.test = copy_from_shelf(run.teacher, READY_MADE)
    brought = Item.objects.filter(places__test=run.test).exclude(pk__in=before)
    run.items = [str(pk) for pk in brought.values_list("pk", flat=True)]
    run.skills = list(Skill.objects.filter(owner=run.teacher).exclude(pk__in=skills).values_list("pk", flat=True))
    run.save(update_fields=["test", "items", "skills"])
    return run.test


def _edition_of(test: Test) -> Edition:
    return test.editions.order_by("-pk").first() or freeze(test)


@transaction.atomic
def let_them_answer(teacher: Teacher, sitting_id: int) -> Sitting:
    """Every invented student who has not handed in yet answers and hands in, by the functions that real ones use."""
    sitting = sitting_of(teacher, sitting_id, "run")
    Sitting.objects.select_for_update().get(pk=sitting_id)  # a second click waits, and finds everybody done
    if not sitting.school_class.is_practice:
        raise DomainError(_("Only an invented class answers by itself. These are students of yours."), status=403)
    if sitting.state in BEFORE:
        open_sitting(sitting)
    if sitting.state not in RUNNING:
        raise DomainError(_("The sitting is closed: nobody can answer any more."))
    items = list(sitting.edition.read().items())
    seats = list(sitting.seats.exclude(state=SeatState.HANDED_IN).select_related("sitting", "student").order_by("desk"))
    rng = np.random.default_rng(crc32(sitting.code.encode()))
    for seat, answers in zip(seats, answers_of_class(items, len(seats), rng), strict=True):
        begin(seat)
        given = {answer.item for answer in current_answers(seat)}
        changes = [
            Change(uuid4(), number, ref, response, come_back=False)
            for number, (ref, response) in enumerate(answers.items(), start=1)
            if ref not in given
        ]
        if changes:
            keep_answers(seat.pk, changes)
        hand_in(seat.pk)
    return sitting


@transaction.atomic
def clear_away(teacher: Teacher) -> Cleared:
    """The class with every sitting, the copied test, and the questions that it brought and nothing else uses."""
    standing = standing_of(teacher)
    if standing is None:
        return Cleared(0, ())
    run, test, items = standing.run, standing.run.test, [UUID(pk) for pk in standing.run.items]
    sittings = run.school_class.sittings.count()
    # Not closed before: what follows a closing would come when the sitting is gone.
    delete_whole_class(run.school_class, teacher, even_open=True)
    if test is not None and not test.editions.filter(sittings__isnull=False).exists():
        test.editions.all().delete()
        test.delete()
    mine = items_of(teacher).filter(pk__in=items)
    still_used = mine.filter(places__isnull=False).distinct()
    names = tuple(item.read().stem for item in still_used)
    mine.filter(places__isnull=True).delete()
    Skill.objects.filter(owner=teacher, pk__in=run.skills, items=None).delete()
    return Cleared(sittings, names)
