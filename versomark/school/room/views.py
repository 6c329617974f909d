"""What the wall, a student's device and the teacher's console show of a lesson. The first two are built from what may
be seen, and learn of a key only once the teacher has shown the answer."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from time import time
from typing import Literal

from django.utils import timezone
from ninja import Schema

from versomark.core.editions import PaperItem, Stimulus, TeachingPage, lesson_page, student_paper
from versomark.core.items import EditionContent, ItemResponse
from versomark.core.text import plain
from versomark.school.sittings import nudges, presence
from versomark.school.sittings.models import Seat, SeatState, SittingState
from versomark.school.sittings.services import AFTER

from .answers import (
    Given,
    compared,
    content_of,
    edition_item,
    first_rounds,
    is_right,
    keyed,
    last_rounds,
    right_so_far,
    spread,
    standing,
)
from .models import Room, Round, Shows
from .services import current_round, is_collecting

AWAY = (SeatState.ABSENT, SeatState.EXCUSED)

WallStage = Literal["joining", "page", "question", "spread", "answer", "over"]
StudentStage = Literal["joining", "page", "asking", "stopped", "answer", "over", "paused"]


class SpreadRow(Schema):
    label: str
    text: str
    students: int
    right: bool | None
    """None while the answer is not shown."""


class Wall(Schema):
    """What the projector shows."""

    sitting: int
    title: str
    code: str
    stage: WallStage
    number: int
    of: int
    round: int
    collecting: bool
    inside: int
    """How many have answered."""
    here: int
    asked_at: datetime | None
    ends_at: datetime | None
    now: datetime
    page: TeachingPage | None
    question: PaperItem | None
    stimulus: Stimulus | None
    spread: list[SpreadRow] | None
    right: str
    """The key in words, once the answer is shown."""
    rationale: str
    names: list[str] | None
    """Who has answered, where names may stand on the wall."""


class StudentRoom(Schema):
    """What one student's device shows."""

    stage: StudentStage
    number: int
    of: int
    round_id: int | None
    round: int
    ends_at: datetime | None
    now: datetime
    page: TeachingPage | None
    question: PaperItem | None
    stimulus: Stimulus | None
    response: ItemResponse | None
    right: bool | None
    key: str
    right_so_far: int
    asked_so_far: int


class SeatNow(Schema):
    seat: int
    desk: int
    name: str
    where: str
    """How they are here, or that they are not: “phone, joined”, “connection lost 20 s”."""
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
    wall: Wall
    steps: list[StepLine]
    place: int
    names_on_wall: bool
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
    may_practise: bool
    """Whether simulated students may take the free seats: in the demo school."""


def _questions(room: Room) -> list[str]:
    return [step["ref"] for step in room.steps if step["kind"] != "page"]


_papers: dict[str, dict[str, PaperItem]] = {}
"""By fingerprint of the edition: its questions as students may see them, by ref."""
MOST_PAPERS = 32


def _paper_item(room: Room, ref: str) -> PaperItem:
    """The question with its number in this lesson, as a student may see it."""
    number = _questions(room).index(ref) + 1
    if ref in room.quick:
        shown = content_of(room, ref).for_student()
        return PaperItem(ref=ref, number=number, section=0, item=shown)
    edition = room.sitting.edition
    if edition.fingerprint not in _papers:
        if len(_papers) >= MOST_PAPERS:
            _papers.pop(next(iter(_papers)))
        _papers[edition.fingerprint] = {item.ref: item for item in student_paper(edition.read()).items}
    return _papers[edition.fingerprint][ref].model_copy(update={"number": number})


def _stimulus(room: Room, ref: str) -> Stimulus | None:
    """What is read with the question."""
    item = edition_item(room, ref)
    return room.sitting.edition.read().stimulus_of(item) if item else None


@dataclass(frozen=True)
class Standing:
    """How the question that is on stands, asked of the database once for wall and console."""

    round: Round | None
    seats: list[Seat]
    given: dict[int, Given]


def _standing(room: Room) -> Standing:
    round = current_round(room)
    seats = list(room.sitting.seats.select_related("student").order_by("desk"))
    return Standing(round, seats, standing([round])[round.pk] if round else {})


def wall(room: Room) -> Wall:
    return _wall(room, _standing(room))


