"""What the teacher sees of a student's answers, beside marking and results."""

from django.http import HttpRequest
from ninja import Router

from versomark.school.delivery.public import seat_in, sitting_of
from versomark.school.http import teacher_of

from . import attempts
from .schemas import AttemptLine

router = Router(tags=["responses"])


@router.get("/sittings/{int:sitting_id}/seats/{int:seat_id}/attempts", response=list[AttemptLine])
def earlier_attempts(request: HttpRequest, sitting_id: int, seat_id: int) -> list[AttemptLine]:
    """What a student handed in before the attempt that counts."""
    seat = seat_in(sitting_of(teacher_of(request), sitting_id), seat_id)
    return [
        AttemptLine(
            number=earlier_attempt.attempt.number,
            handed_in_at=earlier_attempt.attempt.handed_in_at,
            total=earlier_attempt.total,
            of=earlier_attempt.of,
        )
        for earlier_attempt in attempts.earlier_attempts(seat)
    ]
