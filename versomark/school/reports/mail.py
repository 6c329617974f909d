"""Reports by mail: to students, to their guardians, or to oneself first. They go out through the same door as notices:
a folder of .eml files until a mail server is named."""

from collections.abc import Sequence
from typing import Literal, NamedTuple

from django.core.mail import EmailMessage
from django.db import transaction
from django.utils.text import slugify

from versomark.core.language import N_, _
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import Student
from versomark.school.delivery.public import Seat, SeatState, Sitting
from versomark.school.errors import DomainError
from versomark.school.feedback.public import feedback_file
from versomark.school.grading.public import names_hidden

from .models import Letter
from .student_report import pdf_on

Carries = Literal["feedback", "report"]
To = Literal["student", "guardian", "self"]
TRIES = 5
AT_ONCE = 20
NAME, TEST = "{name}", "{test}"
"""What a subject or a letter may hold in place of the student's name and of the test's."""

BODIES: dict[Carries, str] = {
    "feedback": N_("Dear {name},\n\nhere is your feedback on {test}: what you are secure in, and what to try next.\n"),
    "report": N_("Dear parents of {name},\n\nhere is how {name} has done this year so far.\n"),
}


SUBJECTS: dict[Carries, str] = {
    "feedback": N_("Your feedback on {test}"),
    "report": N_("How {name} has done this year"),
}


def usual(template: str) -> str:
    """A subject or a letter as it stands before a teacher writes another, with the places for names left open."""
    return _(template, name=NAME, test=TEST)


class MailRequest(NamedTuple):
    carries: Carries
    to: To
    subject: str
    body: str
    students: Sequence[int] | None
    """None for all who handed in."""


class AddressedLetter(NamedTuple):
    seat: Seat
    address: str
    """Empty where there is none."""

    @property
    def student(self) -> Student:
        return self.seat.student


def addressed(teacher: Teacher, sitting: Sitting, wanted: MailRequest) -> list[AddressedLetter]:
    """Whom it would go to, in desk order."""
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden. Show them first, under Marking."))
    seats = sitting.seats.filter(state=SeatState.HANDED_IN).select_related("student").order_by("desk")
    if wanted.students is not None:
        seats = seats.filter(student__in=wanted.students)
    return [AddressedLetter(seat, _address(teacher, seat.student, wanted.to)) for seat in seats]


def _address(teacher: Teacher, student: Student, to: To) -> str:
    return {"student": student.email, "guardian": student.guardian_email, "self": teacher.email}[to]


def filled(text: str, student: Student, sitting: Sitting) -> str:
    """A subject or a letter for one student."""
    return text.replace(NAME, student.given_name).replace(TEST, sitting.edition.content["title"])


@transaction.atomic
def send(teacher: Teacher, sitting: Sitting, wanted: MailRequest) -> list[Letter]:
    """Put the letters in the post; those without an address are left out."""
    results = [entry for entry in addressed(teacher, sitting, wanted) if entry.address]
    if not results:
        raise DomainError(
            _("Your own address is not known: give it under your name.")
            if wanted.to == "self"
            else _("None of them has an address. Addresses stand with each student of the class.")
        )
    return Letter.objects.bulk_create(
        Letter(
            by=teacher,
            sitting=sitting,
            student=entry.student,
            carries=wanted.carries,
            to=wanted.to,
            address=entry.address,
            # A line break must not become a second header.
            subject=" ".join(filled(wanted.subject, entry.student, sitting).split())[:200],
            body=filled(wanted.body, entry.student, sitting),
        )
        for entry in results
    )


def send_waiting() -> int:
    """Send what waits; what a mail server refuses is tried again, five times in all."""
    waiting = Letter.objects.filter(state=Letter.State.WAITING).select_related("by", "sitting__edition", "student")
    sent = 0
    for letter in waiting.order_by("tries", "pk")[:AT_ONCE]:
        try:
            message(letter).send()
            letter.state, sent = Letter.State.SENT, sent + 1
        except Exception as problem:  # whatever a mail server, a full disk or a changed class says
            letter.tries += 1
            letter.problem = str(problem)[:300] or type(problem).__name__
            if letter.tries >= TRIES:
                letter.state = Letter.State.FAILED
        letter.save(update_fields=["state", "tries", "problem"])
    return sent


def message(letter: Letter) -> EmailMessage:
    body = f"{letter.body.rstrip()}\n\n{letter.by.name}\n"
    email_message = EmailMessage(letter.subject, body, to=[letter.address])
    if letter.by.email:
        email_message.reply_to = [letter.by.email]
    name = slugify(f"{letter.student.given_name} {letter.student.family_name}") or "report"
    email_message.attach(f"{letter.carries}-{name}.pdf", attachment(letter), "application/pdf")
    return email_message


def attachment(letter: Letter) -> bytes:
    if letter.carries == "report":
        return pdf_on(letter.sitting.school_class, letter.student_id, [])
    seat = letter.sitting.seats.get(student=letter.student_id)
    return feedback_file(letter.by, letter.sitting, seat.pk)
