"""What goes in and comes out as JSON."""

from ninja import Field, Schema

from versomark.school.errors import DomainError

from . import mail
from .tables import Shown


class TableShown(Schema):
    caption: str = Field("", max_length=300)
    heads: list[str] = Field(min_length=1, max_length=1000)
    rows: list[list[str]] = Field(max_length=20_000)


class PageShown(Schema):
    """What a page shows, as it shows it: filtered, in the order chosen, in words."""

    title: str = Field(min_length=1, max_length=300)
    about: str = Field("", max_length=600)
    opening: str = Field("", max_length=4000)
    tables: list[TableShown] = Field([], max_length=40)
    picture: str = Field("", max_length=3_000_000)
    """Of its chart, a PNG as base64."""
    pictured: str = Field("", max_length=600)


class Who(Schema):
    """The lines of a table that is to be saved, as the page names them."""

    lines: list[str] = Field(max_length=20_000)


class IdentityLine(Schema):
    family_name: str
    given_name: str
    number: str
    desk: int


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
