"""Coming in by picking one's name from the list, where the teacher allows it for the lesson."""

from versomark.core.language import _
from versomark.school import guesses
from versomark.school.delivery.public import AFTER, Seat, begin, presence, sitting_with
from versomark.school.errors import DomainError
from versomark.school.turns import Area, working_on


def names_to_pick(code: str, address: str) -> list[Seat] | None:
    """The seats of the lesson with this code, by the name one looks for; None where one comes in with a pass."""
    if guesses.counted("address", address) > guesses.FROM_ONE_ADDRESS:
        # A code alone shows names, so here a right one does not help whoever has guessed at it.
        raise DomainError(guesses.VERY_MANY, status=429)
    sitting = sitting_with(code, address)
    room = getattr(sitting, "room", None)
    if room is None or not room.names_to_pick or sitting.state in AFTER:
        return None
    return list(
        sitting.seats.select_related("student", "sitting").order_by("student__given_name", "student__family_name")
    )


def is_taken(seat: Seat) -> bool:
    """While a device holds it. Who lost their connection, or picked a wrong name and left, can be picked again."""
    return presence.holds(seat.pk)


def pick(code: str, seat_id: int, address: str) -> Seat:
    """The seat of this name. Words for the student where it cannot be theirs."""
    seats = names_to_pick(code, address)
    if seats is None:
        raise DomainError(_("Come in with your pass: names cannot be picked here."), status=403)
    seat = next((seat for seat in seats if seat.pk == seat_id), None)
    if seat is None:
        raise DomainError(_("That name is not on the list of this lesson."), status=404)
    if is_taken(seat):
        raise DomainError(
            _(
                "Someone is in as {short_name} already. Tell your teacher if that is you.",
                short_name=seat.student.short_name,
            )
        )
    with working_on(Area(seat.student.school_id, seat.pk)):
        begin(seat)
    return seat
