"""What the teacher sees of it: who was told, and how it reached them."""

from datetime import datetime
from typing import Literal

from django.http import HttpRequest
from ninja import Router, Schema

from versomark.school.http import teacher_of
from versomark.school.sittings.services import sitting_of

from .models import Mail, Notice

router = Router(tags=["notices"])


class ToldLine(Schema):
    """All notices of one kind about one thing."""

    kind: Literal["assigned", "changed", "due soon", "released"]
    says: str
    at: datetime
    students: int
    read: int
    """By how many on their own page."""
    sent: int
    """By mail."""
    waiting: int
    no_address: list[str]
    failed: list[str]


@router.get("/sittings/{int:sitting_id}/notices", response=list[ToldLine])
def notices(request: HttpRequest, sitting_id: int) -> list[ToldLine]:
    """What the students of a sitting have been told, the latest first."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    grouped: dict[tuple[str, str], list[Notice]] = {}
    for notice in sitting.notices.select_related("student"):
        grouped.setdefault((notice.kind, notice.about), []).append(notice)
    return [_line(kind, some) for (kind, _), some in grouped.items()]


def _line(kind: str, some: list[Notice]) -> ToldLine:
    def names(mail: Mail) -> list[str]:
        return [entry.student.short_name for entry in some if entry.mail == mail]

    return ToldLine(
        kind=kind,  # type: ignore[arg-type]
        says=some[0].says,
        at=min(entry.made_at for entry in some),
        students=len(some),
        read=sum(entry.read_at is not None for entry in some),
        sent=len(names(Mail.SENT)),
        waiting=len(names(Mail.WAITING)),
        no_address=names(Mail.NO_ADDRESS),
        failed=names(Mail.FAILED),
    )
