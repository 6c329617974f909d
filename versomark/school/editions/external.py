"""Tests given and marked elsewhere: described line by line, and frozen like any other test."""

from django.db import transaction

from versomark.core import editions as core
from versomark.core.formats.marks_table import groups_from_table
from versomark.core.formats.tables import read_text_table
from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError

from .models import Test


@transaction.atomic
def make_described(teacher: Teacher, title: str) -> Test:
    empty = core.ExternalAssessment().model_dump(mode="json")
    return Test.objects.create(owner=teacher, title=" ".join(title.split()), described=empty)


@transaction.atomic
def keep_described(test: Test, title: str, described: core.ExternalAssessment) -> Test:
    """Keep the description as it stands, finished or not."""
    if test.described is None:
        raise DomainError(_("This test is built from questions; there is nothing to describe."))
    test.title, test.described = " ".join(title.split()), described.model_dump(mode="json")
    test.save()
    return test


def lines_pasted(text: str) -> tuple[list[core.ExternalGroup], list[str]]:
    """Lines of a spreadsheet as groups, and what could not be read."""
    try:
        return groups_from_table(read_text_table(text))
    except UnreadableFileError as error:
        raise DomainError(str(error), status=422) from None


def built(test: Test) -> Test:
    """The test, where it is built from questions; NotPossible, in words, where it was given elsewhere."""
    if test.described is not None:
        raise DomainError(_("This test was given elsewhere: its questions are described, not taken from the bank."))
    return test
