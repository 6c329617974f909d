"""What goes in and comes out as JSON."""

from datetime import datetime

from ninja import Field, Schema

from versomark.core.language import _
from versomark.school.delivery.schemas import SittingLine
from versomark.school.errors import DomainError

from .analysis_filter import SHARES, AnalysisFilter
from .flag_notes import FindingsPageBody, FlagNote
from .forecast_after import ForecastAfter


class FindingsStudent(Schema):
    seat: int
    desk: int
    name: str
    total: float | None
    """None while their work is not counted."""


class DismissedLine(Schema):
    """A finding that was set aside."""

    ref: str
    flag: str
    options: list[str]
    note: str
    by: str


class OtherSitting(Schema):
    id: int
    name: str
    class_name: str
    students: int
    chosen: bool


class FindingsPage(Schema):
    sitting: SittingLine
    partial: bool
    """Some students are still working or expected, so the figures will change."""
    still_working: list[str]
    away: list[str]
    places: int
    """Places on scanned sheets that nobody has settled; their students are not counted yet."""
    students: list[FindingsStudent]
    body: FindingsPageBody | None
    dismissed: list[DismissedLine]
    asked_again: bool
    """Whether there is a `last` beside the `first`."""
    names_hidden: bool
    """Marks that were given without names count once the names are shown."""
    seen: str
    """How these figures differ from the sitting's own, in words; empty where they do not."""
    others: list[OtherSitting]
    """Sittings of the same edition, which could be put together with this one."""
    forecast: ForecastAfter | None
    """What was foretold of the paper, and what came."""


class GroupWanted(Schema):
    ref: str = ""
    answer: str | None = None
    """The answer they gave; None for those who gave none."""
    idea: str = Field("", max_length=2000)
    """In place of an answer: an idea, for those who more likely hold it than not."""
    name: str


MOST_CUTS = 5


class AnalysisFilterQuery(Schema):
    """How the figures are looked at; as a query, so that an address shows the same again."""

    share: int = 27
    """Percent of the students in the upper and in the lower group."""
    without: str = Field("", max_length=8000)
    """Refs of questions, joined by commas."""
    out: str = Field("", max_length=20_000)
    """Seats, joined by commas."""
    also: str = Field("", max_length=400)
    """Other sittings of the edition, joined by commas."""

    def read(self) -> AnalysisFilter:
        if self.share not in SHARES:
            raise DomainError(f"Groups are of {', '.join(map(str, SHARES))} percent.", status=422)
        return AnalysisFilter(
            share=self.share,
            without=frozenset(entry for entry in self.without.split(",") if entry),
            out=frozenset(_numbers(self.out)),
            also=tuple(_numbers(self.also)),
        )


def shares_of(cuts: str) -> list[float]:
    """Cuts as they stand in an address, in percent of the marks joined by commas, as shares."""
    asked = _numbers(cuts)
    if not 0 < len(asked) <= MOST_CUTS or not all(0 < entry <= 100 for entry in asked):
        raise DomainError(_("A cut is a share of the marks, from 1 to 100 percent."), status=422)
    return [entry / 100 for entry in asked]


class FindingNamed(Schema):
    ref: str = Field(max_length=36)
    flag: str = Field(max_length=40)
    options: list[str] = Field([], max_length=12)

    def key(self) -> tuple[str, str, str]:
        return self.ref, self.flag, ",".join(self.options)


class FindingDismissed(FindingNamed):
    note: str = Field(max_length=500)


def _numbers(joined: str) -> list[int]:
    parts = [entry for entry in joined.split(",") if entry]
    if not all(part.isascii() and part.isdigit() and len(part) < 16 for part in parts):
        raise DomainError("That is no list of numbers.", status=422)
    return [int(part) for part in parts]


class SittingFindings(Schema):
    """One line of the list of all findings."""

    sitting: SittingLine
    students: int
    mean: float | None
    """As a share of all marks."""
    spread: list[int]
    """Students by the share of the marks that they have, in tenths of it."""
    waiting: int
    too_few: bool
    first: FlagNote | None
    flagged: int
    still_to_make: bool
    """Its figures come as the list is read again."""


class AllFindings(Schema):
    lines: list[SittingFindings]
    total: int
    """Of sittings that hold what was typed, shown or not."""


class SittingNamed(Schema):
    """As much of a sitting as a list of classes or tests says of it."""

    id: int
    title: str
    class_name: str
    day: datetime | None
    """When it was opened, or is planned for."""


class SittingMean(Schema):
    sitting: SittingNamed
    mean: float


class OverviewLine(Schema):
    """What one wants to know of a class or a test before opening it."""

    id: int
    """Of the class, or of the test."""
    over: int
    """Sittings that are over."""
    open_now: list[SittingNamed]
    next: SittingNamed | None
    last: SittingNamed | None
    mean: float | None
    spread: list[int]
    """Of the last sitting, students by the share of the marks that they have, in tenths of it."""
    waiting: int
    may_mark: bool
    """Whether the reader may mark what waits, or only look."""
    absent: int
    means: list[SittingMean]
    """Of the latest sittings, oldest first."""


class SittingGlanceLine(Schema):
    """How one sitting that is over went: its mean as a share of all marks, and students by tenths of them."""

    sitting: int
    mean: float | None
    spread: list[int]
    waiting: int


class SittingGlancePage(Schema):
    lines: list[SittingGlanceLine]
    still_to_make: int
    """Sittings whose figures come as the page is read again."""


class OverviewPage(Schema):
    lines: list[OverviewLine]
    still_to_make: int
    """Sittings whose figures come as the page is read again."""
