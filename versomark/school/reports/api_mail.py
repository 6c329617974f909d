"""Reports by mail, with what would go to whom shown first."""

from django.http import HttpRequest
from ninja import Router

from versomark.school.delivery.public import sitting_of
from versomark.school.http import teacher_of

from . import mail
from .models import Letter
from .schemas import LetterLine, MailBody, MailPreview, MailTo

router = Router(tags=["reports"])


@router.post("/sittings/{int:sitting_id}/mail/preview", response=MailPreview)
def preview(request: HttpRequest, sitting_id: int, body: MailBody) -> MailPreview:
    """What would go to whom; nothing is sent."""
    teacher = teacher_of(request)
    sitting, wanted = sitting_of(teacher, sitting_id, "run"), body.read()
    result = mail.addressed(teacher, sitting, wanted)
    lines = [MailTo(student=entry.student.pk, name=entry.student.short_name, address=entry.address) for entry in result]
    first = next((entry.student for entry in result if entry.address), result[0].student if result else None)
    return MailPreview(
        letters=[line for line in lines if line.address],
        without=[line for line in lines if not line.address],
        subject=mail.filled(wanted.subject, first, sitting) if first else "",
        body=f"{mail.filled(wanted.body, first, sitting).rstrip()}\n\n{teacher.name}" if first else "",
        asked_subject=wanted.subject,
        asked_body=wanted.body,
    )


@router.post("/sittings/{int:sitting_id}/mail", response=list[LetterLine])
def send(request: HttpRequest, sitting_id: int, body: MailBody) -> list[LetterLine]:
    """Put them in the post."""
    teacher = teacher_of(request)
    mail.send(teacher, sitting_of(teacher, sitting_id, "run"), body.read())
    return letters(request, sitting_id)


@router.get("/sittings/{int:sitting_id}/mail", response=list[LetterLine])
def letters(request: HttpRequest, sitting_id: int) -> list[LetterLine]:
    """What was sent, and what could not be."""
    sitting = sitting_of(teacher_of(request), sitting_id)
    rows = Letter.objects.filter(sitting=sitting).select_related("student").order_by("-pk")[:400]
    return [
        LetterLine(
            name=row.student.short_name,
            to=row.to,
            address=row.address,
            carries=row.carries,
            state=row.state,
            problem=row.problem,
        )
        for row in rows
    ]
