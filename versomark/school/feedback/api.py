"""Results of a sitting as the teacher sees them: totals, what changes them, and who may see theirs."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.core.language import _
from versomark.school.delivery.public import Seat, SeatState, Sitting, seat_in, sitting_of
from versomark.school.errors import DomainError
from versomark.school.grading import public as grading
from versomark.school.grading.public import ExcludedStudent, Lateness, names_hidden
from versomark.school.http import json_out, teacher_of

from .by_group import ByGroup, by_group, groups_in
from .in_full import InFull, in_full
from .schemas import (
    EmptyPage,
    EmptyQuestion,
    FillBody,
    LateMove,
    LatenessBody,
    ReasonBody,
    ReleaseBody,
    ReleasedLine,
    ResultGroup,
    ResultLine,
    ResultsPage,
    SeatsBody,
    TotalBody,
)
from .student_result import StudentResult, is_total_held, marked_picture, student_result

router = Router(tags=["results"])


def _sitting(request: HttpRequest, sitting_id: int) -> Sitting:
    return sitting_of(teacher_of(request), sitting_id, "mark")


@router.get("/sittings/{int:sitting_id}/results", response=ResultsPage)
def results(request: HttpRequest, sitting_id: int) -> ResultsPage:
    """Every student's total, how it came about, and what they may see of it."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    return _page(request, sitting)


def _page(request: HttpRequest, sitting: Sitting) -> ResultsPage:
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden for marking. Show them under Marking first."))
    results, shown = grading.results_in(sitting), grading.shown_in(sitting)
    out = dict(ExcludedStudent.objects.filter(seat__sitting=sitting).values_list("seat", "reason"))
    lateness = Lateness.objects.filter(sitting=sitting).first()
    for_all = sitting.releases.filter(taken_back_at=None, seat=None).select_related("by").first()
    released = for_all if sitting.state == "released" else None
    return ResultsPage(
        sitting=sitting.pk,
        title=sitting.edition.read().title,
        class_id=sitting.school_class_id,
        class_name=sitting.school_class.name,
        state=sitting.state,
        rule=sitting.read_rules().results,
        own_pages=f"/mine/{sitting.school_class.link}",
        names_hidden=False,
        released=ReleasedLine(marks=released.marks, answers=released.answers, at=released.at, by=released.by.name)
        if released
        else None,
        lateness=LatenessBody.from_orm(lateness) if lateness else None,
        ends=sitting.closes_at or sitting.closed_at,
        waiting=sum(entry.waiting for entry in results),
        asked=grading.waiting_questions(sitting),
        students=[
            ResultLine(
                seat=entry.seat.pk,
                student=entry.seat.student_id,
                desk=entry.seat.desk,
                name=entry.seat.student.short_name,
                state=entry.seat.state,
                handed_in_at=entry.seat.handed_in_at,
                late=entry.lost > 0,
                earned=entry.earned if entry.seat.state == SeatState.HANDED_IN else None,
                lost=entry.lost,
                total=entry.total,
                of=entry.of,
                waiting=entry.waiting,
                set_reason=entry.set_by.reason if entry.set_by else "",
                out_reason=out.get(entry.seat.pk, ""),
                sees="" if entry.seat.pk not in shown else "marks" if shown[entry.seat.pk].marks else "words",
                total_held=entry.seat.pk in shown
                and shown[entry.seat.pk].marks
                and is_total_held(entry.seat, entry.waiting),
            )
            for entry in results
        ],
        groups=[
            ResultGroup(key=group.key, name=group.name, students=sorted(group.students))
            for group in groups_in(teacher_of(request), sitting, {entry.seat.student_id for entry in results})
        ],
    )


@router.get("/sittings/{int:sitting_id}/results/groups", response=ByGroup)
def results_by_group(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """Each group of the class beside the others."""
    teacher = teacher_of(request)
    return json_out(by_group(teacher, sitting_of(teacher, sitting_id)))


@router.get("/sittings/{int:sitting_id}/results/full", response=InFull)
def results_in_full(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """Every mark and what was said of it."""
    return json_out(in_full(sitting_of(teacher_of(request), sitting_id)))


def _seats(sitting: Sitting, ids: list[int] | None) -> list[Seat] | None:
    return None if ids is None else [seat_in(sitting, pk) for pk in dict.fromkeys(ids)]


@router.put("/sittings/{int:sitting_id}/results/release", response=ResultsPage)
def release_results(request: HttpRequest, sitting_id: int, body: ReleaseBody) -> ResultsPage:
    """Let students see their results: all of them, or some."""
    sitting = _sitting(request, sitting_id)
    seats = _seats(sitting, body.seats)
    grading.release(teacher_of(request), sitting, grading.Shown(body.marks, body.answers), seats)
    return _page(request, sitting)


@router.post("/sittings/{int:sitting_id}/results/withdraw", response=ResultsPage)
def withdraw_results(request: HttpRequest, sitting_id: int, body: SeatsBody) -> ResultsPage:
    sitting = _sitting(request, sitting_id)
    grading.withdraw(teacher_of(request), sitting, _seats(sitting, body.seats))
    return _page(request, sitting)


@router.get("/sittings/{int:sitting_id}/results/seats/{int:seat_id}", response=StudentResult)
def through_their_eyes(
    request: HttpRequest, sitting_id: int, seat_id: int, marks: bool = True, answers: bool = False
) -> StudentResult:
    """What a student would see of it, released or not."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden for marking."))
    return student_result(seat_in(sitting, seat_id), grading.Shown(marks, answers))


@router.get(
    "/sittings/{int:sitting_id}/results/seats/{int:seat_id}/pictures/{item}/{int:file}/{int:page}.jpg",
    response={200: None},
)
def work_through_their_eyes(
    request: HttpRequest, sitting_id: int, seat_id: int, item: str, file: int, page: int
) -> HttpResponse:
    """A picture of an answer that was written on."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden for marking."))
    return HttpResponse(marked_picture(seat_in(sitting, seat_id), item, file, page), content_type="image/jpeg")


