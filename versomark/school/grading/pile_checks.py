"""How close the markers of a shared pile are to marks that were agreed on, and what is done about it in time."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from django.db import transaction
from django.utils import timezone

from versomark.core.items.by_rubric import ByRubric
from versomark.core.language import _
from versomark.core.stats import Agreement, Closeness, adjusted, agreement, closeness, shrunk
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import EventKind, Seat, Sitting, record, seat_changed
from versomark.school.errors import DomainError, NotFound

from . import piles
from .models import AgreedAnswer, LookAgain, Mark, MarkingPass, MarkState, Pile, PileMarker, SeverityAdjustment
from .queries import Place, by_hand, rubric_item, scaled
from .second_marking import levels_of
from .services import MarkGiven, answer_of, may_be_marked, number_of, own_drafts

MOST_AGREED = 40
FEWEST_TO_ADJUST = 5
"""Checks of a question from which a severity may be taken out of marks; with fewer its interval spans the scale."""


def own_check(by: Teacher, seat: Seat, ref: str) -> Mark | None:
    """What a marker gave an answer by which they are checked, or has begun."""
    marks = Mark.objects.filter(seat=seat, item=ref, turn=MarkingPass.CHECK, by=by, answer=answer_of(seat, ref))
    return marks.select_related("by").order_by("-pk").first()


@transaction.atomic
def keep_check(by: Teacher, seat: Seat, ref: str, given: MarkGiven) -> Mark:
    """The mark of a marker for an agreed answer: theirs alone, and counted for nothing but them."""
    may_be_marked(seat, ref, given, rubric_item(seat.sitting, ref)[1])
    before = own_check(by, seat, ref)
    same = before is not None and (dict(given.points), given.comment.strip()) == (before.points, before.comment)
    if before is not None and before.state == MarkState.KEPT and (given.draft or same):
        return before
    mark = Mark(seat=seat, item=ref, by=by, turn=MarkingPass.CHECK, answer_id=answer_of(seat, ref))
    drafts = own_drafts(by, seat, ref, MarkingPass.CHECK)
    if given.draft:
        mark = drafts.first() or mark
    else:
        drafts.delete()
    mark.state = MarkState.DRAFT if given.draft else MarkState.KEPT
    mark.points, mark.comment = dict(given.points), given.comment.strip()
    mark.save()
    if not given.draft:
        seat_changed(seat.sitting_id)
    return mark


@transaction.atomic
def agree_on(by: Teacher, pile_id: int, seat: Seat, ref: str, reason: str) -> AgreedAnswer:
    """Use an answer, with the mark that stands for it, to show how close the markers are."""
    pile = piles.led_by(by, pile_id)
    if pile.ended_at is not None:
        raise DomainError(_("This pile has been ended."), status=409)
    mark = piles.marked_in(pile).get((seat.pk, ref))
    if mark is None:
        raise DomainError(_("Mark this answer first: its mark is the one that the others are compared with."))
    if pile.agreed.exclude(seat=seat, item=ref).count() >= MOST_AGREED:
        raise DomainError(_("A pile has at most {most} agreed answers.", most=MOST_AGREED))
    agreed, _created = AgreedAnswer.objects.update_or_create(
        pile=pile, seat=seat, item=ref, defaults={"points": mark.points, "reason": reason.strip(), "by": by}
    )
    return agreed


@transaction.atomic
def agree_no_more(by: Teacher, pile_id: int, agreed_id: int) -> None:
    """Its mark stays; nobody meets it among their own any more."""
    if not piles.led_by(by, pile_id).agreed.filter(pk=agreed_id).delete()[0]:
        raise NotFound(_("agreed answer"))


class MarkerCloseness(NamedTuple):
    """One marker beside the agreed marks of one question, in points of its rubric."""

    marker: PileMarker
    item: str
    close: Closeness
    agree: Agreement
    adjustment: float
    """What is added to each of their marks now; 0 for nothing."""
    proposed: float | None
    """What would be added: the severity, drawn to 0 by how badly it is known. None with too few checks."""


def close_in(pile: Pile, only: PileMarker | None = None) -> list[MarkerCloseness]:
    """Question by question, how close each marker is who has met agreed answers."""
    given = _checks(pile)
    now = {(row.marker_id, row.item): row.points for row in pile.adjustments.filter(taken_back_at=None)}
    markers = list(pile.markers.select_related("teacher"))
    lines = list[MarkerCloseness]()
    for ref, item in by_hand(piles.sittings_in(pile)[0]).items():
        content = item.content
        if not isinstance(content, ByRubric):
            continue
        met = [(marker, pairs) for marker in markers if (pairs := given.get((marker.teacher_id, ref)))]
        beside = [(marker, np.array(pairs, float)) for marker, pairs in met]
        close = [closeness(pairs[:, 0], pairs[:, 1], 0.5 if np.any(pairs % 1) else 1) for _marker, pairs in beside]
        sure = [entry for entry in close if entry.answers >= FEWEST_TO_ADJUST and entry.severity]
        moved = iter(shrunk([e.severity.value for e in sure if e.severity], [e.error or 0 for e in sure]))
        lines += [
            MarkerCloseness(
                marker,
                ref,
                entry,
                agreement(pairs[:, 0], pairs[:, 1], levels_of(pairs, content.rubric.total), 1),
                now.get((marker.pk, ref), 0.0),
                round(float(next(moved)), 2) if entry in sure else None,
            )
            for (marker, pairs), entry in zip(beside, close, strict=True)
        ]
    return [line for line in lines if only is None or line.marker.pk == only.pk]


def _checks(pile: Pile) -> dict[tuple[int, str], list[tuple[float, float]]]:
    """By teacher and question, agreed points and what they gave, in the order in which they gave them."""
    agreed = piles.agreed_in(pile)
    marks = Mark.objects.filter(seat__sitting__piles__pile=pile, turn=MarkingPass.CHECK, state=MarkState.KEPT).order_by(
        "pk"
    )
    last: dict[tuple[int, str, int], float] = {}
    for mark in marks:
        if (mark.seat_id, mark.item) in agreed:
            last[mark.by_id, mark.item, mark.seat_id] = sum(mark.points.values())
    pairs: dict[tuple[int, str], list[tuple[float, float]]] = {}
    for (teacher, item, seat), points in last.items():
        pairs.setdefault((teacher, item), []).append((sum(agreed[seat, item].points.values()), points))
    return pairs


class Effect(NamedTuple):
    """What an adjustment does to one answer, in marks of the question."""

    place: Place
    before: float
    after: float


def effect_of(pile: Pile, marker: PileMarker, ref: str, points: float) -> list[Effect]:
    """Every mark of a marker that an adjustment would change."""
    content = rubric_item(piles.sittings_in(pile)[0], ref)[1]
    moved = points * content.marks / content.rubric.total if content.rubric.total else 0.0
    effects = []
    for place, mark in piles.marked_in(pile).items():
        before = scaled(content, mark) if place[1] == ref and mark.by_id == marker.teacher_id else None
        if before is not None and place not in piles.agreed_in(pile):
            after = adjusted(before, moved, content.marks)
            if after != before:
                effects.append(Effect(place, before, after))
    return effects


@transaction.atomic
def adjust(by: Teacher, pile_id: int, marker_id: int, ref: str) -> SeverityAdjustment:
    """Take a marker's measured severity out of their marks of a question, for as long as nobody takes that back."""
    pile = piles.led_by(by, pile_id)
    line = next((line for line in close_in(pile) if (line.marker.pk, line.item) == (marker_id, ref)), None)
    if line is None or line.proposed is None:
        raise DomainError(
            _(
                "It takes {fewest} agreed answers to a question to measure how harsh a marker is.",
                fewest=FEWEST_TO_ADJUST,
            )
        )
    _end_adjustment(pile, marker_id, ref)
    adjustment = SeverityAdjustment.objects.create(
        pile=pile, marker_id=marker_id, item=ref, points=line.proposed, by=by
    )
    _record(pile, by, EventKind.SEVERITY_ADJUSTED, line.marker, ref, points=line.proposed)
    return adjustment


