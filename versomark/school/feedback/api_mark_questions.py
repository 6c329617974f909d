"""Questions of students about their marks, as their teacher answers them."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Field, Router, Schema

from versomark.school.delivery.public import Sitting, sitting_of
from versomark.school.grading.public import open_window, window_of
from versomark.school.http import teacher_of

from .mark_questions import AskedLine, answer_asked, asked_lines

router = Router(tags=["questions about marks"])


class MarkQuestionLine(Schema):
    id: int
    seat: int
    student: str
    desk: int
    item: str
    label: str
    """Of the question, as the student's paper has it."""
    stem: str
    gave: str
    reason: str
    at: datetime
    then: float | None
    """What the answer had earned when its student asked."""
    now: float | None
    of: float | None
    by_hand: bool
    """Whether a person marks it, at the marking desk."""
    marker: str
    """Who gave the mark it was asked about."""
    state: str
    answer: str
    answered_by: str
    answered_at: datetime | None


class MarkQuestionsPage(Schema):
    title: str
    class_name: str
    until: datetime | None
    """Until when students may ask; None where they may not."""
    lines: list[MarkQuestionLine]
    """Those that wait first."""


class WindowBody(Schema):
    until: datetime | None


class MarkQuestionAnswer(Schema):
    answer: str = Field(max_length=1000)


def _line(line: AskedLine) -> MarkQuestionLine:
    question = line.question
    return MarkQuestionLine(
        id=question.pk,
        seat=question.seat_id,
        student=question.seat.student.short_name,
        desk=question.seat.desk,
        item=question.item,
        label=line.label,
        stem=line.stem,
        gave=line.gave,
        reason=question.reason,
        at=question.at,
        then=question.earned,
        now=line.now,
        of=line.of,
        by_hand=line.by_hand,
        marker=question.mark.by.name if question.mark else "",
        state=question.state,
        answer=question.answer,
        answered_by=question.answered_by.name if question.answered_by else "",
        answered_at=question.answered_at,
    )


def _page(sitting: Sitting) -> MarkQuestionsPage:
    return MarkQuestionsPage(
        title=sitting.edition.read().title,
        class_name=sitting.school_class.name,
        until=window_of(sitting),
        lines=[_line(line) for line in asked_lines(sitting)],
    )


@router.get("/sittings/{int:sitting_id}/marking/questions", response=MarkQuestionsPage)
def mark_questions(request: HttpRequest, sitting_id: int) -> MarkQuestionsPage:
    """What students asked about their marks."""
    return _page(sitting_of(teacher_of(request), sitting_id, "mark"))


@router.put("/sittings/{int:sitting_id}/marking/questions/window", response=MarkQuestionsPage)
def take_questions(request: HttpRequest, sitting_id: int, body: WindowBody) -> MarkQuestionsPage:
    """Let students ask until then, or no more."""
    sitting = sitting_of(teacher_of(request), sitting_id, "mark")
    open_window(teacher_of(request), sitting, body.until)
    return _page(sitting)


@router.put("/sittings/{int:sitting_id}/marking/questions/{int:question_id}", response=MarkQuestionsPage)
def answer_question(
    request: HttpRequest, sitting_id: int, question_id: int, body: MarkQuestionAnswer
) -> MarkQuestionsPage:
    """Say what came of it; the student reads it."""
    sitting = sitting_of(teacher_of(request), sitting_id, "mark")
    answer_asked(teacher_of(request), sitting, question_id, body.answer)
    return _page(sitting)
