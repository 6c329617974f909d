"""The map of a batch: where everything is, in mm from the top left of each page. A file that anyone can read."""

from functools import cached_property
from hashlib import sha256
from typing import Annotated

from pydantic import Field

from versomark.core.items.base import Frozen

from .spec import CODE_LETTERS, NUMBER, Kind

Millimetres = Annotated[float, Field(ge=0, le=2000)]


class Bubble(Frozen):
    """`option` is a letter; "column:symbol" in a digit grid; "row:letter" in matching; points, or "criterion:points",
    where only the teacher fills."""

    item: str
    option: str
    x_mm: Millimetres
    y_mm: Millimetres
    r_mm: Annotated[float, Field(gt=0, le=20)]


class Box(Frozen):
    """A ruled box for a written answer; (x, y) is its top left."""

    item: str
    x_mm: Millimetres
    y_mm: Millimetres
    w_mm: Millimetres
    h_mm: Millimetres


class SheetPage(Frozen):
    sheet: str
    student: int | str
    """The student's number; empty on a spare sheet."""
    page: int
    """From 1."""
    pdf_page: int
    left_mm: Millimetres = 0
    """Where the sheet begins on the page of the PDF; more than 0 for the right one of two."""
    form: str = "A"
    bubbles: list[Bubble]
    boxes: list[Box]


class CornerMark(Frozen):
    """An ArUco mark of the dictionary 4 × 4, 50 ids; (x, y) is its top left."""

    id: int
    x_mm: Millimetres
    y_mm: Millimetres
    size_mm: Millimetres


class CodePlace(Frozen):
    """Where a QR code naming the sheet stands; (x, y) is its top left."""

    x_mm: Millimetres
    y_mm: Millimetres
    size_mm: Millimetres


class MapItem(Frozen):
    id: str
    kind: Kind
    label: str
    max: float = 1


class SheetMap(Frozen):
    batch: str
    paper: str
    width_mm: Millimetres
    height_mm: Millimetres
    right_to_left: bool = False
    """Whether a letter stands to the right of its bubble."""
    corners: list[CornerMark]
    codes: list[CodePlace]
    items: list[MapItem]
    sheets: list[SheetPage]

    @cached_property
    def by_code(self) -> dict[tuple[str, int], SheetPage]:
        return {(page.sheet, page.page): page for page in self.sheets}

    @cached_property
    def kinds(self) -> dict[str, Kind]:
        return {item.id: item.kind for item in self.items}

    def label(self, item: str) -> str:
        if item == NUMBER:
            return "the number"
        return next((known.label for known in self.items if known.id == item), item)


def code_text(sheet: str, page: int) -> str:
    """What the QR code of a page says: the sheet, the page, and a check value."""
    named = f"{sheet}-{page}"
    digest = sha256(named.encode()).digest()
    return f"{named}-{CODE_LETTERS[digest[0] & 31]}{CODE_LETTERS[digest[1] & 31]}"


def read_code(text: str) -> tuple[str, int] | None:
    """Sheet and page from the text of a QR code; None where it is not one of ours or does not check."""
    parts = text.split("-")
    if len(parts) != 4 or not parts[2].isascii() or not parts[2].isdigit():
        return None
    sheet, page = "-".join(parts[:2]), int(parts[2])
    return (sheet, page) if code_text(sheet, page) == text else None


def cover_text(batch: str) -> str:
    """What the QR code on the cover of a batch says: page 0 of its sheet 0."""
    return code_text(f"{batch}-000", 0)


def is_cover(sheet: str, page: int) -> bool:
    return page == 0 and sheet.endswith("-000")


def batch_of(sheet: str) -> str:
    return sheet.split("-")[0]
