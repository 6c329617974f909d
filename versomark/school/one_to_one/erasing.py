"""Notes of a talk with one student."""

from versomark.school.classes.public import Student

from .models import CardNote


def erase(sender: object, student: Student, **more: object) -> None:
    CardNote.objects.filter(seat__student=student).delete()
