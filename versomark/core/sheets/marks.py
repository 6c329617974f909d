"""How dark every bubble of a page is, against the paper beside it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, cached_property
from itertools import groupby
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from .finding import apply
from .images import Grey
from .shapes import ink_of
from .sheet_map import Bubble, SheetMap, SheetPage
from .spec import NUMBER, Kind
from .views import View

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
Steps = NDArray[np.int64]
INSIDE = 0.80
"""Share of the radius within which ink counts as the student's; the ring begins a little further out."""
PAPER_FROM, PAPER_TO = 1.22, 1.50
"""Radii between which the paper beside a bubble is judged."""
LETTER_FROM, LETTER_TO = 1.15, 2.15
"""Radii between which a bubble's letter stands, to its left, or to its right on a mirrored sheet."""
FEWEST_LETTERS, LETTERS_DIFFER = 4, 0.015
SEARCH = 0.85
"""How far, in mm, a bubble may lie off its place: paper curls and copiers stretch."""
RINGS_SEEN = 0.75
"""Share of the rings that must be where the map has them for a page to be read at all."""


@dataclass(frozen=True)
class Row:
    """Bubbles of which one is an answer: a question, or a column, row or scale of one."""

    item: str
    part: str
    kind: Kind | Literal["number"]
    bubbles: tuple[int, ...]


@dataclass(frozen=True)
class PageRegion:
    """A rectangle on the page, mm from its top left."""

    x_mm: float
    y_mm: float
    w_mm: float
    h_mm: float


class Plan:
    """A page of the map made ready for reading: arrays for all its bubbles, and its rows."""

    def __init__(self, sheet_map: SheetMap, page: SheetPage) -> None:
        self.bubbles = page.bubbles
        self.mirrored = sheet_map.right_to_left
        self.centres = np.array([(b.x_mm, b.y_mm) for b in page.bubbles], float).reshape(-1, 2)
        self.radii = np.array([b.r_mm for b in page.bubbles], float)
        self.options = [b.option for b in page.bubbles]
        self.rows = list(_rows(page.bubbles, sheet_map.kinds))
        kinds = ("choice", "multiple", "true-false", "matching")
        lettered = {k for row in self.rows if row.kind in kinds for k in row.bubbles}
        self.lettered = np.array([k in lettered for k in range(len(page.bubbles))], bool)

    @cached_property
    def places(self) -> dict[str, PageRegion]:
        """The rectangle around each item's bubbles, with their letters."""
        places_by_key = {}
        for item, rows in groupby(sorted(self.rows, key=lambda row: row.item), key=lambda row: row.item):
            at = [k for row in rows for k in row.bubbles]
            room = self.radii[at].max() * 1.9
            low, high = self.centres[at].min(axis=0) - room, self.centres[at].max(axis=0) + room
            # The letter of the first bubble stands before it.
            if self.mirrored:
                high[0] += room
            else:
                low[0] -= room
            low = np.maximum(low, 0)
            x, y, w, h = (round(float(value), 2) for value in (*low, *(high - low)))
            places_by_key[item] = PageRegion(x, y, w, h)
        return places_by_key

    @cached_property
    def sizes(self) -> list[tuple[float, NDArray[np.intp]]]:
        """Bubbles of one radius together, since they are cut out together."""
        return [(float(radius), np.flatnonzero(self.radii == radius)) for radius in np.unique(self.radii)]


def _rows(bubbles: Sequence[Bubble], kinds: dict[str, Kind]) -> list[Row]:
    parted = [(bubble.item, _part(bubble, kinds), at) for at, bubble in enumerate(bubbles)]
    parted.sort(key=lambda entry: (entry[0], entry[1]))
    rows = [
        Row(item, part, "number" if item == NUMBER else kinds[item], tuple(sorted(at for *_, at in run)))
        for (item, part), run in groupby(parted, key=lambda entry: entry[:2])
    ]
    return sorted(rows, key=lambda row: row.bubbles)


def _part(bubble: Bubble, kinds: dict[str, Kind]) -> str:
    kind = kinds.get(bubble.item)
    lead, colon, symbol = bubble.option.rpartition(":")
    if kind == "written" and symbol == "½":
        # A half goes with one of the whole points, so it is no rival of theirs.
        return f"{lead}{colon}½"
    many = bubble.item == NUMBER or kind in ("numeric", "matching") or (kind == "written" and ":" in bubble.option)
    return bubble.option.split(":")[0] if many else ""


@dataclass(frozen=True)
class Darkness:
    """Per bubble: `inside` 0 paper to 1 the page's black; `beside` the same for the ring of paper around it, less its
    usual; `ring` how much darker the printed ring is than the paper."""

    inside: Floats
    beside: Floats
    ring: Floats
    shift_mm: Floats
    letter: Floats
    """Of the place beside it where the letter stands, less what the letters of that name have on this page."""
    two_levels: bool = False
    """Whether the scan is black and white only, so that light pencil may be lost."""


