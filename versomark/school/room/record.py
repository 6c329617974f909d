"""A lesson afterwards: every round of every question, who took part and who dropped out, other classes beside it."""

from collections.abc import Mapping, Sequence
from datetime import datetime

import numpy as np
from ninja import Schema

from versomark.core.items import EditionContent
from versomark.core.language import _
from versomark.core.stats import taking_part
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import may
from versomark.school.delivery.public import Seat, SeatState

from .answers import Given, content_of, in_short, is_right, keyed, spread, standing
from .console import Compared, compared_rounds
from .models import Room, Round
from .shown import questions_of
from .wall import SpreadRow, spread_rows

MOST_BESIDE = 8


class RoundRecord(Schema):
    number: int
    asked_at: datetime
    collected: list[str]
    """What was done with it, in the order of time: asked, stopped, reopened, stopped …"""
    answered: int
    right: int | None
    """None where right and wrong cannot be told."""
    spread: list[SpreadRow]


class QuestionRecord(Schema):
    ref: str
    number: int
    words: str
    quick: bool
    rounds: list[RoundRecord]
    compared: Compared | None
    """The first round beside the last, where there are two."""


class Cell(Schema):
    said: str
    """In short; empty where nothing was given."""
    right: bool | None


class StudentRecord(Schema):
    seat: int
    desk: int
    name: str
    away: bool
    """Whether they were not in the lesson."""
    cells: list[Cell]
    """A cell a round, in the order of the questions and of the rounds of each."""
    answered: int
    came_late: bool
    dropped_after: str
    """The last question they answered, where they answered nothing in the last two rounds or more; else empty."""


class ClassBeside(Schema):
    """Another lesson of the same edition."""

    sitting: int
    class_name: str
    held: datetime | None
    shares: dict[str, list[float | None]]
    """ref -> share right in the first round and in the last; the second is null where there was one round only."""


class Record(Schema):
    sitting: int
    title: str
    class_id: int
    class_name: str
    edition: int
    held: datetime | None
    over: bool
    came: int
    of: int
    questions: list[QuestionRecord]
    students: list[StudentRecord]
    dropped: int
    shares: dict[str, list[float | None]]
    beside: list[ClassBeside]


def record(teacher: Teacher, room: Room) -> Record:
    seats = list(room.sitting.seats.select_related("student").order_by("desk"))
    asked = _asked_rounds(room)
    given = standing([round for rounds in asked.values() for round in rounds])
    questions = [
        _question(room, number, ref, rounds, given)
        for number, ref in enumerate(questions_of(room), start=1)
        if (rounds := asked.get(ref))
    ]
    students = _students(seats, room, asked, given)
    sitting = room.sitting
    return Record(
        sitting=sitting.pk,
        title=sitting.edition.content["title"],
        class_id=sitting.school_class_id,
        class_name=sitting.school_class.name,
        edition=sitting.edition_id,
        held=sitting.opened_at,
        over=sitting.closed_at is not None,
        came=sum(student.answered > 0 for student in students),
        of=len(seats),
        questions=questions,
        students=students,
        dropped=sum(bool(student.dropped_after) for student in students),
        shares=_shares(questions),
        beside=_beside(teacher, room),
    )


def _asked_rounds(room: Room) -> dict[str, list[Round]]:
    """ref -> its rounds, of what was asked, in the order of the lesson."""
    results: dict[str, list[Round]] = {}
    for round in room.rounds.prefetch_related("events"):
        results.setdefault(round.item, []).append(round)
    return {ref: results[ref] for ref in questions_of(room) if ref in results}


def _question(
    room: Room, number: int, ref: str, rounds: Sequence[Round], given: Mapping[int, Mapping[int, Given]]
) -> QuestionRecord:
    content = content_of(room, ref)
    can_tell = keyed(content)
    return QuestionRecord(
        ref=ref,
        number=number,
        words="" if ref in room.quick else plain(content.stem)[:160],
        quick=ref in room.quick,
        rounds=[
            RoundRecord(
                number=round.number,
                asked_at=round.asked_at,
                collected=[event.what for event in round.events.all()],
                answered=len(given[round.pk]),
                right=_right(content, given[round.pk]) if can_tell else None,
                spread=spread_rows(spread(content, given[round.pk].values()), with_key=can_tell),
            )
            for round in rounds
        ],
        compared=compared_rounds(room, rounds),
    )


def _right(content: EditionContent, given: Mapping[int, Given]) -> int:
    return sum(is_right(content, entry.response) for entry in given.values())


def _students(
    seats: Sequence[Seat],
    room: Room,
    asked: Mapping[str, Sequence[Round]],
    given: Mapping[int, Mapping[int, Given]],
) -> list[StudentRecord]:
    columns = [(ref, round) for ref, rounds in asked.items() for round in rounds]
    # Who drops out does so along the lesson as it was held, whatever order it stands in now.
    by_time = sorted(range(len(columns)), key=lambda at: columns[at][1].pk)
    answered = np.array([[seat.pk in given[round.pk] for _, round in columns] for seat in seats], bool)
    part = taking_part(answered.reshape(len(seats), len(columns))[:, by_time])
    numbers = {ref: number for number, ref in enumerate(questions_of(room), start=1)}
    contents = {ref: content_of(room, ref) for ref in asked}
    last_asked = [numbers[columns[at][0]] for at in by_time]
    return [
        StudentRecord(
            seat=seat.pk,
            desk=seat.desk,
            name=seat.student.short_name,
            away=seat.state not in (SeatState.WORKING, SeatState.PAUSED, SeatState.HANDED_IN),
            cells=[_cell(contents[ref], given[round.pk].get(seat.pk)) for ref, round in columns],
            answered=int(part.answered[at]),
            came_late=bool(part.late[at]),
            dropped_after=_("question {last_asked}", last_asked=last_asked[part.last[at]]) if part.dropped[at] else "",
        )
        for at, seat in enumerate(seats)
    ]


def _cell(content: EditionContent, given: Given | None) -> Cell:
    if given is None:
        return Cell(said="", right=None)
    return Cell(said=in_short(content, given)[:60], right=is_right(content, given.response) if keyed(content) else None)


def _shares(questions: Sequence[QuestionRecord]) -> dict[str, list[float | None]]:
    def share(round: RoundRecord) -> float | None:
        return round.right / round.answered if round.answered and round.right is not None else None

    return {
        question.ref: [share(question.rounds[0]), share(question.rounds[-1]) if len(question.rounds) > 1 else None]
        for question in questions
    }


def _beside(teacher: Teacher, room: Room) -> list[ClassBeside]:
    """Other lessons of the same edition that the teacher may see, the latest first."""
    mine = Room.objects.filter(sitting__owner=teacher) | Room.objects.filter(
        may(teacher, "see", "sitting__school_class__")
    )
    others = mine.filter(sitting__edition=room.sitting.edition_id).exclude(pk=room.pk)
    others = others.select_related("sitting__edition", "sitting__school_class").distinct().order_by("-pk")
    class_besides: list[ClassBeside] = []
    for other in others[: 4 * MOST_BESIDE]:
        asked = _asked_rounds(other)
        if not asked or len(class_besides) == MOST_BESIDE:
            continue
        given = standing([round for rounds in asked.values() for round in rounds])
        questions = [_question(other, 0, ref, rounds, given) for ref, rounds in asked.items() if ref not in other.quick]
        class_besides.append(
            ClassBeside(
                sitting=other.sitting_id,
                class_name=other.sitting.school_class.name,
                held=other.sitting.opened_at,
                shares=_shares(questions),
            )
        )
    return class_besides
