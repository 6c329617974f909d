"""Findings that a teacher has looked at and set aside, with a note that stays with the question."""

from django.db import transaction

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import AFTER, Sitting
from versomark.school.errors import DomainError

from .dismissed_findings import Key, key_of
from .models import DismissedFinding
from .report import FindingsReport
from .services import findings_of, record_history
from .written import raters_flags


@transaction.atomic
def dismiss(teacher: Teacher, sitting: Sitting, finding: Key, note: str) -> None:
    """Set a finding aside. A second note takes the place of the first."""
    findings = findings_of(sitting)
    body = FindingsReport.model_validate(findings.body) if findings else None
    flags = [*body.flags, *raters_flags(sitting)] if body else []
    if finding not in {key_of(flag.model_dump()) for flag in flags}:
        raise DomainError(_("This finding is not there any more: the answers or the key have changed since."))
    text = " ".join(note.split())
    if not text:
        raise DomainError(_("Say why; it stays with the question."), status=422)
    item, flag, options = finding
    DismissedFinding.objects.update_or_create(
        sitting=sitting, item=item, flag=flag, options=options, defaults={"note": text[:500], "by": teacher}
    )
    _tell_the_question(sitting)


@transaction.atomic
def take_up_again(sitting: Sitting, finding: Key) -> None:
    item, flag, options = finding
    DismissedFinding.objects.filter(sitting=sitting, item=item, flag=flag, options=options).delete()
    _tell_the_question(sitting)


def _tell_the_question(sitting: Sitting) -> None:
    # Before it is closed nothing of a sitting stands with its questions.
    if sitting.state in AFTER:
        record_history(sitting)
