from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.delivery.models import Sitting


class RubricRevision(models.Model):
    """Levels of a rubric that were split, merged or reworded while a sitting was marked. Taken back, never deleted; the
    last one that is not taken back holds. Criteria and what they are worth stay, and with them every mark."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="rubric_revisions")
    item = models.CharField(max_length=36)
    levels = models.JSONField()
    """By criterion, all of its levels: the JSON of `core.items.rubric.Level`."""
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["sitting", "item"])]

    def __str__(self) -> str:
        return f"{self.sitting}, {self.item}: {self.reason}"


class MarkQuestion(models.Model):
    """That a student asks to have a mark looked at once more, and what came of it. Asked once for each answer."""

    class State(models.TextChoices):
        OPEN = "open"
        KEPT = "kept"
        """Looked at, and the mark stays."""
        CHANGED = "changed"
        WITHDRAWN = "withdrawn"
        """By its student, before anybody had answered."""

    seat = models.ForeignKey("delivery.Seat", on_delete=models.CASCADE, related_name="mark_questions")
    item = models.CharField(max_length=36)
    reason = models.TextField(max_length=1000)
    at = models.DateTimeField(auto_now_add=True)
    mark = models.ForeignKey("grading.Mark", null=True, on_delete=models.SET_NULL, related_name="+")
    """The one that stood when they asked; null for a question with a key."""
    earned = models.FloatField(null=True)
    """What the answer had earned then."""
    state = models.CharField(max_length=9, choices=State, default=State.OPEN)
    answer = models.TextField(blank=True, max_length=1000)
    earned_then = models.FloatField(null=True)
    """What it earned when it was answered."""
    answered_by = models.ForeignKey(Teacher, null=True, on_delete=models.PROTECT, related_name="+")
    answered_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["seat", "item"], condition=models.Q(state="open"), name="one_open_question_of_a_mark"
            )
        ]

    def __str__(self) -> str:
        return f"{self.seat}, {self.item}: {self.state}"


class QuestionWindow(models.Model):
    """Until when students of a sitting may ask to have a mark looked at once more."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="question_window")
    until = models.DateTimeField()
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"{self.sitting}, until {self.until:%Y-%m-%d %H:%M}"