def _wall(room: Room, now: Standing) -> Wall:
    step, round, seats, given = room.step, now.round, now.seats, now.given
    content = content_of(room, round.item) if round else None
    answer = room.shows == Shows.ANSWER
    rows = None
    if content is not None and room.shows in (Shows.SPREAD, Shows.ANSWER):
        rows = [
            SpreadRow(label=r.label, text=plain(r.text), students=r.students, right=r.right if answer else None)
            for r in spread(content, given.values())
        ]
    over = room.sitting.state in AFTER
    is_page = step is not None and step.kind == "page"
    return Wall(
        sitting=room.sitting_id,
        title=room.sitting.edition.read().title,
        code=room.sitting.code,
        stage="over" if over else room.shows,  # type: ignore[arg-type]
        number=_questions(room).index(step.ref) + 1 if step and not is_page else 0,
        of=len(_questions(room)),
        round=round.number if round else 0,
        collecting=round is not None and is_collecting(round) and not over,
        inside=len(given),
        here=sum(seat.state in (SeatState.WORKING, SeatState.HANDED_IN) for seat in seats),
        asked_at=round.asked_at if round else None,
        ends_at=round.ends_at if round else None,
        now=timezone.now(),
        page=lesson_page(room.sitting.edition.read(), step.ref) if step and is_page and not over else None,
        question=_paper_item(room, step.ref) if step and not is_page and not over else None,
        stimulus=_stimulus(room, step.ref) if step and not is_page and not over else None,
        spread=rows if not over else None,
        right=content.key_words() if content and answer and keyed(content) else "",
        rationale=content.rationale if content and answer else "",
        names=[seat.student.short_name for seat in seats if seat.pk in given] if room.names_on_wall else None,
    )


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
    step, round = room.step, current_round(room)
    over = room.sitting.state in AFTER
    answer = room.shows == Shows.ANSWER and not over
    content = content_of(room, round.item) if round else None
    is_page = step is not None and step.kind == "page"
    shown = StudentRoom(
        stage="over",
        number=_questions(room).index(step.ref) + 1 if step and not is_page else 0,
        of=len(_questions(room)),
        round_id=round.pk if round else None,
        round=round.number if round else 0,
        ends_at=round.ends_at if round else None,
        now=timezone.now(),
        page=lesson_page(room.sitting.edition.read(), step.ref) if step and is_page and not over else None,
        question=_paper_item(room, step.ref) if step and not is_page and not over else None,
        stimulus=_stimulus(room, step.ref) if step and not is_page and not over else None,
        response=None,
        right=None,
        key=content.key_words() if content and answer and keyed(content) else "",
        right_so_far=0,
        asked_so_far=0,
    )
    last = [one for one in last_rounds(room.rounds.all()) if one.answer_shown]
    if len(_common) >= MOST_LESSONS:
        _common.pop(next(iter(_common)))
    _common[room.pk] = Common(room, round, content, shown, last)
    return _common[room.pk]


def tell(room: Room) -> None:
    """Nudge everybody, and send along what is the same for every student."""
    on = _common_to_all(room)
    stage = _student_stage(room, on.round, room.sitting.state in AFTER)
    shown = on.shown.model_copy(update={"stage": stage, "now": timezone.now()})
    nudges.shown_to_all(room.sitting_id, shown.model_dump(mode="json"))


def student_room(room: Room, seat: Seat) -> StudentRoom:
    on = _common_to_all(room)
    mine = standing([on.round], seat.pk)[on.round.pk].get(seat.pk) if on.round else None
    right, asked = right_so_far(room, on.last, seat.pk).get(seat.pk, (0, 0)) if on.last else (0, 0)
    own = {
        "stage": _student_stage(room, on.round, room.sitting.state in AFTER),
        "now": timezone.now(),
        "response": mine.response if mine else None,
        "right": is_right(on.content, mine.response) if on.content and mine and on.shown.key else None,
        "right_so_far": right,
        "asked_so_far": asked,
    }
    return on.shown.model_copy(update=own)


def _student_stage(room: Room, round: Round | None, over: bool) -> StudentStage:
    if over:
        return "over"
    if room.sitting.state != SittingState.OPEN:
        return "paused"
    if room.shows == Shows.JOINING:
        return "joining"
    if room.shows == Shows.PAGE:
        return "page"
    if room.shows == Shows.ANSWER:
        return "answer"
    return "asking" if round is not None and is_collecting(round) else "stopped"


