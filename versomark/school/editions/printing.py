"""A test on paper: booklet, large print, answers in the booklet, key and marking guide, as PDF from HTML."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any, Literal

from django.conf import settings
from django.template.loader import render_to_string

from versomark.core.editions import Edition, EditionItem, Section, Stimulus, is_described
from versomark.core.language import N_, _, in_language
from versomark.core.sheets.lettering import FACES, FONTS
from versomark.school.errors import DomainError

What = Literal["booklet", "large-18", "large-24", "answers", "guide"]
POINTS: dict[What, float] = {"booklet": 11.5, "large-18": 18, "large-24": 24, "answers": 11.5, "guide": 10.5}
NAMES: dict[What, str] = {
    "booklet": "",
    "large-18": N_("large print"),
    "large-24": N_("large print"),
    "answers": N_("answers in this booklet"),
    "guide": N_("key and marking guide"),
}


@dataclass(frozen=True)
class PrintedItem:
    """A question as the page shows it. `item` is what students may see; `content` is given for the guide alone."""

    number: int
    item: Any  # one of the student models: each template of `paper/kinds` knows its own
    content: Any
    template: str
    new_page: bool
    stimulus: Stimulus | None
    """The passage, before the first question that shares it; None for those that follow."""
    stimulus_until: int


@dataclass(frozen=True)
class PrintedSection:
    section: Section
    items: list[PrintedItem]

    @property
    def first(self) -> int:
        return self.items[0].number if self.items else 0

    @property
    def last(self) -> int:
        return self.items[-1].number if self.items else 0


def html(edition: Edition, what: What, form: str = "A", name_line: str = "") -> str:
    """The page as HTML, the very one that becomes the PDF."""
    arranged = edition.in_form(form)
    number = 1
    sections = []
    for section in arranged.sections:
        items = list(_printed(arranged, section, number))
        number += len(items)
        sections.append(PrintedSection(section, items))
    large = what in ("large-18", "large-24")
    context = {
        "edition": arranged,
        "form": form if len(edition.form_names) > 1 else "",
        "sections": sections,
        "what": what,
        "points": POINTS[what],
        # In large print nothing is smaller than what was asked for: not the marks, not the foot of the page.
        "small": "1em" if large else ".82em",
        "foot": POINTS[what] if large else 8.5,
        "guide": what == "guide",
        "write": large or what == "answers",
        "name_line": name_line,
    }
    with in_language(edition.language):
        return render_to_string("paper/booklet.html", {**context, "name": _(NAMES[what])})


def pdf(edition: Edition, what: What, form: str = "A") -> bytes:
    """The page as PDF. Nothing is fetched but pictures of the bank and the fonts that ship with the product."""
    if is_described(edition):
        raise DomainError(_("This test was given elsewhere; there is no paper to print."))
    return html_to_pdf(html(edition, what, form))


def html_to_pdf(page: str) -> bytes:
    """A page as PDF, in words where this machine cannot."""
    return next(pdf for pdf in parts_to_pdf([page]) if pdf is not None)


def parts_to_pdf(parts: Iterable[str]) -> Iterator[bytes | None]:
    """One PDF of several pages: None after each that is laid out, for whoever watches, and at last the file."""
    # Imported when something is printed: WeasyPrint loads Pango, which a machine that prints nothing may lack.
    try:
        from .paper_pdf import Press, write_pdf
    except OSError:
        raise DomainError(
            _(
                "Printing needs the library Pango, which is not on this machine. On Debian: apt-get "
                "install libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0"
            ),
            status=503,
        ) from None
    press, laid_out = Press(faces()), []
    for part in parts:
        laid_out.append(press.lay_out(part))
        yield None
    yield write_pdf(laid_out)


def _printed(edition: Edition, section: Section, first: int) -> Iterator[PrintedItem]:
    before: EditionItem | None = None
    for at, item in enumerate(section.items):
        begins = item.stimulus is not None and (before is None or before.stimulus != item.stimulus)
        until = at
        while until + 1 < len(section.items) and section.items[until + 1].stimulus == item.stimulus:
            until += 1
        yield PrintedItem(
            number=first + at,
            item=item.content.for_student(),
            content=item.content,
            template=f"paper/kinds/{item.content.kind}.html",
            new_page=item.new_page,
            stimulus=edition.stimulus_of(item) if begins else None,
            stimulus_until=first + until,
        )
        before = item


@cache
def faces() -> dict[str, str]:
    """Where the shipped typefaces are, by name; a machine without built pages prints with its own."""
    faces = {}
    for name, pattern in {
        "Literata": "literata-latin-wght-normal*.woff2",
        "Source Sans 3": "source-sans-3-latin-wght-normal*.woff2",
    }.items():
        file = next(iter(sorted(Path(settings.WEB).glob(f"assets/{pattern}"))), None)
        if file is not None:
            faces[name] = file.as_uri()
    # What those two have no letters of is taken from the faces of other scripts, which need not be named in a style.
    return faces | {f"shipped {file}": (FONTS / file).as_uri() for file in FACES}
