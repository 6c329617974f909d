"""Where sheets lie in a picture: corner marks, the way from mm to pixels, and the code that names the sheet."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np
import zxingcpp
from numpy.typing import NDArray

from .images import Grey
from .sheet_map import CodePlace, CornerMark, SheetMap, read_code

Floats = NDArray[np.float64]

DICTIONARY = cv2.aruco.DICT_4X4_50
DETECT_SIDE = 1400
"""Longer side of the picture in which corner marks are looked for: 9 mm are at least 26 pixels of an A4 page."""
CORNER_TILE = (0.24, 0.34)
"""Height and width, as shares of a picture, of the corners in which marks are looked for first."""
FEWEST_MARKS = 3
BELONG_MM = 45.0
"""How far apart two marks may put the middle of their page and still lie on the same one."""
MISFIT = 0.6
"""Mean distance, in mm, of the marks' corners from where a page of this size has them; above it, it is another size."""


QR = zxingcpp.BarcodeFormats(zxingcpp.BarcodeFormat.QRCode)


@dataclass(frozen=True)
class Frame:
    """Size of a page and what stands fixed on it; shared by all batches on the same paper."""

    width: float
    height: float
    corners: tuple[CornerMark, ...]
    codes: tuple[CodePlace, ...]

    @staticmethod
    def of(sheet_map: SheetMap) -> "Frame":
        return Frame(sheet_map.width_mm, sheet_map.height_mm, tuple(sheet_map.corners), tuple(sheet_map.codes))


@dataclass(frozen=True)
class SeenMark:
    id: int
    corners: Floats
    """(4, 2) pixels, in the mark's own order: top left first as printed, then clockwise."""


@dataclass(frozen=True)
class LaidPage:
    """One page in a picture. `to_pixels` (3, 3) takes millimetres of the page to pixels of the picture."""

    frame: Frame
    to_pixels: Floats
    marks: int
    misfit: float
    """Root mean square distance, mm, between where marks were seen and where the page has them."""

    def pixels_per_mm(self) -> float:
        """In the middle of the page."""
        middle = np.array([[self.frame.width / 2, self.frame.height / 2]])
        ends = apply(self.to_pixels, middle + np.array([[-10.0, 0.0], [10.0, 0.0]]))
        return float(np.linalg.norm(ends[1] - ends[0])) / 20


def halved(grey: Grey) -> Grey:
    """Half the size, by the mean of four pixels: several times faster than any other factor."""
    height, width = (side // 2 for side in grey.shape)
    return np.asarray(cv2.resize(grey[: 2 * height, : 2 * width], (width, height), interpolation=cv2.INTER_AREA))


class Picture:
    """A picture and its smaller copies, each made once."""

    def __init__(self, grey: Grey) -> None:
        self.levels = [grey]

    @property
    def grey(self) -> Grey:
        return self.levels[0]

    def level(self, at: int) -> Grey:
        while len(self.levels) <= at:
            self.levels.append(halved(self.levels[-1]))
        return self.levels[at]

    def no_longer_than(self, side: int) -> tuple[Grey, int]:
        """The largest copy whose longer side is at most `side`, and how often it was halved."""
        at = 0
        while max(self.level(at).shape) > side:
            at += 1
        return self.level(at), at


def find_marks(picture: Picture, closer: bool = False) -> list[SeenMark]:
    """Corner marks in a picture: in a smaller copy first, and in larger ones where that shows too few, or where asked
    to look closer."""
    small, at = picture.no_longer_than(DETECT_SIDE)
    corners = [] if closer else _in_corners(small, 0.5**at)
    if not closer and len({mark.id for mark in corners}) < 4:
        corners = _detected(small, 0.5**at, _detector((23, 23), (0.05, 0.4)))
    at = max(0, at - 1) if closer else at
    while len({mark.id for mark in corners}) < 4 and at >= 0:
        # Two sheets on one picture, a fax, a photo from afar: look closer before giving up.
        more = _detected(picture.level(at), 0.5**at, _detector((7, 67), (0.015, 4.0)))
        corners = more if len(more) > len(corners) else corners
        at -= 1
    return [SeenMark(mark.id, _sharpened(picture.grey, mark.corners)) for mark in corners]


def _in_corners(grey: Grey, scale: float) -> list[SeenMark]:
    """Marks in the four corners of a picture, where a scanned page has them: a third of it, in a third of the time."""
    height, width = grey.shape
    tall, wide = round(height * CORNER_TILE[0]), round(width * CORNER_TILE[1])
    found_marks = []
    for top in (0, height - tall):
        for left in (0, width - wide):
            tile = np.ascontiguousarray(grey[top : top + tall, left : left + wide])
            off = np.array([left, top]) / scale
            found_marks += [
                SeenMark(mark.id, mark.corners + off)
                for mark in _detected(tile, scale, _detector((23, 23), (0.2, 2.0)))
            ]
    return found_marks


def _detected(grey: Grey, scale: float, detector: "cv2.aruco.ArucoDetector") -> list[SeenMark]:
    corners, ids, _ = detector.detectMarkers(grey)
    if ids is None:
        return []
    # The centre of a pixel is at +0.5 in both pictures.
    return [
        SeenMark(int(id), (quad.reshape(4, 2).astype(float) + 0.5) / scale - 0.5)
        for quad, id in zip(corners, np.ravel(ids), strict=True)
        if int(id) < 4
    ]


@cache
def _detector(windows: tuple[int, int], perimeter: tuple[float, float]) -> "cv2.aruco.ArucoDetector":
    """Thresholds in windows from the first to the second size, pixels; perimeters as shares of the longer side."""
    settings = cv2.aruco.DetectorParameters()
    settings.adaptiveThreshWinSizeMin, settings.adaptiveThreshWinSizeMax = windows
    settings.adaptiveThreshWinSizeStep = 12
    settings.minMarkerPerimeterRate, settings.maxMarkerPerimeterRate = perimeter
    return cv2.aruco.ArucoDetector(cv2.aruco.getPredefinedDictionary(DICTIONARY), settings)


def _sharpened(grey: Grey, corners: Floats) -> Floats:
    """The four corners to a fraction of a pixel in the whole picture."""
    side = float(np.linalg.norm(corners[0] - corners[1]))
    window = int(np.clip(side / 12, 2, 8))
    points = corners.reshape(-1, 1, 2).astype(np.float32)
    height, width = grey.shape
    inside = (points > window + 1).all() and (points[..., 0] < width - window - 2).all()
    if not inside or not (points[..., 1] < height - window - 2).all():
        return corners
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 20, 0.02)
    better = cv2.cornerSubPix(grey, points, (window, window), (-1, -1), stop).reshape(4, 2).astype(float)
    # Dust beside a corner can pull it away; then the coarser place is the better one.
    return better if np.abs(better - corners).max() <= max(2.0, side / 14) else corners


