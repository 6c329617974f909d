"""What is filled: the darkness of every bubble against the paper beside it, its row, and the page's empty bubbles."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache, cached_property
from itertools import groupby
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from .finding import Laid, Picture, apply
from .images import Grey
from .sheet_map import Bubble, SheetMap, SheetPage
from .spec import NUMBER, Kind

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
State = Literal["answer", "blank", "several", "faint", "unreadable", "by hand"]
"""`by hand` is no doubt of the reader: something is written in a box that a person has to read."""

PER_MM = 6
"""Pixels a millimetre of the straightened page: 152 dpi, which a pencil's line of 0.3 mm still shows in."""
INSIDE = 0.80
"""Share of the radius within which ink counts as the student's; the ring begins a little further out."""
PAPER_FROM, PAPER_TO = 1.22, 1.50
"""Radii between which the paper beside a bubble is judged."""
SEARCH = 0.85
"""How far, in mm, a bubble may lie off its place: paper curls and copiers stretch."""

EMPTY_ABOVE = 0.028
"""Darkness above the page's empty bubbles up to which a bubble is empty: ten times the noise of JPEG 60 at 150 dpi."""
EMPTY_AT_MOST = 0.05
"""Darkness no empty bubble exceeds, whatever the scanner: it is measured against the paper beside it."""
MARK_ABOVE = 0.085
"""Least darkness above the empty ones of anything that counts as a mark."""
MARK_SHARE = 0.30
"""Share of the page's usual mark a mark must reach: who fills firmly does not answer with a smudge."""
RIVAL_SHARE = 0.30
"""Share of a row's darkest bubble that no other may reach beside an answer."""
EMPTY_ABOVE_TWO = 0.004
"""The same on a scan in black and white, where an empty bubble has no ink at all: a few points are a mark that the
scanner all but lost."""
THIN_TWO = 0.35
"""Below this usual darkness of a page's marks in black and white, others on it may have been lost altogether."""
NEAR, AROUND = 0.10, 0.22
"""Darkness of the paper beside a bubble, above its usual, at which an empty row, or a filled one, is in doubt."""
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
class Place:
    """A rectangle on the page, mm from its top left."""

    x_mm: float
    y_mm: float
    w_mm: float
    h_mm: float


@dataclass(frozen=True)
class RowRead:
    """What a row says. `options` are the filled ones, several where several may be."""

    row: Row
    options: tuple[str, ...]
    state: State
    confidence: float
    """0 to 1: how clear the answer stands of everything else, or how empty a blank row is."""
    note: str = ""
    """What the reader saw, in words, where it is in doubt."""


class Plan:
    """A page of the map made ready for reading: arrays for all its bubbles, and its rows."""

    def __init__(self, sheet_map: SheetMap, page: SheetPage) -> None:
        self.bubbles = page.bubbles
        self.centres = np.array([(b.x_mm, b.y_mm) for b in page.bubbles], float).reshape(-1, 2)
        self.radii = np.array([b.r_mm for b in page.bubbles], float)
        self.options = [b.option for b in page.bubbles]
        self.rows = list(_rows(page.bubbles, sheet_map.kinds))

    @cached_property
    def places(self) -> dict[str, Place]:
        """The rectangle around each item's bubbles, with their letters."""
        found = {}
        for item, rows in groupby(sorted(self.rows, key=lambda row: row.item), key=lambda row: row.item):
            at = [k for row in rows for k in row.bubbles]
            room = self.radii[at].max() * 1.9
            low, high = self.centres[at].min(axis=0) - room, self.centres[at].max(axis=0) + room
            # The letter of the first bubble stands to its left.
            low[0] -= room
            low = np.maximum(low, 0)
            x, y, w, h = (round(float(value), 2) for value in (*low, *(high - low)))
            found[item] = Place(x, y, w, h)
        return found

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
class View:
    """A picture in which every bubble is round: `to_pixels` takes mm of the page to its pixels, `per_mm` of them a
    millimetre; `angle` is how far the page is turned in it, in radians."""

    grey: Grey
    to_pixels: Floats
    per_mm: float
    angle: float


