"""Who may see and mark which work: teachers of the class, and the markers of a shared pile what was handed to them."""

from typing import NamedTuple

from django.utils import timezone

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat, Sitting, sitting_of
from versomark.school.errors import DomainError, NotFound

from . import numbers, piles
from .models import MarkingPass, PileMarker, PileNames, PileNumber, PileSitting
from .schemas import TurnName


class AtWork(NamedTuple):
    """One student's work before a marker, and how it is read."""

    sitting: Sitting
    seat: Seat
    turn: MarkingPass
    names_hidden: bool
    marker: PileMarker | None = None
    """Where it is marked in a shared pile."""

    @property
    def checks(self) -> bool:
        """Whether the marker is checked by it: then it is new to them, whatever others gave it."""
        return self.turn == MarkingPass.CHECK


def at_work(teacher: Teacher, sitting_id: int, number: int, turn: TurnName, item: str = "") -> AtWork:
    """The work that a marker asks for; `item` is needed in a pile, where answers are handed out one by one."""
    if turn == "pile":
        return _in_pile(teacher, sitting_id, number, item)
    sitting = sitting_of(teacher, sitting_id, "mark")
    seat = numbers.seat_at(sitting, number)
    return AtWork(sitting, seat, MarkingPass(turn), numbers.names_hidden(sitting))


def _in_pile(teacher: Teacher, sitting_id: int, number: int, item: str) -> AtWork:
    row = PileSitting.objects.filter(sitting=sitting_id, open=True).first()
    if row is None:
        raise NotFound(_("shared pile"))
    marker = piles.marker_in(teacher, row.pile_id)
    numbered = PileNumber.objects.filter(pile=row.pile_id, number=number, seat__sitting=sitting_id)
    drawn = numbered.select_related("seat__student", "seat__sitting__edition", "seat__sitting__school_class").first()
    if drawn is None:
        raise NotFound(_("answer"))
    seat = drawn.seat
    if marker.pile.begins is not None and timezone.now() < marker.pile.begins:
        raise DomainError(_("This pile may not be marked yet."))
    if not piles.may_give(marker, (seat.pk, item)):
        raise DomainError(_("This answer was not handed to you."), 403)
    is_agreed = (seat.pk, item) in piles.agreed_in(marker.pile)
    turn = MarkingPass.CHECK if is_agreed else MarkingPass.FIRST
    hidden = marker.pile.names != PileNames.SHOWN or numbers.names_hidden(seat.sitting)
    return AtWork(seat.sitting, seat, turn, hidden, marker)
