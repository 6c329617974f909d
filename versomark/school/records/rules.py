"""What the averages of a record go by: terms, the school's scale, categories with weights, what stands in place of a
worked-out average."""

from collections.abc import Sequence
from datetime import date
from itertools import pairwise
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from versomark.core.language import _
from versomark.core.scoring.school_scale import BadScale, SchoolScale, scale_of
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass, Student, places_of
from versomark.school.delivery.public import Sitting
from versomark.school.errors import DomainError, NotFound

from .models import Category, InRecord, ManualTermGrade, RecordRules, Term

MOST_TERMS = 60
MOST_CATEGORIES = 20
MOST_STEPS = 20


class TermDates(NamedTuple):
    pk: int | None
    name: str
    starts: date
    ends: date


def terms_of(teacher: Teacher) -> list[Term]:
    return list(Term.objects.filter(owner=teacher))


@transaction.atomic
def keep_terms(teacher: Teacher, wanted: Sequence[TermDates]) -> list[Term]:
    """These and no others; those that stay keep what was set in them."""
    if len(wanted) > MOST_TERMS:
        raise DomainError(_("More than {most_terms} terms cannot be kept.", most_terms=MOST_TERMS), status=422)
    names = [_words(entry.name, _("A term needs a name.")) for entry in wanted]
    if len({name.casefold() for name in names}) < len(names):
        raise DomainError(_("Two terms have the same name."), status=422)
    for entry in wanted:
        if entry.ends < entry.starts:
            raise DomainError(_("{name} ends before it begins.", name=entry.name), status=422)
    in_order = sorted(wanted, key=lambda term_wanted: term_wanted.starts)
    for entry, after in pairwise(in_order):
        if after.starts <= entry.ends:
            raise DomainError(
                _(
                    "{name} and {name_2} overlap: a sitting can be in one term only.",
                    name=entry.name,
                    name_2=after.name,
                ),
                status=422,
            )
    terms = {term.pk: term for term in terms_of(teacher)}
    staying = [entry.pk for entry in wanted if entry.pk is not None]
    if not set(staying) <= set(terms) or len(set(staying)) < len(staying):
        raise NotFound(_("term"))
    for pk in set(terms) - set(staying):
        terms.pop(pk).delete()
    for term in terms.values():
        # Out of the way first: names may be exchanged.
        term.name = f"#{term.pk}"
        term.save(update_fields=["name"])
    for entry, name in zip(wanted, names, strict=True):
        dates = {"name": name, "starts": entry.starts, "ends": entry.ends}
        if entry.pk is None:
            Term.objects.create(owner=teacher, **dates)
        else:
            Term.objects.filter(pk=entry.pk).update(**dates)
    return terms_of(teacher)


def rules_of(school_class: SchoolClass) -> RecordRules:
    return RecordRules.objects.filter(school_class=school_class).first() or RecordRules(school_class=school_class)


def scale_in(rules: RecordRules) -> SchoolScale | None:
    return scale_of(rules.scale_name, rules.scale_steps) if rules.scale_name else None


class Ruled(NamedTuple):
    scale_name: str
    scale_steps: Sequence[tuple[float, str]]
    missing_is_zero: bool
    other_weight: float


@transaction.atomic
def keep_rules(classes: Sequence[SchoolClass], ruled: Ruled) -> None:
    """How the averages of these classes are made and said."""
    steps: list[tuple[float, str]] = []
    if ruled.scale_name:
        if len(ruled.scale_steps) > MOST_STEPS:
            raise DomainError(_("A scale has no more than {most_steps} steps.", most_steps=MOST_STEPS), status=422)
        try:
            steps = [(step.least, step.word) for step in scale_of(ruled.scale_name, ruled.scale_steps).steps]
        except BadScale as error:
            raise DomainError(str(error), status=422) from None
    for school_class in classes:
        RecordRules.objects.update_or_create(
            school_class=school_class, defaults={**ruled._asdict(), "scale_steps": steps}
        )


class CategoryKept(NamedTuple):
    pk: int | None
    name: str
    weight: float


@transaction.atomic
def keep_categories(school_class: SchoolClass, wanted: Sequence[CategoryKept]) -> None:
    """These and no others; sittings of one that goes are in none."""
    if len(wanted) > MOST_CATEGORIES:
        raise DomainError(
            _("More than {most_categories} categories cannot be kept.", most_categories=MOST_CATEGORIES), status=422
        )
    names = [_words(entry.name, _("A category needs a name.")) for entry in wanted]
    if len({name.casefold() for name in names}) < len(names):
        raise DomainError(_("Two categories have the same name."), status=422)
    categories = {category.pk: category for category in Category.objects.filter(school_class=school_class)}
    staying = [entry.pk for entry in wanted if entry.pk is not None]
    if not set(staying) <= set(categories) or len(set(staying)) < len(staying):
        raise NotFound(_("category"))
    Category.objects.filter(school_class=school_class).exclude(pk__in=staying).delete()
    for pk in filter(None, staying):
        Category.objects.filter(pk=pk).update(name=f"#{pk}")
    for category_wanted, name in zip(wanted, names, strict=True):
        if category_wanted.pk is None:
            Category.objects.create(school_class=school_class, name=name, weight=category_wanted.weight)
        else:
            Category.objects.filter(pk=category_wanted.pk).update(name=name, weight=category_wanted.weight)


@transaction.atomic
def place_sitting(sitting: Sitting, category: int | None, counts: bool, baseline: bool) -> None:
    if category is not None and not Category.objects.filter(school_class=sitting.school_class, pk=category).exists():
        raise NotFound(_("category"))
    if baseline:
        InRecord.objects.filter(sitting__school_class=sitting.school_class, baseline=True).update(baseline=False)
    InRecord.objects.update_or_create(
        sitting=sitting, defaults={"category_id": category, "counts": counts, "baseline": baseline}
    )


def _of_class(school_class: SchoolClass, term_id: int, student_id: int) -> tuple[Term, Student]:
    term = Term.objects.filter(pk=term_id, owner=school_class.owner).first()
    place = places_of(school_class).filter(student=student_id).first()
    if term is None or place is None:
        raise NotFound(_("term or student"))
    return term, place.student


@transaction.atomic
def set_standing(
    by: Teacher, school_class: SchoolClass, term_id: int, student_id: int, share: float, reason: str
) -> None:
    """What stands for a student in a term, whatever is worked out, until it is taken back."""
    term, student = _of_class(school_class, term_id, student_id)
    words = " ".join(reason.split())[:300]
    if not words:
        raise DomainError(_("Give the reason: it stays with the record."), status=422)
    take_standing_back(school_class, term_id, student_id)
    ManualTermGrade.objects.create(
        school_class=school_class, term=term, student=student, share=share, reason=words, by=by
    )


@transaction.atomic
def take_standing_back(school_class: SchoolClass, term_id: int, student_id: int) -> None:
    term, student = _of_class(school_class, term_id, student_id)
    term_sets = ManualTermGrade.objects.filter(
        school_class=school_class, term=term, student=student, taken_back_at=None
    )
    term_sets.update(taken_back_at=timezone.now())


def standing_sets(school_class: SchoolClass) -> dict[tuple[int, int], ManualTermGrade]:
    """(student, term) -> what was set and stands."""
    rows = (
        ManualTermGrade.objects.filter(school_class=school_class, taken_back_at=None)
        .select_related("by")
        .order_by("pk")
    )
    return {(row.student_id, row.term_id): row for row in rows}


def _words(text: str, problem: str) -> str:
    words = " ".join(text.split())[:40]
    if not words:
        raise DomainError(problem, status=422)
    return words
