"""A student's work as a marker sees it: typed, written by hand on a scanned sheet, or handed in as files."""

from io import BytesIO
from pathlib import Path
from typing import Literal, NamedTuple
from uuid import UUID

from PIL import Image

from versomark.core.items import ItemResponse
from versomark.core.items.by_rubric import FILE_KINDS, WithFiles, WrittenResponse
from versomark.core.language import _
from versomark.core.text import plain
from versomark.school.delivery.public import Seat
from versomark.school.errors import NotFound
from versomark.school.files import here
from versomark.school.paper.public import Page, picture_of
from versomark.school.responses.public import HandedInFile, path_of

from .models import Mark
from .previews import page_of, preview_of

AROUND_MM = 3.0
Plays = Literal["", "sound", "film"]


class WorkFile(NamedTuple):
    place: int
    name: str
    bytes: int
    plays: Plays


class Work(NamedTuple):
    text: str
    """Cleaned rich text."""
    words: int
    by_hand: bool
    files: list[WorkFile]


def work_of(response: ItemResponse | None, names_hidden: bool) -> Work:
    """A file is called what its student called it only while names are in sight: many call it by their own."""
    if isinstance(response, WrittenResponse):
        return Work(response.text, len(plain(response.text).split()), bool(response.picture), [])
    if isinstance(response, WithFiles):
        files = [
            WorkFile(
                at,
                f"file {at}{Path(file.name).suffix.casefold()}" if names_hidden else file.name,
                file.bytes,
                plays(file.name),
            )
            for at, file in enumerate(response.files, start=1)
        ]
        return Work("", 0, False, files)
    return Work("", 0, False, [])


def plays(name: str) -> Plays:
    """Whether a file is heard or seen as it goes on, by its ending."""
    ending = Path(name).suffix.casefold()
    if ending in FILE_KINDS["sound"][1]:
        return "sound"
    return "film" if ending in FILE_KINDS["film"][1] else ""


def handwriting(seat: Seat, ref: str, response: ItemResponse | None) -> bytes:
    """The box of a scanned sheet in which this was written, as a JPEG, without the name at the head of the page."""
    if not isinstance(response, WrittenResponse) or not response.picture:
        raise NotFound(_("picture"))
    page = Page.objects.filter(pk=UUID(response.picture), seat=seat).select_related("sheet__batch").first()
    box = next((box for box in page.boxes if box["item"] == ref), None) if page else None
    if page is None or box is None or page.sheet is None or not picture_of(page).exists():
        raise NotFound(_("picture"))
    with Image.open(picture_of(page)) as picture:
        scale = picture.width / page.sheet.batch.read_map().width_mm
        left, top = (scale * (box[side] - AROUND_MM) for side in ("x_mm", "y_mm"))
        right, bottom = (scale * (box[a] + box[b] + AROUND_MM) for a, b in (("x_mm", "w_mm"), ("y_mm", "h_mm")))
        cut = picture.convert("L").crop((max(0, int(left)), max(0, int(top)), int(right), int(bottom)))
    out = BytesIO()
    cut.save(out, "JPEG", quality=85)
    return out.getvalue()


def file_of(seat: Seat, response: ItemResponse | None, place: int) -> Path:
    """A file of an answer, by its place from 1."""
    files = response.files if isinstance(response, WithFiles) else []
    handed_in_file = (
        HandedInFile.objects.filter(seat=seat, pk=files[place - 1].file).first() if 0 < place <= len(files) else None
    )
    if handed_in_file is None or not here(path_of(handed_in_file)):
        raise NotFound(_("file"))
    return path_of(handed_in_file)


def picture_of_work(seat: Seat, ref: str, response: ItemResponse | None, file: int, page: int) -> bytes:
    """A picture of an answer that can be written on, as a JPEG: the box of a sheet (file 0), or a page of a file."""
    if file == 0:
        return handwriting(seat, ref, response)
    path = file_of(seat, response, file)
    preview_of(path, response.files[file - 1].name if isinstance(response, WithFiles) else "")
    return page_of(path, page)


def written_then(mark: Mark) -> str | None:
    """The typed text that a mark was given for; None where nothing was typed."""
    response = mark.answer.response if mark.answer is not None else None
    return str(response["text"]) if response and response.get("kind") == "written" and response.get("text") else None
