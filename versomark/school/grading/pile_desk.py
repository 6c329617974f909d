"""A shared pile as its head sees it, as a marker sees it, and among what waits."""

from collections import Counter
from hashlib import sha256

from django.utils import timezone

from versomark.core.items.by_rubric import ByRubric
from versomark.core.scoring import Way, with_checks
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher, colleagues_of
from versomark.school.delivery.public import Seat, Sitting

from . import numbers, pile_checks, piles, services, work
from .comment_bank import offered_to, offered_with_levels
from .models import CurrentMark, Mark, MarkingPass, MarkState, Pile, PileHold, PileMarker, PileNames
from .queries import Place, by_hand, scaled, waiting_in, waived_in, with_rubrics_of_now
from .schemas import MarkingEntry, MarkingItem
from .schemas_piles import (
    AgreedLine,
    PileChoices,
    PileClosenessLine,
    PileColleague,
    PileDesk,
    PileEntry,
    PileLine,
    PileMarkerLine,
    PilePage,
    PileQuestion,
    PileSittingLine,
    PileStudent,
)


def waiting_piles(teacher: Teacher, only_open: bool = False) -> list[PileLine]:
    """Those that a teacher leads or marks in, the open ones first."""
    known = piles.piles_of(teacher)
    lines = [_waiting(teacher, pile) for pile in (known.filter(ended_at=None) if only_open else known)[:60]]
    return sorted(lines, key=lambda line: line.ended)


def _waiting(teacher: Teacher, pile: Pile) -> PileLine:
    marked, needed = piles.marked_in(pile), piles.needed_in(pile)
    marker = pile.markers.filter(teacher=teacher, left_at=None).first()
    holds = piles.held_in(pile)
    mine = [place for place in needed if place in holds and marker and holds[place].marker_id == marker.pk]
    left = sum(place not in marked for place in mine)
    if marker and pile.way == Way.NEXT:
        hands = piles.hands_in(pile)[marker.pk][1]
        left += sum(hands.may(place) for place in piles.free_in(pile, holds))
    if marker:
        left += len(pile_checks.to_look_at_again(marker))
    return PileLine(
        id=pile.pk,
        title=pile.edition.read().title,
        classes=[sitting.school_class.name for sitting in piles.sittings_in(pile)],
        head=pile.head.name,
        leads=pile.head_id == teacher.pk,
        marks=marker is not None,
        answers=len(needed),
        marked=sum(place in marked for place in needed),
        mine_marked=sum(mark.by_id == teacher.pk for mark in marked.values()),
        mine_left=left if pile.ended_at is None else 0,
        begins=pile.begins,
        due=pile.due,
        ended=pile.ended_at is not None,
    )


def choices_for(teacher: Teacher, sitting: Sitting) -> PileChoices:
    """What a pile could be made of, from this sitting on."""
    pile = piles.open_pile(sitting)
    sittings = piles.could_join(teacher, sitting)
    lines = [_sitting_line(entry) for entry in sittings]
    return PileChoices(
        title=sitting.edition.read().title,
        sittings=lines,
        questions=[
            PileQuestion(ref=ref, number=number, stem=stem, answers=0, marked=0, in_hand=0, agreed=0, most=most)
            for ref, number, stem, most in _questions(sitting)
        ],
        colleagues=_colleagues(teacher),
        students=_students(sittings),
        pile=pile.pk if pile else None,
    )


def _sitting_line(sitting: Sitting) -> PileSittingLine:
    waiting = waiting_in(sitting)
    return PileSittingLine(
        sitting=sitting.pk,
        class_name=sitting.school_class.name,
        answers=sum(line.to_mark for line in waiting),
        marked=sum(line.marked for line in waiting),
    )


