"""What the teacher sees of it: who was told, and how it reached them."""

from django.http import HttpRequest
from ninja import Router

from versomark.school.delivery.public import sitting_of
from versomark.school.http import teacher_of

from .models import Mail, Notice
from .notice_words import notice_words
from .schemas import ToldLine

router = Router(tags=["notices"])


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
        says=notice_words(some[0]),
        at=min(entry.made_at for entry in some),
        students=len(some),
        read=sum(entry.read_at is not None for entry in some),
        sent=len(names(Mail.SENT)),
        waiting=len(names(Mail.WAITING)),
        no_address=names(Mail.NO_ADDRESS),
        failed=names(Mail.FAILED),
    )
