"""Records of classes."""

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.school.classes.services import class_of
from versomark.school.http import json_out, teacher_of

from .class_record import ClassRecord, record_of

router = Router(tags=["records"])


@router.get("/classes/{int:class_id}/record", response=ClassRecord)
def class_record(request: HttpRequest, class_id: int) -> HttpResponse:
    """Every sitting of the class that is over, by student."""
    return json_out(record_of(class_of(teacher_of(request), class_id)))