def _questions(sitting: Sitting) -> list[tuple[str, int, str, float]]:
    printed = {item.ref: at for at, item in enumerate(sitting.edition.read().items(), start=1)}
    return [
        (ref, printed[ref], plain(item.content.stem)[:80], item.content.rubric.total)
        for ref, item in with_rubrics_of_now(sitting).items()
        if isinstance(item.content, ByRubric)
    ]


def _colleagues(teacher: Teacher) -> list[PileColleague]:
    return [PileColleague(id=entry.pk, name=entry.name) for entry in (teacher, *colleagues_of(teacher))]


def _students(sittings: list[Sitting]) -> list[PileStudent]:
    seats = Seat.objects.filter(sitting__in=sittings).select_related("student", "sitting__school_class")
    return [
        PileStudent(seat=seat.pk, name=seat.student.short_name, class_name=seat.sitting.school_class.name)
        for seat in seats.order_by("sitting", "desk")
    ]


def pile_page(teacher: Teacher, pile: Pile) -> PilePage:
    """For its head: who has how many, what is left, how close everybody is."""
    sittings = piles.sittings_in(pile)
    needed, marked, holds = piles.needed_in(pile), piles.marked_in(pile), piles.held_in(pile)
    agreed = piles.agreed_in(pile)
    in_hand = [place for place in holds if place not in marked]
    hands = [entry for _marker, entry in piles.hands_in(pile).values()]
    free = [place for place in needed if place not in holds and place not in marked]
    of_sitting = dict(Seat.objects.filter(sitting__in=sittings).values_list("pk", "sitting"))
    return PilePage(
        id=pile.pk,
        title=pile.edition.read().title,
        way=Way(pile.way),
        names=PileNames(pile.names),
        begins=pile.begins,
        due=pile.due,
        practise_first=pile.practise_first,
        not_own=pile.not_own,
        like_together=pile.like_together,
        check_every=pile.check_every,
        ended_at=pile.ended_at,
        sittings=[
            PileSittingLine(
                sitting=sitting.pk,
                class_name=sitting.school_class.name,
                answers=sum(of_sitting[seat] == sitting.pk for seat, _item in needed),
                marked=sum(of_sitting[place[0]] == sitting.pk for place in needed if place in marked),
            )
            for sitting in sittings
        ],
        questions=[
            PileQuestion(
                ref=ref,
                number=number,
                stem=stem,
                answers=sum(item == ref for _seat, item in needed),
                marked=sum(place[1] == ref for place in needed if place in marked),
                in_hand=sum(item == ref for _seat, item in in_hand),
                agreed=sum(item == ref for _seat, item in agreed),
                most=most,
            )
            for ref, number, stem, most in _questions(sittings[0])
        ],
        markers=_marker_lines(pile, marked, in_hand, holds),
        agreed=_agreed_lines(pile),
        nobody=sum(not any(entry.may(place) for entry in hands) for place in free),
        colleagues=_colleagues(teacher),
        students=_students(sittings),
    )


def _marker_lines(
    pile: Pile, marked: dict[Place, Mark], in_hand: list[Place], holds: dict[Place, PileHold]
) -> list[PileMarkerLine]:
    close = pile_checks.close_in(pile)
    has = Counter(holds[place].marker_id for place in in_hand)
    done = Counter(mark.by_id for mark in marked.values())
    rows = list(pile.markers.select_related("teacher", "pile"))
    return [
        PileMarkerLine(
            id=row.pk,
            teacher=row.teacher_id,
            name=row.teacher.name,
            share=row.share,
            items=row.items,
            barred=row.barred,
            left=row.left_at is not None,
            in_hand=has[row.pk],
            marked=done[row.teacher_id],
            again=len(pile_checks.to_look_at_again(row)),
            practised=row.practised_at is not None,
            close=[_close_line(pile, line) for line in close if line.marker.pk == row.pk],
        )
        for row in rows
        if row.left_at is None or done[row.teacher_id]
    ]


