"""Other looks at the answers of a sitting: the table of students and questions, and the scale."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.school.http import json_out, teacher_of
from versomark.school.sittings.services import sitting_of

from . import views

router = Router(tags=["findings"])


@router.get("/sittings/{int:sitting_id}/findings/table", response=views.StudentTable)
def student_table(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """Students by questions, best and easiest first, with how far each is from that order."""
    return json_out(views.table_of(sitting_of(teacher_of(request), sitting_id)))


@router.get("/sittings/{int:sitting_id}/findings/scale", response=views.ScalePage)
def scale(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """Students and questions on one scale, and who or what does not fit it."""
    return json_out(views.scale_of(sitting_of(teacher_of(request), sitting_id)))
