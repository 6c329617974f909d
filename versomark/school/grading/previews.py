"""Previews of files that students handed in: pages as pictures, or the text itself. Made once, kept beside the files.

Whatever the file holds, only pixels and plain text reach the marker's screen.
"""

import shutil
import subprocess
import sys
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import NamedTuple

from django.conf import settings

from versomark.core.formats.previews import MOST_PAGES
from versomark.core.language import _
from versomark.school.errors import NotFound

PICTURES = (".png", ".jpg", ".jpeg", ".webp")
TEXTS = (".txt", ".md", ".csv")
OFFICE = (".docx", ".odt", ".rtf", ".xlsx", ".ods", ".pptx", ".odp")
DRAW_SECONDS, CONVERT_SECONDS = 60, 120
MOST_TEXT = 200_000


class Preview(NamedTuple):
    pages: int
    """Pictures there are to look at."""
    text: str
    says: str
    """Why there is no more than that, where there is more to say."""


def preview_of(path: Path, name: str) -> Preview:
    """Of a file in the folder of its seat; `name` only tells its kind."""
    ending = Path(name).suffix.casefold()
    if ending in TEXTS:
        return Preview(0, _text(path), "")
    if ending not in (*PICTURES, ".pdf", *OFFICE):
        return Preview(0, "", _("It can be looked at only with a program of its own: save it first."))
    if ending in OFFICE and not shutil.which("soffice"):
        return Preview(
            0, "", _("Office documents are shown where LibreOffice is installed beside this service; it is not.")
        )
    folder = _folder(path)
    if not (folder / "count").exists():
        _make(path, ending, folder)
    count = int((folder / "count").read_text())
    if count == 0:
        return Preview(
            0, "", _("It cannot be shown: the file is broken or not what it says. Save it to try it yourself.")
        )
    more = (
        _("The first {most_pages} of {count} pages; save it to see the rest.", most_pages=MOST_PAGES, count=count)
        if count > MOST_PAGES
        else ""
    )
    return Preview(min(count, MOST_PAGES), "", more)


def page_of(path: Path, page: int) -> bytes:
    """One page as a JPEG, once the preview is made."""
    picture = _folder(path) / f"{page}.jpg"
    if not picture.exists():
        raise NotFound(_("page"))
    return picture.read_bytes()


def _folder(path: Path) -> Path:
    return Path(settings.DATA) / "previews" / path.parent.name / path.name


def _make(path: Path, ending: str, folder: Path) -> None:
    """Drawn aside and moved into place whole, so that two who look at once do no harm."""
    folder.parent.mkdir(parents=True, exist_ok=True)
    with TemporaryDirectory(dir=folder.parent) as aside:
        made = Path(aside) / "made"
        made.mkdir()
        source: Path | None = path
        if ending in OFFICE:
            source = _as_pdf(path, ending, Path(aside))
        (made / "count").write_text(str(_draw(source, made) if source else 0))
        if not folder.exists():
            made.rename(folder)


def _draw(source: Path, to: Path) -> int:
    command = [sys.executable, "-m", "versomark.core.formats.previews", str(source), str(to)]
    try:
        done = subprocess.run(command, capture_output=True, text=True, timeout=DRAW_SECONDS, check=True)
    except (subprocess.CalledProcessError, subprocess.TimeoutExpired):
        return 0
    return int(done.stdout)


def _as_pdf(path: Path, ending: str, aside: Path) -> Path | None:
    """By LibreOffice, with a profile of its own and no macros; None where it cannot."""
    copy = aside / f"document{ending}"
    shutil.copyfile(path, copy)
    command = ["soffice", "--headless", "--norestore", f"-env:UserInstallation={(aside / 'profile').as_uri()}"]
    command += ["--convert-to", "pdf", "--outdir", str(aside), str(copy)]
    try:
        subprocess.run(command, capture_output=True, timeout=CONVERT_SECONDS, check=True)
    except (subprocess.CalledProcessError, subprocess.TimeoutExpired):
        return None
    document = aside / "document.pdf"
    return document if document.exists() else None


def _text(path: Path) -> str:
    with path.open("rb") as file:
        data = file.read(MOST_TEXT)
    for encoding in ("utf-8-sig", "cp1252"):
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    return data.decode("latin-1")
