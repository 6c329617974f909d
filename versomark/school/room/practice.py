"""A practice class, in the demo school: simulated students come in and answer, so that a teacher can rehearse alone.

They answer as the demo's model of a class has it, each through the same function as a real device, a while after the
question is asked. Between rounds they talk: a second round finds them somewhat more able.
"""

import threading
import time
from typing import NamedTuple
from zlib import crc32

import numpy as np
from django.db import close_old_connections, transaction

from versomark.core.items import ItemResponse
from versomark.school.problems import NotPossible
from versomark.school.sittings.models import SeatState
from versomark.school.sittings.seats import begin
from versomark.stand_ins.answers_of_any_kind import respond

from .answers import content_of, give
from .models import Room, Round
from .services import is_collecting

SECONDS = 9.0
"""Over which a practice class answers."""
TALK = 0.9
"""How much more able talk makes them, on the scale of their ability (standard deviation 1)."""
STAY_AWAY = 0.08
"""Share of the class that does not come."""


class Soon(NamedTuple):
    """What a simulated student will give, and when: seconds after the question was asked."""

    after: float
    seat: int
    response: ItemResponse


@transaction.atomic
def bring_in_class(room: Room) -> None:
    """Simulated students take the seats that nobody has taken, and answer from then on."""
    if not room.sitting.owner.school.is_demo:
        raise NotPossible("A practice class comes to the demo school only.", status=403)
    room.refresh_from_db(fields=["practice"])
    waiting = room.sitting.seats.filter(state=SeatState.EXPECTED).select_related("sitting")
    coming = [seat for seat in waiting if _random(room, seat.pk).random() >= STAY_AWAY]
    for seat in coming:
        begin(seat)
    room.practice = [*room.practice, *(seat.pk for seat in coming)]
    room.save(update_fields=["practice"])
    transaction.on_commit(lambda: answer_soon(room))


def answers_of(round: Round) -> list[Soon]:
    """What the practice class gives in a round, in the order of time. The same round gives the same."""
    room = round.room
    content = content_of(room, round.item)
    found = []
    for seat in room.practice:
        ability = float(_random(room, seat).normal(0, 1)) + TALK * (round.number - 1)
        rng = _random(room, seat, round.item, str(round.number))
        response = respond(content, ability, 0.0, rng)
        if response is not None:
            found.append(Soon(float(rng.uniform(0.5, SECONDS)), seat, response))
    return sorted(found)


def answer_soon(room: Room) -> None:
    """Have the practice class answer what is asked now, in the background; nothing where there is none."""
    step = room.step
    round = room.rounds.filter(item=step.ref).last() if step and room.practice else None
    if round is not None and is_collecting(round) and not round.answers.exists():
        threading.Thread(target=_answer, args=(round.pk,), daemon=True).start()


def _answer(round_id: int) -> None:
    try:
        round = Round.objects.select_related("room__sitting__edition").get(pk=round_id)
        begun = time.monotonic()
        for soon in answers_of(round):
            time.sleep(max(0.0, begun + soon.after - time.monotonic()))
            give(round_id, soon.seat, soon.response)
    except NotPossible:
        pass  # the teacher has stopped, or gone on
    finally:
        close_old_connections()


def _random(room: Room, seat: int, *more: str) -> np.random.Generator:
    return np.random.default_rng(crc32(" ".join([room.sitting.code, str(seat), *more]).encode()))
