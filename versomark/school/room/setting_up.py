"""How a lesson comes to be: started in two clicks, set up ahead, the same with the next class, given as homework."""

from collections.abc import Sequence
from datetime import datetime
from typing import Literal
from uuid import UUID

from django.db import transaction

from versomark.core.editions import is_described, lesson_steps
from versomark.core.language import _
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import Item, item_of
from versomark.school.classes.public import SchoolClass
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import SeatState, Sitting, Way
from versomark.school.editions.public import Edition, Test, freeze, keep_items, make_test
from versomark.school.errors import DomainError

from .models import Room

Pace = Literal["together", "alone"]
"""The teacher asks question by question, or everyone works through the lesson by themselves."""


@transaction.atomic
def edition_of_test(test: Test) -> Edition:
    """The test as it stands now: frozen as an edition of its own, or the latest where nothing has changed."""
    return freeze(test)


@transaction.atomic
def edition_of_item(teacher: Teacher, item_id: UUID) -> Edition:
    """A single question. The test it needs is made and put away, so that it does not stand among the others."""
    item: Item = item_of(teacher, item_id)
    title = plain(item.read().stem)[:80] or _("One question")
    test = keep_items(make_test(teacher, title), title, "", [item.pk])
    edition = freeze(test)
    Test.objects.filter(pk=test.pk).update(archived=True)
    return edition


@transaction.atomic
def set_up(
    teacher: Teacher,
    edition: Edition,
    school_class: SchoolClass,
    planned_for: datetime | None = None,
    pace: Pace = "together",
    like: Room | None = None,
) -> Room:
    """A lesson of this edition with this class, its door shut. `like` is an earlier lesson of the same edition, whose
    order, quick questions and settings it takes."""
    if is_described(edition.read()):
        raise DomainError(_("This test was given elsewhere; there is nothing to ask."))
    way = Way.ROOM if pace == "together" else Way.ALONE
    sitting = delivery.plan(teacher, edition, school_class, planned_for, way)
    room = Room(sitting=sitting, steps=[step.model_dump() for step in lesson_steps(edition.read())])
    if like is not None:
        room.steps, room.quick = like.steps, like.quick
        room.seconds, room.names_to_pick = like.seconds, like.names_to_pick
    room.save()
    return room


@transaction.atomic
def start(
    teacher: Teacher,
    edition: Edition,
    school_class: SchoolClass,
    pace: Pace = "together",
    like: Room | None = None,
) -> Room:
    """The same, with its door open at once."""
    room = set_up(teacher, edition, school_class, None, pace, like)
    delivery.open_sitting(room.sitting)
    return room


def missed(room: Room) -> list[int]:
    """The students who were not in the lesson, or answered nothing in it."""
    answered = room.rounds.exclude(answers__response=None).values("answers__seat")
    seats = room.sitting.seats.exclude(pk__in=answered)
    return list(seats.exclude(state=SeatState.EXCUSED).values_list("student_id", flat=True))


@transaction.atomic
def give_as_homework(
    teacher: Teacher, room: Room, closes_at: datetime | None, students: Sequence[int] | None
) -> Sitting:
    """The same pages and questions as a sitting of its own, which each works through at home; for the whole class, or
    these students of it."""
    sitting = room.sitting
    homework = delivery.plan(
        teacher, sitting.edition, sitting.school_class, None, Way.ONLINE, closes_at=closes_at, students=students
    )
    return delivery.open_sitting(homework)
