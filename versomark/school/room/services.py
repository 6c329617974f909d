"""A sitting held in the room: what the teacher does, step by step."""

from collections.abc import Sequence
from datetime import timedelta
from uuid import uuid4

from django.db import transaction
from django.db.models import Q

from versomark.core.editions import LessonStep
from versomark.core.items import Option, SingleChoice
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import Right, may
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import AFTER, SeatState, SittingState, Way, nudges, sitting_of, steady
from versomark.school.errors import DomainError, NotFound

from .models import Room, Round, RoundEvent, Shows
from .signals import lesson_changed

MOST_SECONDS = 3600
QUICK_OPTIONS = range(2, 7)


def room_of(teacher: Teacher, sitting_id: int, right: Right = "see") -> Room:
    """The lesson of a sitting in which the teacher has a right; a refusal in words where they have another."""
    mine = Q(sitting__owner=teacher) | may(teacher, right, "sitting__school_class__")
    rooms = Room.objects.select_related("sitting__edition", "sitting__school_class")
    room = rooms.filter(mine, sitting=sitting_id).defer("sitting__edition__content").first()
    if room is None:
        sitting_of(teacher, sitting_id, right)
    if room is None:
        raise NotFound(_("lesson in the room"))
    return room


# What is on


def open_round(room: Room) -> Round | None:
    """The round that collects now."""
    result = current_round(room)
    return result if result is not None and is_collecting(result) else None


def current_round(room: Room) -> Round | None:
    """The latest round of the question that is on."""
    step = room.step
    return room.rounds.filter(item=step.ref).last() if step else None


def is_collecting(round: Round) -> bool:
    return round.stopped_at is None and (round.ends_at is None or steady.now() <= round.ends_at)


# What the teacher does


@transaction.atomic
def go_to(room: Room, place: int) -> None:
    """To a step, from 1; 0 is the way in. A question is asked as one comes to it for the first time."""
    _together(room)
    if not 0 <= place <= len(room.steps):
        raise DomainError(_("The lesson has no such step."), status=422)
    _come_to(room, place)


def _come_to(room: Room, place: int) -> None:
    _stop_collecting(room)
    room.place = place
    step = room.step
    if step is None:
        room.shows = Shows.JOINING
    elif step.kind == "page":
        room.shows = Shows.PAGE
    else:
        before = current_round(room)
        room.shows = Shows.QUESTION
        if before is None:
            _ask(room, step)
        elif before.answer_shown:
            room.shows = Shows.ANSWER
    _keep(room)


@transaction.atomic
def ask_again(room: Room) -> None:
    """Another round of the same question, after talk; the earlier ones stay as they are."""
    _together(room)
    step = _question(room)
    _stop_collecting(room)
    _ask(room, step)
    room.shows = Shows.QUESTION
    _keep(room)


@transaction.atomic
def stop(room: Room) -> None:
    _together(room)
    _stop_collecting(room)
    _keep(room)


@transaction.atomic
def reopen(room: Room) -> None:
    """Go on collecting in the same round; what stood when it stopped can be told by the times of its answers."""
    _together(room)
    _question(room)
    round = current_round(room)
    if round is None:
        raise DomainError(_("This question has not been asked yet."))
    if round.answer_shown:
        raise DomainError(_("The class has seen the answer. Ask again instead: that is a round of its own."))
    if is_collecting(round):
        return
    round.stopped_at, round.ends_at = None, None
    round.save(update_fields=["stopped_at", "ends_at"])
    RoundEvent.objects.create(round=round, what="reopened")
    room.shows = Shows.QUESTION
    _keep(room)


@transaction.atomic
def show(room: Room, what: Shows) -> None:
    """The question alone, the spread of answers without the key, or the answer. Collecting stops before a spread."""
    _together(room)
    _question(room)
    round = current_round(room)
    if round is None:
        raise DomainError(_("This question has not been asked yet."))
    if what in (Shows.SPREAD, Shows.ANSWER):
        _stop_collecting(room)
        RoundEvent.objects.create(round=round, what=what)
    if what == Shows.ANSWER:
        room.rounds.filter(item=round.item).update(answer_shown=True)
    room.shows = what
    _keep(room)


@transaction.atomic
def put_in_quick(room: Room, options: int, key: str | None = None) -> None:
    """A question made up on the spot, spoken, with letters only, asked next. Its key may be said later."""
    _together(room)
    if options not in QUICK_OPTIONS:
        raise DomainError(_("A quick question has 2 to 6 letters."), status=422)
    ids = [chr(ord("a") + n) for n in range(options)]
    content = SingleChoice(
        stem=_("Listen to the question."),
        options=[Option(id=id, text="") for id in ids],
        key=key if key in ids else None,
    )
    ref = uuid4().hex
    room.quick = {**room.quick, ref: content.model_dump(mode="json")}
    step = LessonStep(ref=ref, kind="quick").model_dump()
    room.steps = [*room.steps[: room.place], step, *room.steps[room.place :]]
    _come_to(room, room.place + 1)


