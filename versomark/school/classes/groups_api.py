"""A class divided into groups: proposed from an order of its students, adjusted by hand, kept together."""

from typing import Literal

from django.db import transaction
from django.http import HttpRequest
from ninja import Field, Router, Schema

from versomark.core.giving.grouping import divide
from versomark.school.errors import DomainError
from versomark.school.http import Done, teacher_of

from . import services

router = Router(tags=["classes"])


class Division(Schema):
    ranked: list[int] = Field(min_length=1, max_length=400)
    """Students in an order: by total, by gain, by a skill."""
    groups: int = Field(ge=1, le=60)
    way: Literal["alike", "mixed"] = "alike"


@router.post("/classes/{int:class_id}/groups/divided", response=list[list[int]])
def divided(request: HttpRequest, class_id: int, body: Division) -> list[list[int]]:
    """Groups of nearly the same size; nothing is kept."""
    services.class_of(teacher_of(request), class_id)
    if body.groups > len(body.ranked):
        raise DomainError(f"{len(body.ranked)} students cannot be divided into {body.groups} groups.", status=422)
    return divide(body.ranked, body.groups, body.way)


class NamedGroup(Schema):
    name: str = Field(max_length=60)
    students: list[int] = Field(min_length=1, max_length=400)


class SeveralGroups(Schema):
    groups: list[NamedGroup] = Field(min_length=1, max_length=60)
    made_from: str = Field("", max_length=200)


@router.post("/classes/{int:class_id}/groups/several", response=Done)
@transaction.atomic
def make_several(request: HttpRequest, class_id: int, body: SeveralGroups) -> Done:
    """All of them or none."""
    school_class = services.class_of(teacher_of(request), class_id, "own")
    for group in body.groups:
        services.keep_group(school_class, group.name, group.students, made_from=body.made_from)
    return Done()
