from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.classes.models import Student
from versomark.school.delivery.models import Sitting


class Letter(models.Model):
    """A report on its way to somebody by mail. What it carries is made when it is sent."""

    class State(models.TextChoices):
        WAITING = "waiting"
        SENT = "sent"
        FAILED = "failed"

    by = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="letters")
    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="letters")
    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="letters")
    carries = models.CharField(max_length=10)
    """`feedback`, the feedback sheet of the sitting; `report`, everything about the student."""
    to = models.CharField(max_length=10)
    """`student`, `guardian` or `self`."""
    address = models.EmailField()
    subject = models.CharField(max_length=200)
    body = models.TextField()
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    tries = models.PositiveSmallIntegerField(default=0)
    problem = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.subject} to {self.address}: {self.state}"


class SavedView(models.Model):
    """A page as somebody wants to see it again: sorted, filtered, with the columns chosen. All of that is in its
    address."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="kept_views")
    name = models.CharField(max_length=60)
    address = models.CharField(max_length=2000)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="kept_view_named_once")]

    def __str__(self) -> str:
        return self.name
