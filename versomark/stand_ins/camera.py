"""A simulated camera before a class that holds up folded cards: stills, and frames of a video.

The class sits in rows from two metres on. Heads, desks and cards are drawn as a camera of a given field of view sees
them: turned, tilted, in uneven light, with thumbs over their edges, blurred by hands that move and a lens that is
not quite sharp, and with the noise and the compression of a small camera. Nobody's picture is in it.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from versomark.core.sheets.cards import ABOVE, DICTIONARY, MARKER, marker_of
from versomark.core.sheets.shapes import MARKER_CELLS, marker_cells
from versomark.core.sheets.spec import SIZES_MM

Pixels = NDArray[np.uint8]
PER_MM = 2.0
"""Pixels a mm of the card before it is seen by the camera."""
VIEW = 60.0
"""Field of view across, degrees."""
FIRST_ROW, LAST_ROW = 2.2, 5.6
"""Metres from the camera."""
QUARTER = tuple(side / 2 for side in SIZES_MM["A4"])


@dataclass(frozen=True)
class Place:
    """Where somebody sits; metres right of, below and before the camera."""

    x: float
    y: float
    z: float


@dataclass
class Classroom:
    """A class by desk number, and how steadily it holds its cards."""

    desks: Sequence[int]
    seed: int = 1
    wear: float = 0.3
    """0 a sharp camera and still hands in even light, 1 the worst."""
    last_row: float = LAST_ROW
    places: dict[int, Place] = field(init=False)

    def __post_init__(self) -> None:
        rng = np.random.default_rng(self.seed)
        rows = max(1, round(len(self.desks) ** 0.5 * 0.75))
        across = -(-len(self.desks) // rows)
        self.places = {}
        for at, desk in enumerate(self.desks):
            row, column = divmod(at, across)
            z = FIRST_ROW + (self.last_row - FIRST_ROW) * (row / max(1, rows - 1))
            wide = 2 * z * np.tan(np.radians(VIEW / 2)) * 0.82
            x = (column + 0.5 + (row % 2) * 0.25 - 0.125) / across * wide - wide / 2
            # The camera looks down a little, so that rows behind stand higher in the picture.
            y = 0.62 - row * 0.38 + float(rng.normal(0, 0.02))
            self.places[desk] = Place(float(x + rng.normal(0, 0.03)), y, float(z + rng.normal(0, 0.06)))

    def frame(
        self, showing: Mapping[int, str], width: int = 1920, height: int = 1080, at: int = 0, quality: int = 80
    ) -> bytes:
        """A JPEG of what the camera sees at a moment: desk -> letter of the card held up, several letters for a card
        that is not folded all the way; who is not in it holds nothing."""
        picture = self.picture(showing, width, height, at)
        return cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, quality])[1].tobytes()

    def picture(self, showing: Mapping[int, str], width: int = 1920, height: int = 1080, at: int = 0) -> Pixels:
        """(height, width, 3) BGR."""
        rng = np.random.default_rng([self.seed, at])
        scene = _wall(width, height, np.random.default_rng(self.seed))
        focus = width / 2 / np.tan(np.radians(VIEW / 2))
        for desk, place in sorted(self.places.items(), key=lambda desk_and_place: -desk_and_place[1].z):
            _student(scene, place, focus, np.random.default_rng([self.seed, desk]))
            if showing.get(desk):
                _hold(scene, _card(desk, showing[desk]), place, focus, self.wear, rng)
        light = 1 - self.wear * 0.35 * np.linspace(-0.3, 1, width)[None, :, None]
        scene = np.clip(scene * light + rng.normal(0, 2 + 6 * self.wear, scene.shape), 0, 255)
        soft = 0.35 + 0.5 * self.wear
        return np.asarray(cv2.GaussianBlur(scene.astype(np.uint8), (0, 0), soft), np.uint8)


def write_video(path: Path, frames: Sequence[bytes]) -> None:
    """Frames one after another, as motion JPEG."""
    path.write_bytes(b"".join(frames))


def _wall(width: int, height: int, rng: np.random.Generator) -> NDArray[np.float64]:
    """The back of a room: a wall with windows and posters, a floor."""
    scene = np.full((height, width, 3), (188, 200, 205), np.float64)
    scene[int(height * 0.72) :] = (96, 118, 140)
    for left in (0.05, 0.37, 0.7):
        x = int((left + rng.uniform(-0.02, 0.02)) * width)
        cv2.rectangle(scene, (x, int(0.02 * height)), (x + width // 6, int(0.2 * height)), (228, 224, 214), -1)
        cv2.rectangle(scene, (x, int(0.02 * height)), (x + width // 6, int(0.2 * height)), (120, 130, 140), 3)
    return scene


def _card(desk: int, letters: str) -> Pixels:
    """What of a card faces the teacher: a quarter, or as many as letters, side by side."""
    wide, tall = (round(side * PER_MM) for side in QUARTER)
    quarters = []
    for letter in letters:
        quarter = np.full((tall, wide), 244, np.uint8)
        cells = np.array(marker_cells(DICTIONARY, marker_of(desk, letter)))
        side = round(MARKER * PER_MM / MARKER_CELLS) * MARKER_CELLS
        marker = np.where(np.kron(cells, np.ones((side // MARKER_CELLS,) * 2)) > 0, 28, 244).astype(np.uint8)
        left, top = (wide - side) // 2, round(ABOVE * PER_MM)
        quarter[top : top + side, left : left + side] = marker
        quarters.append(quarter)
    return np.hstack(quarters)


def _student(scene: NDArray[np.float64], place: Place, focus: float, rng: np.random.Generator) -> None:
    height, width = scene.shape[:2]
    x, y = width / 2 + place.x / place.z * focus, height / 2 + (place.y + 0.02) / place.z * focus
    size = focus / place.z
    skin = _mixed((178, 200, 232), (62, 84, 122), rng)
    shirt = _mixed((150, 140, 128), (92, 74, 60), rng)
    hair = _mixed((30, 34, 42), (70, 96, 130), rng)
    cv2.ellipse(scene, _point(x + 0.16 * size, y + 0.3 * size), _point(0.2 * size, 0.3 * size), 0, 0, 360, shirt, -1)
    cv2.ellipse(scene, _point(x + 0.16 * size, y - 0.1 * size), _point(0.085 * size, 0.11 * size), 0, 0, 360, skin, -1)
    cv2.ellipse(
        scene, _point(x + 0.16 * size, y - 0.15 * size), _point(0.09 * size, 0.08 * size), 0, 180, 360, hair, -1
    )


def _mixed(sequence: Sequence[float], other: Sequence[float], rng: np.random.Generator) -> tuple[float, ...]:
    """A colour between two, BGR."""
    share = rng.random()
    return tuple(a + (b - a) * share for a, b in zip(sequence, other, strict=True))


def _hold(
    scene: NDArray[np.float64], card: Pixels, place: Place, focus: float, wear: float, rng: np.random.Generator
) -> None:
    """Put a card where it is held: turned in space, its lower edge under a hand, blurred as the hand moves."""
    height, width = scene.shape[:2]
    tall, wide = (side / PER_MM / 1000 for side in card.shape)
    turn, tilt, roll = np.radians(rng.normal(0, [4 + 14 * wear, 4 + 12 * wear, 3 + 6 * wear]))
    spin = cv2.Rodrigues(np.array([tilt, turn, 0.0]))[0] @ cv2.Rodrigues(np.array([0.0, 0.0, roll]))[0]
    corners = np.array([[-wide, -tall, 0], [wide, -tall, 0], [wide, tall, 0], [-wide, tall, 0]]) / 2
    # Held up beside the head, and never quite at the same place.
    where = rng.normal([place.x - 0.06, place.y - 0.24, place.z - 0.25], [0.02 + 0.04 * wear, 0.02 + 0.03 * wear, 0.02])
    space = corners @ spin.T + where
    seen = (space[:, :2] / space[:, 2:] * focus + [width / 2, height / 2]).astype(np.float32)
    flat = np.array([[0, 0], [card.shape[1], 0], [card.shape[1], card.shape[0]], [0, card.shape[0]]], np.float32)
    left, top = np.maximum(np.floor(seen.min(axis=0)).astype(int) - 6, 0)
    right, bottom = np.minimum(np.ceil(seen.max(axis=0)).astype(int) + 6, [width, height])
    if right <= left or bottom <= top:
        return
    matrix = cv2.getPerspectiveTransform(flat, seen - np.array([left, top], np.float32))
    size = (int(right - left), int(bottom - top))
    # Seen from afar a card is smaller than it is drawn: its cells are averaged as a sensor's are.
    shrink = max(1.0, card.shape[1] / max(1.0, float(np.linalg.norm(seen[1] - seen[0]))))
    inked = cv2.GaussianBlur(card, (0, 0), shrink / 2.2) if shrink > 1.3 else card
    ink = cv2.warpPerspective(inked, matrix, size, flags=cv2.INTER_LINEAR)
    cover = cv2.warpPerspective(np.full(card.shape, 255, np.uint8), matrix, size, flags=cv2.INTER_AREA)
    shade = rng.uniform(1 - 0.45 * wear, 1.0)
    moved = _moved(np.dstack([ink.astype(np.float64) * shade, cover.astype(np.float64)]), wear * 3 * focus / 1600, rng)
    alpha = moved[..., 1:] / 255
    patch = scene[top:bottom, left:right]
    patch[:] = patch * (1 - alpha) + moved[..., :1] * np.where(alpha > 0, 1, 0) * alpha
    for thumb in _thumbs(tall, wide, rng):
        way = cv2.perspectiveTransform(thumb[None].astype(np.float32), matrix)[0] + [left, top]
        cv2.fillConvexPoly(scene, np.round(way).astype(np.int32), (120, 150, 190))


def _thumbs(tall: float, wide: float, rng: np.random.Generator) -> list[NDArray[np.float64]]:
    """The thumbs on the front of a card, as outlines in its own pixels: two at its sides, or one from below. A thumb is
    about 20 mm wide, and lies as far on the card as one holds it: from 8 to 15 mm at a side, up to 45 mm from below."""
    tall, wide = tall * 1000 * PER_MM, wide * 1000 * PER_MM
    angles = np.linspace(0, 2 * np.pi, 24)
    half = 10 * PER_MM * np.column_stack([np.cos(angles), np.sin(angles)])
    if rng.random() < 0.5:
        reach = rng.uniform(20, 45) * PER_MM
        middle = np.array([wide * rng.uniform(0.3, 0.7), tall])
        return [middle + half * [1.0, reach / (10 * PER_MM)]]
    thumbs = []
    for edge in (0.0, wide):
        reach = rng.uniform(8, 15) * PER_MM
        thumbs.append(np.array([edge, tall * rng.uniform(0.3, 0.9)]) + half * [reach / (10 * PER_MM), 1.0])
    return thumbs


def _moved(layer: NDArray[np.float64], most: float, rng: np.random.Generator) -> NDArray[np.float64]:
    """Blurred along the way a hand moved while the shutter was open, pixels."""
    long = round(abs(float(rng.normal(0, most))))
    if long < 1:
        return layer
    kernel = np.zeros((2 * long + 1, 2 * long + 1))
    angle = rng.uniform(0, np.pi)
    end = _point(long + long * np.cos(angle), long + long * np.sin(angle))
    cv2.line(kernel, _point(long - long * np.cos(angle), long - long * np.sin(angle)), end, 1.0)
    return np.asarray(cv2.filter2D(layer, -1, kernel / kernel.sum()))


def _point(x: float, y: float) -> tuple[int, int]:
    return round(float(x)), round(float(y))
