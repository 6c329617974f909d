"""The marking desk. Students are known by number here, never by seat: see `numbers`."""

from typing import Literal

from django.http import FileResponse, HttpRequest, HttpResponse
from ninja import Router

from versomark.core.items.by_rubric import ByRubric
from versomark.core.language import _
from versomark.core.scoring import to_mark
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import BEFORE, Seat, Sitting, many_sittings_of, seat_changed, sitting_of
from versomark.school.errors import DomainError
from versomark.school.http import Done, attachment, file_out, played, teacher_of
from versomark.school.tables_out import CSV_TYPE, SHEET_TYPE, csv_file, workbook

from . import (
    answer_groups,
    comment_bank,
    door,
    markers,
    numbers,
    offline_package,
    pile_checks,
    piles,
    remarks,
    services,
    work,
)
from . import second_marking as second
from .api_remarks import before_of, mark_line, remark_line, turns_seen
from .history import HEADS, history_of
from .models import Bookmark, Mark, MarkingPass, MarkState
from .queries import (
    by_hand,
    current_marks,
    marks_by_pass,
    procedure_of,
    rubric_item,
    waiting_in,
    waived_in,
    with_rubrics_of_now,
)
from .schemas import (
    AnswerPage,
    BookmarkBody,
    Kept,
    MarkBody,
    MarkChoiceRequest,
    MarkerAt,
    MarkerAtRequest,
    MarkingEntry,
    MarkingItem,
    MarkingPage,
    NamesBody,
    OverallBody,
    OverallKept,
    ReturnedLine,
    TurnName,
    WaitingItem,
    WaitingSitting,
    WaiveBody,
    WorkFileLine,
)

router = Router(tags=["marking"])


def _sitting(request: HttpRequest, sitting_id: int) -> Sitting:
    return sitting_of(teacher_of(request), sitting_id, "mark")


@router.get("/marking", response=list[WaitingSitting])
def waiting(request: HttpRequest) -> list[WaitingSitting]:
    """Every sitting with work that a person marks, those with most to do first."""
    waiting_sittings = []
    for sitting in many_sittings_of(teacher_of(request)).exclude(state__in=BEFORE):
        if not by_hand(sitting) and not answer_groups.typed_items(sitting):
            continue
        numbers_of = {item.ref: at for at, item in enumerate(sitting.edition.read().items(), start=1)}
        lines = waiting_in(sitting)
        second_left, agree_left = second.left_in(sitting)
        waiting_sittings.append(
            WaitingSitting(
                sitting=sitting.pk,
                title=sitting.edition.read().title,
                class_name=sitting.school_class.name,
                closed_at=sitting.closed_at,
                names_hidden=numbers.names_hidden(sitting),
                items=[WaitingItem(number=numbers_of[line.ref], **line._asdict()) for line in lines],
                to_mark=sum(line.to_mark for line in lines),
                marked=sum(line.marked for line in lines),
                second_left=second_left,
                agree_left=agree_left,
                to_choose=services.beside_in(sitting).values("seat", "item", "turn").distinct().count(),
                pile=pile.pk if (pile := piles.open_pile(sitting)) else None,
                typed=next(iter(answer_groups.typed_items(sitting)), ""),
            )
        )
    return sorted(waiting_sittings, key=lambda waiting_sitting: waiting_sitting.marked - waiting_sitting.to_mark)


