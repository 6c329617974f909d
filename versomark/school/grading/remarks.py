"""Highlights and notes on an answer: on a stretch of its text, or on an area of a picture of it."""

from collections.abc import Collection
from typing import Annotated, Literal

from django.db import transaction
from django.utils import timezone
from pydantic import BaseModel, Field, model_validator

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat
from versomark.school.errors import DomainError, NotFound

from .models import MarkingPass, Remark
from .queries import rubric_item
from .services import answer_of

MOST = 100
Share = Annotated[float, Field(ge=0, le=1)]


class Stretch(BaseModel):
    """Letters of a written answer, counted over its text as it is shown, from `start` to before `end`."""

    kind: Literal["stretch"] = "stretch"
    start: Annotated[int, Field(ge=0, le=60_000)]
    end: Annotated[int, Field(ge=1, le=60_000)]

    @model_validator(mode="after")
    def _is_something(self) -> "Stretch":
        if self.end <= self.start:
            raise ValueError("Nothing is marked.")
        return self


class Area(BaseModel):
    """A part of a picture, in shares of its width and height from the left upper corner."""

    kind: Literal["area"] = "area"
    file: Annotated[int, Field(ge=0, le=10)]
    """The file by its place from 1; 0 for what was written by hand."""
    page: Annotated[int, Field(ge=1, le=1000)]
    x: Share
    y: Share
    w: Share
    h: Share


Place = Annotated[Stretch | Area, Field(discriminator="kind")]


def remarks_on(seat: Seat, ref: str, turns: Collection[MarkingPass]) -> list[Remark]:
    """On the answer that stands, of these readings, as they were made."""
    rows = seat.remarks.filter(item=ref, answer=answer_of(seat, ref), taken_back_at=None, turn__in=list(turns))
    return list(rows.select_related("by"))


@transaction.atomic
def make_remark(by: Teacher, seat: Seat, ref: str, place: Stretch | Area, text: str, turn: MarkingPass) -> Remark:
    rubric_item(seat.sitting, ref)
    if seat.remarks.filter(item=ref, taken_back_at=None).count() >= MOST:
        raise DomainError(_("An answer takes at most {most} remarks.", most=MOST))
    return Remark.objects.create(
        seat=seat,
        item=ref,
        answer_id=answer_of(seat, ref),
        turn=turn,
        place=place.model_dump(),
        text=text.strip(),
        by=by,
    )


@transaction.atomic
def take_back(by: Teacher, seat: Seat, remark_id: int) -> None:
    """One's own; a colleague's stays."""
    remark = seat.remarks.filter(pk=remark_id, taken_back_at=None).first()
    if remark is None:
        raise NotFound(_("remark"))
    if remark.by_id != by.pk:
        raise DomainError(_("{name} made this remark, and takes it back.", name=remark.by.name))
    remark.taken_back_at = timezone.now()
    remark.save(update_fields=["taken_back_at"])
