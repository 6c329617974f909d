"""Marking: what waits, giving marks, waiving. A mark is points by criterion of the question's rubric."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from django.db import transaction
from django.db.models import Count, F, Max, OuterRef, Q, QuerySet, Subquery

from versomark.core.editions import EditionItem
from versomark.core.items import ItemResponse
from versomark.core.items.by_rubric import ByRubric
from versomark.core.scoring import Judged, Settled, counted, to_mark
from versomark.school.accounts.models import Teacher
from versomark.school.problems import NotFound, NotPossible
from versomark.school.sittings.models import CurrentAnswer, Seat, SeatState, Sitting
from versomark.school.sittings.nudges import seat_changed
from versomark.school.sittings.seats import responses_of
from versomark.school.sittings.services import BEFORE
from versomark.school.sittings.supervising import record

from .models import (
    HiddenNames,
    Mark,
    MarkChoice,
    MarkState,
    OverallComment,
    OwnComment,
    SameMark,
    SecondMarking,
    Settlement,
    StandingMark,
    Turn,
    Waived,
)
from .numbers import names_hidden

LONGEST_COMMENT_KEPT = 400

Place = tuple[int, str]
"""A seat and an item."""


def by_hand(sitting: Sitting) -> dict[str, EditionItem]:
    """The questions that a person marks, in printed order."""
    return {item.ref: item for item in sitting.edition.read().items() if item.content.marked_by == "person"}


def rubric_item(sitting: Sitting, ref: str) -> tuple[EditionItem, ByRubric]:
    item = by_hand(sitting).get(ref)
    if item is None or not isinstance(item.content, ByRubric):
        raise NotFound("question that a person marks")
    return item, item.content


def waived_in(sittings: Iterable[Sitting]) -> dict[int, frozenset[str]]:
    """By sitting, the items that are out of it."""
    found: dict[int, set[str]] = {sitting.pk: set() for sitting in sittings}
    for sitting, item in Waived.objects.filter(sitting__in=list(found)).values_list("sitting", "item"):
        found[sitting].add(item)
    return {sitting: frozenset(items) for sitting, items in found.items()}


def marks_by_turn(sitting: Sitting, seat_ids: Collection[int] | None = None) -> dict[Turn, dict[Place, Mark]]:
    """By reading, seat and item, the mark or draft that stands, of the answer that stands. Work that was given back and
    changed, or tried again, waits for its mark once more."""
    marks = StandingMark.objects.filter(seat__sitting=sitting)
    answers = CurrentAnswer.objects.filter(seat__sitting=sitting, item__in=list(by_hand(sitting)))
    if seat_ids is not None:
        marks, answers = marks.filter(seat__in=seat_ids), answers.filter(seat__in=seat_ids)
    stands = {(seat, item): answer for seat, item, answer in answers.values_list("seat", "item", "answer")}
    found: dict[Turn, dict[Place, Mark]] = {turn: {} for turn in Turn}
    for row in marks.select_related("mark__by"):
        if row.mark.answer_id == stands.get((row.seat_id, row.item)):
            found[Turn(row.turn)][row.seat_id, row.item] = row.mark
    return found


def standing_mark(turns: Mapping[Turn, Mapping[Place, Mark]], seat: int, ref: str) -> Mark | None:
    """The one whose words a student reads: what was agreed on, else the first."""
    found = (turns[turn].get((seat, ref)) for turn in (Turn.AGREED, Turn.FIRST))
    return next((mark for mark in found if mark is not None and mark.state == MarkState.KEPT), None)


def standing_marks(
    sitting: Sitting, seat_ids: Collection[int] | None = None, turn: Turn = Turn.FIRST
) -> dict[Place, Mark]:
    """Those of one reading."""
    return marks_by_turn(sitting, seat_ids)[turn]


def scaled(content: object, mark: Mark | None, weights: Mapping[str, float] | None = None) -> float | None:
    """A kept mark on the scale of its item; None for a draft, or while a criterion has no points."""
    if mark is None or mark.state != MarkState.KEPT or not isinstance(content, ByRubric):
        return None
    return content.rubric.scaled(mark.points, content.marks, weights)


def weights_in(sitting: Sitting) -> dict[str, Mapping[str, float]]:
    """By item, the weights of its criteria where they were settled."""
    return {ref: one.weights for ref, one in settlements_in([sitting])[sitting.pk].items() if one.weights}


def marks_of(
    sitting: Sitting,
    seat_ids: Collection[int] | None = None,
    weights: Mapping[str, Mapping[str, float]] | None = None,
) -> dict[str, dict[str, float]]:
    """seat id -> item ref -> the marks that count, on the scale of the item; drafts do not, nor do two that are too far
    apart and not agreed on. weights: in place of those that were settled."""
    contents = {ref: item.content for ref, item in by_hand(sitting).items()}
    found: dict[str, dict[str, float]] = {}
    if not contents:
        return found
    turns, second = marks_by_turn(sitting, seat_ids), procedure_of(sitting)
    weights = weights_in(sitting) if weights is None else weights
    for place in set().union(*turns.values()):
        content = contents.get(place[1])
        first, again, agreed = (scaled(content, turns[turn].get(place), weights.get(place[1])) for turn in Turn)
        counts = counted(first, again, agreed, second.tolerance, second.mean) if second else first
        if counts is not None:
            found.setdefault(str(place[0]), {})[place[1]] = counts
    return found


def procedure_of(sitting: Sitting) -> SecondMarking | None:
    """How a sitting is marked a second time, where it is."""
    return SecondMarking.objects.filter(sitting=sitting).first()


def settlements_in(sittings: Iterable[Sitting]) -> dict[int, dict[str, Settlement]]:
    """By sitting and item, what holds in place of the key."""
    found: dict[int, dict[str, Settlement]] = {sitting.pk: {} for sitting in sittings}
    for one in (
        Settlement.objects.filter(sitting__in=list(found), taken_back_at=None).select_related("by").order_by("pk")
    ):
        found[one.sitting_id][one.item] = one
    return found


def same_marks_in(sittings: Iterable[Sitting]) -> dict[int, list[SameMark]]:
    """By sitting, what holds of answers judged together; of one answer the last word."""
    last: dict[tuple[int, str, str, str], SameMark] = {}
    found = SameMark.objects.filter(sitting__in=[sitting.pk for sitting in sittings], taken_back_at=None)
    for one in found.order_by("pk"):
        last[one.sitting_id, one.item, one.part, one.compared] = one
    by_sitting: dict[int, list[SameMark]] = {sitting.pk: [] for sitting in sittings}
    for one in last.values():
        by_sitting[one.sitting_id].append(one)
    return by_sitting


def shares_in(sitting: Sitting) -> dict[str, dict[tuple[str, str], float]]:
    """By item, part and answer: the shares that a person gave."""
    found: dict[str, dict[tuple[str, str], float]] = {}
    for one in same_marks_in([sitting])[sitting.pk]:
        found.setdefault(one.item, {})[one.part, one.compared] = one.share
    return found


def judged_in(sitting: Sitting) -> Judged:
    """Everything that people decided about a sitting, as scoring takes it. Marks given without names count once the
    names are shown: a total beside a name would say whose work it was."""
    return Judged(
        marks={} if names_hidden(sitting) else marks_of(sitting),
        settled={
            ref: Settled(frozenset(one.accepted), one.everybody)
            for ref, one in settlements_in([sitting])[sitting.pk].items()
            if not one.weights
        },
        shares=shares_in(sitting),
        waived=waived_in([sitting])[sitting.pk],
    )


def judged_position(sittings: Sequence[Sitting]) -> dict[int, list[object]]:
    """By sitting, how far that has come: the same position means the same decisions."""
    marks, settled, waived = marks_position(sittings), settlements_in(sittings), waived_in(sittings)
    same = same_marks_in(sittings)
    second = {
        one[0]: one[1:]
        for one in SecondMarking.objects.filter(sitting__in=list(marks)).values_list("sitting", "tolerance", "mean")
    }
    hidden = set(HiddenNames.objects.filter(sitting__in=list(marks), shown_at=None).values_list("sitting", flat=True))
    return {
        pk: [
            *marks[pk],
            *second.get(pk, ()),
            pk in hidden,
            *sorted(one.pk for one in settled[pk].values()),
            "same",
            *sorted(one.pk for one in same[pk]),
            "without",
            *sorted(waived[pk]),
        ]
        for pk in marks
    }


def marks_position(sittings: Iterable[Sitting]) -> dict[int, list[int]]:
    """By sitting, how far its marks have come: the same position means the same marks that stand."""
    found = {sitting.pk: [0, 0, 0] for sitting in sittings}
    kept = StandingMark.objects.filter(seat__sitting__in=list(found), mark__state=MarkState.KEPT)
    counted = kept.values("seat__sitting").annotate(rows=Count("pk"), last=Max("mark"))
    for sitting, rows, last in counted.values_list("seat__sitting", "rows", "last"):
        found[sitting][:2] = [rows, last]
    # A mark that was chosen need not be the latest one that was given.
    choices = MarkChoice.objects.filter(mark__seat__sitting__in=list(found)).values("mark__seat__sitting")
    for sitting, last in choices.annotate(last=Max("pk")).values_list("mark__seat__sitting", "last"):
        found[sitting][2] = last
    return found


class Waiting(NamedTuple):
    """What a question still needs."""

    ref: str
    to_mark: int
    marked: int


def waiting_in(sitting: Sitting) -> list[Waiting]:
    """Of each question that a person marks and that is not waived."""
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).values_list("pk", flat=True))
    needed = to_mark(sitting.edition.read(), responses_of(seats))
    marks, out = marks_of(sitting, seats), waived_in([sitting])[sitting.pk]
    return [
        Waiting(ref, len(of), sum(ref in marks.get(seat, {}) for seat in of))
        for ref, of in needed.items()
        if ref not in out
    ]


@dataclass(frozen=True)
class Given:
    """What a marker says of one answer. `seen`: the mark that stood when they looked; None where none did."""

    points: Mapping[str, float]
    comment: str
    draft: bool
    seen: int | None
    turn: Turn = Turn.FIRST


class Outcome(NamedTuple):
    mark: Mark
    stands: bool
    """Whether it stands; otherwise a colleague had given another one meanwhile, and this one is kept beside it."""


@transaction.atomic
def give(by: Teacher, seat: Seat, ref: str, given: Given) -> Outcome:
    """Give an answer its mark. A colleague's mark that its giver had not seen is never covered up: both are kept, and a
    person chooses with `choose`."""
    _, content = rubric_item(seat.sitting, ref)
    _may_be_marked(seat, ref, given, content)
    turns = marks_by_turn(seat.sitting, [seat.pk])
    if given.turn == Turn.SECOND and procedure_of(seat.sitting) is None:
        raise NotPossible("Nothing is marked a second time in this sitting.")
    if given.turn == Turn.AGREED and any(
        scaled(content, turns[turn].get((seat.pk, ref))) is None for turn in (Turn.FIRST, Turn.SECOND)
    ):
        raise NotPossible("There is nothing to agree on before both marks are there.")
    now = turns[given.turn].get((seat.pk, ref))
    kept = now if now is not None and now.state == MarkState.KEPT else None
    own = now is not None and now.by_id == by.pk
    if given.draft:
        if kept is not None:
            # A draft takes no kept mark's place; and its giver is told of a colleague's that they have not seen.
            return Outcome(kept, own or kept.pk == given.seen)
        return Outcome(_keep_draft(by, seat, ref, given), True)
    if kept is not None and (dict(given.points), given.comment.strip()) == (kept.points, kept.comment):
        return Outcome(kept, True)  # what stands already is no news, whoever says it
    # A kept mark is a row of its own, never the draft it came from: an id that somebody saw while it was a draft must
    # not pass for having seen the mark.
    own_drafts(by, seat, ref, given.turn).delete()
    unseen = kept is not None and not own and kept.pk != given.seen
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
        StandingMark.objects.update_or_create(seat=seat, item=ref, turn=given.turn, defaults={"mark": mark})
    if mark.comment:
        _offer_again(by, ref, mark.comment)
    seat_changed(seat.sitting_id)
    return Outcome(mark, not unseen)


def _keep_draft(by: Teacher, seat: Seat, ref: str, given: Given) -> Mark:
    """A draft is its giver's own, beside that of a colleague who is at the same answer."""
    mark = own_drafts(by, seat, ref, given.turn).first()
    if mark is None:
        mark = Mark(seat=seat, item=ref, by=by, turn=given.turn, state=MarkState.DRAFT)
    mark.answer_id = answer_of(seat, ref)
    mark.points, mark.comment = dict(given.points), given.comment.strip()
    mark.save()
    standing = StandingMark.objects.filter(seat=seat, item=ref, turn=given.turn).select_related("mark").first()
    if standing is None:
        StandingMark.objects.create(seat=seat, item=ref, turn=given.turn, mark=mark)
        seat_changed(seat.sitting_id)
    elif standing.mark.state != MarkState.DRAFT or standing.mark.answer_id != mark.answer_id:
        # What stood was given for an answer that has changed since.
        standing.mark = mark
        standing.save(update_fields=["mark"])
    return mark