def _close_line(pile: Pile, line: pile_checks.MarkerCloseness) -> PileClosenessLine:
    severity, lately = line.close.severity, line.close.lately
    return PileClosenessLine(
        item=line.item,
        number=services.number_of(piles.sittings_in(pile)[0], line.item),
        checks=line.close.answers,
        exact=line.agree.exact,
        adjacent=line.agree.adjacent,
        kappa=line.agree.kappa.value if line.agree.kappa else None,
        severity=severity.value if severity else None,
        low=severity.low if severity else None,
        high=severity.high if severity else None,
        harsher_lately=lately is not None and lately.low > 0,
        milder_lately=lately is not None and lately.high < 0,
        adjustment=line.adjustment,
        proposed=line.proposed,
    )


def _agreed_lines(pile: Pile) -> list[AgreedLine]:
    met = Counter(
        Mark.objects.filter(seat__sitting__piles__pile=pile, turn=MarkingPass.CHECK, state=MarkState.KEPT)
        .order_by()
        .values_list("seat", "item", "by")
        .distinct()
        .values_list("seat", "item")
    )
    desks = {
        seat.pk: (sitting.pk, number)
        for sitting in piles.sittings_in(pile)
        for number, seat in numbers.numbered(sitting).items()
    }
    return [
        AgreedLine(
            id=row.pk,
            sitting=desks[row.seat_id][0],
            item=row.item,
            number=services.number_of(piles.sittings_in(pile)[0], row.item),
            desk=desks[row.seat_id][1],
            points=sum(row.points.values()),
            reason=row.reason,
            met=met[row.seat_id, row.item],
        )
        for row in pile.agreed.all()
        if row.seat_id in desks
    ]


def pile_desk(marker: PileMarker) -> PileDesk:
    """For one of its markers: what is in their hands, with answers by which they are checked among them."""
    pile, now = marker.pile, timezone.now()
    sittings = piles.sittings_in(pile)
    needed, marked, holds = piles.needed_in(pile), piles.marked_in(pile), piles.held_in(pile)
    waits = pile.begins is not None and now < pile.begins
    items = _items(marker, sittings[0], waived_in(sittings)[sittings[0].pk])
    samples = [item.ref for item in items if item.rubric.exemplars and (not marker.items or item.ref in marker.items)]
    to_practise = samples if pile.practise_first and marker.practised_at is None else []
    entries = [] if waits or to_practise else _entries(marker, needed, marked, holds)
    return PileDesk(
        id=pile.pk,
        title=pile.edition.read().title,
        head=pile.head.name,
        way=Way(pile.way),
        names_hidden=_hidden(pile, sittings[0]),
        begins=pile.begins,
        due=pile.due,
        waits_to_begin=waits,
        to_practise=to_practise,
        items=items,
        entries=entries,
        left=sum(place not in marked for place in needed),
        answers=len(needed),
        elsewhere=sum(
            place in holds and holds[place].marker_id != marker.pk for place in needed if place not in marked
        ),
        close=[_close_line(pile, line) for line in pile_checks.close_in(pile, marker)],
    )


def _hidden(pile: Pile, sitting: Sitting) -> bool:
    return pile.names != PileNames.SHOWN or numbers.names_hidden(sitting)


def _items(marker: PileMarker, sitting: Sitting, waived: frozenset[str]) -> list[MarkingItem]:
    edition = sitting.edition.read()
    printed = {item.ref: at for at, item in enumerate(edition.items(), start=1)}
    return [
        MarkingItem(
            ref=ref,
            number=printed[ref],
            kind=item.content.kind,
            stem=item.content.stem,
            marks=item.content.marks,
            rubric=item.content.rubric,
            stimulus=stimulus.body if (stimulus := edition.stimulus_of(item) if item.stimulus else None) else "",
            waived=ref in waived,
            comments=offered_to(marker.teacher, ref),
            level_comments=offered_with_levels(marker.teacher, ref),
        )
        for ref, item in with_rubrics_of_now(sitting).items()
        if isinstance(item.content, ByRubric)
    ]


