"""The picture a page is read from: the scan itself where it is even, or straightened; without a scanner's streaks."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from .finding import LaidPage, Picture, apply
from .images import Grey

Floats = NDArray[np.float64]

PER_MM = 6
"""Pixels a millimetre of the straightened page: 152 dpi, which a pencil's line of 0.3 mm still shows in."""


@dataclass(frozen=True)
class View:
    """A picture in which every bubble is round: `to_pixels` takes mm of the page to its pixels, `per_mm` of them a
    millimetre; `angle` is how far the page is turned in it, in radians."""

    grey: Grey
    to_pixels: Floats
    per_mm: float
    angle: float


def view_of(picture: Picture, laid_page: LaidPage) -> View:
    """The scan itself where it is an even one, since straightening a page costs as much as decoding it; the
    straightened page where it was photographed or stretched."""
    view = _own_view(picture, laid_page)
    return view if view is not None else View(straightened(picture, laid_page), _STRAIGHT, PER_MM, 0.0)


_STRAIGHT = np.array([[PER_MM, 0, -0.5], [0, PER_MM, -0.5], [0, 0, 1.0]])
"""Pixel (0, 0) of the straightened page shows the point half a pixel from its corner."""


def _own_view(picture: Picture, laid_page: LaidPage) -> View | None:
    finer = laid_page.pixels_per_mm() / PER_MM
    at = max(0, int(np.log2(max(finer / 0.85, 1))))
    way = _shrunk(laid_page, at)
    width, height = laid_page.frame.width, laid_page.frame.height
    around = np.array([[0, 0], [width, 0], [0, height], [width, height], [width / 2, height / 2]])
    here, right, down = (apply(way, around + step) for step in ([0.0, 0.0], [1.0, 0.0], [0.0, 1.0]))
    across, along = right - here, down - here
    scales = np.concatenate([np.linalg.norm(across, axis=1), np.linalg.norm(along, axis=1)])
    skewed = np.abs(np.sum(across * along, axis=1)) / (scales.mean() ** 2)
    if scales.max() / scales.min() > 1.04 or skewed.max() > 0.03 or scales.mean() < 0.8 * PER_MM:
        return None
    angle = float(np.arctan2(across[4, 1], across[4, 0]))
    return View(picture.level(at), way, float(scales.mean()), angle)


def _shrunk(laid_page: LaidPage, at: int) -> Floats:
    """The way to the pixels of a copy that was halved `at` times."""
    shrink = 0.5**at
    way = np.array([[shrink, 0, (shrink - 1) / 2], [0, shrink, (shrink - 1) / 2], [0, 0, 1.0]]) @ laid_page.to_pixels
    return np.asarray(way)


def straightened(picture: Picture, laid_page: LaidPage) -> Grey:
    """The page as the map has it, `PER_MM` pixels a millimetre."""
    size = (round(laid_page.frame.width * PER_MM), round(laid_page.frame.height * PER_MM))
    # Shrunk by areas first where it is much finer, so that thin strokes darken their pixel and are not stepped over.
    at = max(0, int(np.log2(max(laid_page.pixels_per_mm() / PER_MM / 0.85, 1))))
    way = _shrunk(laid_page, at) @ np.linalg.inv(_STRAIGHT)
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.asarray(cv2.warpPerspective(picture.level(at), way, size, flags=flags, borderValue=255), np.uint8)


def without_streaks(picture: Picture) -> Picture:
    """The picture without lines that run down it where a copier's glass was dirty; itself where there are none.

    Only what is dark over a long stretch of its column and light beside it is taken away: nothing printed on a sheet
    but the sides of boxes is, and those hold no bubbles.
    """
    small = picture.level(1)
    height, width = small.shape
    step = max(1, height // 300)
    squashed = (small[: height // step * step].reshape(-1, step, width).sum(axis=1, dtype=np.uint32) // step).astype(
        np.uint8
    )
    wide = max(9, width // 60) | 1
    dark = cv2.morphologyEx(squashed, cv2.MORPH_BLACKHAT, np.ones((1, wide), np.uint8))
    long = max(5, squashed.shape[0] // 6)
    streaks = cv2.morphologyEx(dark, cv2.MORPH_OPEN, np.ones((long, 1), np.uint8))
    dirty = int((streaks > 8).any(axis=0).sum())
    if dirty == 0 or dirty > width // 12:
        return picture
    full = picture.grey
    return Picture(np.asarray(cv2.add(full, cv2.resize(streaks, full.shape[::-1], interpolation=cv2.INTER_NEAREST))))