def own_drafts(by: Teacher, seat: Seat, ref: str, turn: Turn) -> QuerySet[Mark]:
    return Mark.objects.filter(seat=seat, item=ref, turn=turn, by=by, state=MarkState.DRAFT)


def beside_in(sitting: Sitting, seat_ids: Collection[int] | None = None) -> QuerySet[Mark]:
    """Marks that stand beside a colleague's and wait for a person to choose, the earliest first. One whose answer has
    changed since waits for nothing."""
    marks = Mark.objects.filter(seat__sitting=sitting, state=MarkState.ASIDE).order_by("pk")
    if seat_ids is not None:
        marks = marks.filter(seat__in=seat_ids)
    current = CurrentAnswer.objects.filter(seat=OuterRef("seat"), item=OuterRef("item"))
    return marks.annotate(current_answer=Subquery(current.values("answer")[:1])).filter(
        Q(answer=F("current_answer")) | Q(answer=None, current_answer=None)
    )


@transaction.atomic
def choose(by: Teacher, seat: Seat, ref: str, turn: Turn, mark_id: int) -> Mark:
    """Of marks that were given at the same time, the one that counts. The others stay in the history."""
    now = marks_by_turn(seat.sitting, [seat.pk])[turn].get((seat.pk, ref))
    beside = list(beside_in(seat.sitting, [seat.pk]).filter(item=ref, turn=turn))
    chosen = next((mark for mark in [*beside, now] if mark is not None and mark.pk == mark_id), None)
    if chosen is None or not beside:
        raise NotPossible("Somebody has chosen meanwhile, or the answer has changed. Look again.")
    Mark.objects.filter(pk__in=[mark.pk for mark in beside]).exclude(pk=chosen.pk).update(state=MarkState.PASSED)
    chosen.state = MarkState.KEPT
    chosen.save(update_fields=["state"])
    StandingMark.objects.update_or_create(seat=seat, item=ref, turn=turn, defaults={"mark": chosen})
    MarkChoice.objects.create(mark=chosen, by=by)
    seat_changed(seat.sitting_id)
    return chosen


