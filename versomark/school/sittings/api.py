from datetime import datetime
from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema
from pydantic import BaseModel

from versomark.core.giving import Rules
from versomark.school.addresses import address_for_students
from versomark.school.classes.api import Needs, needs_of
from versomark.school.classes.services import class_of, group_of
from versomark.school.editions.services import edition_of, editions_of
from versomark.school.http import Done, file_out, json_out, teacher_of

from . import planning, services, supervising
from .door import door_code
from .models import SeatState, Sitting, Way
from .watching import Watched, watched

router = Router(tags=["sittings"])

# What is asked for every second is plain Pydantic: a Schema of ninja looks at every field as if it came from the
# database, which for 250 seats takes longer than everything else together.

State = Literal["planned", "ready", "open", "paused", "closed", "released"]
SeatStateName = Literal["expected", "at the door", "working", "paused", "handed in", "absent", "excused"]


class EditionChoice(Schema):
    id: int
    test: int
    title: str
    number: int
    questions: int
    minutes: int
    """The working time it is planned for; 0 where none is set."""


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


def sitting_line(sitting: Sitting) -> SittingLine:
    """From a sitting of `services.sittings_of`, which carries the counts."""
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
        seats=sitting.seat_count,  # type: ignore[attr-defined]
        handed_in=sitting.handed_in,  # type: ignore[attr-defined]
        working=sitting.working,  # type: ignore[attr-defined]
        expected=sitting.expected,  # type: ignore[attr-defined]
        missing=services.missing(sitting) if sitting.state in services.BEFORE else [],
        in_the_room=sitting.way in (Way.ROOM, Way.ALONE),
        marks_only=services.is_marks_only(sitting),
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


def seat_line(line: Watched) -> SeatLine:
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


@router.get("/editions", response=list[EditionChoice])
def editions(request: HttpRequest) -> list[EditionChoice]:
    """Every frozen edition that can be sat, newest first, to choose from; not those of tests given elsewhere."""
    return [
        EditionChoice(
            id=edition.pk,
            test=edition.test_id,
            title=edition.content["title"],
            number=edition.number,
            questions=sum(len(section["items"]) for section in edition.content["sections"]),
            minutes=edition.content.get("minutes", 0),
        )
        for edition in editions_of(teacher_of(request)).filter(test__described__isnull=True)
    ]


@router.get("/sittings", response=list[SittingLine])
def sittings(request: HttpRequest) -> list[SittingLine]:
    return [sitting_line(sitting) for sitting in services.settled_sittings_of(teacher_of(request))]


@router.post("/sittings", response=SittingPage)
def plan(request: HttpRequest, body: NewSitting) -> SittingPage:
    teacher = teacher_of(request)
    edition, school_class = edition_of(teacher, body.edition), class_of(teacher, body.class_id, "run")
    students = body.students
    if body.group is not None:
        students = list(group_of(school_class, body.group).students.values_list("pk", flat=True))
    return page_of(planning.plan_ahead(teacher, edition, school_class, body.plan(), students))


@router.get("/sittings/calendar.ics", response={200: None})
def calendar(request: HttpRequest) -> HttpResponse:
    """What is ahead and what is open, for a calendar."""
    ahead = services.sittings_of(teacher_of(request)).exclude(state__in=services.AFTER)
    return file_out(planning.as_calendar(ahead, _address(request)), "text/calendar", "sittings.ics")


@router.get("/sittings/{int:sitting_id}/calendar.ics", response={200: None})
def calendar_of_one(request: HttpRequest, sitting_id: int) -> HttpResponse:
    sitting = services.sitting_of(teacher_of(request), sitting_id)
    return file_out(planning.as_calendar([sitting], _address(request)), "text/calendar", f"sitting-{sitting.pk}.ics")


def _address(request: HttpRequest) -> str:
    return address_for_students(request) or request.build_absolute_uri("/").rstrip("/")


@router.post("/sittings/{int:sitting_id}/copies", response=list[SittingLine])
def copy(request: HttpRequest, sitting_id: int, body: Copies) -> list[SittingLine]:
    """The same for other classes, in one go."""
    teacher = teacher_of(request)
    sitting = services.sitting_of(teacher, sitting_id, "run")
    edition_of(teacher, sitting.edition_id)
    classes = [class_of(teacher, class_id, "run") for class_id in dict.fromkeys(body.class_ids)]
    return [sitting_line(made) for made in planning.copy_to(teacher, sitting, classes)]


@router.get("/sittings/{int:sitting_id}", response=SittingPage)
def sitting_page(request: HttpRequest, sitting_id: int) -> HttpResponse:
    return json_out(page_of(services.settled_sitting_of(teacher_of(request), sitting_id)))


@router.get("/sittings/{int:sitting_id}/door.svg", response={200: None})
def door_picture(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """The way in as a QR code, for the board."""
    sitting = services.sitting_of(teacher_of(request), sitting_id)
    return HttpResponse(door_code(f"{_address(request)}/join?code={sitting.code}"), content_type="image/svg+xml")


@router.put("/sittings/{int:sitting_id}", response=SittingPage)
def change_plan(request: HttpRequest, sitting_id: int, body: PlanBody) -> SittingPage:
    """Another time, name or rules; of what is open, its end and its name."""
    teacher = teacher_of(request)
    planning.change_plan(teacher, services.sitting_of(teacher, sitting_id, "run"), body.plan())
    return page_of(services.sitting_of(teacher, sitting_id))


@router.delete("/sittings/{int:sitting_id}", response=Done)
def remove(request: HttpRequest, sitting_id: int) -> Done:
    services.remove(services.sitting_of(teacher_of(request), sitting_id, "run"))
    return Done()


STEPS = {
    "open": services.open_sitting,
    "pause": services.pause_sitting,
}


@router.post("/sittings/{int:sitting_id}/steps/{step}", response=SittingPage)
def step(
    request: HttpRequest, sitting_id: int, step: Literal["open", "pause", "close"], paused_go_on: bool = False
) -> SittingPage:
    """Open, pause or close it. `paused_go_on`: at closing, those who are paused go on another day."""
    teacher = teacher_of(request)
    sitting = services.sitting_of(teacher, sitting_id, "run")
    if step == "close":
        services.close_sitting(sitting, paused_go_on)
    else:
        STEPS[step](sitting)
    supervising.record(sitting, teacher, {"open": "opened", "pause": "paused for all", "close": "closed"}[step])
    return page_of(services.sitting_of(teacher, sitting_id))


@router.put("/sittings/{int:sitting_id}/seats/{int:seat_id}", response=SittingPage)
def mark_absence(request: HttpRequest, sitting_id: int, seat_id: int, body: Absence) -> SittingPage:
    teacher = teacher_of(request)
    services.mark_absence(services.sitting_of(teacher, sitting_id, "run"), seat_id, SeatState(body.state))
    return page_of(services.sitting_of(teacher, sitting_id))