@transaction.atomic
def say_quick_key(room: Room, key: str) -> None:
    """Which letter of the quick question that is on was right."""
    _fresh(room)
    step = room.step
    if step is None or step.kind != "quick":
        raise DomainError(_("Only a quick question gets its key here."))
    content = room.quick[step.ref]
    if key not in [option["id"] for option in content["options"]]:
        raise DomainError(_("There is no such letter."), status=422)
    room.quick = {**room.quick, step.ref: {**content, "key": key}}
    _keep(room)


@transaction.atomic
def reorder(room: Room, refs: Sequence[str]) -> None:
    """Another order of the steps; the one that is on stays on."""
    _fresh(room)
    by_ref = {step["ref"]: step for step in room.steps}
    if sorted(refs) != sorted(by_ref):
        raise DomainError(_("The steps have changed meanwhile. Look again."))
    on = room.step
    room.steps = [by_ref[ref] for ref in refs]
    if on is not None:
        room.place = list(refs).index(on.ref) + 1
    _keep(room)


@transaction.atomic
def set_wall(
    room: Room, names: bool | None = None, seconds: int | None = None, names_to_pick: bool | None = None
) -> None:
    """Whether names stand on the wall, how long a round takes from the next one on, and whether students may come in
    by picking their name."""
    _fresh(room)
    if names_to_pick is not None:
        room.names_to_pick = names_to_pick
    if names is not None:
        room.names_on_wall = names
    if seconds is not None:
        room.seconds = min(max(0, seconds), MOST_SECONDS)
    _keep(room)


@transaction.atomic
def open_door(room: Room) -> None:
    """Let the class in: a lesson that was set up ahead, or one that was ended too early."""
    _fresh(room)
    delivery.open_sitting(room.sitting)
    _keep(room)


@transaction.atomic
def let_go(room: Room) -> None:
    """From here on everyone goes through the lesson at their own pace, with what they answered so far."""
    _running(room)
    _stop_collecting(room)
    _set_way(room, Way.ALONE)


@transaction.atomic
def gather(room: Room) -> None:
    """All together again. Who had finished alone takes part again."""
    _running(room)
    room.sitting.seats.filter(state=SeatState.HANDED_IN).update(state=SeatState.WORKING, handed_in_at=None)
    _set_way(room, Way.ROOM)


def _set_way(room: Room, way: Way) -> None:
    room.sitting.way = way
    room.sitting.save(update_fields=["way"])
    _keep(room)
    # Devices show something else altogether now, so they ask anew where they are.
    nudges.sitting_changed(room.sitting_id)


@transaction.atomic
def end(room: Room) -> None:
    """The lesson is over: what was given counts."""
    _fresh(room)
    _stop_collecting(room)
    _keep(room)
    delivery.close_sitting(room.sitting)


def _fresh(room: Room) -> None:
    """The lesson as it stands now that no one else can change it: it was read before this transaction."""
    room.refresh_from_db(
        fields=["steps", "quick", "place", "shows", "names_on_wall", "names_to_pick", "seconds", "practice"]
    )


def _running(room: Room) -> None:
    _fresh(room)
    if room.sitting.state != SittingState.OPEN:
        raise DomainError(_("This lesson is over.") if room.sitting.state in AFTER else _("This lesson is paused."))


def _question(room: Room) -> LessonStep:
    step = room.step
    if step is None or step.kind == "page":
        raise DomainError(_("No question is on the wall."))
    return step


def _together(room: Room) -> None:
    _running(room)
    if room.sitting.way != Way.ROOM:
        raise DomainError(_("Everyone works at their own pace now. Gather the class first."))


def _ask(room: Room, step: LessonStep) -> None:
    now = steady.now()
    number = room.rounds.filter(item=step.ref).count() + 1
    ends = now + timedelta(seconds=room.seconds) if room.seconds else None
    round = Round.objects.create(room=room, item=step.ref, number=number, asked_at=now, ends_at=ends)
    RoundEvent.objects.create(round=round, what="asked")


def _stop_collecting(room: Room) -> None:
    for round in room.rounds.filter(stopped_at=None):
        round.stopped_at = min(steady.now(), round.ends_at) if round.ends_at else steady.now()
        round.save(update_fields=["stopped_at"])
        RoundEvent.objects.create(round=round, what="stopped")


def _keep(room: Room) -> None:
    room.version = uuid4()
    room.save()
    transaction.on_commit(lambda: lesson_changed.send(sender=Room, room=room))
