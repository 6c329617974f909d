"""A simulated copier, fax and phone: printed sheets are filled by simulated hands and scanned, with as much wear as
asked for. Goes through the same door as a real scan: it writes a PDF."""

import csv
import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import cv2
import numpy as np
import pypdfium2 as pdfium
from numpy.typing import NDArray
from PIL import Image

from versomark.core.sheets.images import Grey
from versomark.core.sheets.sheet_map import SheetMap

from .hands import Hand, Writer, fill

Answers = Mapping[str, Mapping[str, str]]
"""Student number, or the name of a spare sheet -> item -> answer."""
MM_PER_INCH = 25.4


@dataclass(frozen=True)
class Settings:
    """How one machine scans, kept for a whole batch. `wear` 0 is a new copier on neat sheets, 1 the worst there is."""

    wear: float
    device: str
    """copier, fax or phone"""
    dpi: int
    quality: int
    streaks: tuple[tuple[float, float, float], ...]
    """Dirt on the glass: place across 0 to 1, width in mm, darkness."""

    @staticmethod
    def of(rng: np.random.Generator, wear: float) -> "Settings":
        roll = rng.random()
        device = "phone" if wear >= 0.5 and roll < 0.3 else "fax" if wear >= 0.5 and roll < 0.45 else "copier"
        streaks = [
            (float(rng.uniform(0.02, 0.98)), float(rng.uniform(0.1, 0.35)), float(rng.uniform(0.15, 0.6)))
            for _ in range(int(rng.integers(1, 4)) if rng.random() < 0.6 * wear else 0)
        ]
        # Few copiers are set below 200 dpi; the worst of them is.
        dpi = int(rng.choice([150, 200, 300] if wear > 0.25 else [200, 300]))
        if device != "copier":
            # Fax machines have 204 × 196 points an inch at their finer setting (ITU-T T.30); a sheet held in the frame
            # by hand has about as many on a phone.
            dpi = 200
        return Settings(wear, device, dpi, round(92 - 32 * wear), tuple(streaks))


def scan_sheets(
    sheets: Path, sheet_map: SheetMap, answers: Answers, seed: int, wear: float, settings: Settings | None = None
) -> Iterator[Grey]:
    """Pages of the students in `answers`, filled and scanned, one grey picture a page."""
    rng = np.random.default_rng(seed)
    settings = settings or Settings.of(rng, wear)
    document = pdfium.PdfDocument(sheets)
    hands: dict[str, Hand] = {}
    for page in sheet_map.sheets:
        given = answers.get(str(page.student) or page.sheet)
        if given is None:
            continue
        printed = document[page.pdf_page].render(scale=settings.dpi / 72, grayscale=True).to_numpy()
        whole = (printed[:, :, 0] if printed.ndim == 3 else printed).astype(np.float32)
        left, wide = (round(mm * settings.dpi / MM_PER_INCH) for mm in (page.left_mm, sheet_map.width_mm))
        paper = np.ascontiguousarray(whole[:, left : left + wide])
        hand = hands.setdefault(page.sheet, Hand.of(rng, wear))
        writer = Writer(paper.shape, settings.dpi / MM_PER_INCH, rng)
        fill(writer, page, sheet_map, given, hand, wear)
        yield scanned(paper * (1 - 0.92 * writer.ink), settings, rng)


def scanned(page: NDArray[np.float32], settings: Settings, rng: np.random.Generator) -> Grey:
    """One page as the machine sees it; `page` is its paper and ink from 0 to 255."""
    wear = settings.wear
    page = _dusty(page.copy(), settings, rng)
    page = _photographed(page, wear, rng) if settings.device == "phone" else _fed(page, settings, rng)
    page = np.asarray(cv2.GaussianBlur(page, (0, 0), 0.4 + 0.7 * wear * rng.random()), np.float32)
    low, high = 255 * 0.12 * wear * rng.random(), 255 - 255 * 0.12 * wear * rng.random()
    page = (low + page * ((high - low) / 255)).astype(np.float32)
    if settings.device != "phone":
        for place, width, darkness in settings.streaks:
            x, half = place * page.shape[1], max(1, round(width * settings.dpi / MM_PER_INCH / 2))
            page[:, int(x) : int(x) + half] *= np.float32(1 - darkness)
    noise = rng.standard_normal(page.shape, dtype=np.float32) * np.float32(1.0 + 4.0 * wear)
    grey = np.clip(page + noise, 0, 255).astype(np.uint8)
    if settings.device == "fax":
        level = float(rng.uniform(135, 190))
        return np.where(grey > level, 255, 0).astype(np.uint8)
    return grey


