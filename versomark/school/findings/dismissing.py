"""Findings that a teacher has looked at and set aside, with a note that stays with the question."""

from django.db import transaction

from versomark.school.accounts.models import Teacher
from versomark.school.problems import NotPossible
from versomark.school.sittings.models import Sitting
from versomark.school.sittings.services import AFTER

from .aside import Key, key_of
from .body import Body
from .models import Dismissed
from .services import findings_of, record_history
from .written import raters_flags


@transaction.atomic
def dismiss(teacher: Teacher, sitting: Sitting, finding: Key, note: str) -> None:
    """Set a finding aside. A second note takes the place of the first."""
    kept = findings_of(sitting)
    body = Body.model_validate(kept.body) if kept else None
    flags = [*body.flags, *raters_flags(sitting)] if body else []
    if finding not in {key_of(flag.model_dump()) for flag in flags}:
        raise NotPossible("This finding is not there any more: the answers or the key have changed since.")
    said = " ".join(note.split())
    if not said:
        raise NotPossible("Say why; it stays with the question.", status=422)
    item, flag, options = finding
    Dismissed.objects.update_or_create(
        sitting=sitting, item=item, flag=flag, options=options, defaults={"note": said[:500], "by": teacher}
    )
    _tell_the_question(sitting)


@transaction.atomic
def take_up_again(sitting: Sitting, finding: Key) -> None:
    item, flag, options = finding
    Dismissed.objects.filter(sitting=sitting, item=item, flag=flag, options=options).delete()
    _tell_the_question(sitting)


def _tell_the_question(sitting: Sitting) -> None:
    # Before it is closed nothing of a sitting stands with its questions.
    if sitting.state in AFTER:
        record_history(sitting)