def view_of(picture: Picture, laid: Laid) -> View:
    """The scan itself where it is an even one, since straightening a page costs as much as decoding it; the
    straightened page where it was photographed or stretched."""
    found = _own_view(picture, laid)
    return found if found is not None else View(straightened(picture, laid), _STRAIGHT, PER_MM, 0.0)


_STRAIGHT = np.array([[PER_MM, 0, -0.5], [0, PER_MM, -0.5], [0, 0, 1.0]])
"""Pixel (0, 0) of the straightened page shows the point half a pixel from its corner."""


def _own_view(picture: Picture, laid: Laid) -> View | None:
    finer = laid.pixels_per_mm() / PER_MM
    at = max(0, int(np.log2(max(finer / 0.85, 1))))
    way = _shrunk(laid, at)
    width, height = laid.frame.width, laid.frame.height
    around = np.array([[0, 0], [width, 0], [0, height], [width, height], [width / 2, height / 2]])
    here, right, down = (apply(way, around + step) for step in ([0.0, 0.0], [1.0, 0.0], [0.0, 1.0]))
    across, along = right - here, down - here
    scales = np.concatenate([np.linalg.norm(across, axis=1), np.linalg.norm(along, axis=1)])
    skewed = np.abs(np.sum(across * along, axis=1)) / (scales.mean() ** 2)
    if scales.max() / scales.min() > 1.04 or skewed.max() > 0.03 or scales.mean() < 0.8 * PER_MM:
        return None
    angle = float(np.arctan2(across[4, 1], across[4, 0]))
    return View(picture.level(at), way, float(scales.mean()), angle)


def _shrunk(laid: Laid, at: int) -> Floats:
    """The way to the pixels of a copy that was halved `at` times."""
    shrink = 0.5**at
    way = np.array([[shrink, 0, (shrink - 1) / 2], [0, shrink, (shrink - 1) / 2], [0, 0, 1.0]]) @ laid.to_pixels
    return np.asarray(way)


def straightened(picture: Picture, laid: Laid) -> Grey:
    """The page as the map has it, `PER_MM` pixels a millimetre."""
    size = (round(laid.frame.width * PER_MM), round(laid.frame.height * PER_MM))
    # Shrunk by areas first where it is much finer, so that thin strokes darken their pixel and are not stepped over.
    at = max(0, int(np.log2(max(laid.pixels_per_mm() / PER_MM / 0.85, 1))))
    way = _shrunk(laid, at) @ np.linalg.inv(_STRAIGHT)
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


@dataclass(frozen=True)
class Darkness:
    """Per bubble: `inside` 0 paper to 1 the page's black; `beside` the same for the ring of paper around it, less its
    usual; `ring` how much darker the printed ring is than the paper."""

    inside: Floats
    beside: Floats
    ring: Floats
    shift_mm: Floats
    two_levels: bool = False
    """Whether the scan is black and white only, so that light pencil may be lost."""


def darkness(view: View, plan: Plan, black: float, two_levels: bool = False) -> Darkness:
    """Measure every bubble of a page. `black` is the grey of its printed black."""
    count = len(plan.bubbles)
    inside, beside, ring = np.zeros(count), np.zeros(count), np.zeros(count)
    places = apply(view.to_pixels, plan.centres)
    shift = _shifts(view, plan, places)
    for radius, at in plan.sizes:
        pixels = radius * view.per_mm
        patches = _patches(view.grey, places[at] + shift[at], pixels)
        side = patches.shape[1]
        away = _distances(side, pixels)
        around = (away > PAPER_FROM) & (away < PAPER_TO)
        # Not the middle of it: a circle drawn around a bubble may darken half of what lies beside it.
        paper = np.quantile(patches[:, around], 0.9, axis=1, method="nearest")
        span = np.maximum(paper - black, 25.0)
        # Means of darkness are darkness of means, but for the clipping of what is lighter than the paper.
        inside[at] = _level(patches[:, away < INSIDE], paper, span)
        # The letter stands to the left; ink anywhere else near a bubble is somebody's.
        beside[at] = _level(patches[:, around & ~_left(side, view.angle)], paper, span)
        ring[at] = _level(patches[:, (away > 0.86) & (away < 1.0)], paper, span)
    return Darkness(inside, beside, ring, shift / view.per_mm, two_levels)