@router.put("/sittings/{int:sitting_id}/results/seats/{int:seat_id}/total", response=ResultsPage)
def set_total(request: HttpRequest, sitting_id: int, seat_id: int, body: TotalBody) -> ResultsPage:
    """A total that stands whatever is worked out, with its reason."""
    sitting = _sitting(request, sitting_id)
    grading.set_total(teacher_of(request), seat_in(sitting, seat_id), body.total, body.reason)
    return _page(request, sitting)


@router.delete("/sittings/{int:sitting_id}/results/seats/{int:seat_id}/total", response=ResultsPage)
def take_total_back(request: HttpRequest, sitting_id: int, seat_id: int) -> ResultsPage:
    sitting = _sitting(request, sitting_id)
    grading.take_total_back(teacher_of(request), seat_in(sitting, seat_id))
    return _page(request, sitting)


@router.put("/sittings/{int:sitting_id}/results/seats/{int:seat_id}/left-out", response=ResultsPage)
def leave_out(request: HttpRequest, sitting_id: int, seat_id: int, body: ReasonBody) -> ResultsPage:
    """Out of the statistics; the student's own result stays."""
    sitting = _sitting(request, sitting_id)
    grading.leave_out(teacher_of(request), seat_in(sitting, seat_id), body.reason)
    return _page(request, sitting)


@router.delete("/sittings/{int:sitting_id}/results/seats/{int:seat_id}/left-out", response=ResultsPage)
def take_in(request: HttpRequest, sitting_id: int, seat_id: int) -> ResultsPage:
    sitting = _sitting(request, sitting_id)
    grading.take_in(teacher_of(request), seat_in(sitting, seat_id))
    return _page(request, sitting)


@router.post("/sittings/{int:sitting_id}/results/lateness/effect", response=list[LateMove])
def lateness_effect(request: HttpRequest, sitting_id: int, body: LatenessBody) -> list[LateMove]:
    """Whom a rule about late work would cost how much; nothing is changed."""
    sitting = _sitting(request, sitting_id)
    rule = grading.rule_from(body.due, body.grace_minutes, body.per_day, body.most)
    return [
        LateMove(name=result.seat.student.short_name, lost=result.lost, total=result.total)
        for result in grading.results_in(sitting, rule=rule)
        if result.lost > 0 and result.total is not None
    ]


@router.put("/sittings/{int:sitting_id}/results/lateness", response=ResultsPage)
def set_lateness(request: HttpRequest, sitting_id: int, body: LatenessBody) -> ResultsPage:
    sitting = _sitting(request, sitting_id)
    grading.set_lateness(teacher_of(request), sitting, body.due, body.grace_minutes, body.per_day, body.most)
    return _page(request, sitting)


@router.delete("/sittings/{int:sitting_id}/results/lateness", response=ResultsPage)
def end_lateness(request: HttpRequest, sitting_id: int) -> ResultsPage:
    sitting = _sitting(request, sitting_id)
    grading.end_lateness(teacher_of(request), sitting)
    return _page(request, sitting)


@router.get("/sittings/{int:sitting_id}/results/empty", response=EmptyPage)
def empty(request: HttpRequest, sitting_id: int) -> EmptyPage:
    """What has no mark and no total yet."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    result = grading.empty_in(sitting)
    printed = {item.ref: at for at, item in enumerate(sitting.edition.read().items(), start=1)}
    refs = [ref for _, ref in result.waiting]
    return EmptyPage(
        waiting=[EmptyQuestion(number=printed[ref], answers=refs.count(ref)) for ref in dict.fromkeys(refs)],
        missing=[seat.student.short_name for seat in result.missing],
    )


@router.post("/sittings/{int:sitting_id}/results/empty", response=ResultsPage)
def fill_empty(request: HttpRequest, sitting_id: int, body: FillBody) -> ResultsPage:
    """The same for all of it in one action."""
    sitting = _sitting(request, sitting_id)
    filling = grading.Filling(body.waiting, body.missing, body.total)
    grading.fill_empty(teacher_of(request), sitting, filling, body.reason)
    return _page(request, sitting_of(teacher_of(request), sitting_id))
