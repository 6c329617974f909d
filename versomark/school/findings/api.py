from typing import Any

from django.http import HttpRequest
from ninja import Query, Router

from versomark.school.classes.public import class_of
from versomark.school.classes.schemas import GroupMade, group_made
from versomark.school.delivery.public import SeatState, Sitting, name_of, seat_counts, seats_with_progress, sitting_of
from versomark.school.delivery.schemas import sitting_line
from versomark.school.grading.public import names_hidden
from versomark.school.http import teacher_of
from versomark.school.paper.public import waiting_in
from versomark.school.room.public import Which

from . import overviews, services
from .analysis_filter import in_words, looked, same_edition
from .dismissed_findings import dismissed_in
from .every_sitting import sittings_with_answers
from .forecast_after import forecast_after
from .groups_made import group_from, group_of_idea
from .reading import body_in_words
from .schemas import (
    AllFindings,
    AnalysisFilterQuery,
    DismissedLine,
    FindingsPage,
    FindingsStudent,
    GroupWanted,
    OtherSitting,
    OverviewLine,
    OverviewPage,
    SittingFindings,
    SittingGlanceLine,
    SittingGlancePage,
    SittingMean,
    SittingNamed,
)

router = Router(tags=["findings"])
PAGE, MOST = 30, 1000
"""Sittings in the list of all findings, at first and at most."""


@router.post("/sittings/{int:sitting_id}/findings/groups", response=GroupMade)
def make_group(request: HttpRequest, sitting_id: int, body: GroupWanted) -> GroupMade:
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id)
    school_class = class_of(teacher, sitting.school_class_id, "own")
    group = (
        group_of_idea(sitting, body.idea, body.name)
        if body.idea
        else group_from(sitting, body.ref, body.answer, body.name)
    )
    return group_made(school_class, group)


@router.get("/findings", response=AllFindings)
def all_findings(request: HttpRequest, typed: str = "", count: int = PAGE) -> AllFindings:
    """The sittings with answers, the latest first; `count` of them at most."""
    lines, total = sittings_with_answers(teacher_of(request), typed, min(max(count, 1), MOST))
    return AllFindings(
        lines=[
            SittingFindings(
                sitting=sitting_line(line.sitting),
                students=line.students,
                mean=line.mean,
                spread=line.spread,
                waiting=line.waiting,
                too_few=line.too_few,
                first=line.first,
                flagged=line.flagged,
                still_to_make=line.still_to_make,
            )
            for line in lines
        ],
        total=total,
    )


@router.get("/overviews/sittings", response=SittingGlancePage)
def overview_of_sittings(request: HttpRequest) -> SittingGlancePage:
    page = overviews.of_sittings(teacher_of(request))
    return SittingGlancePage(
        lines=[
            SittingGlanceLine(sitting=line.sitting.pk, mean=line.mean, spread=line.spread, waiting=line.waiting)
            for line in page.lines
        ],
        still_to_make=page.still_to_make,
    )


@router.get("/overviews/classes", response=OverviewPage)
def overview_of_classes(request: HttpRequest) -> OverviewPage:
    return _overviews(overviews.of_classes(teacher_of(request)))


@router.get("/overviews/tests", response=OverviewPage)
def overview_of_tests(request: HttpRequest) -> OverviewPage:
    return _overviews(overviews.of_tests(teacher_of(request)))


def _overviews(page: overviews.Overviews) -> OverviewPage:
    def named(sitting: Sitting) -> SittingNamed:
        return SittingNamed(
            id=sitting.pk,
            title=sitting.edition.content["title"],
            class_name=sitting.school_class.name,
            day=sitting.opened_at or sitting.planned_for,
        )

    return OverviewPage(
        lines=[
            OverviewLine(
                id=number,
                over=line.over,
                open_now=[named(sitting) for sitting in line.open_now],
                next=named(line.next) if line.next else None,
                last=named(line.last) if line.last else None,
                mean=line.mean,
                spread=line.spread,
                waiting=line.waiting,
                may_mark=line.may_mark,
                absent=line.absent,
                means=[SittingMean(sitting=named(entry.sitting), mean=entry.mean) for entry in line.means],
            )
            for number, line in page.by.items()
        ],
        still_to_make=page.still_to_make,
    )


@router.get("/sittings/{int:sitting_id}/findings", response=FindingsPage)
def findings(
    request: HttpRequest, sitting_id: int, scope: Query[AnalysisFilterQuery], which: Which = "first"
) -> FindingsPage:
    """Of a lesson in which questions were asked again, what each said `first` or at `last`."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id)
    result = looked(teacher, sitting, scope.read())
    aside = dismissed_in([sitting])[sitting.pk]
    body: Any = body_in_words(sitting, result, which)
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
            for entry in aside.values()
        ],
        asked_again=services.asked_again(sitting),
        names_hidden=names_hidden(sitting),
        forecast=forecast_after(sitting, body) if body and result.scope.plain else None,
        seen=in_words(result),
        others=[
            OtherSitting(
                id=entry.pk,
                name=name_of(entry),
                class_name=entry.school_class.name,
                students=seat_counts(entry).handed_in,
                chosen=entry.pk in result.scope.also,
            )
            for entry in same_edition(teacher, sitting)
        ],
    )
