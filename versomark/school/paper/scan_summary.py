"""What a teacher is told about a scan: on the screen and by mail, within seconds."""

import logging
from collections import Counter
from dataclasses import dataclass, field

from django.core.mail import EmailMessage

from versomark.core.language import N_, _, _n
from versomark.core.sheets import PROBLEM_WORDS
from versomark.school.delivery.public import Seat, SeatState

from .doubtful_marks import with_settlings
from .models import Page, Scan, ScanState
from .outcome import ASKED, pages_with_readings, value_of

log = logging.getLogger(__name__)
WORDS: dict[str, str] = {
    **{str(name): words for name, words in PROBLEM_WORDS.items()},
    "again": N_("came before and said something else"),
    "answered": N_("its student has answered on a device already"),
}


@dataclass
class ScanSummary:
    """What became of a scan. Names in desk order; pages count from 1."""

    sheets: int = 0
    """Pages read whose every circle is clear or settled by now."""
    places: int = 0
    """Places on the others that are in doubt."""
    by_hand: int = 0
    """Handwritten words that a key scores once somebody has typed them."""
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
    """Pages that do not count: the same came before, or another one was used."""

    @property
    def line(self) -> str:
        """The whole in one sentence."""
        read = self.sheets + len(self.doubtful)
        parts = [_n("{count} sheet read", "{count} sheets read", read, count=read)]
        if self.replaced:
            parts.append(_("{replaced} came before", replaced=self.replaced))
        if self.places:
            parts.append(_n("{count} place in doubt", "{count} places in doubt", self.places, count=self.places))
        if self.by_hand:
            parts.append(
                _n(
                    "{count} handwritten answer to type",
                    "{count} handwritten answers to type",
                    self.by_hand,
                    count=self.by_hand,
                )
            )
        if self.asked:
            parts.append(
                _n(
                    "{count} page to decide about",
                    "{count} pages to decide about",
                    len(self.asked),
                    count=len(self.asked),
                )
            )
        if self.missing:
            parts.append(_("{count} missing", count=len(self.missing)))
        if self.foreign:
            parts.append(
                _n("{count} foreign page", "{count} foreign pages", len(self.foreign), count=len(self.foreign))
            )
        if self.damaged:
            parts.append(
                _n(
                    "{count} page could not be opened",
                    "{count} pages could not be opened",
                    len(self.damaged),
                    count=len(self.damaged),
                )
            )
        return ", ".join(parts)


def told(scan: Scan) -> ScanSummary:
    result = ScanSummary()
    if scan.state != ScanState.READ:
        return result
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
    result.by_sitting = [
        f"{name}: {_n('{count} page', '{count} pages', count, count=count)}" for name, count in whose.items()
    ]
    for page in pages:
        _add(result, page)
    sittings = {page.sheet.batch.sitting_id for page in pages if page.sheet}
    result.missing = missing_in(sittings)
    return result


def _add(scan_summary: ScanSummary, page: Page) -> None:
    name = _name(page)
    if page.problem == "cover":
        return  # it does no harm, as it says itself
    if page.problem == "foreign":
        scan_summary.foreign.append(page.number)
    elif page.problem == "blank page":
        scan_summary.blank.append(page.number)
    elif page.problem == "damaged":
        scan_summary.damaged.append(_("page {number}: {note}", number=page.number, note=page.note))
    elif page.problem in ASKED and not page.aside:
        scan_summary.asked.append(
            _(
                "page {number}{name}: {words}",
                number=page.number,
                name=name and f", {name}",
                words=_(WORDS[page.problem]),
            )
        )
    elif page.sheet and not page.aside:
        readings = list(page.readings.all())
        unsaid = [reading for reading in readings if value_of(reading) is None]
        waiting = sum(reading.state != "by hand" for reading in unsaid)
        scan_summary.places += waiting
        scan_summary.by_hand += len(unsaid) - waiting
        scan_summary.sheets += not waiting
        if waiting:
            scan_summary.doubtful.append(f"{name}: {_n('{count} place', '{count} places', waiting, count=waiting)}")
        elif readings and all(reading.state == "blank" for reading in readings) and not page.boxes:
            scan_summary.empty.append(name)
    elif page.aside and page.sheet:
        scan_summary.replaced += 1


