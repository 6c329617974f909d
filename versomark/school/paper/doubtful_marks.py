"""Places on sheets that the reader would not guess: what they are, settling them, taking it back."""

from collections.abc import Sequence
from typing import Any, Literal
from uuid import UUID

from django.db import transaction
from django.db.models import Case, F, Prefetch, Q, QuerySet, Value, When
from django.utils import timezone

from versomark.core.items import EditionContent
from versomark.core.items.by_rubric import ByRubric
from versomark.core.language import N_, _
from versomark.core.sheets.marks import PageRegion, Plan
from versomark.core.sheets.of_edition import response_from
from versomark.core.sheets.sheet_map import Box
from versomark.core.sheets.spec import NUMBER
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat, Sitting, sitting_of, sittings_of
from versomark.school.errors import DomainError, NotFound

from .models import Page, Reading, ReviewDecision, ScanState, Sheet
from .outcome import ASKED, CLEAR, apply, contents_of, counting_beside
from .scanning import keep_page, read_as

BY_HAND = "by hand"
TYPED_IN = ("no marks", "not in place")
"""Problems of a page whose sheet is known and whose circles are not found."""
Act = Literal["use", "aside", "seat", "type"]


def may_see(teacher: Teacher) -> Q:
    """Pages of sittings the teacher has a part in; pages of no sitting belong to who scanned them."""
    return Q(sheet__batch__sitting__in=sittings_of(teacher).values("pk")) | Q(sheet=None, scan__owner=teacher)


def page_of(teacher: Teacher, page_id: UUID) -> Page:
    page = (
        Page.objects.filter(may_see(teacher), pk=page_id)
        .select_related("scan", "sheet__batch__sitting__edition", "seat__student")
        .first()
    )
    if page is None:
        raise NotFound(_("page"))
    return page


def reading_of(teacher: Teacher, reading_id: int) -> Reading:
    reading = Reading.objects.select_related("page").filter(pk=reading_id).first()
    if reading is None:
        raise NotFound(_("place on a sheet"))
    reading.page = page_of(teacher, reading.page_id)
    return reading


def _unsettled() -> QuerySet[Reading]:
    """Doubtful places of pages that count, about which nobody has said anything that stands."""
    settled = ReviewDecision.objects.filter(taken_back_at=None, reading__isnull=False).values("reading")
    counting = Reading.objects.filter(page__aside=False, page__problem="", page__scan__state=ScanState.READ)
    return counting.exclude(state__in=CLEAR).exclude(pk__in=settled)


def open_readings(teacher: Teacher, sitting: Sitting | None = None) -> QuerySet[Reading]:
    """Doubtful places that nobody has settled, sheet by sheet."""
    result = _unsettled()
    if sitting is not None:
        result = result.filter(page__sheet__batch__sitting=sitting)
    else:
        result = result.filter(page__sheet__batch__sitting__in=sittings_of(teacher).values("pk"))
    # Doubtful circles sheet by sheet; then what is to be typed, question by question, since that goes quicker.
    typed = Case(When(state=BY_HAND, then=F("item")), default=Value(""))
    return (
        result.select_related("page__scan", "page__sheet__batch__sitting__edition", "page__seat__student")
        .annotate(typed=typed)
        .order_by("page__sheet__batch__sitting", "typed", "page__seat__desk", "page__sheet_page", "pk")
    )


def open_pages(teacher: Teacher, sitting: Sitting | None = None) -> QuerySet[Page]:
    """Whole pages that a person has to say something about, those first that belong to a known sheet."""
    pages = Page.objects.filter(problem__in=ASKED, aside=False, scan__state=ScanState.READ)
    if sitting is not None:
        # A page whose sheet is unknown may be of any sitting, so it is asked about in each.
        pages = pages.filter(Q(sheet__batch__sitting=sitting) | Q(sheet=None, scan__owner=teacher))
    else:
        pages = pages.filter(may_see(teacher))
    return pages.select_related("scan", "sheet__batch__sitting__edition", "seat__student").order_by("read_at")


def waiting_in(sittings: Sequence[int]) -> dict[int, int]:
    """How many places wait in each sitting, by id."""
    rows = (
        _unsettled()
        .filter(page__sheet__batch__sitting__in=sittings)
        .values_list("page__sheet__batch__sitting", flat=True)
    )
    pages = Page.objects.filter(
        problem__in=ASKED, aside=False, scan__state=ScanState.READ, sheet__batch__sitting__in=sittings
    ).values_list("sheet__batch__sitting", flat=True)
    result: dict[int, int] = {}
    for sitting in (*rows, *pages):
        result[sitting] = result.get(sitting, 0) + 1
    return result


def content_of(reading: Reading) -> EditionContent | None:
    assert reading.page.sheet is not None
    return contents_of(reading.page.sheet.batch.sitting, reading.page.form).get(reading.item)


