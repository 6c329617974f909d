"""What a teacher is told about a scan: on the screen and by mail, within seconds."""

import logging
from collections import Counter
from dataclasses import dataclass, field

from django.core.mail import EmailMessage

from versomark.core.sheets import PROBLEM_WORDS
from versomark.school.sittings.models import Seat, SeatState

from .models import Page, Scan, ScanState, Sheet
from .outcome import ASKED, value_of
from .queries import with_settlings

log = logging.getLogger(__name__)
WORDS: dict[str, str] = {
    **{str(name): words for name, words in PROBLEM_WORDS.items()},
    "again": "came before and said something else",
    "answered": "its student has answered on a device already",
}


@dataclass
class Told:
    """What became of a scan. Names in desk order; pages count from 1."""

    sheets: int = 0
    """Sheets read whose every place is clear or settled by now."""
    places: int = 0
    """Places on the others that wait."""
    by_sitting: list[str] = field(default_factory=list)
    doubtful: list[str] = field(default_factory=list)
    asked: list[str] = field(default_factory=list)
    """Pages about which something has to be said."""
    missing: list[str] = field(default_factory=list)
    """Of the sittings of which something came: who has no sheet in yet, or a page of it only."""
    empty: list[str] = field(default_factory=list)
    foreign: list[int] = field(default_factory=list)
    blank: list[int] = field(default_factory=list)
    damaged: list[str] = field(default_factory=list)
    replaced: int = 0
    """Sheets that came before and said the same."""

    @property
    def line(self) -> str:
        """The whole in one sentence."""
        parts = [_many(self.sheets, "sheet") + " read"]
        if self.places:
            parts.append(f"{_many(self.places, 'place')} to settle")
        if self.asked:
            parts.append(f"{_many(len(self.asked), 'page')} to decide about")
        if self.missing:
            parts.append(f"{len(self.missing)} missing")
        if self.foreign:
            parts.append(f"{_many(len(self.foreign), 'foreign page')}")
        if self.damaged:
            parts.append(f"{_many(len(self.damaged), 'page')} could not be opened")
        return ", ".join(parts)


def told(scan: Scan) -> Told:
    found = Told()
    if scan.state != ScanState.READ:
        return found
    pages = list(
        with_settlings(scan.pages.select_related("sheet__batch__sitting__edition", "seat__student")).order_by(
            "number", "place"
        )
    )
    whose = Counter(
        f"{page.sheet.batch.sitting.school_class.name}, {page.sheet.batch.sitting.edition.content['title']}"
        for page in pages
        if page.sheet
    )
    found.by_sitting = [f"{name}: {_many(count, 'page')}" for name, count in whose.items()]
    for page in pages:
        _add(found, page)
    sittings = {page.sheet.batch.sitting_id for page in pages if page.sheet}
    found.missing = missing_in(sittings)
    return found


def _add(found: Told, page: Page) -> None:
    name = _name(page)
    if page.problem in ("foreign", "cover"):
        found.foreign.append(page.number)
    elif page.problem == "blank page":
        found.blank.append(page.number)
    elif page.problem == "damaged":
        found.damaged.append(f"page {page.number}: {page.note}")
    elif page.problem in ASKED and not page.aside:
        found.asked.append(f"page {page.number}{name and f', {name}'}: {WORDS[page.problem]}")
    elif page.sheet and not page.aside:
        readings = list(page.readings.all())
        waiting = sum(value_of(reading) is None for reading in readings)
        found.places += waiting
        found.sheets += not waiting
        if waiting:
            found.doubtful.append(f"{name}: {_many(waiting, 'place')}")
        elif readings and all(reading.state == "blank" for reading in readings) and not page.boxes:
            found.empty.append(name)
    elif page.aside and page.sheet:
        found.replaced += 1


def missing_in(sittings: set[int]) -> list[str]:
    """Students of these sittings who have a printed sheet and whose work is not in, whole or in part."""
    seats = (
        Seat.objects.filter(sitting__in=sittings, sheets__isnull=False)
        .exclude(state__in=(SeatState.HANDED_IN, SeatState.EXCUSED))
        .select_related("student")
        .order_by("sitting", "desk")
        .distinct()
    )
    found = []
    for seat in seats:
        pages = set(seat.sheet_pages.filter(aside=False, problem="").values_list("sheet__name", "sheet_page"))
        if not pages:
            found.append(f"{seat.desk} {seat.student.short_name}")
            continue
        for sheet in Sheet.objects.filter(name__in={name for name, _ in pages}):
            lost = [str(at) for at in range(1, sheet.pages + 1) if (sheet.name, at) not in pages]
            if lost:
                found.append(f"{seat.desk} {seat.student.short_name}, page {' and '.join(lost)}")
    return found


def tell(scan: Scan) -> None:
    """Mail the answer to whoever mailed the scan. A mail that cannot be sent takes nothing back."""
    address = scan.reply_to or scan.owner.email
    if not address:
        return
    if scan.state == ScanState.REFUSED:
        subject, lines = f"Not read: {scan.name}", [scan.refusal, "Nothing was changed."]
    else:
        answer = told(scan)
        subject = f"{answer.line}: {scan.name}"
        lines = list(_lines(answer))
    try:
        EmailMessage(subject, "\n".join(lines) + "\n", to=[address]).send()
    except Exception:  # whatever a mail server on the other side of a network makes of it
        log.exception("the answer to a scan could not be mailed")


def _lines(answer: Told) -> list[str]:
    groups = (
        ("", answer.by_sitting),
        ("To settle", answer.doubtful),
        ("To decide about", answer.asked),
        ("Missing", answer.missing),
        ("Nothing filled in", answer.empty),
        ("Could not be opened", answer.damaged),
        ("Foreign pages", [", ".join(map(str, answer.foreign))] if answer.foreign else []),
    )
    lines = [answer.line + ".", ""]
    for heading, entries in groups:
        if entries:
            lines += [f"{heading}:"] if heading else []
            lines += [f"  {entry}" if heading else entry for entry in entries] + [""]
    return lines


def _name(page: Page) -> str:
    return f"{page.seat.desk} {page.seat.student.short_name}" if page.seat else ""


def _many(count: int, thing: str) -> str:
    return f"{count} {thing}{'' if count == 1 else 's'}"
