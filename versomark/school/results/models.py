from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.sittings.models import Seat, Sitting


class Lateness(models.Model):
    """What handing in late costs in a sitting: the fields of `core.scoring.LateRule`."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="lateness")
    due = models.DateTimeField()
    grace_minutes = models.PositiveIntegerField(default=0)
    per_day = models.FloatField()
    most = models.FloatField(default=100)

    def __str__(self) -> str:
        return f"{self.per_day:g}% of the marks a day"


class ManualTotal(models.Model):
    """A total that a teacher set in place of what was worked out, with the reason. Taken back, never deleted; the last
    one that is not taken back stands."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="totals_set")
    total = models.FloatField()
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.total:g}: {self.reason}"


class Release(models.Model):
    """That students may see their results, and how much of them. Taken back, never deleted; of those that hold for a
    student the last one says how much."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="releases")
    seat = models.ForeignKey(Seat, null=True, on_delete=models.CASCADE, related_name="releases")
    """Null for all of the sitting."""
    marks = models.BooleanField(default=True)
    """With marks, rather than in words only."""
    answers = models.BooleanField(default=False)
    """With the right answers, and why they are right."""
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.sitting}: {'all' if self.seat is None else self.seat}"


class FeedbackSheet(models.Model):
    """What the personal feedback sheets of a sitting say beside each student's skills."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="feedback")
    intro = models.TextField(blank=True)
    closing = models.TextField(blank=True)
    marks = models.BooleanField(default=True)
    """Whether the total stands on it."""
    follow_ups = models.JSONField(default=dict)
    """By skill, the id of the question to ask of those who are not secure; empty for none."""
    secure = models.PositiveSmallIntegerField(default=80)
    nearly = models.PositiveSmallIntegerField(default=50)
    """Percent of its marks from which a skill is so."""

    def __str__(self) -> str:
        return f"Feedback: {self.sitting}"
