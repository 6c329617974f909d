"""Shared piles: whose answers are whose, what is handed out next, and when it may be done."""

from collections.abc import Collection, Iterable, Sequence
from datetime import datetime, timedelta
from random import SystemRandom
from typing import NamedTuple

from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from versomark.core.language import _
from versomark.core.scoring import Hands, Way, shared_out, to_mark
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import may
from versomark.school.delivery.public import (
    BEFORE,
    EventKind,
    Seat,
    SeatState,
    Sitting,
    record,
    sitting_of,
    sittings_of,
)
from versomark.school.errors import DomainError, NotFound
from versomark.school.responses.public import CurrentAnswer, responses_of

from . import numbers
from .answers_alike import like_together
from .models import (
    AgreedAnswer,
    CurrentMark,
    Mark,
    MarkingPass,
    MarkState,
    Pile,
    PileHold,
    PileMarker,
    PileNames,
    PileNumber,
    PileSitting,
)
from .queries import Place, by_hand, waived_in

MOST_MARKERS = 10
IN_HAND = 6
"""So many are handed out at a time, so that a marker can go on through an outage."""
HELD_MINUTES = 40
"""For so long nobody else gets what was handed out, unless it is marked before."""


class MarkerPlan(NamedTuple):
    """What one marker of a pile takes; the names are those of `PileMarker`."""

    teacher: int
    share: float = 1
    items: Sequence[str] = ()
    barred: Sequence[int] = ()


class PilePlan(NamedTuple):
    """What the head of a pile wants; the names are those of `Pile`."""

    way: Way
    sittings: Sequence[int]
    markers: Sequence[MarkerPlan]
    names: str = PileNames.SHOWN
    begins: datetime | None = None
    due: datetime | None = None
    practise_first: bool = False
    not_own: bool = False
    like_together: bool = False
    check_every: int = 8


def piles_of(teacher: Teacher) -> QuerySet[Pile]:
    """Those that a teacher leads or marks in, open or ended, the latest first."""
    mine = PileMarker.objects.filter(teacher=teacher, left_at=None).values("pile")
    return Pile.objects.filter(Q(head=teacher) | Q(pk__in=mine)).select_related("edition", "head")


def led_by(teacher: Teacher, pile_id: int) -> Pile:
    pile = piles_of(teacher).filter(pk=pile_id).first()
    if pile is None:
        raise NotFound(_("shared pile"))
    if pile.head_id != teacher.pk:
        raise DomainError(_("{name} leads this pile.", name=pile.head.name), 403)
    return pile


def marker_in(teacher: Teacher, pile_id: int) -> PileMarker:
    """As a marker of an open pile."""
    marker = (
        PileMarker.objects.filter(pile=pile_id, teacher=teacher, left_at=None)
        .select_related("pile__edition", "pile__head", "teacher")
        .first()
    )
    if marker is None:
        raise NotFound(_("shared pile"))
    return marker


def open_pile(sitting: Sitting) -> Pile | None:
    """The pile in which the answers of a sitting are marked now."""
    row = PileSitting.objects.filter(sitting=sitting, open=True).select_related("pile__head").first()
    return row.pile if row else None


def sittings_in(pile: Pile) -> list[Sitting]:
    rows = pile.of_sittings.select_related("sitting__edition", "sitting__school_class", "sitting__owner").order_by("pk")
    return [row.sitting for row in rows]


def could_join(teacher: Teacher, sitting: Sitting) -> list[Sitting]:
    """Sittings of the same edition whose answers their teacher may mark together, this one among them."""
    own = Q(owner=teacher) | may(teacher, "mark", "school_class__")
    allowed = Sitting.objects.filter(own, edition=sitting.edition)
    return list(sittings_of(teacher).filter(pk__in=allowed.values("pk")).exclude(state__in=BEFORE).order_by("pk"))


