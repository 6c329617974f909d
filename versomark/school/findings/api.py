from typing import Any

from django.http import HttpRequest
from ninja import Query, Router, Schema

from versomark.school.classes.api import GroupMade, group_made
from versomark.school.classes.services import class_of
from versomark.school.http import teacher_of
from versomark.school.marking.numbers import names_hidden
from versomark.school.paper.doubtful_marks import waiting_in
from versomark.school.room.answers import Which
from versomark.school.sittings.api import SittingLine, sitting_line
from versomark.school.sittings.models import SeatState
from versomark.school.sittings.planning import name_of
from versomark.school.sittings.services import seats_with_progress, sitting_of

from . import services
from .analysis_filter import body_looked, in_words, looked, same_edition
from .dismissed_findings import dismissed_in
from .report import FindingsReport
from .views_api import AnalysisFilterQuery
from .written import raters_flags

router = Router(tags=["findings"])


class FindingsStudent(Schema):
    seat: int
    desk: int
    name: str
    total: float | None
    """None while their work is not counted."""


class DismissedLine(Schema):
    """A finding that was set aside."""

    ref: str
    flag: str
    options: list[str]
    note: str
    by: str


class OtherSitting(Schema):
    id: int
    name: str
    class_name: str
    students: int
    chosen: bool


class FindingsPage(Schema):
    sitting: SittingLine
    partial: bool
    """Some students are still working or expected, so the figures will change."""
    still_working: list[str]
    away: list[str]
    places: int
    """Places on scanned sheets that nobody has settled; their students are not counted yet."""
    students: list[FindingsStudent]
    body: FindingsReport | None
    dismissed: list[DismissedLine]
    asked_again: bool
    """Whether there is a `last` beside the `first`."""
    names_hidden: bool
    """Marks that were given without names count once the names are shown."""
    seen: str
    """How these figures differ from the sitting's own, in words; empty where they do not."""
    others: list[OtherSitting]
    """Sittings of the same edition, which could be put together with this one."""


class GroupWanted(Schema):
    ref: str
    answer: str | None
    """The answer they gave; None for those who gave none."""
    name: str


@router.post("/sittings/{int:sitting_id}/findings/groups", response=GroupMade)
def make_group(request: HttpRequest, sitting_id: int, body: GroupWanted) -> GroupMade:
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id)
    school_class = class_of(teacher, sitting.school_class_id, "own")
    group = services.group_from(sitting, body.ref, body.answer, body.name)
    return group_made(school_class, group)


@router.get("/sittings/{int:sitting_id}/findings", response=FindingsPage)
def findings(
    request: HttpRequest, sitting_id: int, scope: Query[AnalysisFilterQuery], which: Which = "first"
) -> FindingsPage:
    """Of a lesson in which questions were asked again, what each said `first` or at `last`."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id)
    result = looked(teacher, sitting, scope.read())
    body: Any
    if result.scope.plain:
        kept = services.findings_of(sitting, which)
        body = kept.body if kept else None
    else:
        body = body_looked(result).model_dump(mode="json")
    if body:
        # Second marks come without a new analysis of the answers.
        body = {**body, "flags": [*body["flags"], *(flag.model_dump() for flag in raters_flags(sitting))]}
    totals: dict[str, float] = {str(seat): total for seat, total in body["totals"].items()} if body else {}
    own = seats_with_progress(sitting)
    seats = own if len(result.sittings) == 1 else list(result.seats.values())

    def names(*states: str) -> list[str]:
        return [seat.student.short_name for seat in own if seat.state in states]

    line = sitting_line(sitting)
    return FindingsPage(
        sitting=line,
        partial=body is not None
        and line.handed_in < line.seats
        and (line.state in ("open", "paused") or line.working > 0),
        still_working=names(SeatState.WORKING, SeatState.PAUSED),
        away=names(SeatState.ABSENT, SeatState.EXCUSED, SeatState.EXPECTED, SeatState.AT_THE_DOOR),
        places=waiting_in([sitting.pk]).get(sitting.pk, 0),
        students=[
            FindingsStudent(
                seat=seat.pk,
                desk=seat.desk,
                name=result.name_of(seat) if len(result.sittings) > 1 else seat.student.short_name,
                total=totals.get(str(seat.pk)),
            )
            for seat in seats
        ],
        body=body,
        dismissed=[
            DismissedLine(
                ref=entry.item,
                flag=entry.flag,
                options=[option for option in entry.options.split(",") if option],
                note=entry.note,
                by=entry.by.name,
            )
            for entry in dismissed_in([sitting])[sitting.pk].values()
        ],
        asked_again=services.asked_again(sitting),
        names_hidden=names_hidden(sitting),
        seen=in_words(result),
        others=[
            OtherSitting(
                id=entry.pk,
                name=name_of(entry),
                class_name=entry.school_class.name,
                students=entry.handed_in,  # type: ignore[attr-defined]
                chosen=entry.pk in result.scope.also,
            )
            for entry in same_edition(teacher, sitting)
        ],
    )
