"""The way out by mail: to a folder of .eml files until a mail server is named (`VERSO_SMTP_HOST`)."""

import logging

from django.conf import settings
from django.core.mail import EmailMessage

from versomark.core.language import N_, _, in_language

from .models import Mail, Notice, NoticeKind
from .notice_words import notice_words

log = logging.getLogger(__name__)
TRIES = 5
AT_ONCE = 50

SUBJECTS = {
    NoticeKind.ASSIGNED: N_("A test for you"),
    NoticeKind.CHANGED: N_("A test has moved"),
    NoticeKind.DUE: N_("A test ends soon"),
    NoticeKind.RELEASED: N_("Your results are here"),
}


def send_waiting() -> int:
    """Send what waits, one letter each; what a mail server refuses is tried again, five times in all."""
    waiting = Notice.objects.filter(mail=Mail.WAITING).select_related("student__school", "sitting__school_class")
    sent = 0
    for notice in waiting.order_by("tries", "pk")[:AT_ONCE]:
        try:
            letter(notice).send()
            notice.mail, sent = Mail.SENT, sent + 1
        except Exception as problem:  # whatever a mail server or a full disk says
            notice.tries += 1
            notice.problem = str(problem)[:300] or type(problem).__name__
            if notice.tries >= TRIES:
                notice.mail = Mail.FAILED
        notice.save(update_fields=["mail", "tries", "problem"])
    return sent


def letter(notice: Notice) -> EmailMessage:
    """In the student's language, or else the school's."""
    with in_language(notice.student.language or notice.student.school.language):
        return _letter(notice)


def _letter(notice: Notice) -> EmailMessage:
    where = (
        _("\n\nYour own page: {address}/mine/{link}", address=settings.ADDRESS, link=notice.sitting.school_class.link)
        if settings.ADDRESS
        else ""
    )
    body = f"{notice.student.given_name},\n\n{notice_words(notice)}{where}\n\n{notice.sitting.owner.name}\n"
    return EmailMessage(f"{_(SUBJECTS[NoticeKind(notice.kind)])}: {_title(notice)}", body, to=[notice.student.email])


def _title(notice: Notice) -> str:
    # A line break in a title must not become a second header.
    return " ".join(notice.sitting.edition.read().title.split())
