"""Short checks with a student beside the teacher, a card at a time. A card is a column of a test whose marks are keyed
in, so that results, findings and records know of it as of any other mark."""

from collections.abc import Mapping, Sequence
from datetime import date

from django.db import transaction
from django.utils import timezone
from pydantic import BaseModel

from versomark.core.giving.calling import AtTheCards, calling_order
from versomark.core.items.marks_only import MarksOnly
from versomark.core.language import _
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import Seat, SeatState, Sitting, SittingState
from versomark.school.errors import DomainError, NotFound
from versomark.school.responses.public import EnteredMark, Mark, columns_of, current_marks, keep_marks

from .models import CardNote

MOST_NAMED = 8


class Card(BaseModel):
    ref: str
    label: str
    text: str
    """What is shown in large type: what the card asks, or its label where it asks nothing more."""
    marks: float
    asked: int
    known: int
    needs: list[int]
    """Seats of those who were asked and did not know it."""


class Try(BaseModel):
    """One time the same cards were gone through with this class."""

    sitting: int
    held_on: date
    known: int
    asked: int


class StudentAtCards(BaseModel):
    seat: int
    desk: int
    name: str
    away: bool
    asked: int
    known: int
    before: int | None
    """Cards known in the try before; None where there was none."""
    said: dict[str, bool]
    """Card -> whether it was known; what is not in it was not asked yet."""
    earlier: dict[str, bool]
    """The same of the try before."""
    notes: dict[str, str]


class CardsPage(BaseModel):
    sitting: int
    title: str
    class_id: int
    class_name: str
    state: str
    opening: str
    cards: list[Card]
    students: list[StudentAtCards]
    """In desk order."""
    calling: list[int]
    """Seats, whom to call first; who is through is not in it."""
    tries: list[Try]
    """Oldest first; the first is the baseline."""


def cards_of(sitting: Sitting) -> list[tuple[str, MarksOnly]]:
    """NotPossible, in words, where a line is worth more than known or not."""
    columns = [(column.ref, column.content) for column in columns_of(sitting)]
    if any(content.marks != 1 for _, content in columns):
        raise DomainError(_("A card is known or not: one to one needs a test whose lines have one mark each."))
    return columns


def cards_page(sitting: Sitting) -> CardsPage:
    columns = cards_of(sitting)
    most = {ref: content.marks for ref, content in columns}
    tries = _tries(sitting)
    marks = {attempt.pk: current_marks(attempt) for attempt in tries}
    before = _before(sitting, tries)
    earlier = _by_student(before, marks[before.pk], most) if before else {}
    notes: dict[int, dict[str, str]] = {}
    for note in CardNote.objects.filter(seat__sitting=sitting):
        notes.setdefault(note.seat_id, {})[note.item] = note.text
    students = []
    for seat in sitting.seats.select_related("student").order_by("desk"):
        marks_now, was = _known(marks[sitting.pk].get(seat.pk, {}), most), earlier.get(seat.student_id, {})
        students.append(
            StudentAtCards(
                seat=seat.pk,
                desk=seat.desk,
                name=seat.student.short_name,
                away=seat.state in (SeatState.EXCUSED,)
                or (seat.state == SeatState.ABSENT and not seat.ended_by_closing),
                asked=len(marks_now),
                known=sum(marks_now.values()),
                before=sum(was.values()) if was else None,
                said=marks_now,
                earlier=was,
                notes=notes.get(seat.pk, {}),
            )
        )
    here = [student for student in students if not student.away]
    order = calling_order([AtTheCards(entry.asked, entry.known, entry.before) for entry in here], len(columns))
    cards = [_card(ref, content, here) for ref, content in columns]
    return CardsPage(
        sitting=sitting.pk,
        title=sitting.edition.read().title,
        class_id=sitting.school_class_id,
        class_name=sitting.school_class.name,
        state=sitting.state,
        opening=_opening(cards, here, order),
        cards=cards,
        students=students,
        calling=[here[at].seat for at in order],
        tries=[_try(attempt, marks[attempt.pk], most) for attempt in tries],
    )


