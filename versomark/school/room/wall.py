"""The wall: what the projector shows. It learns of a key only once the teacher has shown the answer."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ninja import Schema

from versomark.core.text import plain
from versomark.school.delivery.public import AFTER, Seat, SeatState, Way

from .answers import Given, SpreadLine, content_of, keyed, spread, standing
from .models import Room, Round, Shows
from .services import current_round, is_collecting
from .shown import Shown, shown

HERE = (SeatState.WORKING, SeatState.HANDED_IN)
WallStage = Literal["joining", "page", "question", "spread", "answer", "alone", "over"]


class SpreadRow(Schema):
    label: str
    text: str
    students: int
    right: bool | None
    """None while the answer is not shown."""


class Wall(Shown):
    sitting: int
    title: str
    code: str
    stage: WallStage
    collecting: bool
    inside: int
    """How many have answered."""
    here: int
    done: int
    """How many have handed in, where everyone goes at their own pace."""
    asked_at: datetime | None
    spread: list[SpreadRow] | None
    right: str
    """The key in words, once the answer is shown."""
    rationale: str
    names: list[str] | None
    """Who has answered, where names may stand on the wall."""


@dataclass(frozen=True)
class Standing:
    """How the question that is on stands, asked of the database once for wall and console."""

    round: Round | None
    seats: list[Seat]
    given: dict[int, Given]


def standing_now(room: Room) -> Standing:
    round = current_round(room)
    seats = list(room.sitting.seats.select_related("student").order_by("desk"))
    return Standing(round, seats, standing([round])[round.pk] if round else {})


def spread_rows(lines: Iterable[SpreadLine], with_key: bool) -> list[SpreadRow]:
    return [
        SpreadRow(
            label=line.label, text=plain(line.text), students=line.students, right=line.right if with_key else None
        )
        for line in lines
    ]


def wall(room: Room, now: Standing | None = None) -> Wall:
    """The wall as it is; `now` where it has been asked for already."""
    now = now or standing_now(room)
    round, given = now.round, now.given
    over, alone = room.sitting.state in AFTER, room.sitting.way == Way.ALONE
    content = content_of(room, round.item) if round and not over and not alone else None
    answer = room.shows == Shows.ANSWER
    counted = content is not None and room.shows in (Shows.SPREAD, Shows.ANSWER)
    return Wall(
        **dict(shown(room, round)),
        sitting=room.sitting_id,
        title=room.sitting.edition.read().title,
        code=room.sitting.code,
        stage="over" if over else "alone" if alone else room.shows,  # type: ignore[arg-type]
        collecting=round is not None and is_collecting(round) and not over,
        inside=len(given),
        done=sum(seat.state == SeatState.HANDED_IN for seat in now.seats),
        here=sum(seat.state in HERE for seat in now.seats),
        asked_at=round.asked_at if round else None,
        spread=spread_rows(spread(content, given.values()), answer) if content and counted else None,
        right=content.key_words() if content and answer and keyed(content) else "",
        rationale=content.rationale if content and answer else "",
        names=[seat.student.short_name for seat in now.seats if seat.pk in given] if room.names_on_wall else None,
    )
