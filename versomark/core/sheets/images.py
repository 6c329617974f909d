"""Opening what a copier or a phone made: PDF, TIFF, PNG, JPEG to grey pages, one at a time and within limits."""

import warnings
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from io import BytesIO
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pypdfium2 as pdfium
from numpy.typing import NDArray
from PIL import Image, UnidentifiedImageError
from pypdfium2 import raw as pdfium_c

Grey = NDArray[np.uint8]

MAX_BYTES = 300 * 1024 * 1024
MAX_PAGES = 1000
MAX_PIXELS = 80_000_000
"""A3 at 600 dpi."""
MAX_SIDE = 16_000
LARGE_SIDE = 4200
"""Above this, half the resolution is read: A4 at 400 dpi has more than any bubble needs."""
RENDERED_SIDE = 2400
"""Pixels along the longer side of a page that has to be drawn because it holds no scan."""
WHOLE_PAGE = 0.6
"""The share of a PDF page an embedded picture covers for it to be the scan itself."""


class BadScan(Exception):
    """A file or page that cannot be read as a scan; its text is the sentence for the teacher."""


@dataclass(frozen=True)
class PageImage:
    """A page as the scanner saw it, 0 black to 255 white."""

    page: int
    grey: Grey


def kind_of(path: Path) -> str:
    """pdf, tiff, png or jpeg, told by the content and not by the name. Raises BadScan, in words, for anything else."""
    size = path.stat().st_size
    if size == 0:
        raise BadScan("The file is empty. The copier may have broken off; scan it again.")
    if size > MAX_BYTES:
        raise BadScan(
            f"The file has {size / 1024**2:.0f} MB; at most {MAX_BYTES // 1024**2} are read. Send it in parts."
        )
    with path.open("rb") as file:
        head = file.read(1024)
    if b"%PDF-" in head:
        return "pdf"
    if head.startswith(b"\x89PNG\r\n\x1a\n"):
        return "png"
    if head.startswith(b"\xff\xd8\xff"):
        return "jpeg"
    if head[:4] in (b"II*\x00", b"MM\x00*"):
        return "tiff"
    if head.startswith(b"PK"):
        raise BadScan("This is a zip file or an office document. Send the PDF or the pictures themselves.")
    if head[4:8] == b"ftyp":
        raise BadScan("This is a film or a photo in a format of phones (HEIC). Send it as JPEG or PDF.")
    raise BadScan("This is no PDF, TIFF, PNG or JPEG.")


def count_pages(path: Path) -> int:
    """How many pages a file has. Raises BadScan where it cannot be opened or has too many."""
    kind = kind_of(path)
    if kind == "pdf":
        count = len(_document(str(path), path.stat().st_mtime_ns))
    elif kind == "tiff":
        with _picture(path) as picture:
            count = getattr(picture, "n_frames", 1)
    else:
        count = 1
    if count == 0:
        raise BadScan("The file has no pages.")
    if count > MAX_PAGES:
        raise BadScan(f"The file has {count:,} pages; at most {MAX_PAGES:,} are read at once. Send it in parts.")
    return count


def page_image(path: Path, page: int) -> PageImage:
    """One page of a file, counting from 0. Raises BadScan where that page cannot be read."""
    kind = kind_of(path)
    if kind == "pdf":
        return PageImage(page, _pdf_page(path, page))
    if kind == "tiff":
        return PageImage(page, _tiff_page(path, page))
    with _picture(path) as picture:
        _within_limits(*picture.size)
    return PageImage(page, _decoded(path.read_bytes()))


def pages_of(path: Path) -> Iterator[PageImage]:
    for page in range(count_pages(path)):
        yield page_image(path, page)


def _within_limits(width: int, height: int) -> None:
    if width * height > MAX_PIXELS or max(width, height) > MAX_SIDE:
        raise BadScan(f"A page of {width:,} × {height:,} points is too large to read. Scan at 200 or 300 dpi.")
    if min(width, height) < 200:
        raise BadScan(f"A page of {width} × {height} points is too small to read. Scan at 200 or 300 dpi.")


def _decoded(data: bytes) -> Grey:
    """A JPEG or PNG in grey; very large JPEGs at half size, which the decoder does on its way."""
    # Colour is never needed: an orientation in the file is not either, since the corner marks tell it.
    flags = cv2.IMREAD_GRAYSCALE | cv2.IMREAD_IGNORE_ORIENTATION
    picture = cv2.imdecode(np.frombuffer(data, np.uint8), flags)
    if picture is None:
        raise BadScan("The picture breaks off or is damaged.")
    return _whiten(picture)