@router.get("/sittings/{int:sitting_id}/marking", response=MarkingPage)
def marking(request: HttpRequest, sitting_id: int, turn: TurnName = "first") -> MarkingPage:
    """Everything but the answers themselves, which are asked for one by one."""
    sitting, teacher = _sitting(request, sitting_id), teacher_of(request)
    items = by_hand(sitting)
    if not items:
        raise DomainError(_("Nothing in this test is marked by a person."))
    seats = numbers.numbered(sitting)
    hidden = numbers.names_hidden(sitting)
    entries = _entries(sitting, seats, MarkingPass("first" if turn == "pile" else turn), teacher)
    rubrics = with_rubrics_of_now(sitting)
    bookmark = Bookmark.objects.filter(teacher=teacher, sitting=sitting).first() if turn == "first" else None
    second_left, agree_left = second.left_in(sitting)
    out = waived_in([sitting])[sitting.pk]
    at = bookmark if bookmark and bookmark.item in set(items) - out and bookmark.number in seats else None
    # Where something waits; else where something can be read; else anywhere.
    states = {ref: [entry.state for entry in some] for ref, some in entries.items() if ref not in out}
    waits = [ref for ref, some in states.items() if "waiting" in some]
    filled = [ref for ref, some in states.items() if set(some) - {"nothing"}]
    first = next(iter([*waits, *filled, *items]))
    wanted = "waiting" if first in waits else "kept"
    begin = next((entry.number for entry in entries[first] if entry.state == wanted), next(iter(seats), 0))
    edition, pile = sitting.edition.read(), piles.open_pile(sitting)
    numbers_of = {item.ref: place for place, item in enumerate(edition.items(), start=1)}
    return MarkingPage(
        sitting=sitting.pk,
        title=edition.title,
        class_name=sitting.school_class.name,
        names_hidden=hidden,
        may_hide=not hidden and not Mark.objects.filter(seat__sitting=sitting).exists(),
        names={} if hidden else {number: seat.student.short_name for number, seat in seats.items()},
        items=[
            MarkingItem(
                ref=ref,
                number=numbers_of[ref],
                kind=item.content.kind,  # type: ignore[arg-type]
                stem=item.content.stem,
                marks=item.content.marks,
                rubric=rubrics[ref].content.rubric,  # type: ignore[union-attr]
                stimulus=stimulus.body if (stimulus := edition.stimulus_of(item) if item.stimulus else None) else "",
                waived=ref in out,
                comments=_comments(request, ref),
                level_comments=comment_bank.offered_with_levels(teacher, ref),
            )
            for ref, item in items.items()
        ],
        entries=entries,
        item=at.item if at else first,
        number=at.number if at else begin,
        by_student=bool(at and at.by_student),
        order=at.order if at else "number",  # type: ignore[arg-type]
        turn=turn,
        pile=pile.pk if pile else None,
        leads_pile=pile is not None and pile.head_id == teacher.pk,
        second=procedure_of(sitting) is not None,
        second_left=second_left,
        agree_left=agree_left,
    )


def _comments(request: HttpRequest, ref: str) -> list[str]:
    return comment_bank.offered_to(teacher_of(request), ref)


def _entries(
    sitting: Sitting, seats: dict[int, Seat], turn: MarkingPass, teacher: Teacher
) -> dict[str, list[MarkingEntry]]:
    responses = services.responses_in(sitting, list(seats.values()))
    if turn == MarkingPass.FIRST:
        needed = to_mark(sitting.edition.read(), {str(seat): given for seat, given in responses.items()})
        wanted = {ref: {int(seat) for seat in some} for ref, some in needed.items()}
    else:
        wanted = second.chosen(sitting) if turn == MarkingPass.SECOND else second.to_agree(sitting)
    standing = current_marks(sitting, [seat.pk for seat in seats.values()], turn)
    beside = set(services.beside_in(sitting).filter(turn=turn).values_list("seat", "item"))
    again = pile_checks.own_to_look_at_again(teacher, sitting)
    entries = {}
    for ref, item in by_hand(sitting).items():
        entries[ref] = [
            _entry(
                number,
                item.content,  # type: ignore[arg-type]
                seat.pk in wanted.get(ref, ()),
                standing.get((seat.pk, ref)),
                responses[seat.pk].get(ref),
                (seat.pk, ref) in beside,
                (seat.pk, ref) in again,
            )
            for number, seat in seats.items()
        ]
    return entries


def _entry(
    number: int,
    content: ByRubric,
    needed: bool,
    mark: Mark | None,
    response: object,
    beside: bool,
    again: bool = False,
) -> MarkingEntry:
    state = mark.state if mark else "waiting" if needed else "nothing"
    is_kept = mark is not None and mark.state == MarkState.KEPT
    return MarkingEntry(
        number=number,
        state=state,
        marks=content.rubric.scaled(mark.points, content.marks) if is_kept and mark else None,
        words=work.work_of(response, True).words,  # type: ignore[arg-type]
        beside=beside,
        again=again,
    )


@router.get("/sittings/{int:sitting_id}/marking/history/{form}", response={200: None})
def history(request: HttpRequest, sitting_id: int, form: Literal["csv", "xlsx"]) -> HttpResponse:
    """Every mark that was ever kept, as a table."""
    sitting = _sitting(request, sitting_id)
    rows = history_of(sitting)
    if form == "xlsx":
        return file_out(workbook(_("Marks"), list(map(_, HEADS)), rows), SHEET_TYPE, f"marks-{sitting.pk}.xlsx")
    return file_out(csv_file(list(map(_, HEADS)), rows), CSV_TYPE, f"marks-{sitting.pk}.csv")


