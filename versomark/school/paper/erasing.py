"""Pictures of sheets, taken out for one student, or taken away with them."""

from collections.abc import Iterable
from functools import partial
from pathlib import Path

from django.db import transaction

from versomark.school.classes.public import Student
from versomark.school.delivery.public import Sitting
from versomark.school.files import remove

from .models import Page
from .scanning import file_of, picture_of


def pictures_of(sender: object, student: Student, **more: object) -> list[tuple[str, Path]]:
    pages = Page.objects.filter(seat__student=student).select_related("scan").order_by("read_at", "pk")
    return [(f"sheets/{at} {picture_of(page).name}", picture_of(page)) for at, page in enumerate(pages, start=1)]


def erase(sender: object, student: Student, **more: object) -> None:
    """What was read of them stays. A scan is one file for a whole class, so the file goes where their page is in it;
    the pictures of the others' pages stay."""
    _pictures_go(Page.objects.filter(seat__student=student).select_related("scan"))


def delete_with(sender: object, sitting: Sitting, **more: object) -> None:
    pages = list(Page.objects.filter(sheet__batch__sitting=sitting).select_related("scan"))
    _pictures_go(pages)
    Page.objects.filter(pk__in=[page.pk for page in pages]).delete()


def _pictures_go(pages: Iterable[Page]) -> None:
    for page in pages:
        for path in (picture_of(page), file_of(page.scan)):
            transaction.on_commit(partial(remove, path))
