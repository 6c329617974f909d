"""What a marker puts on an answer: highlights and notes on its text, and a pen's signs on pictures of it."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import NamedTuple
from uuid import UUID

from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from versomark.core.ink import Place, Words
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat, Sitting
from versomark.school.errors import DomainError, NotFound

from .models import Mark, MarkingPass, Remark
from .queries import rubric_item
from .services import answer_of

MOST, MOST_STROKES = 200, 2_000
"""Of an answer; a page of working takes some hundred strokes of a pen."""


@dataclass(frozen=True)
class NewRemark:
    key: UUID
    """Made by whoever puts it there, so that sending it twice is the same as once."""
    place: Place
    text: str = ""
    criterion: str = ""
    replaces: UUID | None = None
    """The one that was moved or reworded into this one."""


class Changed(NamedTuple):
    added: list[Remark]
    gone: list[UUID]


def remarks_on(seat: Seat, ref: str, turns: Collection[MarkingPass]) -> list[Remark]:
    """On the answer that stands, of these readings, as they were made."""
    return list(_on(seat, ref, turns).filter(answer=answer_of(seat, ref), taken_back_at=None))


def with_pictures(sitting: Sitting) -> set[int]:
    """The seats on whose pictures something stands, by number."""
    rows = Remark.objects.filter(seat__sitting=sitting, taken_back_at=None).exclude(place__kind="stretch")
    return set(rows.values_list("seat", flat=True))


def remarks_when(seat: Seat, ref: str, turns: Collection[MarkingPass], mark: Mark) -> list[Remark]:
    """Those that stood when this mark was kept, on the answer it was given for."""
    stood = _on(seat, ref, turns).filter(answer=mark.answer_id, at__lte=mark.at)
    return list(stood.filter(Q(taken_back_at=None) | Q(taken_back_at__gt=mark.at)))


def _on(seat: Seat, ref: str, turns: Collection[MarkingPass]) -> QuerySet[Remark]:
    return Remark.objects.filter(seat=seat, item=ref, turn__in=list(turns)).select_related("by")


@transaction.atomic
def change(
    by: Teacher, seat: Seat, ref: str, turn: MarkingPass, added: Sequence[NewRemark], gone: Collection[UUID]
) -> Changed:
    """Put remarks on an answer, and take own ones back. What replaces another takes that back; what was taken back
    before it arrived is kept as such. Each is known by its key, so the same changes may come twice."""
    _rest, content = rubric_item(seat.sitting, ref)
    criteria = {criterion.id for criterion in content.rubric.criteria}
    for entry in added:
        _may_be_made(entry, criteria)
    answer, now = answer_of(seat, ref), timezone.now()
    known = {remark.key: remark for remark in Remark.objects.filter(key__in=[entry.key for entry in added])}
    if any(remark.seat_id != seat.pk or remark.by_id != by.pk for remark in known.values()):
        raise DomainError(_("This remark belongs to somebody else."), status=409)
    new = [entry for entry in added if entry.key not in known]
    earlier = {entry.replaces for entry in new if entry.replaces} | set(gone)
    _make(by, seat, ref, turn, answer, new)
    taken_back = seat.remarks.filter(key__in=earlier).select_related("by")
    for remark in taken_back:
        if remark.by_id != by.pk:
            raise DomainError(_("{name} made this remark, and takes it back.", name=remark.by.name))
    taken_back.filter(taken_back_at=None).update(taken_back_at=now)
    if len(known) < len(added):
        _refuse_too_many(seat, ref, answer)
    keys = [entry.key for entry in added]
    standing = _on(seat, ref, [turn]).filter(key__in=keys, taken_back_at=None, answer=answer)
    return Changed(list(standing), sorted(earlier, key=str))


def _may_be_made(entry: NewRemark, criteria: Collection[str]) -> None:
    if entry.criterion and entry.criterion not in criteria:
        raise NotFound(_("criterion"))
    if isinstance(entry.place, Words) and not entry.text.strip():
        raise DomainError(_("There are no words to write."), status=422)


def _make(by: Teacher, seat: Seat, ref: str, turn: MarkingPass, answer: int | None, new: Sequence[NewRemark]) -> None:
    replaced = {entry.replaces for entry in new if entry.replaces}
    ids = dict(seat.remarks.filter(key__in=replaced).values_list("key", "pk"))
    for entry in new:
        row = Remark.objects.create(
            key=entry.key,
            seat=seat,
            item=ref,
            answer_id=answer,
            turn=turn,
            place=entry.place.model_dump(),
            text=entry.text.strip(),
            criterion=entry.criterion,
            replaces_id=ids.get(entry.replaces) if entry.replaces else None,
            by=by,
        )
        ids[entry.key] = row.pk


def _refuse_too_many(seat: Seat, ref: str, answer: int | None) -> None:
    standing = seat.remarks.filter(item=ref, answer=answer, taken_back_at=None)
    strokes = standing.filter(place__kind="stroke").count()
    if strokes > MOST_STROKES or standing.count() - strokes > MOST:
        raise DomainError(
            _("An answer takes at most {most} remarks and {strokes} strokes of a pen.", most=MOST, strokes=MOST_STROKES)
        )
