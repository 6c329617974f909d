"""Letters that went out about a student, with their addresses."""

from versomark.school.classes.public import Student

from .models import Letter


def erase(sender: object, student: Student, **more: object) -> None:
    Letter.objects.filter(student=student).delete()
