"""How questions did: kept when a sitting is analysed, summed up over the sittings of one version."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Count, Q

from versomark.core.findings import FindingFacts, Flag
from versomark.core.items import version_of

from .models import Item, ItemUse

PAPERS_A_STATEMENT = 50
KEPT_OF_A_USE = (
    "title",
    "held_on",
    "students",
    "difficulty",
    "discrimination",
    "flags",
    "notes",
    "version",
    "rest_correlation",
    "reliability",
    "spread",
)


@dataclass(frozen=True)
class Use:
    """How one item did on one occasion."""

    item: UUID
    students: int
    difficulty: float
    discrimination: float | None
    flags: Sequence[FindingFacts]
    notes: Sequence[str] = ()
    """What its teacher thought of findings that were set aside."""
    version: str = ""
    rest_correlation: float | None = None
    reliability: float | None = None
    spread: float | None = None


@transaction.atomic
def record_uses(occasion: str, title: str, held_on: date, uses: Sequence[Use]) -> None:
    """Keep how items did on an occasion, in place of what was kept of it before. Items that are gone are left out."""
    there = set(Item.objects.filter(pk__in=[use.item for use in uses]).values_list("pk", flat=True))
    ItemUse.objects.filter(occasion=occasion).exclude(item__in=there).delete()
    rows = [
        ItemUse(
            item_id=use.item,
            occasion=occasion,
            title=title[:300],
            held_on=held_on,
            students=use.students,
            difficulty=use.difficulty,
            discrimination=use.discrimination,
            flags=[flag.model_dump(mode="json") for flag in use.flags],
            notes=list(use.notes),
            version=use.version,
            rest_correlation=use.rest_correlation,
            reliability=use.reliability,
            spread=use.spread,
        )
        for use in uses
        if use.item in there
    ]
    # In one statement: a closing waits for it, and so does everybody who reads findings first.
    ItemUse.objects.bulk_create(
        rows, update_conflicts=True, unique_fields=["item", "occasion"], update_fields=KEPT_OF_A_USE
    )
    for item in Item.objects.filter(pk__in=there).prefetch_related("uses"):
        sum_up(item)


def version_now(item: Item) -> str:
    """Empty where its numbers vary: then what students saw was never what stands in the bank."""
    return "" if item.content.get("variation") else version_of(item.read())


def of_version(use: ItemUse, version: str) -> bool:
    return not (version and use.version) or use.version == version


def faults_of(item: Item) -> list[dict[str, Any]]:
    """Of what stands with it, what speaks against the question itself."""
    return [flag for flag in item.standing if Flag(flag["flag"]).a_fault]


def sum_up(item: Item) -> None:
    """Its measures over all occasions on which this version was asked, weighted by students, and what the latest of
    them found. What was reworded, or has another key, has its evidence before it."""
    every = list(item.uses.all())
    version = version_now(item) if every else ""
    uses = [use for use in every if of_version(use, version)]

    def mean(name: str) -> float | None:
        known = [(value, use.students) for use in uses if (value := getattr(use, name)) is not None]
        students = sum(n for _, n in known)
        return sum(value * n for value, n in known) / students if students else None

    summed = {
        "times_used": len(every),
        "difficulty": mean("difficulty"),
        "discrimination": mean("discrimination"),
        "standing": list(uses[-1].flags) if uses else [],
        "flagged": bool(uses and uses[-1].flags),
        "evidence": {
            "students": sum(use.students for use in uses),
            "classes": len(uses),
            **{name: mean(name) for name in ("rest_correlation", "reliability", "spread")},
        },
    }
    Item.objects.filter(pk=item.pk).update(**summed)
    for name, value in summed.items():
        setattr(item, name, value)


def occasions_with(papers: Collection[frozenset[UUID]]) -> dict[frozenset[UUID], dict[str, int]]:
    """Of each paper, where any of its items was used, with how many of them. Counted by the database: a question of ten
    years was used hundreds of times; and for many papers in one statement, since a list has a score of them."""
    occasions: dict[frozenset[UUID], dict[str, int]] = {paper: {} for paper in papers}
    asked = [paper for paper in occasions if paper]
    for start in range(0, len(asked), PAPERS_A_STATEMENT):
        some = asked[start : start + PAPERS_A_STATEMENT]
        counts = {f"paper_{at}": Count("item", filter=Q(item__in=paper)) for at, paper in enumerate(some)}
        rows = ItemUse.objects.filter(item__in=frozenset().union(*some)).order_by().values("occasion")
        for occasion, *used in rows.annotate(**counts).values_list("occasion", *counts):
            for paper, count in zip(some, used, strict=True):
                if count:
                    occasions[paper][occasion] = count
    return occasions
