"""What follows when a student is erased."""

from versomark.school.classes.public import Student

from .models import CalendarAddress


def forget_address(sender: object, student: Student, **signal: object) -> None:
    CalendarAddress.objects.filter(student=student).delete()
