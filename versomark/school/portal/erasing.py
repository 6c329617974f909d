"""Notices to a student."""

from versomark.school.classes.public import Student

from .models import Notice


def erase(sender: object, student: Student, **more: object) -> None:
    Notice.objects.filter(student=student).delete()
