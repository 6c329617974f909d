from django.http import HttpRequest
from ninja import Router, Schema

from versomark.school.classes.services import class_of
from versomark.school.http import teacher_of
from versomark.school.marking.numbers import names_hidden
from versomark.school.paper.queries import waiting_in
from versomark.school.room.answers import Which
from versomark.school.sittings.api import SittingLine, sitting_line
from versomark.school.sittings.models import SeatState
from versomark.school.sittings.services import seats_with_progress, sitting_of

from . import services

router = Router(tags=["findings"])


class FindingsStudent(Schema):
    seat: int
    desk: int
    name: str
    total: float | None
    """None while their work is not counted."""


class FindingsPage(Schema):
    sitting: SittingLine
    partial: bool
    """Some students are still working or expected, so the figures will change."""
    still_working: list[str]
    away: list[str]
    places: int
    """Places on scanned sheets that nobody has settled; their students are not counted yet."""
    students: list[FindingsStudent]
    body: services.Body | None
    asked_again: bool
    names_hidden: bool
    """Marks that were given without names count once the names are shown."""
    """Whether there is a `last` beside the `first`."""


class GroupWanted(Schema):
    ref: str
    answer: str | None
    """The answer they gave; None for those who gave none."""
    name: str


class GroupMade(Schema):
    class_id: int
    class_name: str
    name: str
    students: int


@router.post("/sittings/{int:sitting_id}/findings/groups", response=GroupMade)
def make_group(request: HttpRequest, sitting_id: int, body: GroupWanted) -> GroupMade:
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id)
    school_class = class_of(teacher, sitting.school_class_id, "own")
    group = services.group_from(sitting, body.ref, body.answer, body.name)
    return GroupMade(
        class_id=school_class.pk, class_name=school_class.name, name=group.name, students=group.students.count()
    )


@router.get("/sittings/{int:sitting_id}/findings", response=FindingsPage)
def findings(request: HttpRequest, sitting_id: int, which: Which = "first") -> FindingsPage:
    """Of a lesson in which questions were asked again, what each said `first` or at `last`."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    kept = services.findings_of(sitting, which)
    totals: dict[str, float] = kept.body["totals"] if kept else {}
    seats = seats_with_progress(sitting)

    def names(*states: str) -> list[str]:
        return [seat.student.short_name for seat in seats if seat.state in states]

    line = sitting_line(sitting)
    return FindingsPage(
        sitting=line,
        partial=kept is not None
        and line.handed_in < line.seats
        and (line.state in ("open", "paused") or line.working > 0),
        still_working=names(SeatState.WORKING, SeatState.PAUSED),
        away=names(SeatState.ABSENT, SeatState.EXCUSED, SeatState.EXPECTED, SeatState.AT_THE_DOOR),
        places=waiting_in([sitting.pk]).get(sitting.pk, 0),
        students=[
            FindingsStudent(seat=seat.pk, desk=seat.desk, name=seat.student.short_name, total=totals.get(str(seat.pk)))
            for seat in seats
        ],
        body=kept.body if kept else None,
        asked_again=services.asked_again(sitting),
        names_hidden=names_hidden(sitting),
    )
