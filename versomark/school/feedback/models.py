from django.db import models

from versomark.school.delivery.models import Sitting


class FeedbackSheet(models.Model):
    """What the personal feedback sheets of a sitting say beside each student's skills."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="feedback")
    intro = models.TextField(blank=True)
    closing = models.TextField(blank=True)
    marks = models.BooleanField(default=True)
    """Whether the total stands on it."""
    work = models.BooleanField(default=True)
    """Whether the pages on which a pen wrote stand on it."""
    follow_ups = models.JSONField(default=dict)
    """By skill, the id of the question to ask of those who are not secure; empty for none."""
    secure = models.PositiveSmallIntegerField(default=80)
    nearly = models.PositiveSmallIntegerField(default=50)
    """Percent of its marks from which a skill is so."""

    def __str__(self) -> str:
        return f"Feedback: {self.sitting}"
