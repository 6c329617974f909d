"""Views of pages that a teacher has kept under a name."""

from django.db.models import QuerySet
from django.http import HttpRequest
from ninja import Router

from versomark.core.language import _
from versomark.school.errors import DomainError, NotFound
from versomark.school.http import teacher_of

from .models import SavedView
from .schemas import ViewBody, ViewLine

router = Router(tags=["reports"])
MOST_VIEWS = 200


@router.get("/views", response=list[ViewLine])
def views(request: HttpRequest) -> list[ViewLine]:
    return [ViewLine(id=entry.pk, name=entry.name, address=entry.address) for entry in _of(request)]


@router.post("/views", response=list[ViewLine])
def keep_view(request: HttpRequest, body: ViewBody) -> list[ViewLine]:
    """Under a name; one of that name from before shows this from now on."""
    name = " ".join(body.name.split())[:60]
    if not name:
        raise DomainError(_("Give the view a name."), status=422)
    if _of(request).count() >= MOST_VIEWS:
        raise DomainError(_("More than {most_views} views cannot be kept. Take one away first.", most_views=MOST_VIEWS))
    SavedView.objects.update_or_create(owner=teacher_of(request), name=name, defaults={"address": body.address})
    return views(request)


@router.delete("/views/{int:view_id}", response=list[ViewLine])
def remove_view(request: HttpRequest, view_id: int) -> list[ViewLine]:
    if not _of(request).filter(pk=view_id).delete()[0]:
        raise NotFound(_("view"))
    return views(request)


def _of(request: HttpRequest) -> QuerySet[SavedView]:
    return SavedView.objects.filter(owner=teacher_of(request))