def answer_of(seat: Seat, ref: str) -> int | None:
    """The answer that stands, by its place in the log."""
    return CurrentAnswer.objects.filter(seat=seat, item=ref).values_list("answer", flat=True).first()


def _may_be_marked(seat: Seat, ref: str, given: Given, content: ByRubric) -> None:
    if seat.sitting.state in BEFORE or seat.state != SeatState.HANDED_IN:
        raise NotPossible("This has not been handed in, so it cannot be marked yet.")
    if ref in waived_in([seat.sitting])[seat.sitting_id]:
        raise NotPossible("This question is waived. Take that back first.")
    if problems := content.rubric.refuses(given.points):
        raise NotPossible(problems[0], status=422)
    if not given.draft and content.rubric.scaled(given.points, content.marks) is None:
        raise NotPossible("A criterion has no points yet.", status=422)


def _offer_again(by: Teacher, ref: str, comment: str) -> None:
    for line in dict.fromkeys(line.strip() for line in comment.splitlines()):
        if 0 < len(line) <= LONGEST_COMMENT_KEPT:
            known, made = OwnComment.objects.get_or_create(teacher=by, item=ref, text=line)
            if not made:
                OwnComment.objects.filter(pk=known.pk).update(used=F("used") + 1)


@transaction.atomic
def say_overall(by: Teacher, seat: Seat, text: str) -> None:
    """What stands at the head of a student's result; what stood there before is kept."""
    now, text = seat.overall_comments.first(), text.strip()
    if text != (now.text if now else ""):
        OverallComment.objects.create(seat=seat, by=by, text=text)


