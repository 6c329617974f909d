"""Where students stand: averages by category and weight, and a standing in each term, with what a teacher set over it
and what is carried from a term before."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import Literal, NamedTuple

from django.utils import timezone
from pydantic import BaseModel

from versomark.core.scoring.averages import Average, weighted_average
from versomark.core.scoring.school_scale import SchoolScale
from versomark.school.classes.public import SchoolClass
from versomark.school.delivery.public import AFTER, Sitting

from .models import Category, InRecord, ManualTermGrade, RecordRules, Term
from .rules import rules_of, scale_in, terms_of

Word = Literal["", "absent", "excused", "missing", "waiting"]
"""What stands in place of a mark: “missing” for who had a seat and gave nothing."""
NO_CATEGORY = 0


class RecordCell(BaseModel):
    seat: int
    total: float | None
    of: float | None
    share: float | None
    said: str
    """On the school's scale; empty without one."""
    word: Word
    late: bool
    """Whether marks were taken off for it."""
    set: bool
    """Whether a teacher set the total."""


class TermCell(BaseModel):
    """Where a student stands in a term."""

    share: float | None
    said: str
    over: int
    """How many sittings it is over; 0 where a teacher set it."""
    carried: str
    """The term it was carried over from, since this one has nothing; empty else."""
    set: str
    """The reason, where a teacher set it."""


class ClassRules(NamedTuple):
    """What averages are made by."""

    sittings: Sequence[Sitting]
    places: Mapping[int, InRecord]
    in_term: Mapping[int, int | None]
    """sitting -> term"""
    weights: Mapping[int, float]
    rules: RecordRules
    scale: SchoolScale | None

    def said(self, share: float | None) -> str:
        return self.scale.word(share) if self.scale and share is not None else ""

    def average(self, cells: Iterable[tuple[Sitting, RecordCell | None]]) -> Average:
        """Over those that count, the baseline aside."""
        shares = []
        for sitting, cell in cells:
            own = self.places.get(sitting.pk)
            if cell is None or (own and (not own.counts or own.baseline)):
                continue
            zero = self.rules.missing_is_zero and cell.word == "missing"
            if cell.share is not None or zero:
                category = own.category_id if own and own.category_id else NO_CATEGORY
                shares.append((category, cell.share or 0.0))
        return weighted_average(shares, self.weights)


def sittings_over(school_class: SchoolClass) -> list[Sitting]:
    """Newest first."""
    return list(
        Sitting.objects.filter(school_class=school_class, state__in=AFTER)
        .select_related("edition", "edition__test", "school_class")
        .order_by("-opened_at", "-pk")
    )


def day_of(sitting: Sitting) -> date:
    return timezone.localdate(sitting.opened_at or sitting.made_at)


def class_rules_of(school_class: SchoolClass, sittings: Sequence[Sitting]) -> ClassRules:
    terms, rules = terms_of(school_class.owner), rules_of(school_class)
    in_term = {}
    for sitting in sittings:
        day = day_of(sitting)
        in_term[sitting.pk] = next((term.pk for term in terms if term.starts <= day <= term.ends), None)
    places = {in_record.sitting_id: in_record for in_record in InRecord.objects.filter(sitting__in=sittings)}
    weights = {category.pk: category.weight for category in Category.objects.filter(school_class=school_class)} | {
        NO_CATEGORY: rules.other_weight
    }
    used = {place.category_id or NO_CATEGORY for place in places.values()}
    if len(places) < len(sittings):
        used.add(NO_CATEGORY)
    # A category of which there is no sitting yet takes no weight away from anybody.
    weights = {category: weight for category, weight in weights.items() if category in used}
    return ClassRules(sittings, places, in_term, weights, rules, scale_in(rules))


def standings_in(
    student: int,
    both: Sequence[tuple[Sitting, RecordCell | None]],
    terms: Sequence[Term],
    class_rules: ClassRules,
    sets: Mapping[tuple[int, int], ManualTermGrade],
) -> list[TermCell]:
    """Term by term, oldest first."""
    standings: list[TermCell] = []
    latest: tuple[str, TermCell] | None = None
    for term in terms:
        own = class_rules.average(
            (sitting, cell) for sitting, cell in both if class_rules.in_term[sitting.pk] == term.pk
        )
        standing = _standing(own, sets.get((student, term.pk)), class_rules)
        if standing.share is not None:
            latest = (term.name, standing)
        elif latest is not None and term.starts <= timezone.localdate():
            # Carried over until there is something, but not into a term that has not begun.
            standing = latest[1].model_copy(update={"carried": latest[0], "set": "", "over": 0})
        standings.append(standing)
    return standings


def _standing(own: Average, term_set: ManualTermGrade | None, class_rules: ClassRules) -> TermCell:
    share = term_set.share if term_set else own.share
    return TermCell(
        share=share,
        said=class_rules.said(share),
        over=0 if term_set else own.over,
        carried="",
        set=term_set.reason if term_set else "",
    )
