"""The table, the results, groups and letters of a placement."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.core.giving.placement import Band, PlacementTable
from versomark.core.language import _
from versomark.school.delivery.public import Sitting, sitting_of
from versomark.school.editions.public import edition_of
from versomark.school.errors import NotFound
from versomark.school.http import file_out, teacher_of

from . import services
from .models import Placement
from .schemas import BandLine, BandsBody, GroupsMade, PlacedLine, PlacementPage

router = Router(tags=["placement"])


def _page(sitting: Sitting) -> PlacementPage:
    placement = Placement.objects.filter(sitting=sitting).first()
    table = placement.read() if placement else PlacementTable(bands=(Band(least=0, recommends="all"),))
    results = services.results_of(sitting, table)
    goes_on = {part.band: part.edition_id for part in placement.second_parts.all()} if placement else {}
    bands = table.bands if placement else ()
    return PlacementPage(
        sitting=sitting.pk,
        title=sitting.edition.read().title,
        class_id=sitting.school_class_id,
        class_name=sitting.school_class.name,
        bands=[BandLine(**band.model_dump(), goes_on=goes_on.get(at)) for at, band in enumerate(bands)],
        of=results.of,
        waiting=results.waiting,
        all_by_key=services.all_by_key(sitting),
        placed=[
            PlacedLine(
                seat=entry.seat.pk,
                desk=entry.seat.desk,
                name=entry.seat.student.short_name,
                total=entry.total,
                band=entry.band,
            )
            for entry in results.placed
        ],
        not_in=sitting.seats.count() - len(results.placed),
    )


def _placement(request: HttpRequest, sitting_id: int) -> Placement:
    sitting = sitting_of(teacher_of(request), sitting_id)
    placement = Placement.objects.filter(sitting=sitting).select_related("sitting__owner__school").first()
    if placement is None:
        raise NotFound(_("placement table"))
    return placement


@router.get("/sittings/{int:sitting_id}/placement", response=PlacementPage)
def placement(request: HttpRequest, sitting_id: int) -> PlacementPage:
    return _page(sitting_of(teacher_of(request), sitting_id))


@router.put("/sittings/{int:sitting_id}/placement", response=PlacementPage)
def set_table(request: HttpRequest, sitting_id: int, body: BandsBody) -> PlacementPage:
    """The table can be changed at any time; results follow."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "run")
    bands = sorted(body.bands, key=lambda band: band.least)
    try:
        table = PlacementTable(bands=tuple(Band(**band.model_dump(exclude={"goes_on"})) for band in bands))
    except ValueError as error:
        raise services.refused(error) from None
    goes_on = {at: edition_of(teacher, band.goes_on) for at, band in enumerate(bands) if band.goes_on is not None}
    services.set_table(sitting, table, goes_on)
    return _page(sitting)


@router.post("/sittings/{int:sitting_id}/placement/groups", response=GroupsMade)
def make_groups(request: HttpRequest, sitting_id: int) -> GroupsMade:
    """Each band as a group of the class."""
    sitting_of(teacher_of(request), sitting_id, "run")
    groups = services.make_groups(_placement(request, sitting_id))
    return GroupsMade(groups=[group.name for group in groups])


@router.get("/sittings/{int:sitting_id}/placement/letters.pdf", response={200: None})
def letters(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """A letter a student, to print or send."""
    result = _placement(request, sitting_id)
    return file_out(services.letters_pdf(result), "application/pdf", f"letters-{result.sitting_id}.pdf")
