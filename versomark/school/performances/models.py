"""How long what was watched took."""

from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.delivery.models import Seat


class WatchedTime(models.Model):
    """By the watch of whoever marked it; a later one stands in its place."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="watched_times")
    item = models.CharField(max_length=36)
    seconds = models.PositiveIntegerField()
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["seat", "item"], name="one_watched_time")]

    def __str__(self) -> str:
        return f"{self.seat}, {self.item}: {self.seconds} s"