@transaction.atomic
def make_pile(by: Teacher, plan: PilePlan) -> Pile:
    """Share answers out. Who shares them has to be allowed to mark every one of them; who marks in it may then mark
    what is handed to them, and nothing else."""
    sittings = [sitting_of(by, pk, "mark") for pk in dict.fromkeys(plan.sittings)]
    if not sittings:
        raise DomainError(_("Say whose answers are in the pile."), status=422)
    _refuse(by, sittings, plan)
    if len({sitting.edition_id for sitting in sittings}) > 1:
        raise DomainError(_("Only sittings of one and the same test can be marked as one pile."), status=422)
    taken = PileSitting.objects.filter(sitting__in=sittings, open=True).select_related("sitting__school_class").first()
    if taken is not None:
        raise DomainError(
            _("{name} is in a pile already. End that one first.", name=taken.sitting.school_class.name), status=409
        )
    pile = Pile.objects.create(
        edition=sittings[0].edition, head=by, seed=SystemRandom().getrandbits(62), **_settings(plan)
    )
    PileSitting.objects.bulk_create(PileSitting(pile=pile, sitting=sitting) for sitting in sittings)
    if plan.names == PileNames.ALL:
        for sitting in sittings:
            numbers.hide_names(by, sitting)
    _markers(pile, plan.markers)
    for sitting in sittings:
        record(sitting, by, EventKind.PILE_SHARED, markers=len(plan.markers))
    deal(pile)
    return pile


@transaction.atomic
def change_pile(by: Teacher, pile_id: int, plan: PilePlan) -> Pile:
    """Who marks what, and when; what somebody has marked stays theirs, the rest is dealt anew."""
    pile = led_by(by, pile_id)
    _refuse_ended(pile)
    sittings = sittings_in(pile)
    _refuse(by, sittings, plan)
    if (plan.names == PileNames.ALL) != (pile.names == PileNames.ALL):
        raise DomainError(_("Names are hidden from everybody from the beginning, or not at all."), status=422)
    Pile.objects.filter(pk=pile.pk).update(**_settings(plan))
    pile.refresh_from_db()
    _markers(pile, plan.markers)
    give_up(pile, PileHold.objects.filter(marker__pile=pile))
    deal(pile)
    return pile


@transaction.atomic
def end_pile(by: Teacher, pile_id: int) -> None:
    """The answers are marked where their class is marked again; every mark stays."""
    pile = led_by(by, pile_id)
    _refuse_ended(pile)
    Pile.objects.filter(pk=pile.pk).update(ended_at=timezone.now())
    pile.of_sittings.update(open=False)
    # Nothing is in anybody's hands any more, and may be shared out again.
    PileHold.objects.filter(marker__pile=pile).update(given_up=True)
    for sitting in sittings_in(pile):
        record(sitting, by, EventKind.PILE_ENDED)


@transaction.atomic
def hand_over(by: Teacher, pile_id: int, marker_id: int) -> None:
    """What a marker has not marked goes to the others; they get nothing more."""
    pile = led_by(by, pile_id)
    _refuse_ended(pile)
    marker = pile.markers.filter(pk=marker_id, left_at=None).first()
    if marker is None:
        raise NotFound(_("marker"))
    if pile.markers.filter(left_at=None).count() == 1:
        raise DomainError(_("Nobody else marks in this pile. Add somebody first."))
    marker.left_at = timezone.now()
    marker.save(update_fields=["left_at"])
    give_up(pile, marker.holds.all())
    deal(pile)


def _settings(plan: PilePlan) -> dict[str, object]:
    named = plan._asdict()
    return {name: named[name] for name in named if name not in ("sittings", "markers")}


def _refuse(by: Teacher, sittings: Sequence[Sitting], plan: PilePlan) -> None:
    items = by_hand(sittings[0])
    if not items:
        raise DomainError(_("Nothing in this test is marked by a person."))
    who = [marker.teacher for marker in plan.markers]
    if not who or len(set(who)) < len(who) or len(who) > MOST_MARKERS:
        raise DomainError(_("A pile has one to {most} markers, each once.", most=MOST_MARKERS), status=422)
    known = Teacher.objects.filter(pk__in=who, school=by.school, is_active=True).count()
    seats = set(Seat.objects.filter(sitting__in=sittings).values_list("pk", flat=True))
    if known < len(who) or any(not seats.issuperset(marker.barred) for marker in plan.markers):
        raise NotFound(_("colleague"))
    if any(marker.share <= 0 or not set(items).issuperset(marker.items) for marker in plan.markers):
        raise DomainError(_("A share is above 0, and a question one that a person marks."), status=422)
    if plan.begins and plan.due and plan.begins >= plan.due:
        raise DomainError(_("It is due before it begins."), status=422)


