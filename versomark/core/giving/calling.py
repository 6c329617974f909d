"""One student after another at the teacher's side: whom to call next."""

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class AtTheCards:
    """How far a student is: cards asked now, known now, and known in the try before; None where there was none."""

    asked: int
    known: int
    before: int | None = None


def calling_order(students: Sequence[AtTheCards], cards: int) -> list[int]:
    """Places of those who are not through, in the order to call them: first who was stopped half way, the furthest
    first; then who knew fewest in the try before; then in the order given (common practice, no source)."""
    open_ones = [at for at, student in enumerate(students) if student.asked < cards]

    def rank(at: int) -> tuple[int, int, int]:
        student = students[at]
        if student.asked:
            return 0, -student.asked, at
        return 1, student.before if student.before is not None else cards, at

    return sorted(open_ones, key=rank)
