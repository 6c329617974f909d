"""Other looks at the answers of a sitting, each as it is or as somebody wants to see it, and findings set aside."""

from django.http import HttpRequest, HttpResponse
from ninja import Field, Query, Router, Schema

from versomark.school.errors import DomainError
from versomark.school.http import Done, json_out, teacher_of
from versomark.school.sittings.services import sitting_of

from . import dismissing, time_on_items, views
from .analysis_filter import SHARES, AnalysisFilter, FilteredAnalysis, looked
from .other_sittings import OtherSittings, side_by_side

router = Router(tags=["findings"])
MOST_CUTS = 5


class AnalysisFilterQuery(Schema):
    """How the figures are looked at; as a query, so that an address shows the same again."""

    share: int = 27
    """Percent of the students in the upper and in the lower group."""
    without: str = Field("", max_length=8000)
    """Refs of questions, joined by commas."""
    out: str = Field("", max_length=20_000)
    """Seats, joined by commas."""
    also: str = Field("", max_length=400)
    """Other sittings of the edition, joined by commas."""

    def read(self) -> AnalysisFilter:
        if self.share not in SHARES:
            raise DomainError(f"Groups are of {', '.join(map(str, SHARES))} percent.", status=422)
        return AnalysisFilter(
            share=self.share,
            without=frozenset(entry for entry in self.without.split(",") if entry),
            out=frozenset(_numbers(self.out)),
            also=tuple(_numbers(self.also)),
        )


def _numbers(joined: str) -> list[int]:
    parts = [entry for entry in joined.split(",") if entry]
    if not all(part.isascii() and part.isdigit() and len(part) < 16 for part in parts):
        raise DomainError("That is no list of numbers.", status=422)
    return [int(part) for part in parts]


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
    asked = _numbers(cuts)
    if not 0 < len(asked) <= MOST_CUTS or not all(0 < entry <= 100 for entry in asked):
        raise DomainError("A cut is a share of the marks, from 1 to 100 percent.", status=422)
    return json_out(views.totals_of(looked_at(request, sitting_id, scope), [entry / 100 for entry in asked]))


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


class FindingNamed(Schema):
    ref: str = Field(max_length=36)
    flag: str = Field(max_length=40)
    options: list[str] = Field([], max_length=12)

    def key(self) -> tuple[str, str, str]:
        return self.ref, self.flag, ",".join(self.options)


class FindingDismissed(FindingNamed):
    note: str = Field(max_length=500)


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