def _refuse_ended(pile: Pile) -> None:
    if pile.ended_at is not None:
        raise DomainError(_("This pile has been ended. Share the answers again, if there are any left."), status=409)


def _markers(pile: Pile, plans: Collection[MarkerPlan]) -> None:
    pile.markers.exclude(teacher__in=[plan.teacher for plan in plans]).filter(left_at=None).update(
        left_at=timezone.now()
    )
    for plan in plans:
        PileMarker.objects.update_or_create(
            pile=pile,
            teacher_id=plan.teacher,
            defaults={"share": plan.share, "items": [*plan.items], "barred": [*plan.barred], "left_at": None},
        )


def give_up(pile: Pile, holds: QuerySet[PileHold]) -> None:
    """What is not marked goes back, but for what somebody has begun and goes on with."""
    done, begun = marked_in(pile), _begun(pile)
    active = set(pile.markers.filter(left_at=None).values_list("pk", flat=True))
    back = [
        hold.pk
        for hold in holds.filter(given_up=False).select_related("marker")
        if (hold.seat_id, hold.item) not in done
        and (hold.marker_id not in active or (hold.seat_id, hold.item, hold.marker.teacher_id) not in begun)
    ]
    PileHold.objects.filter(pk__in=back).update(given_up=True)


def _begun(pile: Pile) -> set[tuple[int, str, int]]:
    drafts = Mark.objects.filter(seat__sitting__piles__pile=pile, state=MarkState.DRAFT, turn=MarkingPass.FIRST)
    return set(drafts.values_list("seat", "item", "by"))


def marked_in(pile: Pile) -> dict[Place, Mark]:
    """The first marks that stand in a pile, of the answers that stand."""
    rows = CurrentMark.objects.filter(
        seat__sitting__piles__pile=pile, turn=MarkingPass.FIRST, mark__state=MarkState.KEPT
    )
    kept = {(row.seat_id, row.item): row.mark for row in rows.select_related("mark__by")}
    stands = _answers(pile)
    return {place: mark for place, mark in kept.items() if mark.answer_id == stands.get(place)}


def _answers(pile: Pile) -> dict[Place, int]:
    watched = [item.ref for item in pile.edition.read().items() if item.content.watched]
    rows = CurrentAnswer.objects.filter(seat__sitting__piles__pile=pile).exclude(item__in=watched)
    return {(seat, item): answer for seat, item, answer in rows.values_list("seat", "item", "answer")}


def needed_in(pile: Pile) -> list[Place]:
    """Every answer that is in a pile, question by question, students in an order of chance or by what they answered."""
    sittings = sittings_in(pile)
    seats = Seat.objects.filter(sitting__in=sittings, state=SeatState.HANDED_IN)
    of_sitting = dict(seats.values_list("pk", "sitting"))
    numbered = numbers_in(pile, list(of_sitting))
    needed = to_mark(pile.edition.read(), responses_of(list(of_sitting)))
    out = waived_in(sittings)
    result = list[Place]()
    for ref in by_hand(sittings[0]):
        waits = [int(seat) for seat in needed.get(ref, ()) if ref not in out[of_sitting[int(seat)]]]
        waits.sort(key=numbered.__getitem__)
        result += [(seat, ref) for seat in (like_together(ref, waits) if pile.like_together else waits)]
    return result


