"""What sheets and cards are drawn with: their fonts, markers, and black squares."""

from collections.abc import Sequence
from functools import cache
from itertools import groupby
from pathlib import Path

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

PLAIN, BOLD = "Source Sans 3", "Source Sans 3 SemiBold"
INK_AT = 100
"""Pixels of a letter's height where its ink is measured."""
MARKER_CELLS = 6
"""Of a marker, across: four bits and its black border."""


@cache
def use_fonts() -> None:
    folder = Path(__file__).parent / "fonts"
    pdfmetrics.registerFont(TTFont(PLAIN, str(folder / "SourceSans3-Regular.ttf")))
    pdfmetrics.registerFont(TTFont(BOLD, str(folder / "SourceSans3-SemiBold.ttf")))


def width_mm(text: str, points: float) -> float:
    """How wide a line in the plain face is."""
    use_fonts()
    return float(pdfmetrics.stringWidth(text, PLAIN, points) / mm)


@cache
def ink_of(text: str) -> float:
    """How much ink the plain face needs for a few letters, as a share of a square of its height."""
    font = ImageFont.truetype(str(Path(__file__).parent / "fonts" / "SourceSans3-Regular.ttf"), INK_AT)
    picture = Image.new("L", (INK_AT * (len(text) + 1), 2 * INK_AT))
    ImageDraw.Draw(picture).text((0, 0), text, font=font, fill=255)
    return float(np.asarray(picture, float).sum() / 255 / INK_AT**2)


@cache
def marker_cells(dictionary: int, id: int) -> list[list[bool]]:
    """Which cells of a marker of an ArUco dictionary are black, from its top left."""
    picture = cv2.aruco.generateImageMarker(cv2.aruco.getPredefinedDictionary(dictionary), id, MARKER_CELLS)
    return [[bool(cell == 0) for cell in row] for row in picture]


def place_squares(canvas: Canvas, left: float, top: float, size: float, rows: Sequence[Sequence[bool]]) -> None:
    """A matrix of black squares as one path, so that no hairline shows between neighbours; mm from the page's bottom
    left, rows from the top."""
    canvas.saveState()
    canvas.translate(left * mm, top * mm)
    canvas.scale(size / len(rows) * mm, -size / len(rows) * mm)
    canvas.addLiteral(_runs(rows))
    canvas.restoreState()


def _runs(rows: Sequence[Sequence[bool]]) -> str:
    """Runs of dark cells as rectangles of one filled path, in cells: written directly, since there are hundreds."""
    results = []
    for at, row in enumerate(rows):
        column = 0
        for dark, run in groupby(row):
            long = len(list(run))
            if dark:
                results.append(f"{column} {at} {long} 1 re")
            column += long
    return " ".join([*results, "f"])