def _dusty(page: NDArray[np.float32], settings: Settings, rng: np.random.Generator) -> NDArray[np.float32]:
    height, width = page.shape
    for _ in range(int(rng.poisson(60 * settings.wear))):
        centre = (int(rng.integers(width)), int(rng.integers(height)))
        radius = max(1, round(float(rng.uniform(0.05, 0.22)) * settings.dpi / MM_PER_INCH))
        cv2.circle(page, centre, radius, float(rng.uniform(40, 190)), -1, cv2.LINE_AA)
    return page


def _fed(page: NDArray[np.float32], settings: Settings, rng: np.random.Generator) -> NDArray[np.float32]:
    """Drawn through a feeder: askew, a little long or short, perhaps upside down."""
    wear, (height, width) = settings.wear, page.shape
    angle = float(rng.uniform(-1, 1)) * (0.3 + 3.2 * wear)
    if rng.random() < 0.05 + 0.2 * wear:
        angle += 180
    stretch = 1 + float(rng.uniform(-1, 1)) * 0.006 * wear
    way = np.asarray(cv2.getRotationMatrix2D((width / 2, height / 2), angle, 1.0), float)
    way[1] *= stretch
    way[:, 2] += rng.uniform(-1, 1, 2) * (0.5 + 2.5 * wear) * settings.dpi / MM_PER_INCH
    return np.asarray(cv2.warpAffine(page, way, (width, height), flags=cv2.INTER_LINEAR, borderValue=250.0), np.float32)


def _photographed(page: NDArray[np.float32], wear: float, rng: np.random.Generator) -> NDArray[np.float32]:
    """Held over a desk by hand: perspective, a shadow, a darker table around it."""
    height, width = page.shape
    border = 0.06
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    lean = rng.uniform(-0.045, 0.045, (4, 2)) * wear
    places = (np.array([[0, 0], [1, 0], [1, 1], [0, 1]]) * (1 - 2 * border) + border + lean) * [width, height]
    way = cv2.getPerspectiveTransform(corners, places.astype(np.float32))
    seen = cv2.warpPerspective(page, way, (width, height), flags=cv2.INTER_AREA, borderValue=110.0)
    if rng.random() < 0.25:
        seen = np.ascontiguousarray(np.rot90(seen, int(rng.integers(1, 4))))
    direction = float(rng.uniform(0, 2 * np.pi))
    down, across = (np.linspace(0, 1, side, dtype=np.float32) for side in seen.shape)
    along = np.float32(np.sin(direction)) * down[:, None] + np.float32(np.cos(direction)) * across[None, :]
    along -= along.min()
    return np.asarray(seen * (1 - np.float32(0.35 * wear) / along.max() * along), np.float32)


def write_pdf(pages: Sequence[Grey], settings: Settings, out: Path) -> None:
    """The pictures as a copier's PDF: JPEG in grey, or black and white as a fax packs it."""
    one_bit = settings.device == "fax"
    pictures = [Image.fromarray(page).convert("1" if one_bit else "L") for page in pages]
    if not pictures:
        raise ValueError("There is nothing to scan: no sheet belongs to any of the answers.")
    # What is black and white is packed as a fax is, which knows no quality.
    packing = {} if one_bit else {"quality": settings.quality}
    pictures[0].save(out, "PDF", save_all=True, append_images=pictures[1:], resolution=settings.dpi, **packing)


def copy(
    sheets: Path,
    sheet_map: SheetMap,
    answers: Answers,
    out: Path,
    seed: int = 1,
    wear: float = 0.3,
    most_dpi: int = 300,
) -> int:
    """Fill, scan, write; returns how many pages."""
    settings = Settings.of(np.random.default_rng([seed, 7]), wear)
    settings = replace(settings, dpi=min(settings.dpi, most_dpi))
    pages = list(scan_sheets(sheets, sheet_map, answers, seed, wear, settings))
    write_pdf(pages, settings, out)
    return len(pages)


def read_answers(path: Path) -> dict[str, dict[str, str]]:
    """Answers from CSV: a row a student with a column an item, or a row an answer (`student,item,answer`)."""
    with path.open(encoding="utf-8-sig", newline="") as file:
        rows = list(csv.DictReader(file))
    if rows and {"student", "item", "answer"} <= rows[0].keys():
        answers: dict[str, dict[str, str]] = {}
        for row in rows:
            answers.setdefault(row["student"], {})[row["item"]] = row["answer"].strip()
        return answers
    if rows and "student" not in rows[0]:
        raise ValueError("The answers need a column “student”.")
    return {
        row["student"].strip(): {item: (text or "").strip() for item, text in row.items() if item and item != "student"}
        for row in rows
    }


def read_map(path: Path) -> SheetMap:
    return SheetMap.model_validate(json.loads(path.read_text(encoding="utf-8")))
