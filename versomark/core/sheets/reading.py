"""A scan against its maps: which sheet each page is, what its items say, what is doubtful, what is missing."""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache, partial
from typing import Literal

import cv2
import numpy as np

from versomark.core.language import N_, _

from .finding import Frame, LaidPage, Picture, apply, code_on, codes_anywhere, find_marks, lay
from .images import Grey
from .judging import RowRead, State, read_rows
from .layout import codes, corners
from .marks import RINGS_SEEN, PageRegion, Plan, darkness, rings_seen
from .sheet_map import Box, SheetMap, SheetPage, batch_of, is_cover, read_code
from .spec import NUMBER, SHEETS_MM
from .views import PER_MM, View, straightened, view_of, without_streaks

Problem = Literal[
    "", "blank page", "foreign", "cover", "no marks", "which sheet", "not in place", "which student", "damaged"
]
NO_PROBLEM: Problem = ""
PROBLEM_WORDS: dict[Problem, str] = {
    "blank page": N_("a blank page"),
    "foreign": N_("a page of another test, or none of ours"),
    "cover": N_("the cover page"),
    "no marks": N_("fewer than three corner marks can be seen"),
    "which sheet": N_("neither of its square codes can be read"),
    "not in place": N_("its circles are not where its corner marks say"),
    "damaged": N_("the page could not be opened"),
    "which student": N_("the number filled in is not clear, or nobody has it"),
}
LETTER_MM = 1.0
"""Length of a stroke above which it is no speck of dust: somebody wrote in the box. Rather once too often, since an
empty box costs the teacher a glance and a lost answer costs the student."""
BESIDE = 0.5
"""Share of a sheet's width free beside it in a picture above which another sheet is looked for there."""
BLANK_INK = 0.0015
"""Share of dark pixels below which a page without marks is blank."""


@dataclass(frozen=True)
class Read:
    """One item of one page."""

    item: str
    answer: str
    """Letters, several joined with +; a number as written; pairs "row:letter" joined with +; points of a rubric."""
    state: State
    confidence: float
    place: PageRegion
    note: str = ""


@dataclass(frozen=True)
class BoxRead:
    """A ruled box, and whether something is written in it."""

    item: str
    place: PageRegion
    written: bool


@dataclass(frozen=True)
class PageReading:
    """What one sheet in a picture says."""

    page: int
    """Of the scan, from 0."""
    problem: Problem = ""
    sheet: str = ""
    sheet_page: int = 0
    student: str = ""
    reads: tuple[Read, ...] = ()
    boxes: tuple["BoxRead", ...] = ()
    form: str = "A"
    straight: Callable[[], Grey] | None = field(default=None, repr=False, compare=False)
    """Makes the straightened page; the picture as it came, made small, where it could not be laid."""
    codes: tuple[str, ...] = ()
    """What the codes on a foreign page say."""
    note: str = ""
    """Why a damaged page could not be read, in words."""

    @property
    def empty(self) -> bool:
        """Whether the page was read and nothing at all is filled on it."""
        return bool(self.reads) and all(read.state == "blank" for read in self.reads)

    @property
    def doubtful(self) -> list[Read]:
        return [read for read in self.reads if read.state not in ("answer", "blank")]