@dataclass(frozen=True)
class Returned:
    """How far a student's sheet has come back."""

    seat: Seat
    printed: int
    """Pages of the sheet printed last for this student; 0 where there is none."""
    lost: list[int]
    """Pages that have not come."""
    places: int
    """Places that wait to be settled."""
    on_sheet: bool
    """Whether any page has come."""

    @property
    def missing(self) -> str:
        """In words, for a student whose work is awaited on paper; empty for others."""
        settled = self.seat.state in (SeatState.HANDED_IN, SeatState.EXCUSED)
        if settled or not self.printed or not self.lost:
            return ""
        name = f"{self.seat.desk} {self.seat.student.short_name}"
        return _("{name}, page {list}", name=name, list=" and ".join(map(str, self.lost))) if self.on_sheet else name


def returned(sitting_id: int) -> list[Returned]:
    """Every seat of a sitting in desk order."""
    seats = Seat.objects.filter(sitting=sitting_id).select_related("student").prefetch_related("sheets")
    pages: dict[int, list[Page]] = {}
    for page in pages_with_readings([seat.pk for seat in seats]):
        pages.setdefault(page.seat_id or 0, []).append(page)
    returned_pages = []
    for seat in seats.order_by("desk"):
        own = pages.get(seat.pk, [])
        sheets = {page.sheet for page in own if page.sheet} or set(seat.sheets.all())
        # A student given two sheets fills one of them; the one that came, or else the one printed last.
        sheet = max(sheets, key=lambda sheet: sheet.pk, default=None)
        came = {page.sheet_page for page in own if page.sheet == sheet}
        returned_pages.append(
            Returned(
                seat=seat,
                printed=sheet.pages if sheet else 0,
                lost=[at for at in range(1, sheet.pages + 1) if at not in came] if sheet else [],
                places=sum(value_of(reading) is None for page in own for reading in page.readings.all()),
                on_sheet=bool(own),
            )
        )
    return returned_pages


def missing_in(sittings: set[int]) -> list[str]:
    """Students of these sittings who have a printed sheet and whose work is not in, whole or in part."""
    return [entry.missing for sitting in sorted(sittings) for entry in returned(sitting) if entry.missing]


def tell(scan: Scan) -> None:
    """Mail the answer to whoever mailed the scan. A mail that cannot be sent takes nothing back."""
    address = scan.reply_to or scan.owner.email
    if not address:
        return
    if scan.state == ScanState.REFUSED:
        subject, lines = _("Not read: {name}", name=scan.name), [scan.refusal, _("Nothing was changed.")]
    else:
        answer = told(scan)
        subject = f"{answer.line}: {scan.name}"
        lines = list(_lines(answer))
    try:
        EmailMessage(subject, "\n".join(lines) + "\n", to=[address]).send()
    except Exception:  # whatever a mail server on the other side of a network makes of it
        log.exception("the answer to a scan could not be mailed")


def _lines(answer: ScanSummary) -> list[str]:
    groups = (
        ("", answer.by_sitting),
        (_("To settle"), answer.doubtful),
        (_("To decide about"), answer.asked),
        (_("Missing"), answer.missing),
        (_("Nothing filled in"), answer.empty),
        (_("Could not be opened"), answer.damaged),
        (_("Foreign pages"), [", ".join(map(str, answer.foreign))] if answer.foreign else []),
    )
    lines = [answer.line + ".", ""]
    for heading, entries in groups:
        if entries:
            lines += [f"{heading}:"] if heading else []
            lines += [f"  {entry}" if heading else entry for entry in entries] + [""]
    return lines


def _name(page: Page) -> str:
    return f"{page.seat.desk} {page.seat.student.short_name}" if page.seat else ""
