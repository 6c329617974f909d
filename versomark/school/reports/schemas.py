"""What goes in and comes out as JSON."""

from datetime import date

from ninja import Field, Schema

from versomark.core.language import _
from versomark.school.errors import DomainError
from versomark.school.findings.schemas import AnalysisFilterQuery, shares_of
from versomark.school.http import file_in
from versomark.school.room.public import Which

from . import mail
from .files import Picture
from .tables import Shown


class PictureBody(Schema):
    """The chart of a page, as it is on the screen."""

    picture: str = Field("", max_length=3_000_000)
    """A PNG as base64; empty for a page without a chart."""
    pictured: str = Field("", max_length=600)
    """What it shows, in words."""

    def read(self) -> Picture | None:
        if not self.picture:
            return None
        data = file_in(self.picture)
        if not data.startswith(b"\x89PNG\r\n\x1a\n"):
            raise DomainError(_("The picture of the chart did not arrive whole. Save again."), status=422)
        return Picture(data, self.pictured)


class GrowthWanted(Schema):
    before: int | None = None
    after: int | None = None


class SideWanted(Schema):
    classes: str = Field("", max_length=400)
    """Numbers of classes, joined by commas; all of now where none is named."""
    against: int | None = None

    def chosen(self) -> list[int]:
        return numbers_in(self.classes)


class WindowWanted(Schema):
    starts: date
    ends: date


class FindingsWanted(AnalysisFilterQuery):
    """Which figures, as the page has them in its address."""

    which: Which = "first"
    by: str = Field("", max_length=40)
    """The group that is put beside the others."""
    against: int | None = None
    one_key: bool = False
    cuts: str = Field("50,80", max_length=40)

    def shares(self) -> list[float]:
        return shares_of(self.cuts)


class RowsWanted(Schema):
    """Which lines of a table, in which order, as the page shows them."""

    rows: str | None = Field(None, max_length=20_000)
    """Numbers of seats or students, joined by commas; all where it is left out."""

    def chosen(self) -> list[int] | None:
        return None if self.rows is None else numbers_in(self.rows)


class ResultsWanted(RowsWanted):
    each: bool = False
    """With the marks of every question."""
    comments: bool = False
    """With what was said of the work."""


class SkillsWanted(RowsWanted):
    secure: int = Field(80, ge=1, le=100)
    nearly: int = Field(50, ge=0, le=99)


class RecordWanted(RowsWanted):
    without: str = Field("", max_length=4000)
    """Numbers of sittings that are not shown, joined by commas."""
    shown: Shown = "share"

    def hidden(self) -> list[int]:
        return numbers_in(self.without)


def numbers_in(joined: str) -> list[int]:
    parts = [entry for entry in joined.split(",") if entry]
    if not all(part.isascii() and part.isdigit() and len(part) < 16 for part in parts):
        raise DomainError("That is no list of numbers.", status=422)
    return [int(part) for part in parts]


class AnswersWanted(Schema):
    cut: int = Field(50, ge=0, le=100)
    """In percent of the marks."""
    group: str = Field("", max_length=40)


class MailBody(Schema):
    carries: mail.Carries = "feedback"
    to: mail.To = "student"
    subject: str = Field("", max_length=200)
    body: str = Field("", max_length=4000)
    students: list[int] | None = Field(None, max_length=400)

    def read(self) -> mail.MailRequest:
        return mail.MailRequest(
            self.carries,
            self.to,
            self.subject.strip() or mail.usual(mail.SUBJECTS[self.carries]),
            self.body.strip() or mail.usual(mail.BODIES[self.carries]),
            self.students,
        )


class MailTo(Schema):
    student: int
    name: str
    address: str


class MailPreview(Schema):
    letters: list[MailTo]
    without: list[MailTo]
    """Who has no address."""
    subject: str
    """As the first of them gets it."""
    body: str
    asked_subject: str
    """With places for names, to be changed."""
    asked_body: str


class LetterLine(Schema):
    name: str
    to: str
    address: str
    carries: str
    state: str
    problem: str


class ViewLine(Schema):
    id: int
    name: str
    address: str


class ViewBody(Schema):
    name: str = Field(max_length=200)
    address: str = Field(max_length=2000, pattern=r"^/(records|findings|results)/[^/]")
    """Of a page of figures, as the browser has it."""