def darkness(view: View, plan: Plan, black: float, two_levels: bool = False) -> Darkness:
    """Measure every bubble of a page. `black` is the grey of its printed black."""
    count = len(plan.bubbles)
    inside, beside, ring, letter = np.zeros((4, count))
    places = apply(view.to_pixels, plan.centres)
    shift = _shifts(view, plan, places)
    for radius, at in plan.sizes:
        parts = _parts(round(radius * view.per_mm * 4) / 4, round(view.angle, 3), plan.mirrored)
        centres = np.rint(places[at] + shift[at]).astype(int)
        around = _pixels(view.grey, centres, parts.around)
        # Not the middle of it: a circle drawn around a bubble may darken half of what lies beside it.
        rank = int(0.9 * around.shape[1])
        paper = np.partition(around, rank, axis=1)[:, rank].astype(np.float32)
        span = np.maximum(paper - black, 25.0)
        inside[at] = _level(_pixels(view.grey, centres, parts.inside), paper, span)
        # The letter stands on one side; ink anywhere else near a bubble is somebody's.
        beside[at] = _level(around[:, parts.unlettered], paper, span)
        ring[at] = _level(_pixels(view.grey, centres, parts.ring), paper, span)
        letter[at] = _level(_pixels(view.grey, centres, parts.letter), paper, span)
    return Darkness(inside, beside, ring, shift / view.per_mm, _more_than_letters(letter, plan), two_levels)


def _more_than_letters(dark: Floats, plan: Plan) -> Floats:
    """What stands on a letter beyond the letter itself: against the lighter ones of that name on the page, since a
    student who ticks letters ticks one of a row. 0 where the page has too few of a name to say."""
    result = np.zeros(len(dark))
    names = np.array([option.rpartition(":")[2] for option in plan.options])
    if not plan.lettered.any():
        return result
    inks = np.array([ink_of(name) for name in names[plan.lettered]])
    share = float(np.quantile(dark[plan.lettered] / inks, 0.4))
    for name in set(names):
        same = np.flatnonzero((names == name) & plan.lettered)
        if len(same) >= FEWEST_LETTERS:
            result[same] = dark[same] - np.quantile(dark[same], 0.25)
        elif len(same):
            # Too few of that name: against what its ink would be, from all letters of the page.
            result[same] = dark[same] - share * ink_of(name) - LETTERS_DIFFER
    return np.maximum(result, 0.0)


@dataclass(frozen=True)
class Parts:
    """Pixels around a bubble's middle, as steps (n, 2) down and across."""

    inside: Steps
    around: Steps
    ring: Steps
    letter: Steps
    """Where the letter stands."""
    unlettered: NDArray[np.bool_]
    """Which of `around` do not lie where the letter stands."""


@cache
def _parts(radius: float, angle: float, mirrored: bool) -> Parts:
    half = int(np.ceil(radius * LETTER_TO)) + 1
    away = _distances(2 * half + 1, radius)

    def steps(mask: NDArray[np.bool_]) -> Steps:
        return np.argwhere(mask) - half

    around, left = (away > PAPER_FROM) & (away < PAPER_TO), _left(2 * half + 1, angle)
    if mirrored:
        left = left[::-1, ::-1]
    return Parts(
        inside=steps(away < INSIDE),
        around=steps(around),
        ring=steps((away > 0.86) & (away < 1.0)),
        letter=steps((away > LETTER_FROM) & (away < LETTER_TO) & left),
        unlettered=~left[around],
    )


def _pixels(grey: Grey, centres: NDArray[np.int64], steps: Steps) -> NDArray[np.uint8]:
    """The pixels at `steps` from each centre (n, 2; across, down), as (n, m); the edge goes on beyond the picture."""
    height, width = grey.shape
    reach = int(np.abs(steps).max())
    low, high = centres.min(axis=0) - reach, centres.max(axis=0) + reach
    if low.min() >= 0 and high[0] < width and high[1] < height:
        return np.asarray(grey.reshape(-1)[(centres @ [1, width])[:, None] + steps @ [width, 1]])
    rows = np.clip(centres[:, 1, None] + steps[:, 0], 0, height - 1)
    columns = np.clip(centres[:, 0, None] + steps[:, 1], 0, width - 1)
    return np.asarray(grey[rows, columns])


def _level(pixels: NDArray[np.uint8], paper: Floats32, span: Floats32) -> Floats:
    """Mean darkness of the pixels (n, m) of each bubble; what is lighter than the paper counts as paper."""
    return np.asarray(np.maximum(paper[:, None] - pixels, 0).mean(axis=1) / span, float)


