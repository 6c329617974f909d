"""Other looks at the answers of a sitting, each as it is or as somebody wants to see it, and findings set aside."""

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from versomark.school.delivery.public import sitting_of
from versomark.school.http import Done, json_out, teacher_of

from . import dismissing, time_on_items, views
from .analysis_filter import FilteredAnalysis, looked
from .other_sittings import OtherSittings, side_by_side
from .schemas import AnalysisFilterQuery, FindingDismissed, FindingNamed, shares_of

router = Router(tags=["findings"])


def looked_at(request: HttpRequest, sitting_id: int, scope: AnalysisFilterQuery) -> FilteredAnalysis:
    teacher = teacher_of(request)
    return looked(teacher, sitting_of(teacher, sitting_id), scope.read())


@router.get("/sittings/{int:sitting_id}/findings/table", response=views.StudentTable)
def student_table(request: HttpRequest, sitting_id: int, scope: Query[AnalysisFilterQuery]) -> HttpResponse:
    """Students by questions, best and easiest first, with how far each is from that order."""
    return json_out(views.table_of(looked_at(request, sitting_id, scope)))


@router.get("/sittings/{int:sitting_id}/findings/scale", response=views.ScalePage)
def scale(request: HttpRequest, sitting_id: int, scope: Query[AnalysisFilterQuery]) -> HttpResponse:
    """Students and questions on one scale, and who or what does not fit it."""
    return json_out(views.scale_of(looked_at(request, sitting_id, scope)))


@router.get("/sittings/{int:sitting_id}/findings/totals", response=views.TotalsPage)
def totals(
    request: HttpRequest, sitting_id: int, scope: Query[AnalysisFilterQuery], cuts: str = "50,80"
) -> HttpResponse:
    """How dependable the totals are, and how sure a decision at a cut is. Cuts in percent of the marks."""
    return json_out(views.totals_of(looked_at(request, sitting_id, scope), shares_of(cuts)))


@router.get("/sittings/{int:sitting_id}/findings/compared", response=views.GroupsPage)
def groups(request: HttpRequest, sitting_id: int, scope: Query[AnalysisFilterQuery], by: str = "") -> HttpResponse:
    """Two groups of those who sat it, question by question."""
    return json_out(views.groups_of(looked_at(request, sitting_id, scope), by))


@router.get("/sittings/{int:sitting_id}/findings/time", response=time_on_items.TimePage)
def time_on_the_questions(request: HttpRequest, sitting_id: int, scope: Query[AnalysisFilterQuery]) -> HttpResponse:
    """How long each question took."""
    return json_out(time_on_items.time_of(looked_at(request, sitting_id, scope)))


@router.get("/sittings/{int:sitting_id}/findings/other-sittings", response=OtherSittings)
def other_sittings(
    request: HttpRequest, sitting_id: int, against: int | None = None, one_key: bool = False
) -> HttpResponse:
    """The same test in other classes and years; with one key, scored by that of this sitting, for looking."""
    teacher = teacher_of(request)
    return json_out(side_by_side(teacher, sitting_of(teacher, sitting_id), against, one_key))


@router.post("/sittings/{int:sitting_id}/findings/dismissed", response=Done)
def dismiss(request: HttpRequest, sitting_id: int, body: FindingDismissed) -> Done:
    """Set a finding aside, with a note that stays with the question."""
    teacher = teacher_of(request)
    dismissing.dismiss(teacher, sitting_of(teacher, sitting_id, "run"), body.key(), body.note)
    return Done()


@router.post("/sittings/{int:sitting_id}/findings/taken-up", response=Done)
def take_up_again(request: HttpRequest, sitting_id: int, body: FindingNamed) -> Done:
    """A finding that was set aside is one again."""
    dismissing.take_up_again(sitting_of(teacher_of(request), sitting_id, "run"), body.key())
    return Done()
