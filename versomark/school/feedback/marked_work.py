"""A student's answers as their marker wrote on them, for the sheet that goes home."""

from base64 import b64encode
from io import BytesIO
from typing import NamedTuple

from PIL import Image

from versomark.core.ink import LETTERS, PLACES, WIDTH, Area, Line, Words, lines_of
from versomark.core.language import _
from versomark.core.scoring import ScoringOverrides
from versomark.core.text import marks_text
from versomark.school.delivery.public import Seat
from versomark.school.errors import NotFound
from versomark.school.grading.public import (
    MarkingPass,
    Remark,
    by_hand,
    current_mark,
    marks_by_pass,
    picture_of_work,
    remarks_on,
)
from versomark.school.responses.public import responses_of

MOST_PAGES = 12
"""On one sheet; a file of a hundred pages is looked at on a screen."""


WIDEST_MM, HIGHEST_MM = 170.0, 215.0


class Written(NamedTuple):
    """Words on a page; where they begin is in percent of its width and height."""

    x: float
    y: float
    text: str
    stamped: bool


class MarkedPage(NamedTuple):
    picture: str
    """As an address that holds it."""
    height: float
    """Where its width is 1000."""
    lines: list[Line]
    written: list[Written]
    notes: list[str]
    """What was noted at a part of it, by its number there."""

    @property
    def width_mm(self) -> float:
        """As wide as the sheet, or as high as a page can be."""
        return min(WIDEST_MM, HIGHEST_MM * WIDTH / self.height)

    @property
    def letters_mm(self) -> float:
        return LETTERS / WIDTH * self.width_mm


class MarkedAnswer(NamedTuple):
    label: str
    earned: str
    comment: str
    pages: list[MarkedPage]
    is_cut: bool
    """Whether there are more pages than are printed."""


def marked_work(seat: Seat, judged: ScoringOverrides, marks: bool) -> list[MarkedAnswer]:
    """The answers of a student with something of a pen on a picture of them, by their numbers on this student's paper.
    As in the result, nothing is shown of a mark that does not count yet; what an answer earned is what counts, and is
    left out where `marks` is false or the question is waived."""
    turns, responses = marks_by_pass(seat.sitting, [seat.pk]), responses_of([seat.pk])[str(seat.pk)]
    hand, answers, left = by_hand(seat.sitting), list[MarkedAnswer](), MOST_PAGES
    for number, item in enumerate(seat.sitting.edition.read().in_form(seat.form).items(), start=1):
        counts = judged.marks.get(str(seat.pk), {})
        mark = current_mark(turns, seat.pk, item.ref) if item.ref in hand and item.ref in counts else None
        if mark is None:
            continue
        remarks = remarks_on(seat, item.ref, [MarkingPass.FIRST, MarkingPass.AGREED])
        places = sorted({(entry.place["file"], entry.place["page"]) for entry in remarks if "file" in entry.place})
        pages = []
        for file, page in places[:left]:
            try:
                picture = picture_of_work(seat, item.ref, responses.get(item.ref), file, page)
            except NotFound:
                continue  # a file that cannot be drawn any more
            here = [entry for entry in remarks if (entry.place.get("file"), entry.place.get("page")) == (file, page)]
            pages.append(_page(picture, here))
        points = None if item.ref in judged.waived else counts.get(item.ref)
        if pages:
            answers.append(
                MarkedAnswer(
                    item.content.own_label or str(number),
                    _("{marks} of {of}", marks=marks_text(points), of=marks_text(item.content.marks))
                    if marks and points is not None
                    else "",
                    mark.comment,
                    pages,
                    len(places) > left,
                )
            )
        left -= len(pages)
    return answers


def _page(picture: bytes, remarks: list[Remark]) -> MarkedPage:
    with Image.open(BytesIO(picture)) as image:
        height = WIDTH * image.height / image.width
    lines, written, notes = list[Line](), list[Written](), list[str]()
    for remark in remarks:
        place = PLACES.validate_python(remark.place)
        lines.extend(lines_of(place, height))
        if isinstance(place, Words):
            written.append(Written(100 * place.x, 100 * place.y, remark.text, place.stamped))
        elif remark.text:
            notes.append(remark.text)
            if isinstance(place, Area):
                above = LETTERS / height
                written.append(Written(100 * place.x, 100 * max(0, place.y - above), f"{len(notes)}", True))
    address = f"data:image/jpeg;base64,{b64encode(picture).decode()}"
    return MarkedPage(address, height, lines, written, notes)
