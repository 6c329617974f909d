"""What students wrote and handed in, taken out for one of them, or taken away with them."""

from functools import partial
from pathlib import Path

from django.conf import settings
from django.db import transaction

from versomark.school.classes.public import Student
from versomark.school.delivery.public import Seat, Sitting
from versomark.school.files import remove_folder

from .files import path_of
from .models import Answer, HandedInFile

ERASED = "…"
"""In place of what was written: its marks still stand on an answer."""


def files_of(sender: object, student: Student, **more: object) -> list[tuple[str, Path]]:
    files = HandedInFile.objects.filter(seat__student=student).order_by("pk")
    return [(f"handed in/{file.pk} {file.name}", path_of(file)) for file in files]


def erase(sender: object, student: Student, **more: object) -> None:
    """Files, and words in whole sentences. What was chosen or typed into a gap stays: it says nothing of who it was."""
    seats = list(Seat.objects.filter(student=student).values_list("pk", flat=True))
    for answer in Answer.objects.filter(seat__in=seats, response__kind="written"):
        answer.response = {**(answer.response or {}), "text": ERASED}
        answer.save(update_fields=["response"])
    for file in HandedInFile.objects.filter(seat__in=seats):
        file.name = ERASED
        file.save(update_fields=["name"])
    _files_go(seats)


def delete_with(sender: object, sitting: Sitting, **more: object) -> None:
    _files_go(list(sitting.seats.values_list("pk", flat=True)))


def _files_go(seats: list[int]) -> None:
    """Once it is certain: what is taken back keeps its files."""
    for seat in seats:
        folder = Path(settings.DATA) / "handed_in" / str(seat)
        transaction.on_commit(partial(remove_folder, folder))
