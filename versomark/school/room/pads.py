"""Response pads in a lesson: whose desk a pad is at, and what becomes of what a receiver says.

A pad is at the desk of its own number unless the teacher has said otherwise. The pads of a teacher answer in the
lesson that the teacher started last and has not ended.
"""

from collections.abc import Callable, Mapping
from datetime import timedelta
from secrets import token_hex
from typing import NamedTuple
from uuid import NAMESPACE_OID, UUID, uuid4, uuid5

from django.db import transaction

from versomark.core.formats.pad_lines import Asking, Heard, Kept, Press, Refused, ToReceiver, Waiting
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass
from versomark.school.delivery.public import Seat, SeatState, SittingState, nudges, steady
from versomark.school.errors import DomainError
from versomark.school.responses.public import seat_is_in

from .answers import by_text, content_of, give
from .models import Pad, PadDesk, PadReceiver, Room
from .services import current_round, open_round

LOW = 15
"""Percent of battery below which a pad may not last the lesson."""
SILENT = timedelta(minutes=2)
"""A pad that was not heard for so long is off, or out of reach."""


TODAY = timedelta(hours=12)


class PadAt(NamedTuple):
    """The pad at a desk, as it was last heard."""

    number: int
    battery: int | None
    silent: timedelta


def receiver_of(teacher: Teacher) -> PadReceiver:
    results, _ = PadReceiver.objects.get_or_create(owner=teacher, defaults={"key": _new_key()})
    return results


def change_key(teacher: Teacher) -> PadReceiver:
    """Another key: who had the old one is not heard any more."""
    receiver = receiver_of(teacher)
    receiver.key = _new_key()
    receiver.save(update_fields=["key"])
    return receiver


def _new_key() -> str:
    text = token_hex(8)
    return "-".join(text[at : at + 4] for at in range(0, len(text), 4))


def receiver_with(key: str) -> PadReceiver:
    pad_receiver = PadReceiver.objects.select_related("owner").filter(key=key.strip().lower()).first()
    if pad_receiver is None or not pad_receiver.owner.is_active:
        raise DomainError("No teacher has this key. It stands on the console of a lesson, under Response pads.", 403)
    return pad_receiver


def lesson_for(receiver: PadReceiver) -> Room | None:
    """Where the pads answer now."""
    rooms = Room.objects.filter(sitting__owner=receiver.owner_id, sitting__state=SittingState.OPEN)
    return rooms.select_related("sitting__edition", "sitting__school_class").order_by("-pk").first()


def asked(room: Room | None) -> Asking | Waiting:
    """What receivers are told of a lesson: what can be pressed, and nothing that tells a key."""
    round = open_round(room) if room is not None and room.sitting.state == SittingState.OPEN else None
    if room is None or round is None:
        return Waiting()
    content = content_of(room, round.item)
    letters = [answer.letter for answer in content.answers() if answer.offered and not answer.part]
    return Asking(round=round.pk, answers=letters, several=bool(letters) and not content.exclusive)


def hear(key: str, line: Heard | Press) -> ToReceiver | None:
    """What a receiver says of a pad, done. What comes back goes to the receiver; nothing for a sign of life.

    Refused where the key is nobody's any more.
    """
    receiver = receiver_with(key)
    _note(receiver, line)
    room = lesson_for(receiver)
    try:
        if isinstance(line, Heard):
            if room is not None:
                _comes_in(room, line.pad)
            return None
        _press(receiver, room, line)
    except DomainError as problem:
        return Refused(why=str(problem), pad=line.pad, id=line.id) if isinstance(line, Press) else None
    return Kept(pad=line.pad, id=line.id)


def _note(receiver: PadReceiver, line: Heard | Press) -> None:
    known = {"last_heard": steady.now()} | ({} if line.battery is None else {"battery": line.battery})
    Pad.objects.update_or_create(receiver=receiver, number=line.pad, defaults=known)


def _comes_in(room: Room, pad: int) -> None:
    """A pad that is on says that its student is here."""
    seat = _seat_of(room, pad)
    if seat is not None and seat.state == SeatState.EXPECTED:
        seat_is_in(seat, done=False)
    nudges.seat_changed(room.sitting_id)


def _press(receiver: PadReceiver, room: Room | None, line: Press) -> None:
    if room is None:
        raise DomainError("No lesson is on.")
    seat = _seat_of(room, line.pad)
    if seat is None:
        raise DomainError(f"Pad {line.pad} is at nobody's desk.")
    round = current_round(room)
    if round is None:
        raise DomainError("Nothing has been asked yet.")
    if line.round is not None and line.round != round.pk:
        raise DomainError("Another question is on by now.")
    response = by_text(content_of(room, round.item), line.answer) if line.answer.strip() else None
    give(round.pk, seat.pk, response, _id_of(receiver, line), "pad")


def _id_of(receiver: PadReceiver, line: Press) -> UUID:
    return uuid5(NAMESPACE_OID, f"pad {receiver.pk} {line.pad} {line.id}") if line.id else uuid4()


# Pads and desks


def desk_of(pad: int, swapped: Mapping[int, int]) -> int | None:
    """`swapped` is pad -> desk. A desk that has been given another pad is not its own number's any more."""
    if pad in swapped:
        return swapped[pad]
    return None if pad in swapped.values() else pad


def _swapped(school_class: SchoolClass) -> dict[int, int]:
    return dict(PadDesk.objects.filter(school_class=school_class).values_list("pad", "desk"))


def _seat_of(room: Room, pad: int) -> Seat | None:
    desk = desk_of(pad, _swapped(room.sitting.school_class))
    seats = room.sitting.seats.select_related("sitting", "student")
    return seats.filter(desk=desk).first() if desk is not None else None


@transaction.atomic
def tie(room: Room, pad: int, desk: int) -> None:
    """This pad is at this desk from now on, in every lesson with the class; a pad at its own number needs no record."""
    if not room.sitting.seats.filter(desk=desk).exists():
        raise DomainError(f"There is no desk {desk} in this class.", status=422)
    pad_desks = PadDesk.objects.filter(school_class=room.sitting.school_class)
    pad_desks.filter(pad=pad).delete()
    pad_desks.filter(desk=desk).delete()
    if desk_of(pad, _swapped(room.sitting.school_class)) != desk:
        PadDesk.objects.create(school_class=room.sitting.school_class, pad=pad, desk=desk)
    nudges.seat_changed(room.sitting_id)


def desks_of(room: Room) -> Callable[[int], int | None]:
    """At which desk a pad is, for many of them."""
    swapped = _swapped(room.sitting.school_class)
    return lambda pad: desk_of(pad, swapped)


def pads_heard(room: Room) -> list[Pad]:
    """Every pad of the lesson's teacher that was ever heard."""
    return list(Pad.objects.filter(receiver__owner=room.sitting.owner_id))


def pads_at(room: Room) -> dict[int, PadAt]:
    """desk -> the pad at it, of those heard today."""
    now = steady.now()
    heard = [pad for pad in pads_heard(room) if now - pad.last_heard < TODAY]
    desk_with = desks_of(room)
    pads = {}
    for pad in heard:
        desk = desk_with(pad.number)
        if desk is not None:
            pads[desk] = PadAt(pad.number, pad.battery, now - pad.last_heard)
    return pads
