"""Sittings and seats as JSON."""

from datetime import datetime
from typing import Literal

from ninja import Field, Schema
from pydantic import BaseModel

from versomark.core.giving import Rules
from versomark.school.classes.schemas import Needs, needs_of

from . import planning, services
from .models import BEFORE, Sitting, Way
from .queries import is_marks_only, seat_counts
from .watching import WatchedSeat, watched

State = Literal["planned", "ready", "open", "paused", "closed", "released"]


SeatStateName = Literal["expected", "at the door", "working", "paused", "handed in", "absent", "excused"]


Act = Literal[
    "let in", "turn away", "pause", "resume", "give time", "reopen", "hand in", "sit now", "move", "lock", "unlock"
]


class SittingLine(BaseModel):
    id: int
    title: str
    name: str
    """As the teacher calls it, or “8 Heron, circuits, 3 Nov”."""
    own_name: str
    """What the teacher has called it; empty where it goes by class, test and day."""
    edition: int
    edition_number: int
    test: int
    questions: int
    class_id: int
    class_name: str
    state: State
    code: str
    planned_for: datetime | None
    closes_at: datetime | None
    """When it closes by itself."""
    opened_at: datetime | None
    closed_at: datetime | None
    seats: int
    handed_in: int
    working: int
    expected: int
    missing: list[str]
    in_the_room: bool
    """A lesson: asked together, question by question, or begun so."""
    marks_only: bool
    """Given and marked elsewhere: there is a grid of marks in place of questions."""
    watched: Literal["nothing", "some", "all"]
    """How much of it is marked while it is done."""


class SeatLine(BaseModel):
    id: int
    desk: int
    name: str
    form: str
    needs: Needs
    state: SeatStateName
    answered: int
    last_seen: datetime | None
    handed_in_at: datetime | None
    trouble: str
    """What wants the teacher, in words: “offline 2 min”; empty where nothing does."""
    on_break: bool
    """Whether they paused by themselves."""
    at: int | None
    """The number of the question before them."""
    seconds_left: int | None
    extra_minutes: int
    ended_by_time: bool
    locked: bool
    sits_later: bool
    """Whether they sit it by themselves, apart from the others."""
    attempt: int
    """Which attempt this is, from 1; the last one counts."""
    times_away: int
    seconds_away: int
    """How often and how long they left the page, for the teacher to judge."""


class PaperLine(BaseModel):
    form: str
    large: bool
    names: list[str]


class SittingPage(SittingLine):
    opens_itself: bool
    rules: Rules
    forms: list[str]
    """Of the paper; one alone is called A."""
    papers: list[PaperLine]
    list: list[SeatLine]
    """Those first who need the teacher."""


def sitting_line(sitting: Sitting) -> SittingLine:
    counts = seat_counts(sitting)
    return SittingLine(
        id=sitting.pk,
        title=sitting.edition.content["title"],
        name=planning.name_of(sitting),
        own_name=sitting.name,
        edition=sitting.edition_id,
        edition_number=sitting.edition.number,
        test=sitting.edition.test_id,
        questions=sum(len(section["items"]) for section in sitting.edition.content["sections"]),
        class_id=sitting.school_class_id,
        class_name=sitting.school_class.name,
        state=sitting.state,
        code=sitting.code,
        planned_for=sitting.planned_for,
        closes_at=sitting.closes_at,
        opened_at=sitting.opened_at,
        closed_at=sitting.closed_at,
        seats=counts.seats,
        handed_in=counts.handed_in,
        working=counts.working,
        expected=counts.expected,
        missing=services.missing(sitting) if sitting.state in BEFORE else [],
        in_the_room=sitting.way in (Way.ROOM, Way.ALONE),
        marks_only=is_marks_only(sitting),
        watched=_watched(sitting),
    )


def page_of(sitting: Sitting) -> SittingPage:
    lines = watched(sitting)
    return SittingPage(
        **sitting_line(sitting).model_dump(),
        opens_itself=sitting.opens_itself,
        rules=sitting.read_rules(),
        forms=sitting.edition.read().form_names,
        papers=[PaperLine(**paper._asdict()) for paper in services.papers_needed(line.seat for line in lines)],
        list=[seat_line(line) for line in lines],
    )


def seat_line(line: WatchedSeat) -> SeatLine:
    seat = line.seat
    return SeatLine(
        id=seat.pk,
        desk=seat.desk,
        name=seat.student.short_name,
        form=seat.form,
        needs=needs_of(seat.student),
        state=seat.state,
        answered=seat.answered,  # type: ignore[attr-defined]
        last_seen=seat.last_seen,
        handed_in_at=seat.handed_in_at,
        trouble=line.trouble,
        on_break=seat.break_since is not None,
        at=line.at_number,
        seconds_left=line.seconds_left,
        extra_minutes=seat.extra_minutes,
        ended_by_time=seat.ended_by_time,
        locked=seat.locked,
        sits_later=seat.sits_later,
        attempt=1 + line.earlier_attempts,
        times_away=line.times_away,
        seconds_away=line.seconds_away,
    )


class EditionChoice(Schema):
    id: int
    test: int
    title: str
    number: int
    questions: int
    minutes: int
    """The working time it is planned for; 0 where none is set."""


class PlanBody(Schema):
    """When it is held, and under which rules."""

    planned_for: datetime | None = None
    closes_at: datetime | None = None
    opens_itself: bool = False
    name: str = Field("", max_length=120)
    rules: Rules = Rules()

    def plan(self) -> planning.Plan:
        return planning.Plan(self.planned_for, self.closes_at, self.opens_itself, self.name, self.rules)


class NewSitting(PlanBody):
    edition: int
    class_id: int
    students: list[int] | None = None
    """Of some students only: their ids."""
    group: int | None = None
    """Of a group of the class."""


class Copies(Schema):
    class_ids: list[int] = Field(min_length=1, max_length=50)


class Absence(Schema):
    state: Literal["expected", "absent", "excused"]


class SeatAct(Schema):
    act: Act
    minutes: int = Field(0, ge=-600, le=600)
    """More time, where that is what it is about."""
    comment: str = Field("", max_length=500)
    """What is to be revised, where work is given back."""
    to: int | None = None
    """The seat that somebody is moved to."""
    form: str = Field("", max_length=1)
    """Of the paper, where somebody sits it later than the others; empty for the one that was planned."""


class ActForAll(Schema):
    act: Literal["let in", "give time", "lock", "unlock"]
    minutes: int = Field(0, ge=-600, le=600)


class EventLine(Schema):
    at: datetime
    by: str
    """Empty where the clock did it."""
    name: str
    """Whom it was about; empty for all."""
    says: str


class AwayLine(Schema):
    left_at: datetime
    seconds: int


def _watched(sitting: Sitting) -> Literal["nothing", "some", "all"]:
    each = [item.content.watched for item in sitting.edition.read().items()]
    return "nothing" if not any(each) else "all" if all(each) else "some"
