"""When two students become one, their seats do too."""

from versomark.core.language import _
from versomark.school.classes.public import Student

from .models import Seat, SeatState

NOT_BEGUN = (SeatState.EXPECTED, SeatState.AT_THE_DOOR, SeatState.ABSENT, SeatState.EXCUSED)


def merge_seats(keep: Student, other: Student, **signal: object) -> list[str]:
    """Move the seats of `other` to `keep`. Where both have one in the same sitting, the one with work in it stays.

    Returns the sittings in which both have worked: which work is whose cannot be decided here.
    """
    own = {seat.sitting_id: seat for seat in keep.seats.select_related("sitting__edition")}
    problems = []
    for seat in other.seats.select_related("sitting__edition"):
        mine = own.get(seat.sitting_id)
        if mine is not None:
            if not _worked(mine):
                mine.delete()
            elif not _worked(seat):
                seat.delete()
                continue
            else:
                problems.append(_("Both have work in {sitting}.", sitting=seat.sitting))
                continue
        Seat.objects.filter(pk=seat.pk).update(student=keep)
    return problems


def _worked(seat: Seat) -> bool:
    return seat.state not in NOT_BEGUN or seat.answers.exists()
