"""Marking: what waits, giving marks, waiving. A mark is points by criterion of the question's rubric."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from django.db import transaction
from django.db.models import Count, F, Max, OuterRef, Q, QuerySet, Subquery

from versomark.core.editions import EditionItem
from versomark.core.items import ItemResponse
from versomark.core.items.by_rubric import ByRubric
from versomark.core.scoring import KeyOverride, ScoringOverrides, counted, to_mark
from versomark.school.accounts.models import Teacher
from versomark.school.errors import DomainError, NotFound
from versomark.school.sittings.models import CurrentAnswer, Seat, SeatState, Sitting
from versomark.school.sittings.nudges import seat_changed
from versomark.school.sittings.seats import responses_of
from versomark.school.sittings.services import BEFORE
from versomark.school.sittings.supervising import record

from .models import (
    GroupMark,
    HiddenNames,
    KeyDecision,
    Mark,
    MarkChoice,
    MarkingPass,
    MarkState,
    OverallComment,
    OwnComment,
    SecondMarking,
    StandingMark,
    WaivedItem,
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
    results: dict[int, set[str]] = {sitting.pk: set() for sitting in sittings}
    for sitting, item in WaivedItem.objects.filter(sitting__in=list(results)).values_list("sitting", "item"):
        results[sitting].add(item)
    return {sitting: frozenset(items) for sitting, items in results.items()}


def marks_by_turn(sitting: Sitting, seat_ids: Collection[int] | None = None) -> dict[MarkingPass, dict[Place, Mark]]:
    """By reading, seat and item, the mark or draft that stands, of the answer that stands. Work that was given back and
    changed, or tried again, waits for its mark once more."""
    marks = StandingMark.objects.filter(seat__sitting=sitting)
    answers = CurrentAnswer.objects.filter(seat__sitting=sitting, item__in=list(by_hand(sitting)))
    if seat_ids is not None:
        marks, answers = marks.filter(seat__in=seat_ids), answers.filter(seat__in=seat_ids)
    stands = {(seat, item): answer for seat, item, answer in answers.values_list("seat", "item", "answer")}
    found: dict[MarkingPass, dict[Place, Mark]] = {turn: {} for turn in MarkingPass}
    for row in marks.select_related("mark__by"):
        if row.mark.answer_id == stands.get((row.seat_id, row.item)):
            found[MarkingPass(row.turn)][row.seat_id, row.item] = row.mark
    return found


def standing_mark(turns: Mapping[MarkingPass, Mapping[Place, Mark]], seat: int, ref: str) -> Mark | None:
    """The one whose words a student reads: what was agreed on, else the first."""
    result = (turns[turn].get((seat, ref)) for turn in (MarkingPass.AGREED, MarkingPass.FIRST))
    return next((mark for mark in result if mark is not None and mark.state == MarkState.KEPT), None)


def standing_marks(
    sitting: Sitting, seat_ids: Collection[int] | None = None, turn: MarkingPass = MarkingPass.FIRST
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
    marks: dict[str, dict[str, float]] = {}
    if not contents:
        return marks
    turns, second = marks_by_turn(sitting, seat_ids), procedure_of(sitting)
    weights = weights_in(sitting) if weights is None else weights
    for place in set().union(*turns.values()):
        content = contents.get(place[1])
        first, again, agreed = (scaled(content, turns[turn].get(place), weights.get(place[1])) for turn in MarkingPass)
        counts = counted(first, again, agreed, second.tolerance, second.mean) if second else first
        if counts is not None:
            marks.setdefault(str(place[0]), {})[place[1]] = counts
    return marks


def procedure_of(sitting: Sitting) -> SecondMarking | None:
    """How a sitting is marked a second time, where it is."""
    return SecondMarking.objects.filter(sitting=sitting).first()


def settlements_in(sittings: Iterable[Sitting]) -> dict[int, dict[str, KeyDecision]]:
    """By sitting and item, what holds in place of the key."""
    settlements: dict[int, dict[str, KeyDecision]] = {sitting.pk: {} for sitting in sittings}
    for settlement in (
        KeyDecision.objects.filter(sitting__in=list(settlements), taken_back_at=None)
        .select_related("by")
        .order_by("pk")
    ):
        settlements[settlement.sitting_id][settlement.item] = settlement
    return settlements


def same_marks_in(sittings: Iterable[Sitting]) -> dict[int, list[GroupMark]]:
    """By sitting, what holds of answers judged together; of one answer the last word."""
    last: dict[tuple[int, str, str, str], GroupMark] = {}
    same_marks = GroupMark.objects.filter(sitting__in=[sitting.pk for sitting in sittings], taken_back_at=None)
    for entry in same_marks.order_by("pk"):
        last[entry.sitting_id, entry.item, entry.part, entry.compared] = entry
    by_sitting: dict[int, list[GroupMark]] = {sitting.pk: [] for sitting in sittings}
    for entry in last.values():
        by_sitting[entry.sitting_id].append(entry)
    return by_sitting


def shares_in(sitting: Sitting) -> dict[str, dict[tuple[str, str], float]]:
    """By item, part and answer: the shares that a person gave."""
    shares: dict[str, dict[tuple[str, str], float]] = {}
    for entry in same_marks_in([sitting])[sitting.pk]:
        shares.setdefault(entry.item, {})[entry.part, entry.compared] = entry.share
    return shares


def judged_in(sitting: Sitting) -> ScoringOverrides:
    """Everything that people decided about a sitting, as scoring takes it. Marks given without names count once the
    names are shown: a total beside a name would say whose work it was."""
    return ScoringOverrides(
        marks={} if names_hidden(sitting) else marks_of(sitting),
        settled={
            ref: KeyOverride(frozenset(one.accepted), one.everybody)
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
        entry[0]: entry[1:]
        for entry in SecondMarking.objects.filter(sitting__in=list(marks)).values_list("sitting", "tolerance", "mean")
    }
    hidden = set(HiddenNames.objects.filter(sitting__in=list(marks), shown_at=None).values_list("sitting", flat=True))
    return {
        pk: [
            *marks[pk],
            *second.get(pk, ()),
            pk in hidden,
            *sorted(entry.pk for entry in settled[pk].values()),
            "same",
            *sorted(entry.pk for entry in same[pk]),
            "without",
            *sorted(waived[pk]),
        ]
        for pk in marks
    }


def marks_position(sittings: Iterable[Sitting]) -> dict[int, list[int]]:
    """By sitting, how far its marks have come: the same position means the same marks that stand."""
    result = {sitting.pk: [0, 0, 0] for sitting in sittings}
    kept = StandingMark.objects.filter(seat__sitting__in=list(result), mark__state=MarkState.KEPT)
    counted = kept.values("seat__sitting").annotate(rows=Count("pk"), last=Max("mark"))
    for sitting, rows, last in counted.values_list("seat__sitting", "rows", "last"):
        result[sitting][:2] = [rows, last]
    # A mark that was chosen need not be the latest one that was given.
    choices = MarkChoice.objects.filter(mark__seat__sitting__in=list(result)).values("mark__seat__sitting")
    for sitting, last in choices.annotate(last=Max("pk")).values_list("mark__seat__sitting", "last"):
        result[sitting][2] = last
    return result


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
    turn: MarkingPass = MarkingPass.FIRST


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
    if given.turn == MarkingPass.SECOND and procedure_of(seat.sitting) is None:
        raise DomainError("Nothing is marked a second time in this sitting.")
    if given.turn == MarkingPass.AGREED and any(
        scaled(content, turns[turn].get((seat.pk, ref))) is None for turn in (MarkingPass.FIRST, MarkingPass.SECOND)
    ):
        raise DomainError("There is nothing to agree on before both marks are there.")
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


def own_drafts(by: Teacher, seat: Seat, ref: str, turn: MarkingPass) -> QuerySet[Mark]:
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
def choose(by: Teacher, seat: Seat, ref: str, turn: MarkingPass, mark_id: int) -> Mark:
    """Of marks that were given at the same time, the one that counts. The others stay in the history."""
    now = marks_by_turn(seat.sitting, [seat.pk])[turn].get((seat.pk, ref))
    beside = list(beside_in(seat.sitting, [seat.pk]).filter(item=ref, turn=turn))
    chosen = next((mark for mark in [*beside, now] if mark is not None and mark.pk == mark_id), None)
    if chosen is None or not beside:
        raise DomainError("Somebody has chosen meanwhile, or the answer has changed. Look again.")
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
        raise DomainError("This has not been handed in, so it cannot be marked yet.")
    if ref in waived_in([seat.sitting])[seat.sitting_id]:
        raise DomainError("This question is waived. Take that back first.")
    if problems := content.rubric.refuses(given.points):
        raise DomainError(problems[0], status=422)
    if not given.draft and content.rubric.scaled(given.points, content.marks) is None:
        raise DomainError("A criterion has no points yet.", status=422)


def _offer_again(by: Teacher, ref: str, comment: str) -> None:
    for line in dict.fromkeys(line.strip() for line in comment.splitlines()):
        if 0 < len(line) <= LONGEST_COMMENT_KEPT:
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
            f"{current.by.name} has written to this student meanwhile. Open their work and choose what stands.",
            status=409,
        )
    return OverallComment.objects.create(seat=seat, by=by, text=text)


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
        kept, changed = WaivedItem.objects.get_or_create(
            sitting=sitting, item=ref, defaults={"by": by, "reason": reason}
        )
        if not changed and reason:
            kept.reason = reason
            kept.save(update_fields=["reason"])
    else:
        changed = WaivedItem.objects.filter(sitting=sitting, item=ref).delete()[0] > 0
    if changed:
        why = f": {reason}" if reason else ""
        record(sitting, by, f"question {number} {'waived' if waived else 'no longer waived'}{why}")


def responses_in(sitting: Sitting, seats: Collection[Seat]) -> dict[int, dict[str, ItemResponse]]:
    """seat id -> item ref -> the answer, for the questions that a person marks."""
    mine = set(by_hand(sitting))
    responses = responses_of([seat.pk for seat in seats])
    return {int(seat): {ref: one for ref, one in given.items() if ref in mine} for seat, given in responses.items()}
