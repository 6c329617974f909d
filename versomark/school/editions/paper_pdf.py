"""HTML to PDF with WeasyPrint, kept from fetching anything but what a printed paper may hold."""

import gc
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from uuid import UUID

from PIL import ImageFile
from weasyprint import CSS, HTML
from weasyprint.document import Document
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse

from versomark.core.text import PICTURE
from versomark.school.bank.public import TYPES, path_of, picture_of
from versomark.school.errors import NotFound

# WeasyPrint turns this on for the whole process; a picture that breaks off must still be refused on its way in.
ImageFile.LOAD_TRUNCATED_IMAGES = False

BANK = "verso:"
"""How a page names a picture of the bank, so that nothing else can pass for one."""


class _BankOnly(URLFetcher):  # type: ignore[misc]  # WeasyPrint has no types
    """Pictures of the bank, data that stands in the page itself, and the fonts that ship. Nothing else is fetched."""

    def __init__(self, fonts: Iterable[str]) -> None:
        super().__init__(allowed_protocols=("data", "file"))
        self._fonts = frozenset(fonts)

    def fetch(self, url: str, headers: object = None) -> URLFetcherResponse:
        if url.startswith("data:") or url in self._fonts:
            return super().fetch(url, headers)
        picture = PICTURE.search(url) if url.startswith(BANK) else None
        if picture is None:
            raise ValueError(f"{url} is not fetched")
        try:
            stored = picture_of(UUID(picture[1]))
        except NotFound:
            raise ValueError("that picture is gone") from None
        return URLFetcherResponse(url, path_of(stored).read_bytes(), {"Content-Type": TYPES[stored.format]})


class Press:
    """Lays out pages one after another. Typefaces are unpacked and pictures read once for all of them, which takes a
    fifth of a second each time."""

    def __init__(self, faces: Mapping[str, str]) -> None:
        self._fetcher = _BankOnly(faces.values())
        self._config = FontConfiguration()
        self._pictures: dict[str, object] = {}
        rules = "".join(f'@font-face {{ font-family: "{name}"; src: url("{file}"); }}' for name, file in faces.items())
        self._faces = CSS(string=rules, font_config=self._config, url_fetcher=self._fetcher)

    def lay_out(self, html: str) -> Document:
        """The pages of it; laying them out is most of the work."""
        with _nothing_collected():
            page = HTML(string=html, url_fetcher=self._fetcher, base_url=BANK)
            return page.render(font_config=self._config, stylesheets=[self._faces], cache=self._pictures)


def write_pdf(parts: Sequence[Document]) -> bytes:
    """One file of all their pages."""
    with _nothing_collected():
        return bytes(parts[0].copy([page for part in parts for page in part.pages]).write_pdf())


@contextmanager
def _nothing_collected() -> Iterator[None]:
    """Pages are many small objects that all stay until the file is written: looking among them for garbage finds none
    and takes a fifth of the time."""
    collects = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if collects:
            gc.enable()