def _level(pixels: Floats32, paper: Floats32, span: Floats32) -> Floats:
    """Mean darkness of the pixels (n, m) of each bubble; what is lighter than the paper counts as paper."""
    return np.asarray(np.maximum(paper[:, None] - pixels, 0).mean(axis=1) / span, float)


def _patches(grey: Grey, centres: Floats, radius: float) -> Floats32:
    """Square cuts around points (n, 2), in pixels, as (n, side, side); the edge goes on beyond the picture."""
    half = int(np.ceil(radius * PAPER_TO)) + 1
    height, width = grey.shape
    corner = np.rint(centres).astype(int)
    steps = np.arange(-half, half + 1)
    rows = np.clip(corner[:, 1, None] + steps, 0, height - 1)
    columns = np.clip(corner[:, 0, None] + steps, 0, width - 1)
    return grey[rows[:, :, None], columns[:, None, :]].astype(np.float32)


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


def _spread_out(plan: Plan, most: int = 32) -> NDArray[np.intp]:
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
    found = np.array([dx - search + _between(match[dy], dx), dy - search + _between(match[:, dx], dy)])
    return found + (np.array([x, y]) - centre), max(best, 0.0)


def _between(line: Floats32, at: int) -> float:
    """The top of a parabola through a maximum and its neighbours, −0.5 to 0.5 of a step."""
    if not 0 < at < len(line) - 1:
        return 0.0
    low, top, high = (float(line[at + step]) for step in (-1, 0, 1))
    bend = low - 2 * top + high
    return float(np.clip((low - high) / (2 * bend), -0.5, 0.5)) if bend < 0 else 0.0


@dataclass(frozen=True)
class Levels:
    """What counts as empty and as a mark on one page."""

    empty: float
    mark: float
    base: float
    usual: float
    """Darkness of the page's marks above its empty bubbles; 0 where it has too few to say."""

    @staticmethod
    def of(inside: Floats, rows: Sequence[Row], two_levels: bool = False) -> "Levels":
        """From the page's own bubbles: the empty ones set the floor, the darkest of the rows what a mark is here."""
        # Bounded, since on a sheet with few bubbles every one may be filled.
        base = min(float(np.quantile(inside, 0.2)), EMPTY_AT_MOST)
        noise = max(base - float(np.quantile(inside, 0.02)), 0.0)
        tops = np.array([inside[list(row.bubbles)].max() for row in rows if row.kind != "written"])
        tops = tops[tops > base + MARK_ABOVE] - base
        usual = float(np.median(tops)) if len(tops) >= 4 else 0.0
        mark = base + max(MARK_ABOVE, min(MARK_SHARE * (usual or 0.35), 0.2))
        empty = base + (EMPTY_ABOVE_TWO if two_levels else max(EMPTY_ABOVE, 3.5 * noise))
        return Levels(empty, mark, base, usual)


def read_rows(plan: Plan, measured: Darkness) -> list[RowRead]:
    """Every row of a page: an answer, or why not."""
    levels = Levels.of(measured.inside, plan.rows, measured.two_levels)
    beside = measured.beside - np.median(measured.beside)
    rows = [_drawn_around(plan, _read_row(plan, row, measured.inside, beside, levels), beside) for row in plan.rows]
    return _mistrusted(rows) if measured.two_levels and _marks_lost(rows, levels) else rows


