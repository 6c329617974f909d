from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.school.addresses import address_for_students
from versomark.school.classes.public import class_of, group_of
from versomark.school.editions.public import edition_of, editions_of
from versomark.school.http import Done, file_out, json_out, teacher_of

from . import planning, services
from .events import record
from .models import AFTER, EventKind, SeatState
from .planning import door_code
from .queries import sitting_of, sittings_of
from .schemas import (
    Absence,
    Copies,
    EditionChoice,
    NewSitting,
    PlanBody,
    SittingLine,
    SittingPage,
    page_of,
    sitting_line,
)
from .services import settled_sitting_of, settled_sittings_of

router = Router(tags=["sittings"])

# What is asked for every second is plain Pydantic: a Schema of ninja looks at every field as if it came from the
# database, which for 250 seats takes longer than everything else together.


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
    return [sitting_line(sitting) for sitting in settled_sittings_of(teacher_of(request))]


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
    ahead = sittings_of(teacher_of(request)).exclude(state__in=AFTER)
    return file_out(planning.as_calendar(ahead, _address(request)), "text/calendar", "sittings.ics")


@router.get("/sittings/{int:sitting_id}/calendar.ics", response={200: None})
def calendar_of_one(request: HttpRequest, sitting_id: int) -> HttpResponse:
    sitting = sitting_of(teacher_of(request), sitting_id)
    return file_out(planning.as_calendar([sitting], _address(request)), "text/calendar", f"sitting-{sitting.pk}.ics")


def _address(request: HttpRequest) -> str:
    return address_for_students(request) or request.build_absolute_uri("/").rstrip("/")


@router.post("/sittings/{int:sitting_id}/copies", response=list[SittingLine])
def copy(request: HttpRequest, sitting_id: int, body: Copies) -> list[SittingLine]:
    """The same for other classes, in one go."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "run")
    edition_of(teacher, sitting.edition_id)
    classes = [class_of(teacher, class_id, "run") for class_id in dict.fromkeys(body.class_ids)]
    return [sitting_line(copied) for copied in planning.copy_to(teacher, sitting, classes)]


@router.get("/sittings/{int:sitting_id}", response=SittingPage)
def sitting_page(request: HttpRequest, sitting_id: int) -> HttpResponse:
    return json_out(page_of(settled_sitting_of(teacher_of(request), sitting_id)))


@router.get("/sittings/{int:sitting_id}/door.svg", response={200: None})
def door_picture(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """The way in as a QR code, for the board."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    return HttpResponse(door_code(f"{_address(request)}/join?code={sitting.code}"), content_type="image/svg+xml")


@router.put("/sittings/{int:sitting_id}", response=SittingPage)
def change_plan(request: HttpRequest, sitting_id: int, body: PlanBody) -> SittingPage:
    """Another time, name or rules; of what is open, its end and its name."""
    teacher = teacher_of(request)
    planning.change_plan(teacher, sitting_of(teacher, sitting_id, "run"), body.plan())
    return page_of(sitting_of(teacher, sitting_id))


@router.delete("/sittings/{int:sitting_id}", response=Done)
def remove(request: HttpRequest, sitting_id: int) -> Done:
    services.remove(sitting_of(teacher_of(request), sitting_id, "run"))
    return Done()


EVENTS = {"open": EventKind.OPENED, "pause": EventKind.PAUSED_FOR_ALL, "close": EventKind.CLOSED}
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
    sitting = sitting_of(teacher, sitting_id, "run")
    if step == "close":
        services.close_sitting(sitting, paused_go_on)
    else:
        STEPS[step](sitting)
    record(sitting, teacher, EVENTS[step])
    return page_of(sitting_of(teacher, sitting_id))


@router.put("/sittings/{int:sitting_id}/seats/{int:seat_id}", response=SittingPage)
def mark_absence(request: HttpRequest, sitting_id: int, seat_id: int, body: Absence) -> SittingPage:
    teacher = teacher_of(request)
    services.mark_absence(sitting_of(teacher, sitting_id, "run"), seat_id, SeatState(body.state))
    return page_of(sitting_of(teacher, sitting_id))
