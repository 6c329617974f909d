"""Pages of a document as pictures to look at: PDF and pictures to JPEG, upright, without what else they hold.

Run as a program of its own (`python -m versomark.core.formats.previews FILE FOLDER`), so that a file that breaks its
reader, or takes for ever, costs nobody anything but its preview.
"""

import sys
from pathlib import Path

import pypdfium2 as pdfium
from PIL import Image, ImageOps

MOST_PAGES = 40
SIDE = 1600
"""Pixels along the longer side."""
MOST_PIXELS = 80_000_000


def draw(source: Path, to: Path) -> int:
    """Write `1.jpg`, `2.jpg`, … of at most MOST_PAGES pages into the folder `to`; returns how many the file has.

    Raises ValueError or an error of its reader for what is no PDF or picture, or too large.
    """
    with source.open("rb") as file:
        head = file.read(1024)
    if b"%PDF-" in head:
        document = pdfium.PdfDocument(source)
        for at in range(min(len(document), MOST_PAGES)):
            page = document[at]
            picture = page.render(scale=SIDE / max(1.0, *page.get_size()), may_draw_forms=True).to_pil()
            _keep(picture, to / f"{at + 1}.jpg")
        return len(document)
    Image.MAX_IMAGE_PIXELS = MOST_PIXELS
    with Image.open(source) as picture:
        if picture.width * picture.height > MOST_PIXELS:
            raise ValueError("too large")
        upright = ImageOps.exif_transpose(picture)
        upright.thumbnail((SIDE, SIDE))
        _keep(upright, to / "1.jpg")
    return 1


def _keep(picture: Image.Image, path: Path) -> None:
    """Drawn anew, so that nothing of the original's data beside its pixels is passed on."""
    page = Image.new("RGB", picture.size, "white")
    whole = picture.convert("RGBA")
    page.paste(whole, mask=whole.getchannel("A"))
    page.save(path, "JPEG", quality=82)


if __name__ == "__main__":
    print(draw(Path(sys.argv[1]), Path(sys.argv[2])))
