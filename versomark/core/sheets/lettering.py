"""Lines of text in any script: which typeface has its letters, runs from right to left, and shapes by HarfBuzz.

What the plain face has is drawn as text. Anything else is drawn as the outlines of its glyphs: the letters of Arabic
join, those of Devanagari and Tamil stand before or above one another, and no table of widths says how.
"""

import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from itertools import groupby
from pathlib import Path
from typing import Any

import uharfbuzz as hb
from bidi import algorithm as bidi
from fontTools.pens.basePen import BasePen
from fontTools.ttLib import TTFont as FontFile
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from .shapes import PLAIN, use_fonts

FONTS = Path(__file__).parent / "fonts"
FACES = (
    "SourceSans3-Regular.ttf",
    "NotoSansArabic-Regular.ttf",
    "NotoSansHebrew-Regular.ttf",
    "NotoSansDevanagari-Regular.ttf",
    "NotoSansTamil-Regular.ttf",
    "NotoSansBengali-Regular.ttf",
    "NotoSansThai-Regular.ttf",
    "NotoSansEthiopic-Regular.ttf",
    "NotoSansCJKsc-Regular.otf",
    "NotoEmoji-Regular.ttf",
)
"""In the order in which a letter is looked for."""
UNSEEN = {"Cf", "Cc", "Mn", "Zs"}
"""Kinds of characters that a typeface need not have: they join, part or mark others, and shaping takes care of them."""

OF_DIRECTION = {"LRE", "RLE", "LRO", "RLO", "PDF", "LRI", "RLI", "FSI", "PDI", "B", "S"}
"""Kinds of characters that say how others run, or end a paragraph: a name is one line and needs none."""


@dataclass(frozen=True)
class Glyph:
    """One glyph where it stands: places in units of the em, from the start of the line."""

    face: str
    id: int
    x: float
    y: float


@dataclass(frozen=True)
class Line:
    """A line that is set: its glyphs from left to right, and how wide it is, in ems."""

    glyphs: tuple[Glyph, ...]
    width: float


@cache
def letters_of(face: str) -> frozenset[int]:
    """The characters that a typeface has."""
    return frozenset(FontFile(FONTS / face, lazy=True).getBestCmap())


def missing_in(text: str) -> str:
    """The characters of a text that no shipped typeface has, each once."""
    seen = (char for char in text if unicodedata.category(char) not in UNSEEN)
    return "".join(dict.fromkeys(char for char in seen if not _face_of(char)))


@cache
def _face_of(char: str) -> str:
    return next((face for face in FACES if ord(char) in letters_of(face)), "")


def is_plain(text: str) -> bool:
    """Whether the plain face sets it as it stands: it has every character, and all of them run from left to right."""
    return all(_face_of(char) == FACES[0] and unicodedata.bidirectional(char) not in ("R", "AL", "AN") for char in text)


@cache
def set_line(text: str) -> Line:
    """A text as a line of glyphs, in the order of the Unicode bidirectional algorithm."""
    glyphs, x = list[Glyph](), 0.0
    for part, right_to_left in _visual_runs(text):
        for face, run in _by_face(part, right_to_left):
            buffer = hb.Buffer()
            buffer.add_str(run)
            buffer.direction = "rtl" if right_to_left else "ltr"
            buffer.guess_segment_properties()
            font = _font(face)
            hb.shape(font, buffer)
            em = font.face.upem
            for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
                glyphs.append(Glyph(face, info.codepoint, x + place.x_offset / em, place.y_offset / em))
                x += place.x_advance / em
    return Line(tuple(glyphs), x)


def _visual_runs(text: str) -> Iterator[tuple[str, bool]]:
    """Runs of one direction from left to right, each in reading order, with whether it is read from the right."""
    runs = [
        ("".join(char for char, _ in group), level)
        for level, group in ((level, list(chars)) for level, chars in groupby(_levels(text), key=lambda pair: pair[1]))
    ]
    # Rule L2: from the highest level to the lowest odd one, what stands at it or above is turned round.
    for level in range(max((own for _, own in runs), default=0), 0, -1):
        start = 0
        while start < len(runs):
            if runs[start][1] < level:
                start += 1
                continue
            end = start
            while end < len(runs) and runs[end][1] >= level:
                end += 1
            runs[start:end] = runs[start:end][::-1]
            start = end
    return ((part, level % 2 == 1) for part, level in runs)


