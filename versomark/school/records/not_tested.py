"""Who has not been tested in a window of dates, and what they could sit now."""

from datetime import date

from pydantic import BaseModel

from versomark.core.language import _, _n
from versomark.school.errors import DomainError

from .class_record import ClassRecord


class Missed(BaseModel):
    """A sitting of the window that a student has nothing in."""

    sitting: int
    title: str
    held_on: date
    seat: int
    word: str


class NotTested(BaseModel):
    student: int
    name: str
    last: date | None
    """The day of the last sitting they have a total in; None where there is none."""
    missed: list[Missed]
    """Newest first; excused ones are not missed."""


class NotTestedPage(BaseModel):
    opening: str
    starts: date
    ends: date
    sittings: int
    """Held in the window."""
    nothing: list[NotTested]
    """Who has no total in it at all."""
    something: list[NotTested]
    """Who has one, and missed another."""


def not_tested_in(record: ClassRecord, starts: date, ends: date) -> NotTestedPage:
    if ends < starts:
        raise DomainError(_("The window ends before it begins."), status=422)
    within = [
        at
        for at, sitting in enumerate(record.sittings)
        if starts <= sitting.held_on <= ends and not sitting.names_hidden
    ]
    nothing, something = list[NotTested](), list[NotTested]()
    for row in record.students:
        had = [at for at, cell in enumerate(row.cells) if cell is not None and cell.total is not None]
        missed = [
            Missed(
                sitting=record.sittings[at].id,
                title=record.sittings[at].title,
                held_on=record.sittings[at].held_on,
                seat=cell.seat,
                word=cell.word,
            )
            for at in within
            if (cell := row.cells[at]) is not None and cell.total is None and cell.word in ("missing", "absent")
        ]
        days = [record.sittings[at].held_on for at in had]
        not_tested = NotTested(student=row.student, name=row.name, last=max(days, default=None), missed=missed)
        if not set(had) & set(within):
            nothing.append(not_tested)
        elif missed:
            something.append(not_tested)
    page = NotTestedPage(
        opening="", starts=starts, ends=ends, sittings=len(within), nothing=nothing, something=something
    )
    return page.model_copy(update={"opening": _opening(page, len(record.students))})


def _opening(page: NotTestedPage, students: int) -> str:
    """The sentences that matter, for a teacher."""
    if not page.sittings:
        return _("No sitting of this class falls into these days.")
    how_many = _n("one sitting", "{count} sittings", page.sittings, count=page.sittings)
    if not page.nothing and not page.something:
        return _(
            "All {students} have a total in everything they had a seat in: {how_many}.",
            students=students,
            how_many=how_many,
        )
    sentences = [
        _(
            "{count} of {students} have no total in these days, of {how_many}.",
            count=len(page.nothing),
            students=students,
            how_many=how_many,
        )
    ]
    if page.something:
        sentences.append(_("{count} more missed something.", count=len(page.something)))
    return " ".join(sentences)
