"""Marking: what waits, giving marks, waiving. A mark is points by criterion of the question's rubric."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import NamedTuple

from django.db import transaction
from django.db.models import F, OuterRef, Q, QuerySet, Subquery

from versomark.core.items import ItemResponse
from versomark.core.items.by_rubric import ByRubric
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import BEFORE, EventKind, Seat, SeatState, Sitting, record, seat_changed
from versomark.school.errors import DomainError, NotFound
from versomark.school.responses.public import CurrentAnswer, responses_of

from .models import (
    CurrentMark,
    Mark,
    MarkChoice,
    MarkingPass,
    MarkState,
    OverallComment,
    OwnComment,
    WaivedItem,
)
from .queries import (
    by_hand,
    marks_by_pass,
    procedure_of,
    rubric_item,
    scaled,
    waived_in,
    watched_in,
)

LONGEST_COMMENT_KEPT = 400


@dataclass(frozen=True)
class MarkGiven:
    """What a marker says of one answer. `seen`: the mark that stood when they looked; None where none did."""

    points: Mapping[str, float]
    comment: str
    draft: bool
    seen: int | None
    turn: MarkingPass = MarkingPass.FIRST


class Outcome(NamedTuple):
    mark: Mark
    stands: bool
    """Whether it stands; otherwise a colleague had given another one meanwhile, and this one is kept beside it."""


@transaction.atomic
def give(by: Teacher, seat: Seat, ref: str, given: MarkGiven) -> Outcome:
    """Give an answer its mark. A colleague's mark that its giver had not seen is never covered up: both are kept, and a
    person chooses with `choose`."""
    _rest, content = rubric_item(seat.sitting, ref)
    may_be_marked(seat, ref, given, content)
    turns = marks_by_pass(seat.sitting, [seat.pk])
    if given.turn == MarkingPass.SECOND and procedure_of(seat.sitting) is None:
        raise DomainError(_("Nothing is marked a second time in this sitting."))
    if given.turn == MarkingPass.AGREED and any(
        scaled(content, turns[turn].get((seat.pk, ref))) is None for turn in (MarkingPass.FIRST, MarkingPass.SECOND)
    ):
        raise DomainError(_("There is nothing to agree on before both marks are there."))
    now = turns[given.turn].get((seat.pk, ref))
    outcome = now if now is not None and now.state == MarkState.KEPT else None
    own = now is not None and now.by_id == by.pk
    if given.draft:
        if outcome is not None:
            # A draft takes no kept mark's place; and its giver is told of a colleague's that they have not seen.
            return Outcome(outcome, own or outcome.pk == given.seen)
        return Outcome(_keep_draft(by, seat, ref, given), True)
    if outcome is not None and (dict(given.points), given.comment.strip()) == (outcome.points, outcome.comment):
        return Outcome(outcome, True)  # what stands already is no news, whoever says it
    # A kept mark is a row of its own, never the draft it came from: an id that somebody saw while it was a draft must
    # not pass for having seen the mark.
    own_drafts(by, seat, ref, given.turn).delete()
    unseen = outcome is not None and not own and outcome.pk != given.seen
    mark = Mark(
        seat=seat,
        item=ref,
        by=by,
        turn=given.turn,
        answer_id=answer_of(seat, ref),
        points=dict(given.points),
        comment=given.comment.strip(),
        state=MarkState.ASIDE if unseen else MarkState.KEPT,
    )
    mark.save()
    # Of one marker only the last word stands beside a colleague's, or in its place.
    beside_in(seat.sitting, [seat.pk]).filter(item=ref, turn=given.turn, by=by).exclude(pk=mark.pk).update(
        state=MarkState.PASSED
    )
    if not unseen:
        CurrentMark.objects.update_or_create(seat=seat, item=ref, turn=given.turn, defaults={"mark": mark})
    if mark.comment:
        _offer_again(by, ref, content, mark.comment)
    seat_changed(seat.sitting_id)
    return Outcome(mark, not unseen)


def _keep_draft(by: Teacher, seat: Seat, ref: str, given: MarkGiven) -> Mark:
    """A draft is its giver's own, beside that of a colleague who is at the same answer."""
    mark = own_drafts(by, seat, ref, given.turn).first()
    if mark is None:
        mark = Mark(seat=seat, item=ref, by=by, turn=given.turn, state=MarkState.DRAFT)
    mark.answer_id = answer_of(seat, ref)
    mark.points, mark.comment = dict(given.points), given.comment.strip()
    mark.save()
    standing = CurrentMark.objects.filter(seat=seat, item=ref, turn=given.turn).select_related("mark").first()
    if standing is None:
        CurrentMark.objects.create(seat=seat, item=ref, turn=given.turn, mark=mark)
        seat_changed(seat.sitting_id)
    elif standing.mark.state != MarkState.DRAFT or standing.mark.answer_id != mark.answer_id:
        # What stood was given for an answer that has changed since.
        standing.mark = mark
        standing.save(update_fields=["mark"])
    return mark


def own_drafts(by: Teacher, seat: Seat, ref: str, turn: MarkingPass) -> QuerySet[Mark]:
    return Mark.objects.filter(seat=seat, item=ref, turn=turn, by=by, state=MarkState.DRAFT)


def beside_in(sitting: Sitting, seat_ids: Collection[int] | None = None) -> QuerySet[Mark]:
    """Marks that stand beside a colleague's and wait for a person to choose, the earliest first. One whose answer has
    changed since waits for nothing."""
    marks = Mark.objects.filter(seat__sitting=sitting, state=MarkState.ASIDE).order_by("pk")
    if seat_ids is not None:
        marks = marks.filter(seat__in=seat_ids)
    current = CurrentAnswer.objects.filter(seat=OuterRef("seat"), item=OuterRef("item"))
    current = current.exclude(item__in=watched_in(sitting))
    return marks.annotate(current_answer=Subquery(current.values("answer")[:1])).filter(
        Q(answer=F("current_answer")) | Q(answer=None, current_answer=None)
    )


