"""An equivalent test: question by question the closest other one of the bank, to take or to leave."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal
from uuid import UUID

from django.db import transaction

from versomark.core import editions as core
from versomark.core.language import _
from versomark.school.bank import public as bank
from versomark.school.bank.public import Item
from versomark.school.errors import DomainError, NotFound

from . import services
from .external import built
from .models import Test

WhyKept = Literal["", "varies", "no skill", "no other"]
"""Why a question stays where none is suggested: its numbers are drawn anew; it has no skill by which another could be
found; the bank has no other on its skills."""


@dataclass(frozen=True)
class AlternativesFor:
    """A question of the test with those that could stand in its place, the one suggested first."""

    number: int
    section: str
    item: Item
    suggested: UUID | None
    why_kept: WhyKept
    others: list[Item]


def alternatives_of(test: Test) -> list[AlternativesFor]:
    layout, items = built(test).read(), services.items_in(test)
    asked = [_traits(items[entry.ref]) for entry in layout.items()]
    skills = {skill.pk for item in items.values() for skill in item.skills.all()}
    pool = list(bank.items_of(test.owner).filter(ready=True, skills__in=skills).exclude(pk__in=list(items)).distinct())
    by_ref = {str(item.pk): item for item in pool}
    nearest = {each.ref: each for each in core.alternatives(asked, [_traits(item) for item in pool])}
    lines = []
    places = [(section.title, entry.ref) for section in layout.sections for entry in section.items()]
    for number, (section, ref) in enumerate(places, start=1):
        item, alike = items[ref], nearest[ref]
        why = _why_kept(item, alike)
        suggested = UUID(alike.suggested) if alike.suggested and not why else None
        others = [by_ref[other] for other in alike.nearest]
        lines.append(AlternativesFor(number, section, item, suggested, why, others))
    return lines


def both_foretold(test: Test, swaps: Mapping[UUID, UUID]) -> tuple[core.PredictedStatistics, core.PredictedStatistics]:
    """What the test is likely to do, and what it would do with these questions in place of those."""
    other = _swapped(test, swaps)
    refs = [entry.ref for entry in other.items()]
    if len(set(refs)) != len(refs):
        raise DomainError(_("The same question stands in the test twice."))
    _all_in_the_bank(test, swaps)
    instead = bank.items_of(test.owner).filter(pk__in=swaps.values())
    items = services.items_in(test) | {str(item.pk): item for item in instead}
    if not set(refs) <= items.keys():
        raise NotFound(_("question"))
    return services.foretold(test), services.foretold_of(test.owner, other, items)


@transaction.atomic
def make_equivalent(test: Test, title: str, swaps: Mapping[UUID, UUID]) -> Test:
    """A new test of the same layout with other questions; sections, pages, marks of places and draws stay as they are.

    swaps: question of the test -> the one in its place. Those that are not named stay.
    """
    if not swaps and not _varies(test):
        raise DomainError(_("Every question would be the same. Take another one for at least one of them."), status=422)
    layout = _swapped(test, swaps)
    _all_in_the_bank(test, swaps)
    new_test = services.make_test(test.owner, title)
    return services.keep_test(new_test, title, test.instructions, layout, test.language)


def _all_in_the_bank(test: Test, swaps: Mapping[UUID, UUID]) -> None:
    """What stands in a test may be out of the bank by now; what is put into one may not, since it was put away in
    another window, or by a colleague."""
    gone = set(swaps.values()) - set(bank.items_of(test.owner).values_list("pk", flat=True))
    if Item.objects.filter(owner=test.owner, pk__in=gone).exists():
        raise DomainError(_("A question that was to be put in has been taken out of the bank. Choose another one."))
    if gone:
        raise NotFound(_("question"))


def _swapped(test: Test, swaps: Mapping[UUID, UUID]) -> core.Layout:
    layout = built(test).read()
    by_ref = {str(asked): str(other) for asked, other in swaps.items()}
    if not set(by_ref) <= {entry.ref for entry in layout.items()}:
        raise DomainError(_("A question that is to be replaced is not in the test."), status=422)
    sections = [
        section.model_copy(
            update={
                "entries": [
                    entry.model_copy(update={"ref": by_ref.get(entry.ref, entry.ref)})
                    if isinstance(entry, core.PlacedItem)
                    else entry
                    for entry in section.entries
                ]
            }
        )
        for section in layout.sections
    ]
    return layout.model_copy(update={"sections": sections})


def _why_kept(item: Item, nearest: core.Alternatives) -> WhyKept:
    if item.content.get("variation"):
        return "varies"
    if not item.skills.all():
        return "no skill"
    return "" if nearest.suggested else "no other"


def _varies(test: Test) -> bool:
    draws = any(section.draws for section in test.read().sections)
    return draws or any(item.content.get("variation") for item in services.items_in(test).values())


def _traits(item: Item) -> core.QuestionTraits:
    return core.QuestionTraits(
        ref=str(item.pk),
        skills=frozenset(skill.name for skill in item.skills.all()),
        kind=item.kind,
        marks=item.content.get("marks", 1),
        share=item.difficulty,
        r_rest=item.evidence.get("rest_correlation"),
    )