@router.get("/sittings/{int:sitting_id}/marking/{item}/{int:number}", response=AnswerPage)
def answer(request: HttpRequest, sitting_id: int, item: str, number: int, turn: TurnName = "first") -> AnswerPage:
    at = door.at_work(teacher_of(request), sitting_id, number, turn, item)
    sitting, seat = at.sitting, at.seat
    rubric_item(sitting, item)
    response = services.responses_in(sitting, [seat])[seat.pk].get(item)
    seen = work.work_of(response, at.names_hidden)
    turns = marks_by_pass(sitting, [seat.pk])
    standing = turns[at.turn].get((seat.pk, item))
    if at.checks:
        standing = pile_checks.own_check(teacher_of(request), seat, item)
    elif standing is not None and standing.state == MarkState.DRAFT:
        # What a colleague has begun is theirs until they keep it.
        drafts = services.own_drafts(teacher_of(request), seat, item, at.turn)
        standing = drafts.filter(answer=standing.answer).select_related("by").first()
    beside = services.beside_in(sitting, [seat.pk]).filter(item=item, turn=at.turn).select_related("by")
    marks = seat.marks.filter(item=item).exclude(turn=MarkingPass.CHECK).select_related("by")
    if at.checks:
        marks = seat.marks.filter(item=item, turn=at.turn, by=teacher_of(request)).select_related("by")
    # Each reads blind to the other, until both are there and are to be agreed on.
    both = turn == "agreed"
    others = [turns[entry].get((seat.pk, item)) for entry in (MarkingPass.FIRST, MarkingPass.SECOND)] if both else []
    # Whoever marks a shared pile has one answer of a student before them, and not all of their work.
    overall = seat.overall_comments.first() if at.marker is None else None
    return AnswerPage(
        number=number,
        text=seen.text,
        words=seen.words,
        by_hand=seen.by_hand,
        files=[WorkFileLine(**file._asdict()) for file in seen.files],
        given=response is not None,
        mark=mark_line(standing, request) if standing else None,
        beside=[mark_line(mark, request) for mark in beside],
        history=[mark_line(mark, request) for mark in (marks if both else marks.filter(turn=at.turn))],
        others=[mark_line(mark, request) for mark in others if mark],
        remarks=[
            remark_line(remark, request)
            for remark in remarks.remarks_on(seat, item, turns_seen(at.turn))
            if not at.checks or remark.by_id == teacher_of(request).pk
        ],
        returned=[
            ReturnedLine(id=entry.pk, name=entry.name, by=entry.by.name)
            for entry in (offline_package.returned_to(seat, item) if turn in ("first", "agreed") else [])
        ],
        overall=overall.text if overall else "",
        overall_id=overall.pk if overall else None,
        overall_by=overall.by.name if overall else "",
        work=numbers.work_token(seat, item),
        again=pile_checks.asked_again(teacher_of(request), seat, item),
        before=None if at.checks else before_of(request, at, item, response),
    )


@router.put("/sittings/{int:sitting_id}/marking/{item}/{int:number}", response=Kept)
def give(request: HttpRequest, sitting_id: int, item: str, number: int, body: MarkBody) -> Kept:
    teacher = teacher_of(request)
    at = door.at_work(teacher, sitting_id, number, body.turn, item)
    sitting, seat, turn = at.sitting, at.seat, at.turn
    numbers.refuse_other_work(seat, item, body.work)
    given = services.MarkGiven(body.points, body.comment, body.draft, body.seen, turn)
    if at.checks:
        mark = pile_checks.keep_check(teacher, seat, item, given)
        content = rubric_item(sitting, item)[1]
        response = services.responses_in(sitting, [seat])[seat.pk].get(item)
        entry = _entry(number, content, True, mark, response, False)
        return Kept(
            mark=mark_line(mark, request), entry=entry, stands=True, other=None, comments=_comments(request, item)
        )
    if at.marker is None and (pile := piles.in_other_hands(teacher, seat)):
        raise DomainError(_("{name} has shared these answers out as a pile. Mark them there.", name=pile.head.name))
    outcome = services.give(teacher, seat, item, given)
    if not given.draft:
        pile_checks.looked_again(teacher, seat, item)
    standing = current_marks(sitting, [seat.pk], turn).get((seat.pk, item))
    entry = next(entry for entry in _entries(sitting, {number: seat}, turn, teacher)[item] if entry.number == number)
    return Kept(
        mark=mark_line(outcome.mark, request),
        entry=entry,
        stands=outcome.stands,
        other=None if outcome.stands or standing is None else mark_line(standing, request),
        comments=_comments(request, item),
    )


