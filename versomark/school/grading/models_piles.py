"""One pile of answers that several people mark: who, which answers, and what shows how they mark."""

from django.db import models

from versomark.core.scoring import Way
from versomark.school.accounts.models import Teacher
from versomark.school.delivery.models import Seat, Sitting
from versomark.school.editions.models import Edition


class PileNames(models.TextChoices):
    """From whom names are hidden while a pile is marked."""

    SHOWN = "shown"
    MARKERS = "markers"
    """Its head sees them."""
    ALL = "all"


class Pile(models.Model):
    """The answers to one edition, of one sitting or of several classes, that several people mark."""

    edition = models.ForeignKey(Edition, on_delete=models.CASCADE, related_name="+")
    head = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="piles_led")
    """Who shares it out, agrees on answers and sees how far it is."""
    way = models.CharField(max_length=8, choices=[(way.value, way.value) for way in Way])
    names = models.CharField(max_length=7, choices=PileNames, default=PileNames.SHOWN)
    begins = models.DateTimeField(null=True, blank=True)
    due = models.DateTimeField(null=True, blank=True)
    """When it is to be marked by; nothing stops at it."""
    practise_first = models.BooleanField(default=False)
    """Whether a marker marks the sample answers before their first."""
    not_own = models.BooleanField(default=False)
    """Whether nobody marks students of a class in which they teach."""
    like_together = models.BooleanField(default=False)
    """Whether like answers to a question follow one another, in place of an order of chance."""
    check_every = models.PositiveSmallIntegerField(default=8)
    """After so many of a marker's own answers comes one that was agreed on."""
    seed = models.BigIntegerField()
    made_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.edition}, shared by {self.head}"


class PileSitting(models.Model):
    """A sitting whose answers are in a pile; in one that is open at a time."""

    pile = models.ForeignKey(Pile, on_delete=models.CASCADE, related_name="of_sittings")
    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="piles")
    open = models.BooleanField(default=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["sitting"], condition=models.Q(open=True), name="sitting_in_one_open_pile")
        ]

    def __str__(self) -> str:
        return f"{self.sitting} in {self.pile_id}"


class PileMarker(models.Model):
    """Somebody who marks answers of a pile. Taken out, never deleted: their marks stay."""

    pile = models.ForeignKey(Pile, on_delete=models.CASCADE, related_name="markers")
    teacher = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="in_piles")
    share = models.FloatField(default=1)
    """How much they take beside the others."""
    items = models.JSONField(default=list)
    """Which questions; none named: all."""
    barred = models.JSONField(default=list)
    """Seats of students whom they may not mark."""
    practised_at = models.DateTimeField(null=True, blank=True)
    left_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["teacher__name"]
        constraints = [models.UniqueConstraint(fields=["pile", "teacher"], name="pile_marker_once")]

    def __str__(self) -> str:
        return f"{self.teacher} in pile {self.pile_id}"


class PileNumber(models.Model):
    """By which number the markers of a pile know a student. Drawn once, so that whoever hands in later changes none."""

    pile = models.ForeignKey(Pile, on_delete=models.CASCADE, related_name="numbers")
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="+")
    number = models.PositiveIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["pile", "seat"], name="pile_number_once_a_seat"),
            models.UniqueConstraint(fields=["pile", "number"], name="pile_number_once"),
        ]

    def __str__(self) -> str:
        return str(self.number)


class HiddenNumber(models.Model):
    """By which number markers know a student while the names of a sitting are hidden. Drawn once: a number that was
    worked out anew when a student was added would give a mark on its way to somebody else."""

    seat = models.OneToOneField(Seat, on_delete=models.CASCADE, related_name="hidden_number")
    number = models.PositiveIntegerField()

    def __str__(self) -> str:
        return str(self.number)


class PileHold(models.Model):
    """An answer in somebody's hands. What they gave up stays on record, so that a mark they made while they were
    without a connection is still taken."""

    marker = models.ForeignKey(PileMarker, on_delete=models.CASCADE, related_name="holds")
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="+")
    item = models.CharField(max_length=36)
    at = models.DateTimeField(auto_now_add=True)
    until = models.DateTimeField(null=True, blank=True)
    """When it is free again, unless it is marked; null where it was dealt."""
    given_up = models.BooleanField(default=False)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["seat", "item"], condition=models.Q(given_up=False), name="answer_in_one_pair_of_hands"
            )
        ]

    def __str__(self) -> str:
        return f"{self.seat}, {self.item}: {self.marker}"


class AgreedAnswer(models.Model):
    """An answer whose mark was agreed on before, and which every marker of the pile meets among their own without
    knowing it. What they give it is a mark of the reading `check`, and counts for nothing but them."""

    pile = models.ForeignKey(Pile, on_delete=models.CASCADE, related_name="agreed")
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="+")
    item = models.CharField(max_length=36)
    points = models.JSONField()
    """By criterion."""
    reason = models.CharField(max_length=600, blank=True)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["pile", "seat", "item"], name="agreed_once")]

    def __str__(self) -> str:
        return f"{self.seat}, {self.item}: {self.points}"


class LookAgain(models.Model):
    """A kept mark that its marker is asked to look at again, and why. It counts as it stands until then."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="+")
    item = models.CharField(max_length=36)
    marker = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    reason = models.CharField(max_length=300, blank=True)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    done_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["seat", "item"])]

    def __str__(self) -> str:
        return f"{self.seat}, {self.item} again"


class SeverityAdjustment(models.Model):
    """That a marker's marks of one question are moved by how harsh they were measured to be. Taken back, never
    deleted."""

    pile = models.ForeignKey(Pile, on_delete=models.CASCADE, related_name="adjustments")
    marker = models.ForeignKey(PileMarker, on_delete=models.CASCADE, related_name="adjustments")
    item = models.CharField(max_length=36)
    points = models.FloatField()
    """Added to each of their marks, in points of the rubric."""
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["marker", "item"], condition=models.Q(taken_back_at=None), name="one_adjustment_of_a_marker"
            )
        ]

    def __str__(self) -> str:
        return f"{self.marker}, {self.item}: {self.points:+g}"
