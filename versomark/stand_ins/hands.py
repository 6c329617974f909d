"""Simulated hands: sheets filled as students fill them, firmly or lightly, neatly or in haste, with second thoughts."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from versomark.core.sheets.sheet_map import Box, Bubble, SheetMap, SheetPage

HAND = cv2.FONT_HERSHEY_SIMPLEX | cv2.FONT_ITALIC
CAPITAL = 5 / 21
"""Scale of that font, a pixel a millimetre, at which a capital would be 5 mm high; its own are 21 pixels."""
Ink = NDArray[np.float32]
"""How dark the hand left each point: 0 paper to 1 black."""


@dataclass(frozen=True)
class Hand:
    """One student's way of filling, kept through a sheet."""

    darkness: float
    """Of a stroke: hard pencil 0.35, soft pencil 0.7, pen 0.95."""
    stroke: float
    """Width of the point, mm."""
    style: str
    """fill, small, large, tick, cross"""
    steadiness: float
    """How far strokes stray, in radii."""
    second_thoughts: float
    """Chance that another bubble of a row was rubbed out."""

    @staticmethod
    def of(rng: np.random.Generator, wear: float) -> "Hand":
        odd = rng.random() < 0.15 + 0.5 * wear
        style = str(rng.choice(["small", "large", "tick", "cross"])) if odd and wear > 0 else "fill"
        light = rng.random() < 0.35 * wear
        darkness = rng.uniform(0.30, 0.45) if light and style in ("fill", "large") else rng.uniform(0.55, 0.95)
        return Hand(
            darkness=float(darkness),
            stroke=float(rng.uniform(0.45, 0.8)),
            style=style,
            steadiness=float(0.04 + 0.08 * wear * rng.random()),
            second_thoughts=0.06 * wear,
        )


class Writer:
    """Draws on a page's ink. `per_mm` is pixels a millimetre."""

    def __init__(self, shape: tuple[int, int], per_mm: float, rng: np.random.Generator) -> None:
        self.ink: Ink = np.zeros(shape, np.float32)
        self.per_mm, self.rng = per_mm, rng

    def mark(self, bubble: Bubble, hand: Hand) -> None:
        draw = {"tick": self._tick, "cross": self._cross}.get(hand.style, self._scribble)
        draw(bubble, hand)

    def rub_out(self, bubble: Bubble, hand: Hand) -> None:
        """A smudge where a mark was: what an eraser leaves of pencil."""
        layer = np.zeros_like(self.ink)
        centre = self._at(bubble.x_mm, bubble.y_mm)
        cv2.circle(layer, centre, round(bubble.r_mm * self.per_mm * self.rng.uniform(0.9, 1.3)), 1.0, -1, cv2.LINE_AA)
        blurred = cv2.GaussianBlur(layer, (0, 0), 0.35 * self.per_mm)
        self._add(np.asarray(blurred, np.float32), hand.darkness * float(self.rng.uniform(0.03, 0.13)))

    def cross_out(self, bubble: Bubble, hand: Hand) -> None:
        self.mark(bubble, hand)
        reach = 1.5 * bubble.r_mm
        for sign in (-1, 1):
            self._strokes(
                [
                    [
                        (bubble.x_mm - reach, bubble.y_mm - sign * reach),
                        (bubble.x_mm + reach, bubble.y_mm + sign * reach),
                    ]
                ],
                hand,
            )

    def handwriting(self, box: Box, hand: Hand, text: str) -> None:
        """Words on the lines of a box, each letter a little off its place, smaller where there is much to say."""
        size = 0.6
        while size > 0.3 and self._lines(text, box, size)[1] > box.h_mm:
            size -= 0.1
        layer = np.zeros(self.ink.shape, np.uint8)
        for word, x, y in self._lines(text, box, size)[0]:
            for letter in word:
                off = self.rng.normal(0, 0.12, 2)
                place = self._at(x + off[0], y + off[1])
                scale = size * CAPITAL * self.per_mm
                cv2.putText(layer, letter, place, HAND, scale, 255, max(1, round(self.per_mm / 5)), cv2.LINE_AA)
                x += self._wide(letter, size)
        self._add((layer / 255).astype(np.float32), hand.darkness)

    def _lines(self, text: str, box: Box, size: float) -> tuple[list[tuple[str, float, float]], float]:
        """Words with where each begins, mm, and how high they stand together."""
        placed, x, line = [], 4.0, min(5.6, box.h_mm - 1.6)
        for word in text.split():
            long = sum(self._wide(letter, size) for letter in word)
            if x + long > box.w_mm - 4 and x > 4:
                x, line = 4.0, line + (8.0 if size > 0.5 else 5.0)
            placed.append((word, box.x_mm + x, box.y_mm + line))
            x += long + 4 * size
        return placed, line + 1.5

    def _wide(self, letter: str, size: float) -> float:
        """Of a letter, mm."""
        (width, _), _ = cv2.getTextSize(letter, HAND, 4.0, 1)
        return float(width) / 4 * size * CAPITAL + 0.15

    def _scribble(self, bubble: Bubble, hand: Hand) -> None:
        """To and fro across the circle, as one fills it, or over its edge, or the middle only."""
        share = {"small": self.rng.uniform(0.45, 0.6), "large": self.rng.uniform(1.05, 1.25)}.get(
            hand.style, self.rng.uniform(0.8, 0.98)
        )
        reach = max(share * bubble.r_mm - hand.stroke / 2, 0.2)
        angle, gap = self.rng.uniform(0, np.pi), hand.stroke * 0.75
        lines, side = [], 1
        for off in np.arange(-reach, reach + gap, gap):
            half = np.sqrt(max(reach**2 - min(abs(off), reach) ** 2, 0.01))
            for end in (-side, side):
                stray = self.rng.normal(0, hand.steadiness * bubble.r_mm, 2)
                along, across = end * half + stray[0], off + stray[1]
                lines.append(self._turned(bubble, along, across, float(angle)))
            side = -side
        self._strokes([lines], hand)

    def _tick(self, bubble: Bubble, hand: Hand) -> None:
        r = bubble.r_mm * float(self.rng.uniform(0.85, 1.25))
        corners = [(-0.7, 0.05), (-0.15, 0.65), (0.85, -0.75)]
        self._strokes([[self._near(bubble, x * r, y * r, hand) for x, y in corners]], hand)

    def _cross(self, bubble: Bubble, hand: Hand) -> None:
        r = bubble.r_mm * float(self.rng.uniform(0.65, 1.0))
        for corners in ([(-1, -1), (1, 1)], [(-1, 1), (1, -1)]):
            self._strokes([[self._near(bubble, x * r, y * r, hand) for x, y in corners]], hand)

    def _near(self, bubble: Bubble, x: float, y: float, hand: Hand) -> tuple[float, float]:
        stray = self.rng.normal(0, hand.steadiness * bubble.r_mm, 2)
        return bubble.x_mm + x + float(stray[0]), bubble.y_mm + y + float(stray[1])

    def _turned(self, bubble: Bubble, along: float, across: float, angle: float) -> tuple[float, float]:
        cos, sin = np.cos(angle), np.sin(angle)
        return bubble.x_mm + along * cos - across * sin, bubble.y_mm + along * sin + across * cos

    def _strokes(self, lines: Iterable[list[tuple[float, float]]], hand: Hand, thin: bool = False) -> None:
        """Drawn on a cut of the page around them, sixteen times finer than a pixel, with uneven pressure."""
        width = max(1, round(hand.stroke * (0.6 if thin else 1.0) * self.per_mm))
        for line in lines:
            points = np.array(line, float) * self.per_mm
            low = np.maximum(np.floor(points.min(axis=0)) - width - 2, 0).astype(int)
            high = np.ceil(points.max(axis=0)).astype(int) + width + 3
            cut = self.ink[low[1] : high[1], low[0] : high[0]]
            if not cut.size:
                continue
            layer = np.zeros(cut.shape, np.float32)
            cv2.polylines(layer, [np.rint((points - low) * 16).astype(np.int32)], False, 1.0, width, cv2.LINE_AA, 4)
            pressure = 1 - 0.25 * self.rng.random(cut.shape, dtype=np.float32)
            np.maximum(cut, layer * pressure * np.float32(hand.darkness), out=cut)

    def _add(self, layer: Ink, darkness: float) -> None:
        np.maximum(self.ink, layer * np.float32(darkness), out=self.ink)

    def _at(self, x: float, y: float) -> tuple[int, int]:
        return round(x * self.per_mm), round(y * self.per_mm)