@transaction.atomic
def settle(teacher: Teacher, reading: Reading, answer: str) -> ReviewDecision:
    """A person says what a place on a sheet means; empty for nothing. Any place may be corrected so, at any time."""
    sheet = _sheet_for_change(teacher, reading.page)
    content = content_of(reading)
    answer = answer.strip()
    if reading.item == NUMBER:
        return settle_page(teacher, reading.page, "seat", seat=_seat_with_number(sheet, answer))
    if content is not None and not isinstance(content, ByRubric):
        try:
            response_from(content, answer)
        except ValueError as error:
            raise DomainError(str(error), status=422) from None
    elif content is not None:
        points_of(content, answer)
    settling = ReviewDecision.objects.create(reading=reading, answer=answer, by=teacher)
    if reading.page.seat_id:
        apply({reading.page.seat_id})
    return settling


def points_of(content: ByRubric, answer: str) -> dict[str, float]:
    """criterion id -> points, of circles such as "id:3+id:½". NotPossible for points the rubric does not have."""
    found: dict[str, float] = {}
    for part in filter(None, answer.split("+")):
        criterion, _sign, points = part.rpartition(":")
        try:
            value = 0.5 if points == "½" else float(points)
        except ValueError:
            raise DomainError(_("“{part}” is not a number of points.", part=part), status=422) from None
        found[criterion] = found.get(criterion, 0.0) + value
    problems = content.rubric.refuses(found)
    if problems:
        raise DomainError(problems[0], status=422)
    return found


@transaction.atomic
def settle_page(
    teacher: Teacher, page: Page, act: Act, seat: Seat | None = None, sheet_page: int = 1
) -> ReviewDecision:
    """A person says what becomes of a page: it counts, it is laid aside, or it is somebody's."""
    if page.sheet is not None:
        _sheet_for_change(teacher, page)
    before = _standing(page)
    seats = {page.seat_id}
    if act == "aside":
        page.aside = True
        page.save(update_fields=["aside"])
    elif act == "use":
        seats |= _use(page)
    elif act == "type":
        _type_in(page)
    else:
        if seat is None:
            raise DomainError(_("Say whose sheet this is."), status=422)
        _give(teacher, page, seat, sheet_page)
        seats |= {seat.pk}
    settling = ReviewDecision.objects.create(page=page, act=act, seat=seat, before=before, by=teacher)
    apply({seat for seat in seats if seat})
    return settling


def _use(page: Page) -> set[int | None]:
    """Let a page count in place of what counted before it."""
    if page.sheet is None or page.problem not in ("again", "answered", ""):
        raise DomainError(_("This page cannot be read, so it cannot be used."))
    others = counting_beside(page)
    others.update(aside=True)
    page.problem, page.aside = "", False
    page.save(update_fields=["problem", "aside"])
    return {page.seat_id}


TO_TYPE = N_("its circles cannot be found: say what is filled")


def _type_in(page: Page) -> None:
    """Let every place of a page be said by a person, where its code is known and its circles cannot be found."""
    if page.sheet is None or page.problem not in TYPED_IN:
        raise DomainError(_("Which sheet this page is has to be known before it can be typed in."))
    sheet_map = page.sheet.batch.read_map()
    printed = sheet_map.by_code.get((page.sheet.name, page.sheet_page))
    if printed is None:
        raise NotFound(_("page"))
    contents = contents_of(page.sheet.batch.sitting, printed.form)
    if not page.readings.exists():
        places = Plan(sheet_map, printed).places | {box.item: PageRegion(**_measures(box)) for box in printed.boxes}
        # Down the left column first, as the page is read.
        down_the_page = sorted(places.items(), key=lambda place: (round(place[1].x_mm / 20), place[1].y_mm))
        Reading.objects.bulk_create(
            Reading(page=page, item=item, answer="", state="to type", confidence=0.0, note=_(TO_TYPE), **vars(place))
            for item, place in down_the_page
            if item in contents and not isinstance(contents[item], ByRubric)
        )
    # What was written at length is marked from the whole picture, since nobody knows where on it the box is.
    whole = {"x_mm": 0.0, "y_mm": 0.0, "w_mm": sheet_map.width_mm, "h_mm": sheet_map.height_mm}
    page.boxes = [{"item": box.item, **whole} for box in printed.boxes if isinstance(contents.get(box.item), ByRubric)]
    page.form = printed.form
    page.problem, page.aside = ("" if page.seat_id else "which student"), False
    page.save(update_fields=["boxes", "form", "problem", "aside"])
    if page.seat_id and counting_beside(page).exists():
        page.problem = "again"
        page.save(update_fields=["problem"])


def _measures(box: Box) -> dict[str, float]:
    return {"x_mm": box.x_mm, "y_mm": box.y_mm, "w_mm": box.w_mm, "h_mm": box.h_mm}