class Reader:
    """Reads pages against any number of batches at once."""

    def __init__(self, maps: Iterable[SheetMap] = (), find: Callable[[str], SheetMap | None] | None = None) -> None:
        """`find` gives the map of a batch when it is first met, or None where there is none of that code."""
        self.maps: dict[str, SheetMap | None] = {sheet_map.batch: sheet_map for sheet_map in maps}
        self._find = find
        frames = [Frame.of(sheet_map) for sheet_map in self.maps.values() if sheet_map]
        if find is not None:
            frames += [Frame(*size, tuple(corners(*size)), tuple(codes(*size))) for size in SHEETS_MM]
        self.frames = list(dict.fromkeys(frames))
        self._plan = lru_cache(maxsize=256)(self._plan_of)

    def read(self, grey: Grey, page: int = 0) -> list[PageReading]:
        """Every sheet in a picture: usually one. A picture without any gives one reading that says what it is."""
        if not self.frames:
            return [PageReading(page, "foreign", straight=partial(_small, grey))]
        picture = Picture(grey)
        laid_pages = lay(find_marks(picture), self.frames)
        if _room_beside(laid_pages, picture.grey):
            # A second sheet beside the first, its marks too small in the smaller copy.
            closer = lay(find_marks(picture, closer=True), self.frames)
            laid_pages = closer if len(closer) >= len(laid_pages) else laid_pages
        if not laid_pages:
            return [self._without_marks(picture, page)]
        return [self._one(picture, laid_page, page) for laid_page in laid_pages]

    def read_as(self, grey: Grey, sheet: str, sheet_page: int, page: int = 0) -> list[PageReading]:
        """Read the first sheet of a picture as the one a person says it is."""
        picture = Picture(grey)
        for laid_page in lay(find_marks(picture), self.frames)[:1]:
            return [self._named(picture, laid_page, (sheet, sheet_page), page)]
        return [PageReading(page, "no marks", straight=partial(_small, grey))]

    def _page(self, sheet: str, page: int) -> tuple[SheetMap, SheetPage] | None:
        batch = batch_of(sheet)
        if batch not in self.maps and self._find is not None:
            self.maps[batch] = self._find(batch)
        sheet_map = self.maps.get(batch)
        result = sheet_map.by_code.get((sheet, page)) if sheet_map else None
        return (sheet_map, result) if sheet_map and result else None

    def _one(self, picture: Picture, laid_page: LaidPage, page: int) -> PageReading:
        named = code_on(picture.grey, laid_page)
        if named is None:
            texts = codes_anywhere(picture.grey)
            ours = list({text for text in map(read_code, texts) if text})
            # Only a picture of one sheet: of two, a code found anywhere may be the other's.
            if len(ours) == 1:
                named = ours[0]
            else:
                return PageReading(
                    page, "which sheet", straight=partial(straightened, picture, laid_page), codes=tuple(texts)
                )
        return self._named(picture, laid_page, named, page)

    def _named(self, picture: Picture, laid_page: LaidPage, named: tuple[str, int], page: int) -> PageReading:
        known = self._page(*named)
        if known is None:
            return PageReading(
                page, "foreign", sheet=named[0], sheet_page=named[1], straight=partial(straightened, picture, laid_page)
            )
        sheet_map, results = known
        if Frame.of(sheet_map) != laid_page.frame:
            laid_page = next(iter(lay(find_marks(picture), [Frame.of(sheet_map)])), laid_page)
        straight = partial(straightened, picture, laid_page)
        plan = self._plan(*named)
        view = view_of(without_streaks(picture), laid_page)
        measured = darkness(view, plan, _black(view, laid_page.frame), two_levels(picture.grey))
        if rings_seen(measured) < RINGS_SEEN:
            return PageReading(page, "not in place", *named, student=str(results.student), straight=straight)
        reads = _items(plan, read_rows(plan, measured))
        student, problem = str(results.student), NO_PROBLEM
        if not student and any(read.item == NUMBER for read in reads):
            student, problem = _numbered(reads)
        boxes = tuple(_boxes(straight(), results.boxes)) if results.boxes else ()
        return PageReading(
            page,
            problem,
            *named,
            student=student,
            reads=tuple(reads),
            boxes=boxes,
            form=results.form,
            straight=straight,
        )

    def _plan_of(self, sheet: str, page: int) -> Plan:
        known = self._page(sheet, page)
        assert known is not None
        return Plan(*known)

    def _without_marks(self, picture: Picture, page: int) -> PageReading:
        small = _small(picture.grey)
        paper = cv2.blur(cv2.dilate(small, np.ones((15, 15), np.uint8)), (15, 15))
        inked = cv2.subtract(paper, small) > 60
        inner = inked[small.shape[0] // 20 : -small.shape[0] // 20, small.shape[1] // 20 : -small.shape[1] // 20]
        if float(inner.mean()) < BLANK_INK:
            return PageReading(page, "blank page", straight=lambda: small)
        texts = codes_anywhere(picture.grey)
        ours = list({text for text in map(read_code, texts) if text})
        if len(ours) == 1 and is_cover(*ours[0]):
            return PageReading(page, "cover", straight=lambda: small)
        known = self._page(*ours[0]) if len(ours) == 1 else None
        if known is not None:
            return PageReading(page, "no marks", *ours[0], student=str(known[1].student), straight=lambda: small)
        return PageReading(page, "foreign", straight=lambda: small, codes=tuple(texts))


def _room_beside(laid_pages: Sequence[LaidPage], grey: Grey) -> bool:
    """Whether the picture has room for another sheet outside those that were found, or none was found."""
    edges = []
    for laid_page in laid_pages:
        w, h = laid_page.frame.width, laid_page.frame.height
        edges.append(apply(laid_page.to_pixels, np.array([[0, 0], [w, 0], [w, h], [0, h]], float)))
    if not edges:
        return True
    together = np.concatenate(edges)
    low, high = together.min(axis=0), together.max(axis=0)
    height, width = grey.shape
    margin = max(low[0], low[1], width - high[0], height - high[1])
    return bool(margin > BESIDE * float(np.ptp(edges[0], axis=0).min()))


def _black(view: View, frame: Frame) -> float:
    """The grey of printed black: the darker part of the corner marks that can be seen."""
    levels = []
    for mark in frame.corners:
        middle = np.array([[mark.x_mm + mark.size_mm / 2, mark.y_mm + mark.size_mm / 2]])
        x, y = apply(view.to_pixels, middle)[0]
        half = mark.size_mm / 2 * view.per_mm
        cut = view.grey[max(int(y - half), 0) : int(y + half), max(int(x - half), 0) : int(x + half)]
        if cut.size:
            levels.append(np.quantile(cut, 0.3))
    return float(np.median(levels)) if levels else 0.0


def _boxes(page: Grey, boxes: Sequence[Box]) -> Iterator[BoxRead]:
    """Each box, and whether it holds more than its ruled lines and a speck."""
    for box in boxes:
        x, y, w, h = (round(value * PER_MM) for value in (box.x_mm + 2, box.y_mm + 1.2, box.w_mm - 4, box.h_mm - 2.4))
        cut = page[y : y + h, x : x + w]
        paper = cv2.blur(cv2.dilate(cut, np.ones((9, 9), np.uint8)), (9, 9))
        inked = cv2.subtract(paper, cut) > 45
        # A ruled line darkens most of a row of points, and smears into the rows beside it.
        ruled = inked.mean(axis=1) > 0.4
        inked[ruled | np.roll(ruled, 1) | np.roll(ruled, -1) | np.roll(ruled, 2) | np.roll(ruled, -2)] = False
        _number, _labels, results, _middles = cv2.connectedComponentsWithStats(inked.astype(np.uint8))
        long, tall = results[1:, cv2.CC_STAT_WIDTH] / PER_MM, results[1:, cv2.CC_STAT_HEIGHT] / PER_MM
        # A line down the whole box is the scanner's.
        streak = (tall > 0.9 * h / PER_MM) & (long < 1.5)
        written = bool(((np.maximum(long, tall) > LETTER_MM) & ~streak).any())
        yield BoxRead(box.item, PageRegion(box.x_mm, box.y_mm, box.w_mm, box.h_mm), written)


def two_levels(grey: Grey) -> bool:
    """Whether a scan is black and white only."""
    return len(np.unique(grey[::29, ::13])) <= 4


def _small(grey: Grey) -> Grey:
    return Picture(grey).no_longer_than(2000)[0]


def _items(plan: Plan, rows: Sequence[RowRead]) -> list[Read]:
    """Rows put together to items, in the order they stand on the page."""
    by_item: dict[str, list[RowRead]] = {}
    for row in rows:
        by_item.setdefault(row.row.item, []).append(row)
    return [_item(parts, plan.places[item]) for item, parts in by_item.items()]


def _item(parts: Sequence[RowRead], place: PageRegion) -> Read:
    kind, item = parts[0].row.kind, parts[0].row.item
    doubtful = [part for part in parts if part.state not in ("answer", "blank")]
    confidence = round(min(part.confidence for part in parts), 3)
    if kind in ("numeric", "number"):
        ordered = sorted(parts, key=lambda part: int(part.row.part))
        text, good = _number(ordered)
        if not doubtful and not good:
            return Read(
                item, text, "unreadable", 0.3, place, _("the circles say “{replace}”", replace=text.replace("-", "−"))
            )
        answer = text
    elif kind == "written":
        answer, good = _points(parts)
        if not doubtful and not good:
            return Read(item, answer, "faint", 0.3, place, _("not every row of points is filled"))
    else:
        answer = "+".join(option for part in parts for option in part.options)
    if doubtful:
        state: State = "several" if all(part.state == "several" for part in doubtful) else "faint"
        notes = "; ".join(f"{_named_part(part)}{part.note}" for part in doubtful[:3])
        return Read(item, answer, state, confidence, place, notes)
    return Read(item, answer, "answer" if answer else "blank", confidence, place)


def _named_part(part: RowRead) -> str:
    if part.row.kind in ("numeric", "number"):
        return _("column {value}: ", value=int(part.row.part) + 1)
    return _("row {part}: ", part=part.row.part) if part.row.kind == "matching" else ""


def _number(columns: Sequence[RowRead]) -> tuple[str, bool]:
    """The number a digit grid says, and whether it is one; empty columns may stand before and after it only."""
    symbols = ["".join(option.split(":")[1] for option in column.options[:1]) for column in columns]
    text = "".join(symbol or " " for symbol in symbols).strip()
    body = text.removeprefix("-")
    good = " " not in text and "-" not in body and body.count(".") <= 1 and (not text or any(map(str.isdigit, body)))
    return text.replace(" ", "_"), good


def _points(parts: Sequence[RowRead]) -> tuple[str, bool]:
    """Points of each scale, joined with +, and whether all or none of the scales are filled."""
    scales = [part for part in parts if not part.row.part.endswith("½")]
    halves = [part for part in parts if part.row.part.endswith("½") and part.options]
    filled = [part for part in scales if part.options]
    points = "+".join(option for part in (*filled, *halves) for option in part.options)
    # A half alone says nothing: nobody knows of what.
    return points, len(filled) == len(scales) or not (filled or halves)


def _numbered(reads: Sequence[Read]) -> tuple[str, Problem]:
    number = next(read for read in reads if read.item == NUMBER)
    if number.state != "answer" or not number.answer.isdigit():
        return "", "which student"
    return str(int(number.answer)), ""


@dataclass(frozen=True)
class ScanReading:
    """A whole scan: every page as read, and what concerns several of them."""

    pages: list[PageReading]
    duplicates: dict[int, int]
    """Place in `pages` of a sheet met again later -> place of the later one, which is proposed."""
    missing: list[tuple[str, int, str]]
    """Sheet, page and student of those that never came, of batches of which something did."""


def gather(pages: Sequence[PageReading], maps: Mapping[str, SheetMap]) -> ScanReading:
    """What can be said once all pages are read."""
    last: dict[tuple[str, int], int] = {}
    duplicates = {}
    for at, results in enumerate(pages):
        if not results.sheet or not results.reads:
            continue
        named = (results.sheet, results.sheet_page)
        if named in last:
            duplicates[last[named]] = at
        last[named] = at
    batches = {batch_of(sheet) for sheet, _ in last}
    missing = [
        (page.sheet, page.page, str(page.student))
        for batch in sorted(batches & maps.keys())
        for page in maps[batch].sheets
        # A spare sheet that nobody took is not missed.
        if (page.sheet, page.page) not in last and str(page.student)
    ]
    return ScanReading(list(pages), duplicates, missing)