@transaction.atomic
def adjust_no_more(by: Teacher, pile_id: int, marker_id: int, ref: str) -> None:
    pile = piles.led_by(by, pile_id)
    if not _end_adjustment(pile, marker_id, ref):
        raise NotFound(_("adjustment"))
    _record(pile, by, EventKind.SEVERITY_AS_MARKED, pile.markers.get(pk=marker_id), ref)


def _end_adjustment(pile: Pile, marker_id: int, ref: str) -> int:
    now = pile.adjustments.filter(marker=marker_id, item=ref, taken_back_at=None)
    return now.update(taken_back_at=timezone.now())


def _record(pile: Pile, by: Teacher, kind: EventKind, marker: PileMarker, ref: str, points: float = 0) -> None:
    for sitting in piles.sittings_in(pile):
        record(sitting, by, kind, number=number_of(sitting, ref), marker=marker.teacher.name, points=points)


@transaction.atomic
def send_back(by: Teacher, pile_id: int, marker_id: int, items: Sequence[str], reason: str) -> int:
    """Ask a marker to look again at what they marked; how many answers that are. Marks count as they stand."""
    pile = piles.led_by(by, pile_id)
    marker = pile.markers.filter(pk=marker_id, left_at=None).select_related("teacher").first()
    if marker is None:
        raise NotFound(_("marker"))
    agreed = piles.agreed_in(pile)
    theirs = [
        place
        for place, mark in piles.marked_in(pile).items()
        if mark.by_id == marker.teacher_id and (not items or place[1] in items) and place not in agreed
    ]
    waiting = set(_waiting(marker.teacher_id, pile))
    LookAgain.objects.bulk_create(
        LookAgain(seat_id=seat, item=item, marker=marker.teacher, reason=reason.strip(), by=by)
        for seat, item in theirs
        if (seat, item) not in waiting
    )
    for sitting in piles.sittings_in(pile):
        seat_changed(sitting.pk)
    return len(theirs)


