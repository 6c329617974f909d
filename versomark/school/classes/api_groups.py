"""A class divided into groups: proposed from an order of its students, adjusted by hand, kept together."""

from django.db import transaction
from django.http import HttpRequest
from ninja import Router

from versomark.core.giving.grouping import divide
from versomark.core.language import _
from versomark.school.errors import DomainError
from versomark.school.http import Done, teacher_of

from . import services
from .schemas import Division, SeveralGroups

router = Router(tags=["classes"])


@router.post("/classes/{int:class_id}/groups/divided", response=list[list[int]])
def divided(request: HttpRequest, class_id: int, body: Division) -> list[list[int]]:
    """Groups of nearly the same size; nothing is kept."""
    services.class_of(teacher_of(request), class_id)
    if body.groups > len(body.ranked):
        raise DomainError(
            _("{count} students cannot be divided into {groups} groups.", count=len(body.ranked), groups=body.groups),
            status=422,
        )
    return divide(body.ranked, body.groups, body.way)


@router.post("/classes/{int:class_id}/groups/several", response=Done)
@transaction.atomic
def make_several(request: HttpRequest, class_id: int, body: SeveralGroups) -> Done:
    """All of them or none."""
    school_class = services.class_of(teacher_of(request), class_id, "own")
    for group in body.groups:
        services.keep_group(school_class, group.name, group.students, made_from=body.made_from)
    return Done()
