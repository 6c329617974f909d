"""The practice run of whoever is signed in."""

from django.http import HttpRequest
from ninja import Router

from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import AFTER, RUNNING
from versomark.school.http import teacher_of

from . import services
from .schemas import PracticeCleared, PracticePage

router = Router(tags=["practice"])


def _page(teacher: Teacher) -> PracticePage:
    standing = services.standing_of(teacher)
    if standing is None:
        return PracticePage()
    school_class, sitting = standing.run.school_class, standing.sitting
    return PracticePage(
        class_id=school_class.pk,
        class_name=school_class.name,
        sitting=sitting.pk if sitting else None,
        sitting_title=sitting.edition.read().title if sitting else "",
        is_open=sitting is not None and sitting.state in RUNNING,
        is_closed=sitting is not None and sitting.state in AFTER,
        students=school_class.places.filter(left=False).count(),
        at_work=standing.at_work,
    )


@router.get("/practice", response=PracticePage)
def practice(request: HttpRequest) -> PracticePage:
    return _page(teacher_of(request))


@router.post("/practice", response=PracticePage)
def start(request: HttpRequest) -> PracticePage:
    """An invented class, and a ready-made test that it sits from now on."""
    services.start(teacher_of(request))
    return _page(teacher_of(request))


@router.post("/practice/sittings/{int:sitting_id}/answers", response=PracticePage)
def answer(request: HttpRequest, sitting_id: int) -> PracticePage:
    """The invented class answers and hands in."""
    services.let_them_answer(teacher_of(request), sitting_id)
    return _page(teacher_of(request))


@router.delete("/practice", response=PracticeCleared)
def clear_away(request: HttpRequest) -> PracticeCleared:
    """Everything that was made for the practice run goes."""
    cleared = services.clear_away(teacher_of(request))
    return PracticeCleared(sittings=cleared.sittings, still_used=list(cleared.still_used))
