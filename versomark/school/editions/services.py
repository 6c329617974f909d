"""Tests: questions put in order, tried as students see them, and frozen as an edition."""

from collections.abc import Sequence
from uuid import UUID

from django.db import transaction
from django.db.models import Prefetch, QuerySet

from versomark.core import editions as core
from versomark.core.items import ContentBase
from versomark.school.accounts.models import Teacher
from versomark.school.bank.models import Item
from versomark.school.problems import NotFound, NotPossible

from .models import Edition, Test, TestItem


def tests_of(teacher: Teacher) -> QuerySet[Test]:
    return Test.objects.filter(owner=teacher).prefetch_related("places", "editions")


def test_of(teacher: Teacher, test_id: int) -> Test:
    found = tests_of(teacher).filter(pk=test_id).first()
    if found is None:
        raise NotFound("test")
    return found


def items_in(test: Test) -> list[Item]:
    places = test.places.select_related("item").prefetch_related(Prefetch("item__skills"))
    return [place.item for place in places.order_by("position")]


@transaction.atomic
def make_test(teacher: Teacher, title: str) -> Test:
    return Test.objects.create(owner=teacher, title=title.strip())


@transaction.atomic
def keep_test(test: Test, title: str, instructions: str, item_ids: Sequence[UUID]) -> Test:
    """Keep title, instructions and the questions in this order."""
    if len(set(item_ids)) != len(item_ids):
        raise NotPossible("The same question stands in the test twice.")
    own = {item.pk: item for item in Item.objects.filter(owner=test.owner, pk__in=item_ids)}
    if len(own) != len(item_ids):
        raise NotFound("question")
    test.title, test.instructions = title.strip(), instructions.strip()
    test.save()
    test.places.all().delete()
    TestItem.objects.bulk_create(
        TestItem(test=test, item=own[item_id], position=at) for at, item_id in enumerate(item_ids, start=1)
    )
    return test_of(test.owner, test.pk)


@transaction.atomic
def remove_test(test: Test) -> None:
    if test.editions.exists():
        raise NotPossible("This test has a frozen edition, so its results stay explained by it. It cannot be removed.")
    test.delete()


def problems(test: Test) -> list[str]:
    contents: list[ContentBase] = [item.read() for item in items_in(test)]
    return core.problems_of(test.title, contents)


def preview(test: Test) -> core.StudentPaper:
    """The paper as students will see it, ready or not."""
    return core.student_paper(
        core.Edition(title=test.title, instructions=test.instructions, sections=[core.Section(items=_frozen(test))])
    )


@transaction.atomic
def freeze(test: Test) -> Edition:
    """A new edition of the test as it stands; the latest one again when nothing has changed since."""
    try:
        content = core.freeze(test.title, test.instructions, _frozen(test))
    except core.NotReady as error:
        raise NotPossible("This test is not ready to be frozen.", problems=error.problems) from None
    latest = test.editions.order_by("-number").first()
    if latest is not None and latest.fingerprint == content.fingerprint():
        return latest
    return Edition.objects.create(
        test=test,
        number=latest.number + 1 if latest else 1,
        content=content.model_dump(mode="json"),
        fingerprint=content.fingerprint(),
    )


def editions_of(teacher: Teacher) -> QuerySet[Edition]:
    return Edition.objects.filter(test__owner=teacher).select_related("test").order_by("-frozen_at")


def edition_of(teacher: Teacher, edition_id: int) -> Edition:
    found = editions_of(teacher).filter(pk=edition_id).first()
    if found is None:
        raise NotFound("edition")
    return found


def _frozen(test: Test) -> list[core.EditionItem]:
    return [
        core.EditionItem(ref=str(item.pk), content=item.read(), skills=[skill.name for skill in item.skills.all()])
        for item in items_in(test)
    ]
