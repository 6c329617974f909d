"""Folded cards found in pictures of a class, and what several pictures together say.

A marker is read without mending any bit: two of ours differ in three, so a wrong reading takes three wrong bits, and a
bit that cannot be told costs a frame, of which a camera has plenty.
"""

from collections import deque
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from .cards import DICTIONARY, meaning_of
from .images import Grey

Floats = NDArray[np.float64]
LONGEST = 4200
"""Pixels of the longer side up to which a picture is searched as it is: the 12 megapixels of a phone's still."""
SMALLEST = 9.0
"""Side of the smallest marker that is looked for, pixels."""
SURE = 16.0
"""Side, in pixels, from which a single picture is believed. A camera's frames vote instead."""
VOTES = 2
"""Frames, one after another, that must show the same letter of a desk before it counts."""
KEPT_FRAMES = 5


@dataclass(frozen=True)
class CardSeen:
    """A marker in a picture."""

    desk: int
    letter: str
    corners: tuple[tuple[float, float], ...]
    """Four (x, y) in pixels, from the marker's own top left, clockwise."""
    side: float
    """Mean length of its sides, pixels."""


def find_cards(grey: Grey) -> list[CardSeen]:
    """Every card in a picture, by desk number; (height, width) 8-bit grey. A card seen twice is listed twice."""
    longer = max(grey.shape)
    scale = min(1.0, LONGEST / longer)
    small = grey if scale == 1 else np.asarray(cv2.resize(grey, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA))
    corners, ids, _ = _detector(max(small.shape)).detectMarkers(small)
    card_seens = []
    for quad, id in zip(corners, np.ravel(ids) if ids is not None else [], strict=True):
        meaning = meaning_of(int(id))
        if meaning is not None:
            points = quad.reshape(4, 2).astype(float) / scale
            side = float(np.linalg.norm(points - np.roll(points, 1, axis=0), axis=1).mean())
            card_seens.append(CardSeen(*meaning, tuple((float(x), float(y)) for x, y in points), side))
    return sorted(card_seens, key=lambda seen: (seen.desk, seen.letter))


@cache
def _detector(longer: int) -> "cv2.aruco.ArucoDetector":
    settings = cv2.aruco.DetectorParameters()
    settings.adaptiveThreshWinSizeMin, settings.adaptiveThreshWinSizeMax = 5, 25
    settings.adaptiveThreshWinSizeStep = 10
    settings.minMarkerPerimeterRate = 4 * SMALLEST / longer
    settings.errorCorrectionRate = 0.0
    # Light rooms and printers' black leave more contrast than the default asks for; less of it is noise.
    settings.adaptiveThreshConstant = 10
    settings.perspectiveRemovePixelPerCell = 8
    settings.perspectiveRemoveIgnoredMarginPerCell = 0.2
    return cv2.aruco.ArucoDetector(cv2.aruco.getPredefinedDictionary(DICTIONARY), settings)


Doubt = Literal["two", "small", "letter", "nobody"]
"""Two letters of one desk at once; too small to believe; a letter the question has not; nobody at that desk."""


@dataclass(frozen=True)
class Frame:
    """What a picture changed."""

    counts: Mapping[int, str]
    """desk -> letter, of desks whose answer is now this and was not before."""
    doubts: Mapping[int, tuple[Doubt, str]]
    """desk -> why it does not count, and the letters seen; all that stand after this picture."""


@dataclass
class CardTally:
    """What the cards of one round say, picture by picture. A later picture may change an answer."""

    desks: frozenset[int]
    """Of those who take part."""
    letters: str
    """That the question offers, such as `ABC`."""
    said: dict[int, str] = field(default_factory=dict)
    doubts: dict[int, tuple[Doubt, str]] = field(default_factory=dict)
    _seen: dict[int, deque[str]] = field(default_factory=dict)

    def see(self, cards: Iterable[CardSeen], still: bool = False) -> Frame:
        """Take in one picture: a frame of a camera, or a still, which counts by itself."""
        changed = {}
        for desk, results in _by_desk(cards).items():
            doubt, shown = self._judged(desk, results, still)
            if doubt is not None:
                self.doubts[desk] = (doubt, shown)
                self._seen.pop(desk, None)
                continue
            row = self._seen.setdefault(desk, deque(maxlen=KEPT_FRAMES))
            row.append(shown)
            if not still and list(row)[-VOTES:] != [shown] * VOTES:
                continue
            self.doubts.pop(desk, None)
            if self.said.get(desk) != shown:
                changed[desk] = self.said[desk] = shown
        return Frame(changed, dict(self.doubts))

    def _judged(self, desk: int, card_seens: Sequence[CardSeen], still: bool) -> tuple[Doubt | None, str]:
        shown = "".join(sorted({card.letter for card in card_seens}))
        if desk not in self.desks:
            return "nobody", shown
        if len(shown) > 1:
            return "two", shown
        if shown not in self.letters:
            return "letter", shown
        if still and max(card.side for card in card_seens) < SURE:
            return "small", shown
        return None, shown


def _by_desk(cards: Iterable[CardSeen]) -> dict[int, list[CardSeen]]:
    result: dict[int, list[CardSeen]] = {}
    for card in cards:
        result.setdefault(card.desk, []).append(card)
    return result