def lay(marks: Sequence[SeenMark], frames: Sequence[Frame]) -> list[LaidPage]:
    """The pages that marks belong to. Marks of two sheets in one picture are told apart by where each puts the middle
    of its page; pages with fewer than three marks are left out."""
    fits = []
    # Where a mark puts the middle of its page depends on the size of the page, so each size is asked for itself.
    for frame in frames:
        for group in _groups(marks, frame):
            if len(group) >= FEWEST_MARKS:
                laid_page = _fit(group, frame)
                if laid_page.misfit <= MISFIT:
                    fits.append((laid_page, {id(mark) for mark in group}))
    laid_pages, used = list[LaidPage](), set[int]()
    for laid_page, own in sorted(fits, key=lambda fit: (-fit[0].marks, fit[0].misfit)):
        if not own & used:
            laid_pages.append(laid_page)
            used |= own
    return sorted(laid_pages, key=lambda laid_page: tuple(apply(laid_page.to_pixels, np.zeros((1, 2)))[0]))


def _groups(marks: Sequence[SeenMark], frame: Frame) -> list[list[SeenMark]]:
    groups: list[tuple[list[SeenMark], list[Floats], float]] = []
    for mark in marks:
        place = frame.corners[mark.id]
        unit = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float) * place.size_mm
        own = np.array([frame.width / 2 - place.x_mm, frame.height / 2 - place.y_mm])
        # An affine way from the mark's own corners: perspective over 9 mm is lost in the noise.
        way, *_ = np.linalg.lstsq(np.column_stack([unit, np.ones(4)]), mark.corners, rcond=None)
        middle = np.array([*own, 1.0]) @ way
        pixels_per_mm = float(np.linalg.norm(mark.corners[0] - mark.corners[2])) / (place.size_mm * 2**0.5)
        for group, middles, scale in groups:
            near = np.linalg.norm(np.mean(middles, axis=0) - middle) < BELONG_MM * scale
            if near and mark.id not in {other.id for other in group}:
                group.append(mark)
                middles.append(middle)
                break
        else:
            groups.append(([mark], [middle], pixels_per_mm))
    return [group for group, _, _ in groups]


def _fit(marks: Sequence[SeenMark], frame: Frame) -> LaidPage:
    paper = np.concatenate([_mark_corners(frame.corners[mark.id]) for mark in marks])
    pixels = np.concatenate([mark.corners for mark in marks])
    solved, _ = cv2.findHomography(paper, pixels, 0)
    if solved is None:
        return LaidPage(frame, np.eye(3), len(marks), np.inf)
    way = np.asarray(solved, float)
    back = apply(np.linalg.inv(way), pixels)
    misfit = float(np.sqrt(np.mean(np.sum((back - paper) ** 2, axis=1))))
    return LaidPage(frame, way, len(marks), misfit)


def _mark_corners(mark: CornerMark) -> Floats:
    x, y, size = mark.x_mm, mark.y_mm, mark.size_mm
    return np.array([[x, y], [x + size, y], [x + size, y + size], [x, y + size]], float)


def apply(way: Floats, points: Floats) -> Floats:
    """Points (n, 2) through a homography."""
    moved = np.column_stack([points, np.ones(len(points))]) @ way.T
    return np.asarray(moved[:, :2] / moved[:, 2:3])


def code_on(grey: Grey, laid_page: LaidPage) -> tuple[str, int] | None:
    """Sheet and page from either of a page's two codes, looked for where the map has them; None where both are lost."""
    for place in laid_page.frame.codes:
        side, border = 210, 30
        scale = (side - 2 * border) / place.size_mm
        back = np.array(
            [[scale, 0, border - place.x_mm * scale], [0, scale, border - place.y_mm * scale], [0, 0, 1]], float
        )
        cut = cv2.warpPerspective(
            grey, back @ np.linalg.inv(laid_page.to_pixels), (side, side), flags=cv2.INTER_LINEAR, borderValue=255
        )
        named = _named(np.asarray(cut, np.uint8))
        if named:
            return named
    return None


def codes_anywhere(grey: Grey) -> list[str]:
    """The text of every QR code in a picture, ours or not."""
    small, _ = Picture(grey).no_longer_than(3600)
    return [barcode.text for barcode in zxingcpp.read_barcodes(small, formats=QR)]


def _named(cut: Grey) -> tuple[str, int] | None:
    for barcode in zxingcpp.read_barcodes(cut, formats=QR):
        named = read_code(barcode.text)
        if named:
            return named
    return None
