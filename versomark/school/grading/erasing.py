"""What markers said of a student's work goes with the name; the marks stay."""

from collections.abc import Sequence

from versomark.school.classes.public import Student

from .models import Mark, MarkQuestion, OverallComment, OwnComment, Remark


def erase(sender: object, student: Student, names: Sequence[str], **more: object) -> None:
    """Also out of the comments that a teacher keeps to use again, where one speaks of them by name."""
    for name in names:
        OwnComment.objects.filter(text__icontains=name).delete()
    Mark.objects.filter(seat__student=student).exclude(comment="").update(comment="")
    OverallComment.objects.filter(seat__student=student).delete()
    remarks = Remark.objects.filter(seat__student=student)
    # What a pen wrote can be a name too, and words without a text would be nothing.
    remarks.filter(place__kind__in=["stroke", "words"]).delete()
    remarks.exclude(text="").update(text="")
    MarkQuestion.objects.filter(seat__student=student).delete()