@router.post("/sittings/{int:sitting_id}/marking/{item}/{int:number}/choice", response=Done)
def choose(request: HttpRequest, sitting_id: int, item: str, number: int, body: MarkChoiceRequest) -> Done:
    """Of marks that two gave at the same time, the one that counts."""
    at = door.at_work(teacher_of(request), sitting_id, number, body.turn, item)
    rubric_item(at.sitting, item)
    services.choose(teacher_of(request), at.seat, item, at.turn, body.mark)
    return Done()


@router.put("/sittings/{int:sitting_id}/marking/here", response=list[MarkerAt])
def here(request: HttpRequest, sitting_id: int, body: MarkerAtRequest) -> list[MarkerAt]:
    """Where one is now; answers with who else is at work in this sitting, and where."""
    sitting, teacher = _sitting(request, sitting_id), teacher_of(request)
    place = markers.MarkerPlace(teacher.name, body.turn, body.item, body.number, markers.now())
    others, moved = markers.is_at(sitting.pk, teacher.pk, place)
    if moved and others:
        seat_changed(sitting.pk)
    return [MarkerAt(name=entry.name, turn=entry.turn, item=entry.item, number=entry.number) for entry in others]  # type: ignore[arg-type]


@router.get("/sittings/{int:sitting_id}/marking/{item}/{int:number}/handwriting.jpg", response={200: None})
def handwriting(
    request: HttpRequest, sitting_id: int, item: str, number: int, turn: TurnName = "first"
) -> HttpResponse:
    at = door.at_work(teacher_of(request), sitting_id, number, turn, item)
    response = services.responses_in(at.sitting, [at.seat])[at.seat.pk].get(item)
    return HttpResponse(work.handwriting(at.seat, item, response), content_type="image/jpeg")


@router.get("/sittings/{int:sitting_id}/marking/{item}/{int:number}/files/{int:place}", response={200: None})
def file(
    request: HttpRequest, sitting_id: int, item: str, number: int, place: int, turn: TurnName = "first"
) -> FileResponse:
    """As an attachment only, whatever it is."""
    at = door.at_work(teacher_of(request), sitting_id, number, turn, item)
    response = services.responses_in(at.sitting, [at.seat])[at.seat.pk].get(item)
    path = work.file_of(at.seat, response, place)
    shown = work.work_of(response, at.names_hidden).files[place - 1]
    return attachment((path, shown.name))


@router.get("/sittings/{int:sitting_id}/marking/{item}/{int:number}/files/{int:place}/played", response={200: None})
def file_played(
    request: HttpRequest, sitting_id: int, item: str, number: int, place: int, turn: TurnName = "first"
) -> HttpResponse | FileResponse:
    """Sound or a film of an answer, to hear or to look at."""
    at = door.at_work(teacher_of(request), sitting_id, number, turn, item)
    response = services.responses_in(at.sitting, [at.seat])[at.seat.pk].get(item)
    path = work.file_of(at.seat, response, place)
    return played(request, (path, work.work_of(response, True).files[place - 1].name))


@router.put("/sittings/{int:sitting_id}/marking/at", response=Done)
def leave_bookmark(request: HttpRequest, sitting_id: int, body: BookmarkBody) -> Done:
    """Where one is, to go on there another day."""
    Bookmark.objects.update_or_create(
        teacher=teacher_of(request), sitting=_sitting(request, sitting_id), defaults=body.model_dump()
    )
    return Done()


@router.put("/sittings/{int:sitting_id}/marking/students/{int:number}/overall", response=OverallKept)
def say_overall(request: HttpRequest, sitting_id: int, number: int, body: OverallBody) -> OverallKept:
    """What a student is told about all of their work."""
    seat = numbers.seat_at(_sitting(request, sitting_id), number)
    numbers.refuse_other_work(seat, body.item, body.work)
    comment = services.say_overall(teacher_of(request), seat, body.text, body.seen)
    return OverallKept(id=comment.pk if comment else None)


@router.put("/sittings/{int:sitting_id}/marking/{item}/waived", response=MarkingPage)
def waive(request: HttpRequest, sitting_id: int, item: str, body: WaiveBody) -> MarkingPage:
    """Out of the total and the analysis of this sitting, or in again."""
    services.waive(teacher_of(request), _sitting(request, sitting_id), item, body.waived)
    return marking(request, sitting_id)


@router.put("/sittings/{int:sitting_id}/marking/names", response=MarkingPage)
def names(request: HttpRequest, sitting_id: int, body: NamesBody) -> MarkingPage:
    """Hide them before the first mark; show them once and for all."""
    sitting = _sitting(request, sitting_id)
    (numbers.hide_names if body.hidden else numbers.show_names)(teacher_of(request), sitting)
    return marking(request, sitting_id)
