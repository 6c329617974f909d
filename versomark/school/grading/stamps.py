"""Words that a teacher stamps on answers."""

from django.db import transaction
from django.db.models import QuerySet

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError, NotFound

from .models import Stamp

MOST = 24


def stamps_of(teacher: Teacher) -> QuerySet[Stamp]:
    return Stamp.objects.filter(teacher=teacher)


@transaction.atomic
def add(teacher: Teacher, words: str) -> None:
    words = " ".join(words.split())
    if not words:
        raise DomainError(_("There are no words to write."), status=422)
    if stamps_of(teacher).count() >= MOST and not stamps_of(teacher).filter(words=words).exists():
        raise DomainError(_("There are {most} stamps already. Take one out first.", most=MOST))
    Stamp.objects.get_or_create(teacher=teacher, words=words)


@transaction.atomic
def remove(teacher: Teacher, stamp_id: int) -> None:
    stamp = stamps_of(teacher).filter(pk=stamp_id).first()
    if stamp is None:
        raise NotFound(_("stamp"))
    stamp.delete()