def console(room: Room) -> Console:
    now = _standing(room)
    round, seats, given = now.round, now.seats, now.given
    rounds = list(room.rounds.all())
    content = content_of(room, round.item) if round else None
    own = [one for one in rounds if round and one.item == round.item]
    offered = {answer.id: answer.letter for answer in content.answers() if answer.offered} if content else {}
    lines = {seat.pk: _seat_now(seat, given.get(seat.pk), content, offered) for seat in seats}
    counts = spread(content, given.values()) if content else []
    letters = [answer.letter for answer in content.answers() if answer.offered] if content else []
    on = _wall(room, now)
    return Console(
        sitting=room.sitting_id,
        title=on.title,
        class_id=room.sitting.school_class_id,
        class_name=room.sitting.school_class.name,
        edition=room.sitting.edition_id,
        state=room.sitting.state,  # type: ignore[arg-type]
        wall=on,
        steps=_steps(room, rounds),
        place=room.place,
        names_on_wall=room.names_on_wall,
        seconds=room.seconds,
        has_key=content is not None and keyed(content),
        letters=letters if content is not None and content.exclusive else [],
        waiting=[lines[s.pk] for s in seats if s.pk not in given and s.state not in AWAY],
        inside=[lines[s.pk] for s in seats if s.pk in given],
        away=[lines[s.pk] for s in seats if s.pk not in given and s.state in AWAY],
        counts=[
            SpreadRow(
                label=r.label,
                text=plain(r.text),
                students=r.students,
                right=r.right if content and keyed(content) else None,
            )
            for r in counts
        ],
        compared=_compared(room, own),
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
            words = "Quick question" if step.kind == "quick" else plain(content_of(room, step.ref).stem)
        shown = any(round.answer_shown for round in own)
        lines.append(StepLine(ref=step.ref, kind=step.kind, words=words[:160], rounds=len(own), shown=shown))
    return lines


def _seat_now(seat: Seat, given: Given | None, content: EditionContent | None, letters: Mapping[str, str]) -> SeatNow:
    said, right = "", None
    if given is not None and content is not None:
        picks = content.picks(given.response)
        said = letters.get(picks[0], "") if content.exclusive and picks else ""
        said = said or content.says(given.response)
        right = is_right(content, given.response) if keyed(content) else None
    return SeatNow(
        seat=seat.pk,
        desk=seat.desk,
        name=seat.student.short_name,
        where=_where(seat),
        said=said[:200],
        source=given.source if given else "",
        right=right,
    )


def _where(seat: Seat) -> str:
    if seat.state in AWAY:
        return seat.state
    if seat.last_seen is None:
        return "here" if seat.state == SeatState.WORKING else "not joined"
    gone = presence.lost_since(seat.pk)
    if gone is None:
        return "device, joined"
    silent = int(time() - gone)
    return f"connection lost {silent} s" if silent < 120 else f"connection lost {silent // 60} min"


def _compared(room: Room, own: Sequence[Round]) -> Compared | None:
    """The first round beside the last, once there are two."""
    if len(own) < 2:
        return None
    found = compared(room, own[0], own[-1])
    return Compared(
        first=own[0].number,
        last=own[-1].number,
        students=found.students,
        right_before=found.right_before,
        right_after=found.right_after,
        gained=found.gained,
        lost=found.lost,
        p=found.p,
        moves=[MoveLine(before=m.before, after=m.after, students=m.students) for m in found.moves],
    )


def _so_far(room: Room, rounds: Sequence[Round]) -> str:
    """The lesson in a sentence: how many questions, how much was right, what asking again did."""
    asked = {round.item for round in rounds}
    if not asked:
        return ""
    marks = right_so_far(room, first_rounds(rounds)).values()
    right, answered = sum(one for one, _ in marks), sum(all for _, all in marks)
    words = f"{len(asked)} asked" + (f", {right / answered:.0%} right" if answered else "") + "."
    order = _questions(room)
    for item in asked:
        own = [round for round in rounds if round.item == item]
        if len(own) > 1 and own[-1].answer_shown and keyed(content_of(room, item)):
            moved = compared(room, own[0], own[-1])
            words += (
                f" On question {order.index(item) + 1}, asking again moved the class from {moved.right_before}"
                f" to {moved.right_after} right of {moved.students}."
            )
    return words
