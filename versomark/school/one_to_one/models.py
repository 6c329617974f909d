from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.delivery.models import Seat


class CardNote(models.Model):
    """What a teacher noted about a student at a card: how it was read, what was mixed up."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="card_notes")
    item = models.CharField(max_length=36)
    text = models.CharField(max_length=300)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["seat", "item"], name="one_note_a_card")]

    def __str__(self) -> str:
        return f"{self.seat}, {self.item}: {self.text}"