def _drawn_around(plan: Plan, row: RowRead, beside: Floats) -> RowRead:
    """An answer is in doubt where something stands around another bubble of its row."""
    if row.state != "answer":
        return row
    others = [k for k in row.row.bubbles if plan.options[k] not in row.options and beside[k] > AROUND]
    if not others:
        return row
    note = f"{_shown(row.options[0])} is filled, and something is drawn at {_shown(plan.options[others[0]])}"
    return replace(row, state="faint", confidence=0.3, note=note)


def _marks_lost(rows: Sequence[RowRead], levels: Levels) -> bool:
    """Whether a page in black and white has only thin marks, broken ones, or none: then its blanks prove nothing."""
    faint = sum(row.state == "faint" for row in rows)
    filled = sum(row.state == "answer" for row in rows)
    return levels.usual < THIN_TWO or faint > 0.1 * max(filled, 1)


def _mistrusted(rows: Sequence[RowRead]) -> list[RowRead]:
    note = "perhaps more than can be seen: the scan is black and white, and light pencil may be lost"
    return [
        replace(row, state="faint", confidence=0.1, note=row.note or note)
        # Where several may be filled, one of them may be lost beside another.
        if (row.state == "blank" and row.row.kind != "written") or row.row.kind == "multiple"
        else row
        for row in rows
    ]


def _read_row(plan: Plan, row: Row, inside: Floats, beside: Floats, levels: Levels) -> RowRead:
    at = np.array(row.bubbles)
    dark = inside[at]
    order = np.argsort(-dark)
    top = float(dark[order[0]])
    second = float(dark[order[1]]) if len(at) > 1 else 0.0
    letters = [plan.options[k] for k in at[order]]
    marked = [k for k in range(len(at)) if dark[order[k]] >= levels.mark]
    if top <= levels.empty:
        near = float(beside[at].max())
        if near > NEAR:
            return RowRead(row, (), "faint", 0.3, "nothing in the circles, but something beside them")
        return RowRead(row, (), "blank", _share(levels.empty - top, levels.empty - levels.base))
    if not marked:
        return RowRead(row, (), "faint", 0.2, f"a faint mark at {_shown(letters[0])}")
    if row.kind == "multiple":
        rest = [float(dark[order[k]]) for k in range(len(at)) if k not in marked]
        weakest = float(dark[order[marked[-1]]])
        if weakest - levels.base < 0.4 * (top - levels.base):
            return RowRead(row, (), "faint", 0.3, f"a weak mark at {_shown(letters[marked[-1]])}")
        if rest and not (rest[0] - levels.base <= RIVAL_SHARE * (weakest - levels.base)):
            return RowRead(row, (), "faint", 0.3, f"a faint mark at {_shown(letters[len(marked)])}")
        picked = tuple(plan.options[k] for k in at if inside[k] >= levels.mark)
        return RowRead(row, picked, "answer", 1 - _share(max(rest, default=levels.base) - levels.base, weakest))
    if len(marked) > 1 and second - levels.base > RIVAL_SHARE * (top - levels.base):
        filled = tuple(plan.options[k] for k in at if inside[k] >= levels.mark)
        return RowRead(row, filled, "several", 0.3, f"marks at {' and '.join(map(_shown, filled))}")
    if second >= levels.mark or second - levels.base > RIVAL_SHARE * (top - levels.base):
        return RowRead(row, (letters[0],), "faint", 0.4, f"{_shown(letters[0])}, and something at {_shown(letters[1])}")
    return RowRead(row, (letters[0],), "answer", 1 - _share(second - levels.base, top - levels.base))


def _shown(option: str) -> str:
    return option.split(":")[-1].replace("-", "−")


def _share(part: float, whole: float) -> float:
    return float(np.clip(part / whole, 0, 1)) if whole > 0 else 0.0


def rings_seen(measured: Darkness) -> float:
    """Share of the bubbles whose printed ring stands where the map has it, 0 to 1."""
    return float(np.mean(measured.ring > 0.10)) if len(measured.ring) else 1.0