def photo(data: bytes) -> Grey:
    """A JPEG or PNG of a camera in grey, as it is: a dark room stays dark. Raises BadScan, in words."""
    try:
        with Image.open(BytesIO(data), formats=["JPEG", "PNG"]) as picture:
            _within_limits(*picture.size)
    except (UnidentifiedImageError, Image.DecompressionBombError, OSError, ValueError, SyntaxError):
        raise BadScan("This is no JPEG or PNG picture, or it breaks off.") from None
    decoded = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_GRAYSCALE | cv2.IMREAD_IGNORE_ORIENTATION)
    if decoded is None:
        raise BadScan("The picture breaks off or is damaged.")
    return np.asarray(decoded, np.uint8)


def _whiten(pixels: NDArray[Any]) -> Grey:
    """Black on white, also where a scanner kept it the other way round."""
    grey = pixels.astype(np.uint8, copy=False)
    return 255 - grey if float(np.median(grey[::16, ::16])) < 70 else grey


def _picture(path: Path) -> Image.Image:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            return Image.open(path)
    except Image.DecompressionBombError:
        raise BadScan("The picture is too large to read. Scan at 200 or 300 dpi.") from None
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        raise BadScan("The picture breaks off or is damaged.") from None


def _tiff_page(path: Path, page: int) -> Grey:
    with _picture(path) as picture:
        try:
            picture.seek(page)
            _within_limits(*picture.size)
            return _whiten(np.asarray(picture.convert("L")))
        except (OSError, ValueError, SyntaxError, EOFError, TypeError, KeyError):
            raise BadScan("The page breaks off or is damaged.") from None


@lru_cache(maxsize=2)
def _document(path: str, _changed: int) -> pdfium.PdfDocument:
    try:
        return pdfium.PdfDocument(path)
    except pdfium.PdfiumError as error:
        if "password" in str(error).lower():
            raise BadScan("The PDF is locked with a password. Scan it again without one.") from None
        raise BadScan("The PDF breaks off or is damaged. Scan it again.") from None


def _pdf_page(path: Path, number: int) -> Grey:
    try:
        page = _document(str(path), path.stat().st_mtime_ns)[number]
        return _embedded_scan(page) if _is_scan(page) else _rendered(page)
    except (pdfium.PdfiumError, UnicodeDecodeError, cv2.error):
        # A name inside it may be no text any more, and what is left of its picture none.
        raise BadScan("The page is damaged.") from None


def _images(page: pdfium.PdfPage) -> list[pdfium.PdfImage]:
    return list(page.get_objects(filter=(pdfium_c.FPDF_PAGEOBJ_IMAGE,), max_depth=3))


def _is_scan(page: pdfium.PdfPage) -> bool:
    """Whether the page is one picture that covers it, as copiers write them."""
    images = _images(page)
    if len(images) != 1:
        return False
    left, low, right, high = images[0].get_bounds()
    width, height = page.get_size()
    return bool((right - left) * (high - low) >= WHOLE_PAGE * width * height)


def _embedded_scan(page: pdfium.PdfPage) -> Grey:
    image = _images(page)[0]
    width, height = image.get_px_size()
    _within_limits(width, height)
    if image.get_filters(skip_simple=True) == ["DCTDecode"]:
        return _decoded(bytes(image.get_data(decode_simple=True)))
    pixels = image.get_bitmap(render=False).to_numpy()
    if pixels.ndim == 3 and pixels.shape[2] == 1:
        pixels = pixels[:, :, 0]
    elif pixels.ndim == 3:
        pixels = cv2.cvtColor(np.ascontiguousarray(pixels[:, :, :3]), cv2.COLOR_BGR2GRAY)
    return _whiten(np.ascontiguousarray(pixels))


def _rendered(page: pdfium.PdfPage) -> Grey:
    scale = RENDERED_SIDE / max(*page.get_size(), 1.0)
    pixels = page.render(scale=scale, grayscale=True).to_numpy()
    return np.ascontiguousarray(pixels[:, :, 0] if pixels.ndim == 3 else pixels, dtype=np.uint8)
