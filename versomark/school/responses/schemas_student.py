"""What a student’s device is sent. Built from what a student may see; knows no other field."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from ninja import Field, Schema

from versomark.core.editions import StudentPaper
from versomark.core.items import ItemResponse
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import AFTER, Seat, SittingState, Way, is_marks_only, tokens

from . import attempts
from .services import current_answers

Stage = Literal[
    "waiting", "at the door", "working", "paused", "handed in", "closed", "locked", "elsewhere", "sent back"
]


class KeptAnswer(Schema):
    item: str
    response: ItemResponse | None
    come_back: bool


class StudentNeeds(Schema):
    """What this student needs on any screen, as the class list has it."""

    large_print: bool
    ground: Literal["", "cream", "blue", "green", "rose"]
    read_aloud: bool
    quiet_start: bool
    alone_on_page: bool
    large_targets: bool
    language: str
    """Of their pages; empty where it is the school's, or what this browser has chosen."""


class StudentRules(Schema):
    """What this student may do here."""

    all_at_once: bool
    going_back: bool
    take_back: bool
    aids: list[str]
    formula_sheet: str
    attempts_left: int
    """After the one that was handed in."""


class SeatPage(Schema):
    """Everything a student's device needs to show where they are."""

    seat: int
    student: str
    needs: StudentNeeds
    title: str
    language: str
    """In which the test is written."""
    marks_only: bool
    """Whether it is marks that are entered, of a test given elsewhere."""
    stage: Stage
    own_page: str
    """The link to the student's own page, where a result is read; empty while they are at work."""
    released: bool
    """Whether results of this sitting are released to everybody."""
    in_the_room: bool
    """Whether the teacher asks question by question; then there is no paper, and `/room` says what is on."""
    closes_at: datetime | None
    """Until when it can be worked at, where that is said."""
    seconds_left: int | None
    """Of this student's own time; it stands still in a pause. Null where there is no end."""
    on_break: bool
    """Whether they are paused by themselves; otherwise it is the teacher's pause."""
    break_seconds_left: int
    """Of breaks they may take in this sitting."""
    ended_by_time: bool
    returned_with: str
    """What the teacher said when giving the work back to be revised."""
    instructions: str
    """Of the test, to be read at the door."""
    rules: StudentRules
    paper: StudentPaper | None
    answers: list[KeptAnswer]
    sequence: int
    moment: str
    """The server's time, signed; what is done later without a connection names it."""


def _stage(seat: Seat) -> Stage:
    if seat.state == "handed in":
        return "handed in"
    if seat.locked:
        return "locked"
    if seat.state == "paused":
        return "paused"
    if not seat.sits_later:
        if seat.sitting.state in AFTER:
            return "closed"
        if seat.sitting.state == SittingState.PAUSED:
            return "paused"
        if seat.state == "at the door" and seat.sitting.state == SittingState.OPEN:
            return "at the door"
    return "working" if seat.state == "working" else "waiting"


def page_of(seat: Seat, holding: tokens.Holding = "holds") -> SeatPage:
    """Where a student is; nothing of the paper for a device that was set aside."""
    answers = current_answers(seat)
    paper = delivery.paper_for(seat) if holding == "holds" else None
    rules, left = seat.sitting.read_rules(), delivery.left(seat)
    return SeatPage(
        seat=seat.pk,
        student=seat.student.short_name,
        needs=StudentNeeds(
            large_print=seat.student.large_print,
            ground=seat.student.ground,  # type: ignore[arg-type]
            read_aloud=seat.student.read_aloud == "on",
            quiet_start=seat.student.quiet_start,
            alone_on_page=seat.student.alone_on_page,
            large_targets=seat.student.large_targets,
            language=seat.student.language,
        ),
        title=seat.sitting.edition.read().title,
        language=seat.sitting.edition.read().language,
        marks_only=is_marks_only(seat.sitting),
        stage=_stage(seat) if holding == "holds" else holding,
        own_page=f"/mine/{seat.sitting.school_class.link}" if seat.state == "handed in" else "",
        released=seat.sitting.state == SittingState.RELEASED,
        in_the_room=seat.sitting.way == Way.ROOM,
        closes_at=None if seat.sits_later else seat.sitting.closes_at,
        seconds_left=None if left is None else round(left),
        on_break=seat.break_since is not None,
        break_seconds_left=delivery.breaks.seconds_left(seat),
        ended_by_time=seat.ended_by_time,
        returned_with=seat.returned_with,
        instructions=seat.sitting.edition.read().instructions,
        rules=StudentRules(
            all_at_once=rules.all_at_once and rules.going_back and not seat.student.alone_on_page,
            going_back=rules.going_back,
            take_back=rules.take_back
            and seat.sitting.state == SittingState.OPEN
            and not (seat.ended_by_closing or seat.locked),
            aids=rules.aids_in_words(),
            formula_sheet=rules.formula_sheet if paper else "",
            attempts_left=attempts.left_for(seat) if seat.state == "handed in" else 0,
        ),
        paper=paper,
        answers=[KeptAnswer(item=a.item, response=a.response, come_back=a.come_back) for a in answers] if paper else [],
        sequence=max((answer.sequence for answer in answers), default=0),
        moment=delivery.moment_for(seat),
    )


class Join(Schema):
    code: str = Field(max_length=60)
    pass_phrase: str = Field(max_length=60)


class AnswerChange(Schema):
    client_id: UUID
    sequence: int = Field(ge=0, le=2_000_000_000)
    item: str = Field(max_length=36)
    response: ItemResponse | None = None
    come_back: bool = False
    moment: str = Field("", max_length=200)
    """The last moment the server gave before this change; empty where the device has none."""
    seconds_since: float = Field(0.0, ge=0, le=10_000_000, allow_inf_nan=False)


class AnswerChanges(Schema):
    changes: list[AnswerChange] = Field(min_length=1, max_length=500)


class TimeAway(Schema):
    client_id: UUID
    left_at: datetime
    seconds: int = Field(ge=0, le=1_000_000)


class TimeSpent(Schema):
    client_id: UUID
    item: str = Field(max_length=36)
    seconds: float = Field(ge=0, le=1_000_000, allow_inf_nan=False)


class Signs(Schema):
    at: str = Field("", max_length=36)
    """The question before the student; empty for a page between questions or the list of all."""
    away: list[TimeAway] = Field([], max_length=100)
    spent: list[TimeSpent] = Field([], max_length=200)
    """How long questions were before them since the last sign."""


class Kept(Schema):
    """The ids of the changes that are on disk now."""

    kept: list[UUID]
    moment: str


class HandingIn(Schema):
    """When the student handed in, where that could not be sent at once."""

    moment: str = Field("", max_length=200)
    seconds_since: float = Field(0.0, ge=0, le=10_000_000, allow_inf_nan=False)