def _card(ref: str, content: MarksOnly, students: Sequence[StudentAtCards]) -> Card:
    said_of = {student.seat: student.said[ref] for student in students if ref in student.said}
    return Card(
        ref=ref,
        label=content.label,
        text=plain(content.stem) or content.label,
        marks=content.marks,
        asked=len(said_of),
        known=sum(said_of.values()),
        needs=[seat for seat, known in said_of.items() if not known],
    )


def _tries(sitting: Sitting) -> list[Sitting]:
    """Every time these cards were gone through with this class, oldest first."""
    same = Sitting.objects.filter(school_class=sitting.school_class, edition=sitting.edition_id)
    return sorted(same.select_related("edition"), key=lambda one: (one.opened_at or timezone.now(), one.pk))


def _before(sitting: Sitting, tries: Sequence[Sitting]) -> Sitting | None:
    places = [one.pk for one in tries]
    at = places.index(sitting.pk)
    return tries[at - 1] if at else None


def _known(marks: Mapping[str, EnteredMark], most: Mapping[str, float]) -> dict[str, bool]:
    return {ref: mark.points >= most[ref] - 1e-9 for ref, mark in marks.items() if ref in most}


def _by_student(
    sitting: Sitting, marks: Mapping[int, Mapping[str, EnteredMark]], most: Mapping[str, float]
) -> dict[int, dict[str, bool]]:
    students = dict(sitting.seats.values_list("pk", "student"))
    return {students[seat]: _known(own, most) for seat, own in marks.items() if seat in students}


def _try(sitting: Sitting, marks: Mapping[int, Mapping[str, EnteredMark]], most: Mapping[str, float]) -> Try:
    answers = [known for own in marks.values() for known in _known(own, most).values()]
    held_on = timezone.localdate(sitting.opened_at or sitting.made_at)
    return Try(sitting=sitting.pk, held_on=held_on, known=sum(answers), asked=len(answers))


def _opening(cards: Sequence[Card], students: Sequence[StudentAtCards], order: Sequence[int]) -> str:
    """The sentences that matter, for the teacher."""
    if not any(card.asked for card in cards):
        return _("Nobody has been asked yet.")
    sentences = []
    fewest = min((card for card in cards if card.asked), key=lambda card: card.known / card.asked)
    if fewest.known < fewest.asked:
        sentences.append(
            _(
                "Fewest know “{text}”: {known} of {asked} asked.",
                text=fewest.text,
                known=fewest.known,
                asked=fewest.asked,
            )
        )
    else:
        sentences.append(_("Every card that was asked was known."))
    through = len(students) - len(order)
    sentences.append(_("{through} of {count} are through.", through=through, count=len(students)))
    if order:
        sentences.append(_("Next: {rstrip}.", rstrip=students[order[0]].name.rstrip(".")))
    return " ".join(sentences)


@transaction.atomic
def say(by: Teacher, sitting: Sitting, seat_id: int, item: str, known: bool | None, note: str | None) -> None:
    """What came of one card: known, not known, or None for not asked yet. A note of None leaves the note as it is."""
    content = dict(cards_of(sitting)).get(item)
    seat = Seat.objects.filter(pk=seat_id, sitting=sitting).first()
    if content is None or seat is None:
        raise NotFound(_("card or student"))
    if sitting.state == SittingState.CLOSED:
        raise DomainError(_("This try is closed. Go through the cards again, or open it."))
    points = None if known is None else content.marks if known else 0.0
    keep_marks(sitting, [Mark(seat_id, item, points)], {})
    if note is not None:
        words = " ".join(note.split())[:300]
        if words:
            CardNote.objects.update_or_create(seat=seat, item=item, defaults={"text": words, "by": by})
        else:
            CardNote.objects.filter(seat=seat, item=item).delete()


def again(by: Teacher, sitting: Sitting) -> Sitting:
    """Another try with the same cards; what was said before stays."""
    cards_of(sitting)
    newest = _tries(sitting)[-1]
    if newest.state != SittingState.CLOSED and not current_marks(newest):
        raise DomainError(_("A try with these cards has been set up already, and nothing is in it yet."))
    return delivery.plan(by, sitting.edition, sitting.school_class, None)