def _levels(text: str) -> list[tuple[str, int]]:
    """Each character with its level: even is read from the left. Marks of direction themselves are left out."""
    chars = [char for char in text if unicodedata.bidirectional(char) not in OF_DIRECTION]
    # What joins letters or keeps them apart has no direction; it goes with the letter before it.
    of_some = (char for char in chars if unicodedata.bidirectional(char) != "BN")
    shown = "".join(
        char if unicodedata.bidirectional(char) else "a" for char in of_some
    )  # not assigned yet: as a letter
    storage: dict[str, Any] = bidi.get_empty_storage()
    base = bidi.get_base_level(shown)
    storage["base_level"], storage["base_dir"] = base, ("L", "R")[base]
    bidi.get_embedding_levels(shown, storage)
    bidi.explicit_embed_and_overrides(storage)
    bidi.resolve_weak_types(storage)
    bidi.resolve_neutral_types(storage, False)
    bidi.resolve_implicit_levels(storage, False)
    levels = iter(int(char["level"]) for char in storage["chars"])
    results: list[tuple[str, int]] = []
    for char in chars:
        joins = unicodedata.bidirectional(char) == "BN"
        results.append((char, (results[-1][1] if results else base) if joins else next(levels)))
    return results


def _by_face(part: str, right_to_left: bool) -> Sequence[tuple[str, str]]:
    """A run in pieces of one typeface each; marks and spaces stay with what is before them."""
    pieces: list[tuple[str, str]] = []
    for char in part:
        own = _face_of(char)
        if pieces and (unicodedata.category(char) in UNSEEN or own == pieces[-1][0]) and _fits(char, pieces[-1][0]):
            pieces[-1] = (pieces[-1][0], pieces[-1][1] + char)
        else:
            pieces.append((own or FACES[0], char))
    return pieces[::-1] if right_to_left else pieces


def _fits(char: str, face: str) -> bool:
    return ord(char) in letters_of(face) or unicodedata.category(char) in ("Cf", "Cc")


@cache
def _font(face: str) -> hb.Font:
    return hb.Font(hb.Face(hb.Blob.from_file_path(str(FONTS / face))))


def width_of(text: str, points: float, face: str = PLAIN) -> float:
    """How wide a line is, in millimetres."""
    if is_plain(text):
        use_fonts()
        return float(pdfmetrics.stringWidth(text, face, points) / mm)
    return float(set_line(text).width * points / mm)


def draw_line(canvas: Canvas, x: float, y: float, text: str, points: float, face: str = PLAIN) -> None:
    """A line whose base begins at x, y in points, in the colour of the canvas."""
    if is_plain(text):
        use_fonts()
        canvas.setFont(face, points)
        canvas.drawString(x, y, text)
        return
    path = canvas.beginPath()
    for glyph in set_line(text).glyphs:
        font = _font(glyph.face)
        scale = points / font.face.upem
        pen = _OnPath(path, x + glyph.x * points, y + glyph.y * points, scale)
        font.draw_glyph_with_pen(glyph.id, pen)
    canvas.drawPath(path, stroke=0, fill=1)


class _OnPath(BasePen):  # type: ignore[misc]  # fontTools has no types
    """Outlines on a path of the page, moved and scaled."""

    def __init__(self, path: Any, x: float, y: float, scale: float) -> None:
        super().__init__(None)
        self._path, self._x, self._y, self._scale = path, x, y, scale

    def _at(self, point: tuple[float, float]) -> tuple[float, float]:
        return self._x + point[0] * self._scale, self._y + point[1] * self._scale

    def _moveTo(self, pt: tuple[float, float]) -> None:
        self._path.moveTo(*self._at(pt))

    def _lineTo(self, pt: tuple[float, float]) -> None:
        self._path.lineTo(*self._at(pt))

    def _curveToOne(self, pt1: tuple[float, float], pt2: tuple[float, float], pt3: tuple[float, float]) -> None:
        self._path.curveTo(*self._at(pt1), *self._at(pt2), *self._at(pt3))

    def _closePath(self) -> None:
        self._path.close()