@transaction.atomic
def choose(by: Teacher, seat: Seat, ref: str, turn: MarkingPass, mark_id: int) -> Mark:
    """Of marks that were given at the same time, the one that counts. The others stay in the history."""
    now = marks_by_pass(seat.sitting, [seat.pk])[turn].get((seat.pk, ref))
    beside = list(beside_in(seat.sitting, [seat.pk]).filter(item=ref, turn=turn))
    chosen = next((mark for mark in [*beside, now] if mark is not None and mark.pk == mark_id), None)
    if chosen is None or not beside:
        raise DomainError(_("Somebody has chosen meanwhile, or the answer has changed. Look again."))
    Mark.objects.filter(pk__in=[mark.pk for mark in beside]).exclude(pk=chosen.pk).update(state=MarkState.PASSED)
    chosen.state = MarkState.KEPT
    chosen.save(update_fields=["state"])
    CurrentMark.objects.update_or_create(seat=seat, item=ref, turn=turn, defaults={"mark": chosen})
    MarkChoice.objects.create(mark=chosen, by=by)
    seat_changed(seat.sitting_id)
    return chosen


def answer_of(seat: Seat, ref: str) -> int | None:
    """The answer that stands and is marked, by its place in the log; none of what was watched."""
    if ref in watched_in(seat.sitting):
        return None
    return CurrentAnswer.objects.filter(seat=seat, item=ref).values_list("answer", flat=True).first()


def may_be_marked(seat: Seat, ref: str, given: MarkGiven, content: ByRubric) -> None:
    if seat.sitting.state in BEFORE or (seat.state != SeatState.HANDED_IN and not content.watched):
        raise DomainError(_("This has not been handed in, so it cannot be marked yet."))
    if ref in waived_in([seat.sitting])[seat.sitting_id]:
        raise DomainError(_("This question is waived. Take that back first."))
    if problems := content.rubric.refuses(given.points):
        raise DomainError(problems[0], status=422)
    if not given.draft and content.rubric.scaled(given.points, content.marks) is None:
        raise DomainError(_("A criterion has no points yet."), status=422)


def _offer_again(by: Teacher, ref: str, content: ByRubric, comment: str) -> None:
    """What was said is offered again; what was made of a comment with places to fill, and so may name a student, counts
    for that one and is not kept itself; the words of a level are in the rubric already."""
    levels = {f"{criterion.name}: {level.words}" for criterion in content.rubric.criteria for level in criterion.levels}
    filled = [row for row in OwnComment.objects.filter(teacher=by, text__contains="{") if row.places]
    for line in dict.fromkeys(line.strip() for line in comment.splitlines()):
        made_of = next((row for row in filled if row.places and row.places.fullmatch(line)), None)
        if made_of is not None:
            OwnComment.objects.filter(pk=made_of.pk).update(used=F("used") + 1)
        elif 0 < len(line) <= LONGEST_COMMENT_KEPT and line not in levels:
            known, created = OwnComment.objects.get_or_create(teacher=by, item=ref, text=line)
            if not created:
                OwnComment.objects.filter(pk=known.pk).update(used=F("used") + 1)


@transaction.atomic
def say_overall(by: Teacher, seat: Seat, text: str, seen: int | None = None) -> OverallComment | None:
    """What stands at the head of a student's result; what stood there before is kept.

    seen: the comment that its writer had before them. A colleague's that they had not seen is not covered: then
    nothing is kept, and a person chooses.
    """
    current, text = seat.overall_comments.first(), text.strip()
    if text == (current.text if current else ""):
        return current
    if current is not None and current.by_id != by.pk and current.pk != seen:
        raise DomainError(
            _(
                "{name} has written to this student meanwhile. Open their work and choose what stands.",
                name=current.by.name,
            ),
            status=409,
        )
    return OverallComment.objects.create(seat=seat, by=by, text=text)


def number_of(sitting: Sitting, ref: str) -> int:
    """As printed, from 1."""
    refs = [item.ref for item in sitting.edition.read().items()]
    if ref not in refs:
        raise NotFound(_("question"))
    return 1 + refs.index(ref)


@transaction.atomic
def waive(by: Teacher, sitting: Sitting, ref: str, waived: bool, reason: str = "") -> None:
    """Leave a question out of this sitting, or take that back. Marks that were given stay and count again then."""
    number = number_of(sitting, ref)
    if waived:
        waived_item, changed = WaivedItem.objects.get_or_create(
            sitting=sitting, item=ref, defaults={"by": by, "reason": reason}
        )
        if not changed and reason:
            waived_item.reason = reason
            waived_item.save(update_fields=["reason"])
    else:
        changed = WaivedItem.objects.filter(sitting=sitting, item=ref).delete()[0] > 0
    if changed:
        record(sitting, by, EventKind.WAIVED if waived else EventKind.WAIVED_NO_MORE, number=number, reason=reason)


def responses_in(sitting: Sitting, seats: Collection[Seat]) -> dict[int, dict[str, ItemResponse]]:
    """seat id -> item ref -> the answer, for the questions that a person marks."""
    mine = set(by_hand(sitting))
    responses = responses_of([seat.pk for seat in seats])
    return {
        int(seat): {ref: response for ref, response in given.items() if ref in mine}
        for seat, given in responses.items()
    }
