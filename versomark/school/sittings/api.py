from datetime import datetime
from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from versomark.school.classes.api import Needs, needs_of
from versomark.school.classes.services import class_of
from versomark.school.editions.services import edition_of, editions_of
from versomark.school.http import Done, teacher_of

from . import services
from .door import door_code
from .models import Seat, SeatState, Sitting, Way

router = Router(tags=["sittings"])

State = Literal["planned", "ready", "open", "paused", "closed", "released"]
SeatStateName = Literal["expected", "at the door", "working", "paused", "handed in", "absent", "excused"]


class EditionChoice(Schema):
    id: int
    test: int
    title: str
    number: int
    questions: int


class SittingLine(Schema):
    id: int
    title: str
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


class SeatLine(Schema):
    id: int
    desk: int
    name: str
    form: str
    needs: Needs
    state: SeatStateName
    answered: int
    last_seen: datetime | None
    handed_in_at: datetime | None


class PaperLine(Schema):
    form: str
    large: bool
    names: list[str]


class SittingPage(SittingLine):
    papers: list[PaperLine]
    list: list[SeatLine]


class NewSitting(Schema):
    edition: int
    class_id: int
    planned_for: datetime | None = None


class Moved(Schema):
    planned_for: datetime | None


class Absence(Schema):
    state: Literal["expected", "absent", "excused"]


def sitting_line(sitting: Sitting) -> SittingLine:
    """From a sitting of `services.sittings_of`, which carries the counts."""
    return SittingLine(
        id=sitting.pk,
        title=sitting.edition.content["title"],
        edition=sitting.edition_id,
        edition_number=sitting.edition.number,
        test=sitting.edition.test_id,
        questions=sum(len(section["items"]) for section in sitting.edition.content["sections"]),
        class_id=sitting.school_class_id,
        class_name=sitting.school_class.name,
        state=sitting.state,  # type: ignore[arg-type]
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


def _page(sitting: Sitting) -> SittingPage:
    seats = list(services.seats_with_progress(sitting))
    return SittingPage(
        **sitting_line(sitting).model_dump(),
        papers=[PaperLine(**paper._asdict()) for paper in services.papers_needed(seats)],
        list=[seat_line(seat) for seat in seats],
    )


def seat_line(seat: Seat) -> SeatLine:
    return SeatLine(
        id=seat.pk,
        desk=seat.desk,
        name=seat.student.short_name,
        form=seat.form,
        needs=needs_of(seat.student),
        state=seat.state,  # type: ignore[arg-type]
        answered=seat.answered,  # type: ignore[attr-defined]
        last_seen=seat.last_seen,
        handed_in_at=seat.handed_in_at,
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
    return _page(services.plan(teacher, edition, school_class, body.planned_for))


@router.get("/sittings/{int:sitting_id}", response=SittingPage)
def sitting_page(request: HttpRequest, sitting_id: int) -> SittingPage:
    return _page(services.settled_sitting_of(teacher_of(request), sitting_id))


@router.get("/sittings/{int:sitting_id}/door.svg", response={200: None})
def door_picture(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """The way in as a QR code, for the board."""
    sitting = services.sitting_of(teacher_of(request), sitting_id)
    address = request.build_absolute_uri(f"/join?code={sitting.code}")
    return HttpResponse(door_code(address), content_type="image/svg+xml")


@router.put("/sittings/{int:sitting_id}", response=SittingPage)
def move(request: HttpRequest, sitting_id: int, body: Moved) -> SittingPage:
    return _page(services.move(services.sitting_of(teacher_of(request), sitting_id, "run"), body.planned_for))


@router.delete("/sittings/{int:sitting_id}", response=Done)
def remove(request: HttpRequest, sitting_id: int) -> Done:
    services.remove(services.sitting_of(teacher_of(request), sitting_id, "run"))
    return Done()


STEPS = {
    "open": services.open_sitting,
    "pause": services.pause_sitting,
    "close": services.close_sitting,
}


@router.post("/sittings/{int:sitting_id}/steps/{step}", response=SittingPage)
def step(request: HttpRequest, sitting_id: int, step: Literal["open", "pause", "close"]) -> SittingPage:
    teacher = teacher_of(request)
    STEPS[step](services.sitting_of(teacher, sitting_id, "run"))
    return _page(services.sitting_of(teacher, sitting_id))


@router.put("/sittings/{int:sitting_id}/seats/{int:seat_id}", response=SittingPage)
def mark_absence(request: HttpRequest, sitting_id: int, seat_id: int, body: Absence) -> SittingPage:
    teacher = teacher_of(request)
    services.mark_absence(services.sitting_of(teacher, sitting_id, "run"), seat_id, SeatState(body.state))
    return _page(services.sitting_of(teacher, sitting_id))
