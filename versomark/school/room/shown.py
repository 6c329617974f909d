"""What wall and devices have in common: the step that is on, as it may be seen by everybody."""

from datetime import datetime

from ninja import Schema

from versomark.core.editions import PaperItem, Stimulus, TeachingPage, lesson_page, student_paper
from versomark.school.delivery.public import AFTER, Way, steady

from .answers import content_of, edition_item
from .models import Room, Round


class Shown(Schema):
    """The step that is on. Built from what may be seen; it has no field for a key."""

    number: int
    """Of the question in this lesson, from 1; 0 where a page or the way in is on."""
    of: int
    round: int
    ends_at: datetime | None
    now: datetime
    page: TeachingPage | None
    question: PaperItem | None
    stimulus: Stimulus | None


def shown(room: Room, round: Round | None) -> Shown:
    """The step that is on, with the round of it; nothing once it is over, or everyone at their own pace."""
    step = None if room.sitting.state in AFTER or room.sitting.way == Way.ALONE else room.step
    asked = questions_of(room)
    edition = room.sitting.edition.read()
    item = edition_item(room, step.ref) if step else None
    return Shown(
        number=asked.index(step.ref) + 1 if step and step.ref in asked else 0,
        of=len(asked),
        round=round.number if round else 0,
        ends_at=round.ends_at if round else None,
        now=steady.now(),
        page=lesson_page(edition, step.ref) if step else None,
        question=_paper_item(room, step.ref) if step and step.ref in asked else None,
        stimulus=edition.stimulus_of(item) if item else None,
    )


def questions_of(room: Room) -> list[str]:
    """The refs of what is asked, in the order of this lesson."""
    return [step["ref"] for step in room.steps if step["kind"] != "page"]


_papers: dict[str, dict[str, PaperItem]] = {}
"""By fingerprint of the edition: its questions as students may see them, by ref."""
MOST_PAPERS = 32


def _paper_item(room: Room, ref: str) -> PaperItem:
    """The question with its number in this lesson, as a student may see it."""
    number = questions_of(room).index(ref) + 1
    if ref in room.quick:
        return PaperItem(ref=ref, number=number, section=0, item=content_of(room, ref).for_student())
    edition = room.sitting.edition
    if edition.fingerprint not in _papers:
        if len(_papers) >= MOST_PAPERS:
            _papers.pop(next(iter(_papers)))
        _papers[edition.fingerprint] = {item.ref: item for item in student_paper(edition.read()).items}
    return _papers[edition.fingerprint][ref].model_copy(update={"number": number})