def _distances(side: int, radius: float) -> Floats:
    """Distance of every pixel of a cut from its middle, in radii."""
    steps = np.arange(side) - side // 2
    return np.asarray(np.hypot(steps[:, None], steps[None, :]) / radius)


def _left(side: int, angle: float) -> NDArray[np.bool_]:
    """The quarter of a cut that lies to the left of its middle on the page."""
    steps = np.arange(side) - side // 2
    along = steps[None, :] * np.cos(angle) + steps[:, None] * np.sin(angle)
    across = -steps[None, :] * np.sin(angle) + steps[:, None] * np.cos(angle)
    return np.asarray(-along > np.abs(across) * 0.9)


def _shifts(view: View, plan: Plan, places: Floats) -> Floats:
    """How far each bubble lies off its place, (n, 2) pixels, from where the printed rings of some of them are seen.

    One smooth bend for the page (a quadratic in x and y), fitted so that single wrong places do not pull it.
    """
    count = len(plan.bubbles)
    chosen = _spread_out(plan)
    if len(chosen) < 8:
        return np.zeros((count, 2))
    search = max(3, round(SEARCH * view.per_mm))
    seen, weights = np.zeros((len(chosen), 2)), np.zeros(len(chosen))
    for place, at in enumerate(chosen):
        seen[place], weights[place] = _ring_shift(view.grey, places[at], plan.radii[at] * view.per_mm, search)
    middle, span = plan.centres.mean(axis=0), np.maximum(np.ptp(plan.centres, axis=0), 30)
    scaled = (plan.centres - middle) / span
    terms = np.column_stack([np.ones(count), scaled, scaled**2, scaled[:, 0] * scaled[:, 1]])
    if len(chosen) < 20:
        terms = terms[:, :1]
    weights = np.maximum(weights, 1e-6)
    for _ in range(4):
        part, *_ = np.linalg.lstsq(terms[chosen] * weights[:, None], seen * weights[:, None], rcond=None)
        off = np.linalg.norm(seen - terms[chosen] @ part, axis=1)
        weights = 1 / (1 + (off / (0.12 * view.per_mm)) ** 2)
    return np.asarray(np.clip(terms @ part, -search, search), float)


def _spread_out(plan: Plan, most: int = 28) -> NDArray[np.intp]:
    """Some bubbles from all over the page."""
    if len(plan.bubbles) <= most:
        return np.arange(len(plan.bubbles))
    order = np.lexsort((plan.centres[:, 0], np.round(plan.centres[:, 1] / 12)))
    return np.sort(order[np.linspace(0, len(order) - 1, most).astype(int)])


@cache
def _ring(radius: float) -> Floats32:
    """A printed ring as a pattern: dark on it, lighter within and around, summing to zero. `radius` in pixels."""
    half = int(np.ceil(radius * 1.3))
    away = _distances(2 * half + 1, radius)
    on, off = np.abs(away - 0.94) < 0.09, (away > 0.6) & (away < 1.25)
    off &= ~on
    return np.asarray(off / off.sum() - on / on.sum(), np.float32)


def _ring_shift(grey: Grey, centre: Floats, radius: float, search: int) -> tuple[Floats, float]:
    """Where the ring of a bubble is best seen, as a shift in pixels, and how clearly."""
    pattern = _ring(round(radius * 4) / 4)
    half = pattern.shape[0] // 2 + search
    x, y = np.rint(centre).astype(int).tolist()
    height, width = grey.shape
    if x < half or y < half or x + half >= width or y + half >= height:
        return np.zeros(2), 0.0
    cut = grey[y - half : y + half + 1, x - half : x + half + 1].astype(np.float32)
    match = np.asarray(cv2.matchTemplate(cut, pattern, cv2.TM_CCORR), np.float32)
    _, best, _, (dx, dy) = cv2.minMaxLoc(match)
    result = np.array([dx - search + _between(match[dy], dx), dy - search + _between(match[:, dx], dy)])
    return result + (np.array([x, y]) - centre), max(best, 0.0)


def _between(line: Floats32, at: int) -> float:
    """The top of a parabola through a maximum and its neighbours, −0.5 to 0.5 of a step."""
    if not 0 < at < len(line) - 1:
        return 0.0
    low, top, high = (float(line[at + step]) for step in (-1, 0, 1))
    bend = low - 2 * top + high
    return float(np.clip((low - high) / (2 * bend), -0.5, 0.5)) if bend < 0 else 0.0


def rings_seen(measured: Darkness) -> float:
    """Share of the bubbles whose printed ring stands where the map has it, 0 to 1."""
    return float(np.mean(measured.ring > 0.10)) if len(measured.ring) else 1.0
