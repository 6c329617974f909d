from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.delivery.models import Sitting


class CachedAnalysis(models.Model):
    """An analysis kept under a hash of all it was computed from. Never edited: other input has another hash."""

    fingerprint = models.CharField(max_length=64, primary_key=True)
    body = models.JSONField()
    totals = models.JSONField(default=dict)
    """{"of": full marks, "waiting": answers without a mark, "totals": {seat: marks}, "flags": [urgent
    ones]}: what a page of many sittings reads without the body."""
    ideas = models.JSONField(default=list)
    """Its ideas of students without who holds them: what the sittings before and after it want to know."""
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.fingerprint


class DismissedFinding(models.Model):
    """A finding that the teacher has looked at and set aside, with what they thought. Kept with the question too."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="dismissed")
    item = models.CharField(max_length=36)
    """Its ref in the edition."""
    flag = models.CharField(max_length=40)
    options = models.CharField(max_length=60, blank=True)
    """The options it is about, joined by commas."""
    note = models.CharField(max_length=500)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["sitting", "item", "flag", "options"], name="finding_dismissed_once")
        ]

    def __str__(self) -> str:
        return f"{self.item}: {self.flag}"