def _waiting(teacher_id: int, pile: Pile) -> list[Place]:
    rows = LookAgain.objects.filter(seat__sitting__piles__pile=pile, marker=teacher_id, done_at=None)
    return list(rows.values_list("seat", "item"))


def to_look_at_again(marker: PileMarker) -> dict[Place, str]:
    """By answer, why."""
    rows = LookAgain.objects.filter(seat__sitting__piles__pile=marker.pile, marker=marker.teacher_id, done_at=None)
    return {(row.seat_id, row.item): row.reason or _("Please look at it again.") for row in rows}


def own_to_look_at_again(by: Teacher, sitting: Sitting) -> set[Place]:
    """The answers of a sitting that a teacher is asked to look at again."""
    rows = LookAgain.objects.filter(seat__sitting=sitting, marker=by, done_at=None)
    return set(rows.values_list("seat", "item"))


def asked_again(by: Teacher, seat: Seat, ref: str) -> str:
    row = LookAgain.objects.filter(seat=seat, item=ref, marker=by, done_at=None).first()
    return (row.reason or _("Please look at it again.")) if row else ""


def looked_again(by: Teacher, seat: Seat, ref: str) -> None:
    LookAgain.objects.filter(seat=seat, item=ref, marker=by, done_at=None).update(done_at=timezone.now())


@transaction.atomic
def practised(marker: PileMarker) -> None:
    if marker.practised_at is None:
        PileMarker.objects.filter(pk=marker.pk).update(practised_at=timezone.now())
