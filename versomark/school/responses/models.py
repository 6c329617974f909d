"""The answer log, files handed in, time on questions, and earlier attempts."""

from uuid import uuid4

from django.db import models

from versomark.school.delivery.models import Seat


class Attempt(models.Model):
    """What a student handed in before they began anew. The attempt that counts is the seat itself."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="earlier_attempts")
    number = models.PositiveSmallIntegerField()
    began_at = models.DateTimeField(null=True)
    handed_in_at = models.DateTimeField(null=True)
    answers = models.JSONField()
    """item ref -> response."""

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["seat", "number"], name="attempt_once")]

    def __str__(self) -> str:
        return f"{self.seat}, attempt {self.number}"


class TimeOnItem(models.Model):
    """A stretch of time in which a student had a question before them, alone on the screen and in sight."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="times_on_items")
    # Made by the device, so that sending again is recognised and changes nothing.
    client_id = models.UUIDField()
    item = models.CharField(max_length=36)
    seconds = models.FloatField()
    kept_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["seat", "client_id"], name="time_on_item_noted_once")]

    def __str__(self) -> str:
        return f"{self.seat}, {self.item}: {self.seconds:g} s"


class Answer(models.Model):
    """Everything a student's device ever sent for an item, in the order it was given there. Only added to."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="answers")
    # Made by the device, so that sending again is recognised and changes nothing.
    client_id = models.UUIDField()
    sequence = models.PositiveIntegerField()
    item = models.CharField(max_length=36)
    response = models.JSONField(null=True)
    come_back = models.BooleanField(default=False)
    kept_at = models.DateTimeField(auto_now_add=True)
    given_at = models.DateTimeField(null=True, blank=True)
    """When it was given by the device's own count, where it could not be sent at once; null where it came directly."""
    source = models.CharField(max_length=8, default="device")
    """How it came: `device`, the student’s own; `sheet`, read from paper; `pad`; `card`; `teacher`, entered for the
    student; `lesson`, brought over from a lesson of the same test; `again`, emptied for another attempt."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["seat", "client_id"], name="answer_kept_once")]
        indexes = [models.Index(fields=["seat", "item", "sequence"])]

    def __str__(self) -> str:
        return f"{self.item}: {self.response}"


class CurrentAnswer(models.Model):
    """The latest answer of a seat to an item: a pointer into the log, so that reading a class is one short query."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="current")
    item = models.CharField(max_length=36)
    answer = models.ForeignKey(Answer, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["seat", "item"], name="current_answer_once")]

    def __str__(self) -> str:
        return str(self.answer)


class HandedInFile(models.Model):
    """A file a student handed over for an item. Kept outside everything that is served; only ever an attachment."""

    id = models.UUIDField(primary_key=True, default=uuid4, editable=False)
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="files")
    item = models.CharField(max_length=36)
    name = models.CharField(max_length=200)
    bytes = models.PositiveIntegerField()
    handed_in_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.name
