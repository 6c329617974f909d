"""The periods of a school's day, and the secret addresses under which calendars read what is planned."""

from secrets import token_urlsafe

from django.db import models

from versomark.school.accounts.models import School, Teacher
from versomark.school.classes.models import Student


def new_token() -> str:
    return token_urlsafe(24)


class Period(models.Model):
    """A lesson by the clock, the same on every day: what a teacher calls “period 3”."""

    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="periods")
    name = models.CharField(max_length=40)
    starts = models.TimeField()
    ends = models.TimeField()

    class Meta:
        ordering = ["starts", "name"]
        constraints = [models.UniqueConstraint(fields=["school", "name"], name="period_named_once")]

    def __str__(self) -> str:
        return self.name


class CalendarAddress(models.Model):
    """Of one teacher or one student. Who knows it reads when what is sat, and nothing else; a new one ends the old."""

    token = models.CharField(max_length=40, unique=True, default=new_token)
    teacher = models.OneToOneField(Teacher, null=True, on_delete=models.CASCADE, related_name="calendar_address")
    student = models.OneToOneField(Student, null=True, on_delete=models.CASCADE, related_name="calendar_address")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(teacher__isnull=False, student__isnull=True)
                | models.Q(teacher__isnull=True, student__isnull=False),
                name="calendar_of_one_person",
            )
        ]

    def __str__(self) -> str:
        return f"calendar of {self.teacher or self.student}"