def _give(teacher: Teacher, page: Page, seat: Seat, sheet_page: int) -> None:
    """Make a page a student's: a spare sheet whose number is unclear, or one whose code cannot be read."""
    if page.sheet is None:
        sheet = Sheet.objects.select_related("batch__sitting", "seat").filter(seat=seat).order_by("-pk").first()
        if sheet is None:
            raise DomainError(
                _("No sheet was printed for {short_name}.", short_name=seat.student.short_name), status=422
            )
        if sheet_page > sheet.pages:
            raise DomainError(_("That sheet has {pages} pages.", pages=sheet.pages), status=422)
        sitting_of(teacher, sheet.batch.sitting_id, "run")
        read = read_as(page, sheet, sheet_page)
        if read.problem:
            raise DomainError(_("The circles are not where that sheet has them, so it is another one."), status=422)
        keep_page(page, read, {sheet.batch.code})
    elif seat.sitting_id != page.sheet.batch.sitting_id:
        raise NotFound(_("seat"))
    page.seat, page.problem, page.aside = seat, "", False
    page.save(update_fields=["seat", "problem", "aside"])
    # Whose it is says more than a number that was not clear.
    for reading in page.readings.filter(item=NUMBER).exclude(state__in=CLEAR):
        ReviewDecision.objects.create(reading=reading, answer=str(seat.desk), by=teacher)
    if counting_beside(page).exists():
        page.problem = "again"
        page.save(update_fields=["problem"])


@transaction.atomic
def take_back(teacher: Teacher, settling_id: int) -> ReviewDecision:
    """Undo what was said; the place, or the page, is as it was before."""
    settling = (
        ReviewDecision.objects.filter(pk=settling_id, taken_back_at=None).select_related("reading", "page").first()
    )
    if settling is None:
        raise NotFound(_("settled place"))
    page = page_of(teacher, settling.reading.page_id if settling.reading else settling.page_id)  # type: ignore[arg-type]
    if page.sheet is not None:
        _sheet_for_change(teacher, page)
    settling.taken_back_at = timezone.now()
    settling.save(update_fields=["taken_back_at"])
    seats = {page.seat_id}
    if settling.page_id and settling.before:
        later = page.settlings.filter(taken_back_at=None, pk__gt=settling.pk)
        if later.exists():
            raise DomainError(_("Something was said about this page after that; take that back first."))
        _put_back(page, settling.before)
        seats |= {page.seat_id}
    apply({seat for seat in seats if seat})
    return settling


def differing(page: Page) -> list[str]:
    """The items, in the order of the page, in which it says something else than the page that counted before it."""
    counted = counting_beside(page).prefetch_related("readings").first()
    if counted is None:
        return []
    before = {reading.item: (reading.answer, reading.state) for reading in counted.readings.all()}
    return [
        reading.item
        for reading in page.readings.order_by("y_mm", "x_mm")
        if (reading.answer, reading.state) != before.get(reading.item)
    ]


def _standing(page: Page) -> dict[str, Any]:
    """What a page is before somebody says something about it, with the pages it may push aside."""
    others = [str(pk) for pk in counting_beside(page).values_list("pk", flat=True)] if page.sheet else []
    return {
        "problem": page.problem,
        "aside": page.aside,
        "seat": page.seat_id,
        "sheet": page.sheet_id,
        "sheet_page": page.sheet_page,
        "others": others,
    }


def _put_back(page: Page, before: dict[str, Any]) -> None:
    page.problem, page.aside = before["problem"], before["aside"]
    page.seat_id, page.sheet_id, page.sheet_page = before["seat"], before["sheet"], before["sheet_page"]
    page.save(update_fields=["problem", "aside", "seat", "sheet", "sheet_page"])
    Page.objects.filter(pk__in=before["others"]).update(aside=False)
    ReviewDecision.objects.filter(reading__page=page, reading__item=NUMBER, taken_back_at=None).update(
        taken_back_at=timezone.now()
    )


def _seat_with_number(sheet: Sheet, number: str) -> Seat:
    seat = sheet.batch.sitting.seats.filter(desk=int(number)).first() if number.isdecimal() else None
    if seat is None:
        raise DomainError(
            _("Nobody in {name} has the number {number}.", name=sheet.batch.sitting.school_class.name, number=number),
            status=422,
        )
    return seat


def _sheet_for_change(teacher: Teacher, page: Page) -> Sheet:
    """The sheet of a page, for a teacher who may change its sitting; NotPossible, in words, for one who may not."""
    assert page.sheet is not None
    sitting_of(teacher, page.sheet.batch.sitting_id, "run")
    return page.sheet


def with_settlings(pages: QuerySet[Page]) -> QuerySet[Page]:
    """With their readings, and who said what of them."""
    settlings = ReviewDecision.objects.select_related("by").order_by("pk")
    readings = Reading.objects.prefetch_related(Prefetch("settlings", settlings))
    return pages.prefetch_related(Prefetch("readings", readings), Prefetch("settlings", settlings))