def bubbles_of(page: SheetPage, sheet_map: SheetMap, item: str, answer: str, rng: np.random.Generator) -> list[Bubble]:
    """The bubbles that say an answer, where they stand on this page."""
    here = {bubble.option: bubble for bubble in page.bubbles if bubble.item == item}
    if not here or not answer:
        return []
    kind = sheet_map.kinds.get(item)
    if kind == "numeric" or item not in sheet_map.kinds:
        columns = 1 + max(int(option.split(":")[0]) for option in here)
        if len(answer) > columns:
            raise ValueError(f"“{answer}” is longer than the {columns} columns of {sheet_map.label(item)}.")
        # Some begin at the left, some end at the right; a spare sheet's number has all its digits.
        start = columns - len(answer) if item not in sheet_map.kinds or rng.random() < 0.5 else 0
        options = [f"{start + at}:{symbol}" for at, symbol in enumerate(answer)]
    else:
        options = answer.split("+")
    if kind == "written":
        return [here[option] for option in options if option in here]
    missing = [option for option in options if option not in here]
    if missing:
        raise ValueError(f"{sheet_map.label(item)} has no circle {missing[0]}.")
    return [here[option] for option in options]


SOMETHING = "The lamps are in one loop, so the current is the same everywhere."


def _is_points(page: SheetPage, item: str, answer: str) -> bool:
    options = {bubble.option for bubble in page.bubbles if bubble.item == item}
    return set(answer.split("+")) <= options


def fill(
    writer: Writer, page: SheetPage, sheet_map: SheetMap, answers: Mapping[str, str], hand: Hand, wear: float
) -> None:
    """Everything a student, and their teacher, put on one page."""
    teacher = Hand(0.9, 0.6, "fill", 0.04, 0.0)
    rng = writer.rng
    for item in dict.fromkeys(bubble.item for bubble in page.bubbles):
        own = [bubble for bubble in page.bubbles if bubble.item == item]
        chosen = bubbles_of(page, sheet_map, item, answers.get(item, ""), rng)
        by_teacher = sheet_map.kinds.get(item) == "written"
        for bubble in chosen:
            writer.mark(bubble, teacher if by_teacher else hand)
        if chosen and not by_teacher and sheet_map.kinds.get(item) == "choice":
            others = [bubble for bubble in own if bubble not in chosen]
            if rng.random() < hand.second_thoughts:
                writer.rub_out(others[int(rng.integers(len(others)))], hand)
            elif rng.random() < 0.004 * wear:
                writer.cross_out(others[int(rng.integers(len(others)))], hand)
    for box in page.boxes:
        if answers.get(box.item):
            # An answer that is nothing but points is what the teacher filled in; the student wrote something too.
            answer = answers[box.item]
            writer.handwriting(box, hand, SOMETHING if _is_points(page, box.item, answer) else answer)