def number_of(sitting: Sitting, ref: str) -> int:
    """As printed, from 1."""
    refs = [item.ref for item in sitting.edition.read().items()]
    if ref not in refs:
        raise NotFound("question")
    return 1 + refs.index(ref)


@transaction.atomic
def waive(by: Teacher, sitting: Sitting, ref: str, waived: bool, reason: str = "") -> None:
    """Leave a question out of this sitting, or take that back. Marks that were given stay and count again then."""
    number = number_of(sitting, ref)
    if waived:
        kept, changed = Waived.objects.get_or_create(sitting=sitting, item=ref, defaults={"by": by, "reason": reason})
        if not changed and reason:
            kept.reason = reason
            kept.save(update_fields=["reason"])
    else:
        changed = Waived.objects.filter(sitting=sitting, item=ref).delete()[0] > 0
    if changed:
        why = f": {reason}" if reason else ""
        record(sitting, by, f"question {number} {'waived' if waived else 'no longer waived'}{why}")


def responses_in(sitting: Sitting, seats: Collection[Seat]) -> dict[int, dict[str, ItemResponse]]:
    """seat id -> item ref -> the answer, for the questions that a person marks."""
    mine = set(by_hand(sitting))
    found = responses_of([seat.pk for seat in seats])
    return {int(seat): {ref: one for ref, one in given.items() if ref in mine} for seat, given in found.items()}
