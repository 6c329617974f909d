"""A sitting by skill, groups from it, and personal feedback sheets."""

import json
from base64 import b64encode
from itertools import chain
from typing import Literal

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from ninja import Router

from versomark.core.language import _
from versomark.school.classes.public import class_of
from versomark.school.classes.schemas import GroupMade, group_made
from versomark.school.delivery.public import Sitting, sitting_of
from versomark.school.errors import DomainError
from versomark.school.http import file_out, json_out, teacher_of

from . import services as feedback
from . import skills
from .feedback_sheets import Step, feedback_file, written
from .models import FeedbackSheet
from .schemas import BandGroup, FeedbackBody, FeedbackPage, FollowUpLine, QuestionChoice

router = Router(tags=["results"])


def _cuts(secure: int, nearly: int) -> skills.Cuts:
    if not 0 < nearly < secure <= 100:
        raise DomainError(_("A skill is nearly there from a share above 0, and secure from a larger one."), status=422)
    return secure / 100, nearly / 100


@router.get("/sittings/{int:sitting_id}/results/skills", response=skills.ClassBySkill)
def class_by_skill(request: HttpRequest, sitting_id: int, secure: int = 80, nearly: int = 50) -> HttpResponse:
    """Students by skills, the weakest skill first."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    return json_out(skills.class_by_skill(sitting, _cuts(secure, nearly)))


@router.post("/sittings/{int:sitting_id}/results/skills/groups", response=GroupMade)
def make_band_group(request: HttpRequest, sitting_id: int, body: BandGroup) -> GroupMade:
    """Those who stand in these bands of a skill, as a group of the class."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id)
    school_class = class_of(teacher, sitting.school_class_id, "own")
    group = skills.group_by_band(sitting, body.skill, body.bands, body.name, _cuts(body.secure, body.nearly))
    return group_made(school_class, group)


def _page(request: HttpRequest, sitting: Sitting) -> FeedbackPage:
    table, _made = skills.table_in(sitting)
    settings = feedback.settings_of(sitting)
    follow_ups = feedback.follow_ups(teacher_of(request), sitting, settings, skills.mastery_in(table).skills)
    return FeedbackPage(
        intro=settings.intro,
        closing=settings.closing,
        marks=settings.marks,
        work=settings.work,
        secure=settings.secure,
        nearly=settings.nearly,
        follow_ups={entry.skill: entry.chosen.pk if entry.chosen else None for entry in follow_ups},
        lines=[
            FollowUpLine(
                skill=entry.skill,
                chosen=entry.chosen.pk if entry.chosen else None,
                choices=[QuestionChoice(item=item.pk, stem=feedback.stem_of(item)) for item in entry.choices],
            )
            for entry in follow_ups
        ],
    )


@router.get("/sittings/{int:sitting_id}/results/feedback", response=FeedbackPage)
def feedback_page(request: HttpRequest, sitting_id: int) -> FeedbackPage:
    """What the sheets say, and the questions that could be asked again."""
    return _page(request, sitting_of(teacher_of(request), sitting_id))


@router.put("/sittings/{int:sitting_id}/results/feedback", response=FeedbackPage)
def keep_feedback(request: HttpRequest, sitting_id: int, body: FeedbackBody) -> FeedbackPage:
    sitting = sitting_of(teacher_of(request), sitting_id, "mark")
    chosen = {skill: str(item) if item else "" for skill, item in body.follow_ups.items()}
    parts = body.model_dump(exclude={"follow_ups"})
    feedback.keep_settings(teacher_of(request), sitting, FeedbackSheet(sitting=sitting, follow_ups=chosen, **parts))
    return _page(request, sitting)


@router.get("/sittings/{int:sitting_id}/results/feedback.pdf", response={200: None})
def feedback_pdf(request: HttpRequest, sitting_id: int, seat: int | None = None) -> HttpResponse:
    """The sheets of the class with a page for the teacher, or one student's."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id)
    return file_out(feedback_file(teacher, sitting, seat), "application/pdf", f"feedback-{sitting.pk}.pdf")


@router.get("/sittings/{int:sitting_id}/results/feedback/written/{document}", response={200: None})
def feedback_written(request: HttpRequest, sitting_id: int, document: Literal["pdf", "docx"]) -> StreamingHttpResponse:
    """The same, line by line as JSON: how many sheets of how many are written, and with the last line the file."""
    teacher = teacher_of(request)
    steps = written(teacher, sitting_of(teacher, sitting_id), form=document)
    # The first is taken here: what cannot be written is refused before anything is sent.
    return StreamingHttpResponse(map(_line, chain([next(steps)], steps)), content_type="application/x-ndjson")


def _line(step: Step) -> bytes:
    file = b64encode(step.file).decode() if step.file is not None else None
    return json.dumps({"done": step.done, "of": step.of, "file": file}).encode() + b"\n"
