"""Records of classes."""

from datetime import date

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.core.scoring.school_scale import USUAL
from versomark.school.classes.public import class_of, classes_of
from versomark.school.delivery.public import sitting_of
from versomark.school.http import Done, file_out, json_out, teacher_of

from . import manual_entries as typed
from . import rules
from .class_record import ClassRecord, ScaleStep, record_of
from .growth import Growth, growth_in
from .models import Term
from .not_tested import NotTestedPage, not_tested_in
from .oneroster import bundle_of
from .schemas import (
    CategoriesBody,
    NumbersBody,
    PlaceBody,
    RulesBody,
    StandingBody,
    TermBody,
    TermsBody,
    UsualScale,
)
from .side_by_side import SideBySide, side_by_side

router = Router(tags=["records"])


@router.get("/classes/{int:class_id}/record", response=ClassRecord)
def class_record(request: HttpRequest, class_id: int) -> HttpResponse:
    """Every sitting of the class that is over, by student, with its terms."""
    return json_out(record_of(class_of(teacher_of(request), class_id)))


@router.get("/records/side-by-side", response=SideBySide)
def classes_side_by_side(request: HttpRequest, classes: str = "", against: int | None = None) -> HttpResponse:
    """Classes (ids, joined by commas; all of now where none is named) in every term, put against one of them."""
    chosen = [int(entry) for entry in classes.split(",") if entry.isascii() and entry.isdigit() and len(entry) < 16]
    return json_out(side_by_side(teacher_of(request), chosen, against))


@router.get("/classes/{int:class_id}/growth", response=Growth)
def growth(request: HttpRequest, class_id: int, before: int | None = None, after: int | None = None) -> HttpResponse:
    """From one sitting to another."""
    return json_out(growth_in(record_of(class_of(teacher_of(request), class_id)), before, after))


@router.get("/classes/{int:class_id}/not-tested", response=NotTestedPage)
def not_tested(request: HttpRequest, class_id: int, starts: date, ends: date) -> HttpResponse:
    """Who has no total in a window of days, and what they missed."""
    return json_out(not_tested_in(record_of(class_of(teacher_of(request), class_id)), starts, ends))


@router.get("/classes/{int:class_id}/record/oneroster.zip")
def oneroster(request: HttpRequest, class_id: int) -> HttpResponse:
    """The class with its line items and results, as a OneRoster bundle."""
    return file_out(bundle_of(class_of(teacher_of(request), class_id)), "application/zip", f"record-{class_id}.zip")


@router.get("/terms", response=list[TermBody])
def terms(request: HttpRequest) -> list[TermBody]:
    """The teacher's marking periods."""
    return [_term(term) for term in rules.terms_of(teacher_of(request))]


@router.put("/terms", response=list[TermBody])
def keep_terms(request: HttpRequest, body: TermsBody) -> list[TermBody]:
    """These terms and no others."""
    wanted = [rules.TermDates(term.id, term.name, term.starts, term.ends) for term in body.terms]
    return [_term(term) for term in rules.keep_terms(teacher_of(request), wanted)]


def _term(term: Term) -> TermBody:
    return TermBody(id=term.pk, name=term.name, starts=term.starts, ends=term.ends)


@router.get("/usual-scales", response=list[UsualScale])
def usual_scales(request: HttpRequest) -> list[UsualScale]:
    """Scales to begin with."""
    return [
        UsualScale(name=entry.name, steps=[ScaleStep(least=step.least, word=step.word) for step in entry.steps])
        for entry in USUAL
    ]


@router.put("/classes/{int:class_id}/record/rules", response=Done)
def keep_rules(request: HttpRequest, class_id: int, body: RulesBody) -> Done:
    """How the averages are made and said."""
    teacher = teacher_of(request)
    here = class_of(teacher, class_id, "run")
    ruled = rules.Ruled(
        body.scale_name.strip(),
        [(scale_step.least, scale_step.word) for scale_step in body.scale_steps],
        body.missing_is_zero,
        body.other_weight,
    )
    classes = (
        [school_class for school_class in classes_of(teacher) if school_class.owner_id == teacher.pk]
        if body.everywhere
        else []
    )
    rules.keep_rules([here, *(school_class for school_class in classes if school_class.pk != here.pk)], ruled)
    return Done()


@router.put("/classes/{int:class_id}/record/categories", response=Done)
def keep_categories(request: HttpRequest, class_id: int, body: CategoriesBody) -> Done:
    """These categories and no others."""
    wanted = [rules.CategoryKept(category.id, category.name, category.weight) for category in body.categories]
    rules.keep_categories(class_of(teacher_of(request), class_id, "run"), wanted)
    return Done()


@router.put("/sittings/{int:sitting_id}/record", response=Done)
def place_sitting(request: HttpRequest, sitting_id: int, body: PlaceBody) -> Done:
    """What a sitting is in the record of its class."""
    rules.place_sitting(sitting_of(teacher_of(request), sitting_id, "run"), **body.dict())
    return Done()


@router.put("/classes/{int:class_id}/record/terms/{int:term_id}/{int:student_id}", response=Done)
def set_standing(request: HttpRequest, class_id: int, term_id: int, student_id: int, body: StandingBody) -> Done:
    """What stands for a student in a term, set by hand."""
    teacher = teacher_of(request)
    school_class = class_of(teacher, class_id, "run")
    rules.set_standing(teacher, school_class, term_id, student_id, body.share, body.reason)
    return Done()


@router.delete("/classes/{int:class_id}/record/terms/{int:term_id}/{int:student_id}", response=Done)
def take_standing_back(request: HttpRequest, class_id: int, term_id: int, student_id: int) -> Done:
    """Worked out again."""
    rules.take_standing_back(class_of(teacher_of(request), class_id, "run"), term_id, student_id)
    return Done()


@router.put("/classes/{int:class_id}/record/numbers", response=Done)
def keep_numbers(request: HttpRequest, class_id: int, body: NumbersBody) -> Done:
    """Numbers typed along the grid: all of them or none; a number that is null is worked out again."""
    teacher = teacher_of(request)
    school_class = class_of(teacher, class_id, "run" if body.standings else "mark")
    if body.standings and (body.totals or body.away):
        class_of(teacher, class_id, "mark")
    wanted = typed.ManualEntries(
        body.reason,
        [typed.TypedTotal(total.seat, total.total) for total in body.totals],
        [typed.TypedStanding(standing.student, standing.term, standing.share) for standing in body.standings],
        [typed.TypedAway(entry.seat, entry.how) for entry in body.away],
    )
    typed.keep_typed(teacher, school_class, wanted)
    return Done()