def numbers_in(pile: Pile, seats: Collection[int]) -> dict[int, int]:
    """By seat, the number by which it is known in the pile. Drawn when a seat is first met; a number that was drawn
    never changes."""
    known = dict(pile.numbers.values_list("seat", "number"))
    while new := sorted(set(seats) - set(known)):
        most = 10 ** len(str(4 * (len(known) + len(new))))
        free = sorted(set(range(most // 10, most)) - set(known.values()))
        drawn = SystemRandom().sample(free, len(new))
        PileNumber.objects.bulk_create(
            (PileNumber(pile=pile, seat_id=seat, number=number) for seat, number in zip(new, drawn, strict=True)),
            ignore_conflicts=True,
        )
        known = dict(pile.numbers.values_list("seat", "number"))
    return known


def hands_in(pile: Pile) -> dict[int, tuple[PileMarker, Hands]]:
    """The markers who are at work, with whom each may mark."""
    rows = pile.markers.filter(left_at=None).select_related("teacher")
    return {row.pk: (row, Hands(row.pk, row.share, frozenset(row.items), _barred(pile, row))) for row in rows}


def _barred(pile: Pile, marker: PileMarker) -> frozenset[int]:
    barred = set(marker.barred)
    if pile.not_own:
        own = Sitting.objects.filter(
            Q(owner=marker.teacher) | may(marker.teacher, "see", "school_class__"), piles__pile=pile
        )
        barred |= set(Seat.objects.filter(sitting__in=own).values_list("pk", flat=True))
    return frozenset(barred)


def held_in(pile: Pile, now: datetime | None = None) -> dict[Place, PileHold]:
    """By answer, in whose hands it is. What was handed out and is neither marked nor begun in time is free again."""
    now, done, begun = now or timezone.now(), marked_in(pile), _begun(pile)
    rows = PileHold.objects.filter(marker__pile=pile, given_up=False).select_related("marker")
    return {
        (row.seat_id, row.item): row
        for row in rows
        if row.until is None
        or row.until > now
        or (row.seat_id, row.item) in done
        or (row.seat_id, row.item, row.marker.teacher_id) in begun
    }


@transaction.atomic
def deal(pile: Pile) -> None:
    """Put every answer that nobody has into the hands of a marker, where the pile is dealt rather than taken from."""
    if pile.ended_at is not None or pile.way == Way.NEXT:
        return
    holds = {place: hold.marker_id for place, hold in held_in(pile).items()}
    taken = set(holds) | set(marked_in(pile))
    free = [place for place in needed_in(pile) if place not in taken]
    hands = [hands for _marker, hands in hands_in(pile).values()]
    dealt = shared_out(free, hands, Way(pile.way), holds)
    PileHold.objects.bulk_create(
        PileHold(marker_id=marker, seat_id=seat, item=item) for (seat, item), marker in dealt.items()
    )


@transaction.atomic
def take(marker: PileMarker, now: datetime | None = None) -> int:
    """Hand a marker the next answers that nobody has, up to so many in hand; how many there are in their hands now that
    are not marked. What is in hand is theirs for a while longer."""
    pile, now = marker.pile, now or timezone.now()
    if pile.ended_at is not None or (pile.begins and now < pile.begins):
        return 0
    deal(pile)
    holds, done = held_in(pile, now), marked_in(pile)
    mine = [hold for place, hold in holds.items() if hold.marker_id == marker.pk and place not in done]
    if pile.way != Way.NEXT:
        return len(mine)
    until = now + timedelta(minutes=HELD_MINUTES)
    PileHold.objects.filter(pk__in=[hold.pk for hold in mine]).update(until=until)
    hands = hands_in(pile)[marker.pk][1]
    taken = set(holds) | set(done)
    free = [place for place in needed_in(pile) if place not in taken and hands.may(place)]
    new = free[: max(0, IN_HAND - len(mine))]
    for seat, item in new:
        PileHold.objects.filter(seat=seat, item=item, given_up=False).update(given_up=True)
        PileHold.objects.create(marker=marker, seat_id=seat, item=item, until=until)
    return len(mine) + len(new)


def agreed_in(pile: Pile) -> dict[Place, AgreedAnswer]:
    return {(row.seat_id, row.item): row for row in pile.agreed.all()}


def may_give(marker: PileMarker, place: Place) -> bool:
    """Whether an answer is or was in a marker's hands, or is one by which they are checked."""
    if PileHold.objects.filter(marker=marker, seat=place[0], item=place[1]).exists():
        return True
    hands = hands_in(marker.pile).get(marker.pk)
    return place in agreed_in(marker.pile) and hands is not None and hands[1].may(place)


def in_other_hands(by: Teacher, seat: Seat) -> Pile | None:
    """The open pile in which this student's answers are, where somebody else leads it: then they are marked there, and
    nowhere else."""
    pile = open_pile(seat.sitting)
    return pile if pile is not None and pile.head_id != by.pk else None


def free_in(pile: Pile, holds: Iterable[Place]) -> list[Place]:
    """Answers that nobody has and nobody has marked."""
    taken = set(holds) | set(marked_in(pile))
    return [place for place in needed_in(pile) if place not in taken]
