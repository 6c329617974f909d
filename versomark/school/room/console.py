"""The teacher's console of a lesson: who is in, how the question stands, the steps, and the lesson in a sentence."""

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from time import time
from typing import Literal, NamedTuple

from ninja import Schema

from versomark.core.editions import lesson_page
from versomark.core.items import EditionContent
from versomark.core.language import _, in_figures
from versomark.core.text import plain
from versomark.school.delivery.public import BEFORE, Seat, SeatState, Way, missing, presence, watched
from versomark.school.delivery.schemas import SeatLine, seat_line

from .answers import Given, compared, content_of, first_rounds, is_right, keyed, right_so_far, spread
from .cards import AWAY, card_letters, doubts_in_words
from .models import Room, Round
from .pads import LOW, SILENT, PadAt, pads_at
from .shown import questions_of
from .wall import SpreadRow, Wall, spread_rows, standing_now, wall

NOT_JOINED = "not joined"


class Where(NamedTuple):
    words: str
    trouble: bool = False


class SeatNow(Schema):
    seat: int
    desk: int
    name: str
    where: str
    """How they are here, or that they are not: “device, joined”, “connection lost 20 s”, “pad 7”."""
    trouble: bool
    """Whether what `where` says wants the teacher's eye."""
    said: str
    """Their answer, for the teacher alone; empty where none is in."""
    source: str
    right: bool | None


class StepLine(Schema):
    ref: str
    kind: Literal["page", "question", "quick"]
    words: str
    rounds: int
    shown: bool


class MoveLine(Schema):
    before: str
    after: str
    students: int


class Compared(Schema):
    """Two rounds of the question that is on."""

    first: int
    last: int
    students: int
    right_before: int
    right_after: int
    gained: int
    lost: int
    p: float | None
    moves: list[MoveLine]


class Console(Schema):
    sitting: int
    title: str
    class_id: int
    class_name: str
    edition: int
    state: Literal["planned", "ready", "open", "paused", "closed", "released"]
    alone: bool
    """Whether everyone goes through it at their own pace now."""
    planned_for: datetime | None
    missing: list[str]
    """What keeps a lesson that was set up ahead from being ready."""
    questions: int
    progress: list[SeatLine]
    """How far each is, where they go at their own pace."""
    wall: Wall
    steps: list[StepLine]
    place: int
    names_on_wall: bool
    names_to_pick: bool
    pads_on: int
    """Pads that are heard."""
    cards_fit: bool
    """Whether the question that is on can be answered with a folded card."""
    seconds: int
    has_key: bool
    letters: list[str]
    """What can be answered for someone by letter."""
    waiting: list[SeatNow]
    inside: list[SeatNow]
    away: list[SeatNow]
    counts: list[SpreadRow]
    """The spread with its key, for the teacher alone."""
    compared: Compared | None
    so_far: str
    practice_by_card: bool
    """Whether simulated students hold up cards, before a camera that is simulated too."""
    may_practise: bool
    """Whether simulated students may take the free seats: in the demo school."""


def console(room: Room) -> Console:
    now = standing_now(room)
    round, seats, given = now.round, now.seats, now.given
    rounds = list(room.rounds.all())
    content = content_of(room, round.item) if round else None
    own = [round_before for round_before in rounds if round and round_before.item == round.item]
    offered = {answer.id: answer.letter for answer in content.answers() if answer.offered} if content else {}
    at_desk, doubts = pads_at(room), doubts_in_words(round) if round else {}
    lines = {
        seat.pk: _seat_now(
            seat, given.get(seat.pk), content, offered, _where(seat, at_desk.get(seat.desk), doubts.get(seat.desk))
        )
        for seat in seats
    }
    counts = spread(content, given.values()) if content else []
    letters = [answer.letter for answer in content.answers() if answer.offered] if content else []
    on = wall(room, now)
    return Console(
        sitting=room.sitting_id,
        title=on.title,
        class_id=room.sitting.school_class_id,
        class_name=room.sitting.school_class.name,
        edition=room.sitting.edition_id,
        state=room.sitting.state,  # type: ignore[arg-type]
        alone=room.sitting.way == Way.ALONE,
        planned_for=room.sitting.planned_for,
        missing=missing(room.sitting) if room.sitting.state in BEFORE else [],
        questions=sum(1 for _ in room.sitting.edition.read().items()),
        progress=[seat_line(line) for line in watched(room.sitting)] if room.sitting.way == Way.ALONE else [],
        wall=on,
        steps=_steps(room, rounds),
        place=room.place,
        names_on_wall=room.names_on_wall,
        names_to_pick=room.names_to_pick,
        pads_on=sum(pad.silent < SILENT for pad in at_desk.values()),
        cards_fit=content is not None and card_letters(content) is not None,
        practice_by_card="card" in room.practice.values(),
        seconds=room.seconds,
        has_key=content is not None and keyed(content),
        letters=letters if content is not None and content.exclusive else [],
        waiting=[lines[s.pk] for s in seats if s.pk not in given and s.state not in AWAY],
        inside=[lines[s.pk] for s in seats if s.pk in given],
        away=[lines[s.pk] for s in seats if s.pk not in given and s.state in AWAY],
        counts=spread_rows(counts, with_key=content is not None and keyed(content)),
        compared=compared_rounds(room, own),
        so_far=_so_far(room, rounds),
        may_practise=room.sitting.owner.school.is_demo and not room.practice,
    )


