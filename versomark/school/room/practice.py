"""A practice class, in the demo school: simulated students come in and answer, so that a teacher can rehearse alone.

They answer as the demo's model of a class has it, a while after the question is asked: on devices through the same
function as a real one, with pads through a simulated receiver at the real port, with cards before the practice camera.
Between rounds they talk: a second round finds them somewhat more able.
"""

import threading
import time
from contextlib import suppress
from itertools import cycle
from typing import Literal, NamedTuple, get_args
from uuid import uuid4
from zlib import crc32

import numpy as np
from django.db import close_old_connections, transaction
from django.utils import timezone

from versomark.core.editions import EditionItem
from versomark.core.formats.pad_lines import Asking
from versomark.core.items import ItemResponse
from versomark.core.language import _
from versomark.core.sheets.cards import LETTERS
from versomark.school.delivery.public import Seat, SeatState, SittingState, Way, begin, hand_in
from versomark.school.errors import DomainError
from versomark.school.responses.public import Change, current_answers, keep_answers
from versomark.stand_ins.answers_of_any_kind import respond
from versomark.stand_ins.camera import Classroom
from versomark.stand_ins.pads import PadPress, Receiver

from . import pad_port
from .answers import content_of, give
from .cards import card_letters
from .models import Room, Round
from .pads import receiver_of
from .services import current_round, is_collecting

By = Literal["device", "pad", "card"]
SECONDS = 9.0
"""Over which a practice class answers."""
TALK = 0.9
"""How much more able talk makes them, on the scale of their ability (standard deviation 1)."""
PICTURE = (1280, 720)
"""Pixels of the practice camera, across and down."""
STAY_AWAY = 0.08
"""Share of the class that does not come."""


class Soon(NamedTuple):
    """What a simulated student will give, and when: seconds after the question was asked."""

    after: float
    seat: int
    response: ItemResponse


@transaction.atomic
def bring_in_class(room: Room, by: By | Literal["each"]) -> None:
    """Simulated students take the seats that nobody has taken, and answer from then on: all by the same means, or a
    third of them by each."""
    if not room.sitting.owner.school.is_demo:
        raise DomainError(_("A practice class comes to the demo school only."), status=403)
    if by in ("pad", "each") and pad_port.address() is None:
        raise DomainError(_("Pads cannot be heard: another program uses their port."))
    room.refresh_from_db(fields=["practice"])
    waiting = room.sitting.seats.filter(state=SeatState.EXPECTED).select_related("sitting").order_by("desk")
    coming = [seat for seat in waiting if _random(room, seat.pk).random() >= STAY_AWAY]
    means = cycle(get_args(By) if by == "each" else [by])
    taken = dict(zip((seat.pk for seat in coming), means, strict=False))
    for seat in coming:
        if taken[seat.pk] == "device":
            begin(seat)
    room.practice = {**room.practice, **{str(seat): how for seat, how in taken.items()}}
    room.save(update_fields=["practice"])
    transaction.on_commit(lambda: _come_in(room))


def _come_in(room: Room) -> None:
    if seats_by(room, "pad"):
        threading.Thread(target=_press, args=(room.pk,), daemon=True).start()
    answer_soon(room)


def seats_by(room: Room, by: By) -> list[int]:
    """The seats of the practice class that answer so."""
    return [int(seat) for seat, how in room.practice.items() if how == by]


def answers_of(round: Round, by: By) -> list[Soon]:
    """What the practice class gives in a round, in the order of time. The same round gives the same."""
    room = round.room
    content = content_of(room, round.item)
    coming = []
    for seat in seats_by(room, by):
        ability = float(_random(room, seat).normal(0, 1)) + TALK * (round.number - 1)
        rng = _random(room, seat, round.item, str(round.number))
        response = respond(content, ability, 0.0, rng)
        if response is not None:
            coming.append(Soon(float(rng.uniform(0.5, SECONDS)), seat, response))
    return sorted(coming)


def answer_soon(room: Room, **signal: object) -> None:
    """Have those with devices answer what is asked now, in the background; nothing where there are none."""
    if room.sitting.way == Way.ALONE and seats_by(room, "device") and room.pk not in _going_on:
        _going_on.add(room.pk)
        threading.Thread(target=_go_on_alone, args=(room.pk,), daemon=True).start()
    step = room.step
    round = room.rounds.filter(item=step.ref).last() if step and seats_by(room, "device") else None
    if round is not None and is_collecting(round) and not round.answers.filter(source="device").exists():
        threading.Thread(target=_answer, args=(round.pk,), daemon=True).start()


