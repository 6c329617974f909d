"""What one student's device shows of a lesson, and what all of them are told at the same moment."""

from dataclasses import dataclass
from typing import Literal

from versomark.core.items import EditionContent, ItemResponse
from versomark.school.delivery.public import AFTER, BEFORE, Seat, SittingState, nudges, steady

from .answers import content_of, is_right, keyed, last_rounds, right_so_far, standing
from .models import Room, Round, Shows
from .services import current_round, is_collecting
from .shown import Shown, shown

StudentStage = Literal["joining", "page", "asking", "stopped", "answer", "over", "paused"]


class StudentRoom(Shown):
    """The step that is on, and this student's own part in it."""

    stage: StudentStage
    round_id: int | None
    response: ItemResponse | None
    right: bool | None
    key: str
    """In words, once the answer is shown."""
    right_so_far: int
    asked_so_far: int


@dataclass(frozen=True)
class Common:
    """What is the same for every student while the lesson does not move."""

    room: Room
    round: Round | None
    content: EditionContent | None
    shown: StudentRoom
    last: list[Round]


_common: dict[int, Common] = {}
"""By lesson: three hundred devices ask at the same moment."""
MOST_LESSONS = 64


def _common_to_all(room: Room) -> Common:
    known = _common.get(room.pk)
    if known is not None and known.room.version == room.version and known.room.sitting.state == room.sitting.state:
        return known
    round = current_round(room)
    content = content_of(room, round.item) if round else None
    answer = room.shows == Shows.ANSWER and room.sitting.state not in AFTER
    on = StudentRoom(
        **dict(shown(room, round)),
        stage="over",
        round_id=round.pk if round else None,
        response=None,
        right=None,
        key=content.key_words() if content and answer and keyed(content) else "",
        right_so_far=0,
        asked_so_far=0,
    )
    last = [one for one in last_rounds(room.rounds.all()) if one.answer_shown]
    if len(_common) >= MOST_LESSONS:
        _common.pop(next(iter(_common)))
    _common[room.pk] = Common(room, round, content, on, last)
    return _common[room.pk]


def tell(room: Room, **signal: object) -> None:
    """Nudge everybody, and send along what is the same for every student."""
    on = _common_to_all(room)
    now = {"stage": _stage(room, on.round), "now": steady.now()}
    nudges.shown_to_all(room.sitting_id, on.shown.model_copy(update=now).model_dump(mode="json"))


def student_room(room: Room, seat: Seat) -> StudentRoom:
    on = _common_to_all(room)
    mine = standing([on.round], seat.pk)[on.round.pk].get(seat.pk) if on.round else None
    right, asked = right_so_far(room, on.last, seat.pk).get(seat.pk, (0, 0)) if on.last else (0, 0)
    own = {
        "stage": _stage(room, on.round),
        "now": steady.now(),
        "response": mine.response if mine else None,
        "right": is_right(on.content, mine.response) if on.content and mine and on.shown.key else None,
        "right_so_far": right,
        "asked_so_far": asked,
    }
    return on.shown.model_copy(update=own)


def _stage(room: Room, round: Round | None) -> StudentStage:
    if room.sitting.state in AFTER:
        return "over"
    if room.sitting.state in BEFORE or room.shows == Shows.JOINING:
        return "joining"
    if room.sitting.state != SittingState.OPEN:
        return "paused"
    if room.shows == Shows.PAGE:
        return "page"
    if room.shows == Shows.ANSWER:
        return "answer"
    return "asking" if round is not None and is_collecting(round) else "stopped"