def _entries(
    marker: PileMarker, needed: list[Place], marked: dict[Place, Mark], holds: dict[Place, PileHold]
) -> list[PileEntry]:
    pile = marker.pile
    agreed = piles.agreed_in(pile)
    again = pile_checks.to_look_at_again(marker)
    in_order = {place: hold.pk for place, hold in holds.items() if hold.marker_id == marker.pk}
    wanted = set(needed)
    own = [place for place in sorted(in_order, key=lambda place: in_order[place]) if place in wanted]
    own = [place for place in own if place not in agreed]
    hands = piles.hands_in(pile)[marker.pk][1]
    # Whoever has marked an answer knows it, and is not checked by it.
    theirs = {place for place in agreed if marked.get(place) and marked[place].by_id == marker.teacher_id}
    order = [place for ref in dict.fromkeys(place[1] for place in own) for place in own if place[1] == ref]
    merged = list[Place]()
    for ref in dict.fromkeys(place[1] for place in order):
        checks = [place for place in agreed if place[1] == ref and hands.may(place) and place not in theirs]
        checks.sort(key=lambda place: hash_of(pile.seed, marker.pk, place))
        merged += with_checks([place for place in order if place[1] == ref], checks, pile.check_every)
    seats = {
        seat.pk: seat
        for seat in Seat.objects.filter(pk__in={place[0] for place in merged}).select_related(
            "student", "sitting__school_class", "sitting__edition"
        )
    }
    known = piles.numbers_in(pile, list(seats))
    sittings = {seat.sitting_id: seat.sitting for seat in seats.values()}
    responses = {
        seat: given
        for sitting in sittings.values()
        for seat, given in services.responses_in(
            sitting, [seat for seat in seats.values() if seat.sitting_id == sitting.pk]
        ).items()
    }
    standing = {
        (row.seat_id, row.item): row.mark
        for row in CurrentMark.objects.filter(seat__in=seats, turn=MarkingPass.FIRST).select_related("mark")
    }
    checked = _checked(marker, list(seats))
    contents = {ref: item.content for ref, item in by_hand(next(iter(sittings.values()))).items()} if sittings else {}
    beside = {
        place
        for sitting in sittings.values()
        for place in services.beside_in(sitting).filter(turn=MarkingPass.FIRST).values_list("seat", "item")
    }
    hidden = {pk: _hidden(pile, sitting) for pk, sitting in sittings.items()}
    entries = []
    for place in merged:
        seat = seats[place[0]]
        check = place in agreed
        mark = checked.get(place) if check else standing.get(place)
        if mark is not None and mark.state == MarkState.DRAFT and mark.by_id != marker.teacher_id:
            mark = None
        content = contents[place[1]]
        asked = "" if check else again.get(place, "")
        entries.append(
            PileEntry(
                sitting=seat.sitting_id,
                item=place[1],
                name="" if hidden[seat.sitting_id] else seat.student.short_name,
                class_name=seat.sitting.school_class.name,
                entry=MarkingEntry(
                    number=known[seat.pk],
                    state="waiting" if mark is None or asked else mark.state,
                    marks=scaled(content, mark),
                    words=work.work_of(responses[seat.pk].get(place[1]), True).words,
                    beside=not check and place in beside,
                ),
                again=asked,
            )
        )
    return entries


def hash_of(seed: int, marker: int, place: Place) -> bytes:
    """An order of chance that is the same whenever it is asked for."""
    return sha256(f"{seed} {marker} {place[0]} {place[1]}".encode()).digest()


def _checked(marker: PileMarker, seats: list[int]) -> dict[Place, Mark]:
    marks = Mark.objects.filter(seat__in=seats, turn=MarkingPass.CHECK, by=marker.teacher).order_by("pk")
    return {(mark.seat_id, mark.item): mark for mark in marks}