def _answer(round_id: int) -> None:
    try:
        round = Round.objects.select_related("room__sitting__edition").get(pk=round_id)
        begun = time.monotonic()
        for soon in answers_of(round, "device"):
            time.sleep(max(0.0, begun + soon.after - time.monotonic()))
            give(round_id, soon.seat, soon.response)
    except DomainError:
        pass  # the teacher has stopped, or gone on
    finally:
        close_old_connections()


_going_on: set[int] = set()
"""Lessons in which a practice class works at its own pace now."""


def _go_on_alone(room_id: int) -> None:
    """Each with a device answers what they have not answered yet, question by question, and hands in."""
    try:
        room = Room.objects.select_related("sitting__edition", "sitting__owner").get(pk=room_id)
        items = list(room.sitting.edition.read().items())
        for item in items:
            for seat in seats_by(room, "device"):
                rng = _random(room, seat, item.ref, "alone")
                time.sleep(SECONDS / len(room.practice) * rng.random())
                _answer_alone(seat, item, float(_random(room, seat).normal(0, 1)), rng)
        for seat in seats_by(room, "device"):
            hand_in(seat)
    except DomainError:
        pass  # all together again, or the lesson is over
    finally:
        _going_on.discard(room_id)
        close_old_connections()


def _answer_alone(seat_id: int, item: EditionItem, ability: float, rng: np.random.Generator) -> None:
    seat = Seat.objects.get(pk=seat_id)
    given = current_answers(seat)
    response = respond(item.content, ability, 0.0, rng)
    if response is not None and not any(answer.item == item.ref and answer.response for answer in given):
        number = max((answer.sequence for answer in given), default=0) + 1
        keep_answers(seat_id, [Change(uuid4(), number, item.ref, response, False)])


def _press(room_id: int) -> None:
    """A receiver with the pads of those who have one, until the lesson is over or the service stops."""
    room = Room.objects.select_related("sitting__owner").get(pk=room_id)
    seats = dict(room.sitting.seats.filter(pk__in=seats_by(room, "pad")).values_list("pk", "desk"))
    address = pad_port.address()
    if address is None:
        return

    def presses(asking: Asking) -> list[PadPress]:
        round = Round.objects.select_related("room__sitting__edition").get(pk=asking.round)
        content = content_of(round.room, round.item)
        mine = answers_of(round, "pad") if round.room_id == room_id else []
        return [PadPress(soon.after, seats[soon.seat], content.to_sheet(soon.response)) for soon in mine]

    def going() -> bool:
        return Room.objects.filter(pk=room_id, sitting__state__in=[SittingState.OPEN, SittingState.PAUSED]).exists()

    with suppress(ConnectionError):
        receiver = Receiver(*address, receiver_of(room.sitting.owner).key, list(seats.values()), "practice")
        try:
            receiver.run(presses, going)
        finally:
            receiver.close()
            close_old_connections()


def picture_of_class(room: Room, at: int) -> bytes:
    """What a camera sees of those with cards, as JPEG: who has made up their mind holds the card up."""
    seats = seats_by(room, "card")
    if not seats:
        raise DomainError(_("No practice class with cards is here."))
    desks = dict(room.sitting.seats.filter(pk__in=seats).values_list("pk", "desk"))
    round = current_round(room)
    showing: dict[int, str] = {}
    if round is not None and is_collecting(round):
        content = content_of(round.room, round.item)
        letters = card_letters(content)
        since = (timezone.now() - round.asked_at).total_seconds()
        for soon in answers_of(round, "card") if letters else []:
            if letters and soon.after <= since:
                showing[desks[soon.seat]] = LETTERS[letters.index(content.to_sheet(soon.response))]
    return Classroom(sorted(desks.values()), seed=room.pk).frame(showing, *PICTURE, at=at)


def _random(room: Room, seat: int, *more: str) -> np.random.Generator:
    return np.random.default_rng(crc32(" ".join([room.sitting.code, str(seat), *more]).encode()))
