"""HTML to PDF with WeasyPrint, kept from fetching anything but what a printed paper may hold."""

from collections.abc import Iterable, Sequence
from uuid import UUID

from PIL import ImageFile
from weasyprint import HTML
from weasyprint.document import Document
from weasyprint.urls import URLFetcher, URLFetcherResponse

from versomark.core.text import PICTURE
from versomark.school.bank.pictures import TYPES, path_of, picture_of
from versomark.school.problems import NotFound

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
            kept = picture_of(UUID(picture[1]))
        except NotFound:
            raise ValueError("that picture is gone") from None
        return URLFetcherResponse(url, path_of(kept).read_bytes(), {"Content-Type": TYPES[kept.format]})


def lay_out(html: str, fonts: Iterable[str]) -> Document:
    """The pages of it; laying them out is most of the work."""
    return HTML(string=html, url_fetcher=_BankOnly(fonts), base_url=BANK).render()


def write_pdf(parts: Sequence[Document]) -> bytes:
    """One file of all their pages."""
    return bytes(parts[0].copy([page for part in parts for page in part.pages]).write_pdf())
