"""Students ask to have a mark looked at once more, inside a window; a person answers with the history in sight."""

from datetime import datetime
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import EventKind, Seat, Sitting, record, seat_changed
from versomark.school.errors import DomainError, NotFound

from .models import MarkQuestion, QuestionWindow
from .numbers import names_hidden
from .queries import current_mark, marks_by_pass
from .release import shown_to
from .services import number_of

FEWEST_LETTERS = 10
"""Of a reason: a person is asked to look, and has to know at what."""


class MarkAsked(NamedTuple):
    """What a student asked about one answer, and what came of it."""

    item: str
    reason: str
    at: datetime
    state: str
    answer: str
    by: str
    """Who answered; empty before anybody has."""


def window_of(sitting: Sitting) -> datetime | None:
    """Until when students may ask; None where they may not."""
    window = QuestionWindow.objects.filter(sitting=sitting).first()
    return window.until if window else None


@transaction.atomic
def open_window(by: Teacher, sitting: Sitting, until: datetime | None) -> None:
    """Let students ask until then, or no more. What was asked stays, and is answered."""
    if until is not None and until <= timezone.now():
        raise DomainError(_("That is over already. Choose a later time."), status=422)
    if until == window_of(sitting):
        return
    if until is None:
        QuestionWindow.objects.filter(sitting=sitting).delete()
    else:
        QuestionWindow.objects.update_or_create(sitting=sitting, defaults={"until": until, "by": by})
    record(sitting, by, EventKind.QUESTIONS_OPENED, until=until.isoformat() if until else None)


def may_ask(seat: Seat) -> bool:
    """Whether this student may ask now: their marks are released to them, and the window is open."""
    shown, until = shown_to(seat), window_of(seat.sitting)
    return shown is not None and shown.marks and until is not None and timezone.now() < until


def questions_of(seat: Seat) -> dict[str, MarkAsked]:
    """By item, the last thing asked about it that was not taken back."""
    rows = seat.mark_questions.exclude(state=MarkQuestion.State.WITHDRAWN).select_related("answered_by")
    return {
        row.item: MarkAsked(
            row.item, row.reason, row.at, row.state, row.answer, row.answered_by.name if row.answered_by else ""
        )
        for row in rows
    }


@transaction.atomic
def ask(seat: Seat, ref: str, reason: str, earned: float | None) -> MarkQuestion:
    """A student asks about one answer, once; `earned` is what they see that it earned."""
    if not may_ask(seat):
        raise DomainError(_("Questions about marks are not taken now."))
    if len(reason.strip()) < FEWEST_LETTERS:
        raise DomainError(_("Say what your teacher should look at, in a sentence."), status=422)
    if earned is None:
        raise DomainError(_("This answer has no mark that could be looked at."))
    if ref in questions_of(seat):
        raise DomainError(_("You have asked about this answer already."))
    mark = current_mark(marks_by_pass(seat.sitting, [seat.pk]), seat.pk, ref)
    question = MarkQuestion.objects.create(seat=seat, item=ref, reason=reason.strip(), mark=mark, earned=earned)
    seat_changed(seat.sitting_id)
    return question


@transaction.atomic
def take_question_back(seat: Seat, ref: str) -> None:
    """By its student, as long as nobody has answered."""
    rows = seat.mark_questions.filter(item=ref, state=MarkQuestion.State.OPEN)
    if not rows.update(state=MarkQuestion.State.WITHDRAWN):
        raise DomainError(_("It has been answered meanwhile."))
    seat_changed(seat.sitting_id)


def answered_in(sitting: Sitting) -> dict[int, list[int]]:
    """By seat, the questions that were answered, by their numbers."""
    answered: dict[int, list[int]] = {}
    for seat, question in MarkQuestion.objects.filter(
        seat__sitting=sitting, state__in=[MarkQuestion.State.KEPT, MarkQuestion.State.CHANGED]
    ).values_list("seat", "pk"):
        answered.setdefault(seat, []).append(question)
    return answered


def waiting_questions(sitting: Sitting) -> int:
    return MarkQuestion.objects.filter(seat__sitting=sitting, state=MarkQuestion.State.OPEN).count()


def asked_in(sitting: Sitting) -> list[MarkQuestion]:
    """Those that wait first, each group in the order they came."""
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden for marking. Show them under Marking first."))
    rows = MarkQuestion.objects.filter(seat__sitting=sitting).exclude(state=MarkQuestion.State.WITHDRAWN)
    return sorted(
        rows.select_related("seat__student", "answered_by", "mark__by"), key=lambda row: (row.state != "open", row.pk)
    )


@transaction.atomic
def answer_question(by: Teacher, sitting: Sitting, question_id: int, answer: str, earned: float | None) -> MarkQuestion:
    """Say what came of it. Whether the mark was changed is not said by anybody: `earned` is what the answer earns now,
    and is compared with what it had earned when its student asked."""
    question = MarkQuestion.objects.filter(pk=question_id, seat__sitting=sitting).select_related("seat").first()
    if question is None:
        raise NotFound(_("question"))
    if question.state != MarkQuestion.State.OPEN:
        raise DomainError(_("Somebody has answered this meanwhile, or its student took it back. Look again."), 409)
    if not answer.strip():
        raise DomainError(_("Say what you found; the student reads it."), status=422)
    changed = earned is not None and question.earned is not None and abs(earned - question.earned) > 1e-9
    question.state = MarkQuestion.State.CHANGED if changed else MarkQuestion.State.KEPT
    question.answer, question.earned_then = answer.strip(), earned
    question.answered_by, question.answered_at = by, timezone.now()
    question.save()
    record(
        sitting,
        by,
        EventKind.MARK_QUESTION_ANSWERED,
        question.seat,
        number=number_of(sitting, question.item),
        changed=changed,
    )
    seat_changed(sitting.pk)
    return question
