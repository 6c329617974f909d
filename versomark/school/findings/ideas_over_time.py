"""What became of an idea of students: in the sittings of the class before and after, and when it was asked again."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.utils import timezone
from pydantic import BaseModel

from versomark.core.findings import Thresholds, words
from versomark.core.findings.ideas import IdeaCount, probability_of_fewer, same_idea
from versomark.core.language import _, day
from versomark.school.delivery.public import AFTER, Sitting

from .services import asked_again, findings_of, ideas_of_several

MOST_SITTINGS = 12
"""Of the class, the latest before and after: an idea of two years ago says little of today."""


@dataclass(frozen=True)
class IdeaElsewhere:
    """An idea in another sitting of the same class, or in the same one when it was asked again."""

    sitting: int
    title: str
    held_on: date
    before: bool
    again: bool
    count: IdeaCount


class IdeaElsewhereNote(BaseModel):
    sitting: int
    again: bool
    """Whether it is this sitting, in what was said when its questions were asked again."""
    says: str


def ideas_elsewhere(sitting: Sitting) -> dict[str, list[IdeaElsewhere]]:
    """By idea, in the order of time."""
    others = Sitting.objects.filter(
        school_class=sitting.school_class, owner=sitting.owner, state__in=AFTER, opened_at__isnull=False
    ).exclude(pk=sitting.pk)
    latest = list(others.select_related("edition", "school_class").order_by("-opened_at")[:MOST_SITTINGS])
    latest.reverse()
    result: dict[str, list[IdeaElsewhere]] = {}
    opened = sitting.opened_at or sitting.made_at
    for other, ideas in zip(latest, ideas_of_several(latest), strict=True):
        for stored in ideas:
            entry = _elsewhere(other, stored, before=bool(other.opened_at and other.opened_at < opened))
            result.setdefault(same_idea(stored["idea"]), []).append(entry)
    if asked_again(sitting):
        last = findings_of(sitting, "last")
        for stored in last.ideas if last else []:
            entry = _elsewhere(sitting, stored, before=False, again=True)
            result.setdefault(same_idea(stored["idea"]), []).insert(0, entry)
    return result


def _elsewhere(sitting: Sitting, stored: Mapping[str, Any], before: bool, again: bool = False) -> IdeaElsewhere:
    return IdeaElsewhere(
        sitting=sitting.pk,
        title=sitting.edition.content["title"],
        held_on=timezone.localdate(sitting.opened_at or sitting.made_at),
        before=before,
        again=again,
        count=IdeaCount(stored["p"], stored["expected"], stored["low"], stored["high"], stored["students"]),
    )


def elsewhere_notes(here: IdeaCount, elsewhere: Sequence[IdeaElsewhere]) -> list[IdeaElsewhereNote]:
    """The nearest before and what came after, in words."""
    nearest = [
        *[entry for entry in elsewhere if entry.before][-1:],
        *[entry for entry in elsewhere if not entry.before],
    ]
    return [
        IdeaElsewhereNote(
            sitting=entry.sitting,
            again=entry.again,
            says=words.idea_elsewhere(
                _("when it was asked again")
                if entry.again
                else _("in “{title}” on {held_on}", title=entry.title, held_on=day(entry.held_on, "d MMM")),
                entry.count.there,
                (entry.count.expected, entry.count.low, entry.count.high, entry.count.students),
                entry.before,
                probability_of_fewer(*((entry.count, here) if entry.before else (here, entry.count))),
            ),
        )
        for entry in nearest
    ]


def gone_ideas(ideas: Sequence[Mapping[str, Any]], elsewhere: Mapping[str, Sequence[IdeaElsewhere]]) -> list[str]:
    """Sentences on ideas that the class showed before and more likely than not does not show here, though it could."""
    sentences = []
    for stored in ideas:
        earlier = [entry for entry in elsewhere.get(same_idea(stored["idea"]), ()) if entry.before]
        if stored["p"] < Thresholds.possible and earlier and earlier[-1].count.there:
            then = earlier[-1]
            sentences.append(
                words.idea_gone(
                    stored["idea"],
                    _("in “{title}” on {held_on}", title=then.title, held_on=day(then.held_on, "d MMM")),
                    (then.count.expected, then.count.low, then.count.high, then.count.students),
                    stored["p"],
                )
            )
    return sentences
