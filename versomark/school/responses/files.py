"""Files that students hand in: checked on arrival, kept outside the web root, given out as attachments only."""

import re
import shutil
from collections.abc import Iterable, Sequence
from functools import partial
from pathlib import Path

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.db.models import Sum

from versomark.core.items.by_rubric import FileKind, FileTask, HandedIn, endings_of, file_kinds_in_words
from versomark.core.language import _
from versomark.school import disk, files
from versomark.school.delivery.public import Seat, may_answer
from versomark.school.errors import DomainError, NotFound

from .models import HandedInFile

MOST_A_SEAT = 500 * 1024 * 1024
"""Everything one student may hand over in one sitting, files taken back included: they stay until the sitting goes."""

_SIGNATURES: dict[str, tuple[bytes, ...]] = {
    ".pdf": (b"%PDF-",),
    ".png": (b"\x89PNG\r\n",),
    ".jpg": (b"\xff\xd8\xff",),
    ".jpeg": (b"\xff\xd8\xff",),
    ".webp": (b"RIFF",),
    ".wav": (b"RIFF",),
    ".ogg": (b"OggS",),
    **dict.fromkeys((".webm", ".weba"), (b"\x1a\x45\xdf\xa3",)),
    **dict.fromkeys((".docx", ".odt", ".xlsx", ".ods", ".pptx", ".odp"), (b"PK\x03\x04",)),
    ".rtf": (b"{\\rtf",),
}


def path_of(file: HandedInFile) -> Path:
    """Named by its id alone: nothing a student typed becomes part of a path."""
    return Path(settings.DATA) / "handed_in" / str(file.seat_id) / str(file.pk)


def stored_file(file: HandedInFile | None) -> tuple[Path, str] | None:
    """Where a file that was handed in lies, and what its student called it."""
    return None if file is None else (path_of(file), file.name)


MOST_EVIDENCE_MEGABYTES = 50
_EVIDENCE: tuple[FileKind, ...] = ("sound", "picture", "film")


@transaction.atomic
def keep_evidence(seat: Seat, item: str, upload: "UploadedFile[bytes]") -> HandedIn:
    """Sound, a picture or a film of what was watched, by the rules that hold for what students hand in."""
    name = _name_of(upload)
    size = _check(_EVIDENCE, MOST_EVIDENCE_MEGABYTES, name, upload)
    if _used(seat) + size > MOST_A_SEAT:
        raise DomainError(_("All that is kept of one student in a sitting may have 500 MB; this is more."), status=422)
    return _store(seat, item, name, size, upload)


@transaction.atomic
def take_file(seat_id: int, item: str, upload: "UploadedFile[bytes]") -> HandedIn:
    """Keep a file for an item of this seat. NotPossible, in words, when it is not of a kind or size that is taken."""
    seat = Seat.objects.select_related("sitting__edition").get(pk=seat_id)
    may_answer(seat)
    content = next((entry.content for entry in seat.sitting.edition.read().items() if entry.ref == item), None)
    if not isinstance(content, FileTask):
        raise NotFound(_("question that takes files"))
    name = _name_of(upload)
    size = _check(content.file_kinds, content.most_megabytes, name, upload)
    if _used(seat) + size > MOST_A_SEAT:
        raise DomainError(_("You have handed over as much as this test can hold. Ask your teacher."), status=422)
    return _store(seat, item, name, size, upload)


def _name_of(upload: "UploadedFile[bytes]") -> str:
    return re.sub(r"[\x00-\x1f/\\]", "_", upload.name or "")[-200:].strip() or "file"


def _used(seat: Seat) -> int:
    return int(seat.files.aggregate(bytes=Sum("bytes"))["bytes"] or 0)


def _store(seat: Seat, item: str, name: str, size: int, upload: "UploadedFile[bytes]") -> HandedIn:
    disk.refuse_when_full()
    file = HandedInFile.objects.create(seat=seat, item=item, name=name, bytes=size)
    path = path_of(file)
    path.parent.mkdir(parents=True, exist_ok=True)
    with path.open("wb") as stored:
        for chunk in upload.chunks():
            stored.write(chunk)
    files.keep(path)
    return HandedIn(file=str(file.pk), name=name, bytes=size)


def move_files(seat: Seat, to: Seat, ids: Iterable[str]) -> None:
    """These files of one seat are the other's. The copy at the first place goes once that is certain."""
    for file in HandedInFile.objects.filter(seat=seat, pk__in=list(ids)):
        before = path_of(file)
        file.seat = to
        file.save(update_fields=["seat"])
        if files.here(before):
            path_of(file).parent.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(before, path_of(file))
            files.keep(path_of(file))
            transaction.on_commit(partial(files.remove, before))


def _check(kinds: Sequence[FileKind], most_megabytes: int, name: str, upload: "UploadedFile[bytes]") -> int:
    ending = Path(name).suffix.casefold()
    size = upload.size or 0
    if ending not in endings_of(kinds):
        raise DomainError(
            _("{name} is not taken here. What is: {accepts}.", name=name, accepts=file_kinds_in_words(kinds)),
            status=422,
        )
    if size == 0:
        raise DomainError(_("{name} is empty.", name=name), status=422)
    if size > most_megabytes * 1_000_000:
        raise DomainError(
            _("{name} is larger than {most_megabytes} MB.", name=name, most_megabytes=most_megabytes), status=422
        )
    start = upload.read(16)
    upload.seek(0)
    if ending in _SIGNATURES and not start.startswith(_SIGNATURES[ending]):
        raise DomainError(
            _("{name} is not what its ending says. Save it again and choose it anew.", name=name), status=422
        )
    return size
