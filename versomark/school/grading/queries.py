"""Reading marks: what waits, what stands, and everything that people decided about a sitting."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import NamedTuple

from django.db.models import Count, Exists, Max, OuterRef
from pydantic import TypeAdapter

from versomark.core.editions import EditionItem
from versomark.core.items.by_rubric import ByRubric
from versomark.core.items.rubric import Level
from versomark.core.language import _
from versomark.core.scoring import KeyOverride, ScoringOverrides, counted, to_mark
from versomark.core.stats import adjusted
from versomark.school.delivery.public import Seat, SeatState, Sitting
from versomark.school.errors import NotFound
from versomark.school.responses.public import CurrentAnswer, responses_of

from .models import (
    READINGS,
    AgreedAnswer,
    CurrentMark,
    GroupMark,
    HiddenNames,
    KeyDecision,
    Mark,
    MarkChoice,
    MarkingPass,
    MarkState,
    RubricRevision,
    SecondMarking,
    SeverityAdjustment,
    WaivedItem,
)
from .numbers import names_hidden

LEVELS = TypeAdapter(dict[str, list[Level]])
Place = tuple[int, str]
"""A seat and an item."""


def by_hand(sitting: Sitting) -> dict[str, EditionItem]:
    """The questions that a person marks, in printed order."""
    return {item.ref: item for item in sitting.edition.read().items() if item.content.marked_by == "person"}


def watched_in(sitting: Sitting) -> list[str]:
    """What is marked while it is done: its mark stands, whatever evidence is kept with it later."""
    return [ref for ref, item in by_hand(sitting).items() if item.content.watched]


def rubric_item(sitting: Sitting, ref: str) -> tuple[EditionItem, ByRubric]:
    item = with_rubrics_of_now(sitting).get(ref)
    if item is None or not isinstance(item.content, ByRubric):
        raise NotFound(_("question that a person marks"))
    return item, item.content


def with_rubrics_of_now(sitting: Sitting) -> dict[str, EditionItem]:
    """As `by_hand`, with the levels of their rubrics as they are now."""
    levels = levels_in(sitting)
    return {ref: revised(item, levels.get(ref)) for ref, item in by_hand(sitting).items()}


def revised(item: EditionItem, levels: Mapping[str, Sequence[Level]] | None) -> EditionItem:
    """With these levels in its rubric, by criterion."""
    if levels is None or not isinstance(item.content, ByRubric):
        return item
    content = item.content.model_copy(update={"rubric": item.content.rubric.with_levels(levels)})
    return item.model_copy(update={"content": content})


def levels_in(sitting: Sitting) -> dict[str, Mapping[str, Sequence[Level]]]:
    """By item and criterion, the levels that were changed while the sitting was marked, as they are now."""
    rows = RubricRevision.objects.filter(sitting=sitting, taken_back_at=None).order_by("pk")
    return {row.item: LEVELS.validate_python(row.levels) for row in rows}


def waived_in(sittings: Iterable[Sitting]) -> dict[int, frozenset[str]]:
    """By sitting, the items that are out of it."""
    results: dict[int, set[str]] = {sitting.pk: set() for sitting in sittings}
    for sitting, item in WaivedItem.objects.filter(sitting__in=list(results)).values_list("sitting", "item"):
        results[sitting].add(item)
    return {sitting: frozenset(items) for sitting, items in results.items()}


def marks_by_pass(sitting: Sitting, seat_ids: Collection[int] | None = None) -> dict[MarkingPass, dict[Place, Mark]]:
    """By reading, seat and item, the mark or draft that stands, of the answer that stands. Work that was given back and
    changed, or tried again, waits for its mark once more."""
    marks = CurrentMark.objects.filter(seat__sitting=sitting)
    answers = CurrentAnswer.objects.filter(seat__sitting=sitting, item__in=list(by_hand(sitting)))
    answers = answers.exclude(item__in=watched_in(sitting))
    if seat_ids is not None:
        marks, answers = marks.filter(seat__in=seat_ids), answers.filter(seat__in=seat_ids)
    stands = {(seat, item): answer for seat, item, answer in answers.values_list("seat", "item", "answer")}
    marks_by_pass: dict[MarkingPass, dict[Place, Mark]] = {turn: {} for turn in MarkingPass}
    for row in marks.select_related("mark__by"):
        if row.mark.answer_id == stands.get((row.seat_id, row.item)):
            marks_by_pass[MarkingPass(row.turn)][row.seat_id, row.item] = row.mark
    return marks_by_pass


def current_mark(turns: Mapping[MarkingPass, Mapping[Place, Mark]], seat: int, ref: str) -> Mark | None:
    """The one whose words a student reads: what was agreed on, else the first."""
    result = (turns[turn].get((seat, ref)) for turn in (MarkingPass.AGREED, MarkingPass.FIRST))
    return next((mark for mark in result if mark is not None and mark.state == MarkState.KEPT), None)


def current_marks(
    sitting: Sitting, seat_ids: Collection[int] | None = None, turn: MarkingPass = MarkingPass.FIRST
) -> dict[Place, Mark]:
    """Those of one reading."""
    return marks_by_pass(sitting, seat_ids)[turn]


def scaled(content: object, mark: Mark | None, weights: Mapping[str, float] | None = None) -> float | None:
    """A kept mark on the scale of its item; None for a draft, or while a criterion has no points."""
    if mark is None or mark.state != MarkState.KEPT or not isinstance(content, ByRubric):
        return None
    return content.rubric.scaled(mark.points, content.marks, weights)


def weights_in(sitting: Sitting) -> dict[str, Mapping[str, float]]:
    """By item, the weights of its criteria where they were settled."""
    return {
        ref: decision.weights for ref, decision in key_decisions_in([sitting])[sitting.pk].items() if decision.weights
    }


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
    turns, second, moved = marks_by_pass(sitting, seat_ids), procedure_of(sitting), adjustments_in(sitting)
    weights = weights_in(sitting) if weights is None else weights
    for place in set().union(*turns.values()):
        content = contents.get(place[1])
        first, again, agreed = (scaled(content, turns[turn].get(place), weights.get(place[1])) for turn in READINGS)
        if first is not None and moved and isinstance(content, ByRubric):
            first = moved_by(moved, content, place, turns[MarkingPass.FIRST][place], first)
        counts = counted(first, again, agreed, second.tolerance, second.mean) if second else first
        if counts is not None:
            marks.setdefault(str(place[0]), {})[place[1]] = counts
    return marks


class Moved(NamedTuple):
    """What is added to the first marks of a sitting for how harsh their markers were measured to be."""

    points: Mapping[tuple[int, str], float]
    """By teacher and item, in points of the rubric."""
    agreed: frozenset[Place]
    """Answers whose mark was agreed on, and is moved by nothing."""


def adjustments_in(sitting: Sitting) -> Moved | None:
    """None where nothing is moved."""
    rows = SeverityAdjustment.objects.filter(pile__of_sittings__sitting=sitting, taken_back_at=None)
    points = {(row.marker.teacher_id, row.item): row.points for row in rows.select_related("marker").order_by("pk")}
    if not points:
        return None
    agreed = AgreedAnswer.objects.filter(pile__of_sittings__sitting=sitting)
    return Moved(points, frozenset(agreed.values_list("seat", "item")))


def moved_by(moved: Moved, content: ByRubric, place: Place, mark: Mark, value: float) -> float:
    """A first mark, on the scale of its item, as it counts."""
    points = moved.points.get((mark.by_id, place[1]), 0.0)
    if not points or place in moved.agreed or not content.rubric.total:
        return value
    return adjusted(value, points * content.marks / content.rubric.total, content.marks)


def procedure_of(sitting: Sitting) -> SecondMarking | None:
    """How a sitting is marked a second time, where it is."""
    return SecondMarking.objects.filter(sitting=sitting).first()


def key_decisions_in(sittings: Iterable[Sitting]) -> dict[int, dict[str, KeyDecision]]:
    """By sitting and item, what holds in place of the key."""
    settlements: dict[int, dict[str, KeyDecision]] = {sitting.pk: {} for sitting in sittings}
    for settlement in (
        KeyDecision.objects.filter(sitting__in=list(settlements), taken_back_at=None)
        .select_related("by")
        .order_by("pk")
    ):
        settlements[settlement.sitting_id][settlement.item] = settlement
    return settlements


def group_marks_in(sittings: Iterable[Sitting]) -> dict[int, list[GroupMark]]:
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
    for entry in group_marks_in([sitting])[sitting.pk]:
        shares.setdefault(entry.item, {})[entry.part, entry.compared] = entry.share
    return shares


def overrides_in(sitting: Sitting) -> ScoringOverrides:
    """Everything that people decided about a sitting, as scoring takes it. Marks given without names count once the
    names are shown: a total beside a name would say whose work it was."""
    return ScoringOverrides(
        marks={} if names_hidden(sitting) else marks_of(sitting),
        settled={
            ref: KeyOverride(frozenset(decision.accepted), decision.everybody)
            for ref, decision in key_decisions_in([sitting])[sitting.pk].items()
            if not decision.weights
        },
        shares=shares_in(sitting),
        waived=waived_in([sitting])[sitting.pk],
    )


def overrides_position(sittings: Sequence[Sitting]) -> dict[int, list[object]]:
    """By sitting, how far that has come: the same position means the same decisions."""
    marks, settled, waived = marks_position(sittings), key_decisions_in(sittings), waived_in(sittings)
    same = group_marks_in(sittings)
    second = {
        entry[0]: entry[1:]
        for entry in SecondMarking.objects.filter(sitting__in=list(marks)).values_list("sitting", "tolerance", "mean")
    }
    hidden = set(HiddenNames.objects.filter(sitting__in=list(marks), shown_at=None).values_list("sitting", flat=True))
    moved: dict[int, list[int]] = {pk: [] for pk in marks}
    adjustments = SeverityAdjustment.objects.filter(pile__of_sittings__sitting__in=list(marks), taken_back_at=None)
    for pk, adjustment in adjustments.order_by("pk").values_list("pile__of_sittings__sitting", "pk"):
        if pk in moved:
            moved[pk].append(adjustment)
    return {
        pk: [
            *marks[pk],
            *second.get(pk, ()),
            pk in hidden,
            "moved",
            *moved[pk],
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
    kept_marks = CurrentMark.objects.filter(seat__sitting__in=list(result), mark__state=MarkState.KEPT)
    counted = kept_marks.values("seat__sitting").annotate(rows=Count("pk"), last=Max("mark"))
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


def with_unmarked(sittings: Iterable[Sitting]) -> set[int]:
    """Ids of those sittings in which something that was handed in for a question that a person marks has no first mark
    of the answer as it stands. An empty text among it needs none: `waiting_in` looks at each."""
    refs = {sitting.pk: set(by_hand(sitting)) for sitting in sittings}
    marked = CurrentMark.objects.filter(
        seat=OuterRef("seat"),
        item=OuterRef("item"),
        turn=MarkingPass.FIRST,
        mark__state=MarkState.KEPT,
        mark__answer=OuterRef("answer"),
    )
    given = CurrentAnswer.objects.filter(
        ~Exists(marked),
        seat__sitting__in=[sitting for sitting, some in refs.items() if some],
        seat__state=SeatState.HANDED_IN,
        answer__response__isnull=False,
    )
    rows = given.values_list("seat__sitting", "item").distinct()
    return {sitting for sitting, item in rows if item in refs[sitting]}


def draft_before(seat: Seat, ref: str, turn: MarkingPass) -> Mark | None:
    """The last mark of this reading that was given for an earlier answer of a student: what stood before the work was
    given back, or before they tried once more."""
    now = CurrentAnswer.objects.filter(seat=seat, item=ref).values_list("answer", flat=True).first()
    earlier = seat.marks.filter(item=ref, turn=turn, state=MarkState.KEPT, answer__isnull=False).exclude(answer=now)
    return earlier.select_related("answer", "by").first() if now is not None else None
