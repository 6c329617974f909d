"""Folded cards: a sheet a student whose four quarters each hold one answer, for rooms without devices.

A card is folded twice, first across, then down, always to the back, so that the quarter of the answer faces the
teacher. What then faces the student is the quarter beside it, which says in small letters what is being shown.
Each quarter holds one large marker, and a marker means a desk number and a letter and nothing else.
"""

import re
from collections.abc import Sequence
from io import BytesIO

import cv2
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from versomark.core.language import _

from .shapes import BOLD, PLAIN, marker_cells, place_squares, use_fonts
from .spec import SIZES_MM, Paper

DICTIONARY = cv2.aruco.DICT_4X4_250
"""Markers of 4 × 4 bits; any two of the 250 differ in three bits at least, however they are turned."""
LETTERS = "ABCD"
FIRST_ID = 4
"""The ids below are the corner marks of answer sheets, which may lie about in the same room."""
MOST_DESKS = (250 - FIRST_ID) // len(LETTERS)
MARKER = 72.0
"""Side of a marker, mm: a quarter of a sheet less a border as wide as a thumb is long on it, so that whoever holds a
card by its sides or from below covers none of the marker."""
ABOVE = 20.0
"""White above a marker, mm: less than below it, where the hand is."""
BESIDE = {"A": "B", "B": "A", "C": "D", "D": "C"}
"""What faces the student when a letter faces the teacher."""


def marker_of(desk: int, letter: str) -> int:
    """The id of a marker. Raises ValueError for a desk number that no card has."""
    if not 1 <= desk <= MOST_DESKS:
        raise ValueError(f"There are cards for desk numbers 1 to {MOST_DESKS}; {desk} is not one of them.")
    return FIRST_ID + (desk - 1) * len(LETTERS) + LETTERS.index(letter)


def meaning_of(marker: int) -> tuple[int, str] | None:
    """(desk number, letter) of a marker; None for what is on no card."""
    at = marker - FIRST_ID
    if not 0 <= at < MOST_DESKS * len(LETTERS):
        return None
    return at // len(LETTERS) + 1, LETTERS[at % len(LETTERS)]


def desk_numbers(text: str) -> list[int]:
    """`1-30` or `1,4,7-9` as numbers, each once, in order. Raises ValueError, in words."""
    numbers: set[int] = set()
    for part in text.replace(" ", "").split(","):
        match = re.fullmatch(r"(\d{1,5})(?:[-–](\d{1,5}))?", part)
        if match is None:
            raise ValueError(f"“{part}” is no desk number; write them as 1-30 or 1,4,7-9")
        first, last = int(match[1]), int(match[2] or match[1])
        if not 1 <= first <= last:
            raise ValueError(f"“{part}” does not count up from 1 or more")
        numbers.update(range(first, last + 1))
    return sorted(numbers)


def draw_cards(desks: Sequence[int], paper: Paper = "A4") -> bytes:
    """A PDF with one card a page, black on white, printed on one side. Raises ValueError for a number too high."""
    width, height = SIZES_MM[paper]
    use_fonts()
    out = BytesIO()
    canvas = Canvas(out, pagesize=(width * mm, height * mm), pageCompression=1, invariant=1)
    canvas.setTitle(_("Cards to fold"))
    canvas.setProducer("Verso Mark")
    for desk in desks:
        for at, letter in enumerate(LETTERS):
            _quarter(canvas, desk, letter, (at % 2) * width / 2, height - (at // 2) * height / 2, width / 2, height / 2)
        canvas.setLineWidth(0.2 * mm)
        canvas.setDash(0.8 * mm, 2.4 * mm)
        canvas.line(width / 2 * mm, 0, width / 2 * mm, height * mm)
        canvas.line(0, height / 2 * mm, width * mm, height / 2 * mm)
        canvas.setDash()
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _quarter(canvas: Canvas, desk: int, letter: str, left: float, top: float, width: float, height: float) -> None:
    """One answer; `left` and `top` in mm from the bottom left of the page."""
    room = (width - MARKER) / 2
    cells = marker_cells(DICTIONARY, marker_of(desk, letter))
    place_squares(canvas, left + room, top - ABOVE, MARKER, cells)
    # Small, so that a neighbour does not read it at a glance: what the holder shows while this faces them.
    canvas.setFont(BOLD, 12)
    canvas.drawString((left + room) * mm, (top - 11) * mm, _("You show {beside}", beside=BESIDE[letter]))
    canvas.setFont(PLAIN, 9)
    canvas.drawRightString((left + width - room) * mm, (top - 11) * mm, _("desk {desk}", desk=desk))
    canvas.drawString((left + room) * mm, (top - height + 13) * mm, _("Fold across, then down, always to the back."))
    canvas.drawString((left + room) * mm, (top - height + 8) * mm, _("Hold it by the white border."))
