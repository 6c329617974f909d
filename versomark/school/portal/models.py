from django.db import models

from versomark.school.classes.models import Student
from versomark.school.delivery.models import Sitting


class NoticeKind(models.TextChoices):
    ASSIGNED = "assigned"
    CHANGED = "changed"
    DUE = "due soon"
    RELEASED = "released"
    ANSWERED = "answered"
    """What they asked about a mark."""


class Mail(models.TextChoices):
    """How far a notice has come on its way out of the school."""

    NO_ADDRESS = "no address"
    WAITING = "waiting"
    SENT = "sent"
    FAILED = "failed"


class Notice(models.Model):
    """What one student was told about one sitting, on their own page and, where they have an address, by mail."""

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="notices")
    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="notices")
    kind = models.CharField(max_length=10, choices=NoticeKind)
    about = models.CharField(max_length=40, blank=True)
    """What tells two of the same kind apart: the change it is about, the end that is near."""
    facts = models.JSONField(default=dict)
    """What its words are made of: the title, when it is to be sat, what its teacher wrote (`notice_words.py`)."""
    made_at = models.DateTimeField(auto_now_add=True)
    read_at = models.DateTimeField(null=True, blank=True)
    mail = models.CharField(max_length=10, choices=Mail, default=Mail.NO_ADDRESS)
    tries = models.PositiveSmallIntegerField(default=0)
    problem = models.CharField(max_length=300, blank=True)
    """Why it could not be sent."""

    class Meta:
        ordering = ["-pk"]
        constraints = [
            models.UniqueConstraint(fields=["student", "sitting", "kind", "about"], name="notice_given_once")
        ]

    def __str__(self) -> str:
        return f"{self.student}: {self.kind} {self.about}"