def _steps(room: Room, rounds: Sequence[Round]) -> list[StepLine]:
    edition = room.sitting.edition.read()
    lines = []
    for step in room.read_steps():
        own = [round for round in rounds if round.item == step.ref]
        if step.kind == "page":
            page = lesson_page(edition, step.ref)
            words = (page.title or plain(page.body)) if page else ""
        else:
            words = _("Quick question") if step.kind == "quick" else plain(content_of(room, step.ref).stem)
        shown = any(round.answer_shown for round in own)
        lines.append(StepLine(ref=step.ref, kind=step.kind, words=words[:160], rounds=len(own), shown=shown))
    return lines


def _seat_now(
    seat: Seat, given: Given | None, content: EditionContent | None, letters: Mapping[str, str], where: Where
) -> SeatNow:
    letter, right = "", None
    if given is not None and content is not None:
        picks = content.picks(given.response)
        letter = letters.get(picks[0], "") if content.exclusive and picks else ""
        letter = letter or content.says(given.response)
        right = is_right(content, given.response) if keyed(content) else None
    return SeatNow(
        seat=seat.pk,
        desk=seat.desk,
        name=seat.student.short_name,
        where=where.words,
        trouble=where.trouble,
        said=letter[:200],
        source=given.source if given else "",
        right=right,
    )


def _where(seat: Seat, pad: PadAt | None, doubt: str | None) -> Where:
    if doubt is not None:
        return Where(doubt, trouble=True)
    if seat.state in AWAY:
        return Where(seat.state)
    if seat.last_seen is None:
        if pad is not None and seat.state != SeatState.EXPECTED:
            return _pad_words(pad)
        return Where("here" if seat.state == SeatState.WORKING else NOT_JOINED)
    gone = presence.lost_since(seat.pk)
    if gone is None:
        return Where(_("device, joined"))
    return Where(_("connection lost {since}", since=_since(timedelta(seconds=time() - gone))), trouble=True)


def _pad_words(pad: PadAt) -> Where:
    if pad.silent >= SILENT:
        return Where(
            _("pad {number}, last heard {since} ago", number=pad.number, since=_since(pad.silent)), trouble=True
        )
    if pad.battery is not None and pad.battery <= LOW:
        return Where(_("pad {number}, battery {battery}%", number=pad.number, battery=pad.battery), trouble=True)
    return Where(_("pad {number}", number=pad.number))


def _since(time: timedelta) -> str:
    seconds = int(time.total_seconds())
    return f"{seconds} s" if seconds < 120 else _("{minutes} min", minutes=seconds // 60)


def compared_rounds(room: Room, own: Sequence[Round]) -> Compared | None:
    """The first round beside the last, once there are two."""
    if len(own) < 2:
        return None
    result = compared(room, own[0], own[-1])
    return Compared(
        first=own[0].number,
        last=own[-1].number,
        students=result.students,
        right_before=result.right_before,
        right_after=result.right_after,
        gained=result.gained,
        lost=result.lost,
        p=result.p,
        moves=[MoveLine(before=m.before, after=m.after, students=m.students) for m in result.moves],
    )


def _so_far(room: Room, rounds: Sequence[Round]) -> str:
    """The lesson in a sentence: how many questions, how much was right, what asking again did."""
    asked = {round.item for round in rounds}
    if not asked:
        return ""
    marks = right_so_far(room, first_rounds(rounds)).values()
    right, answered = sum(right_count for right_count, _ in marks), sum(all for _, all in marks)
    words = (
        _("{count} asked", count=len(asked))
        + (_(", {value} right", value=in_figures(right / answered, ".0%")) if answered else "")
        + "."
    )
    for number, item in enumerate(questions_of(room), start=1):
        own = [round for round in rounds if round.item == item]
        if len(own) > 1 and own[-1].answer_shown and keyed(content_of(room, item)):
            moved = compared(room, own[0], own[-1])
            words += _(
                " On question {number}, asking again moved the class from {right_before} to {right_after} "
                "right of {students}.",
                number=number,
                right_before=moved.right_before,
                right_after=moved.right_after,
                students=moved.students,
            )
    return words
