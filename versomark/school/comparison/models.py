from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.delivery.models import Seat, Sitting
from versomark.school.editions.models import Edition


class Comparison(models.Model):
    """Answers to one question that are put in order by judging pairs of them."""

    edition = models.ForeignKey(Edition, on_delete=models.CASCADE, related_name="+")
    item = models.CharField(max_length=36)
    criterion = models.CharField(max_length=24)
    """Of the rubric; marks are made for it."""
    question = models.CharField(max_length=200)
    """What a judge is asked of two pieces."""
    head = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="comparisons_led")
    each = models.PositiveSmallIntegerField(default=12)
    """How often each piece is to be compared."""
    not_own = models.BooleanField(default=False)
    """Whether nobody judges work of a class in which they teach."""
    sittings = models.ManyToManyField(Sitting, related_name="comparisons")
    measures = models.JSONField(default=dict)
    """By piece, for choosing pairs; as of `measured` judgements."""
    measured = models.PositiveIntegerField(default=0)
    made_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.edition}: {self.question}"


class Judge(models.Model):
    """Somebody who judges pairs. Taken out, never deleted: their judgements stay."""

    comparison = models.ForeignKey(Comparison, on_delete=models.CASCADE, related_name="judges")
    teacher = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="judging")
    left_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["teacher__name"]
        constraints = [models.UniqueConstraint(fields=["comparison", "teacher"], name="judge_once")]

    def __str__(self) -> str:
        return str(self.teacher)


class Piece(models.Model):
    """One answer, known to judges by a number of chance."""

    comparison = models.ForeignKey(Comparison, on_delete=models.CASCADE, related_name="pieces")
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="+")
    number = models.PositiveIntegerField()
    points = models.FloatField(null=True, blank=True)
    """Known beforehand, for an anchor: the scale becomes marks through these."""

    class Meta:
        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["comparison", "seat"], name="piece_once_a_seat"),
            models.UniqueConstraint(fields=["comparison", "number"], name="piece_number_once"),
        ]

    def __str__(self) -> str:
        return str(self.number)


class PairInHand(models.Model):
    """The two that lie before a judge now, the same ones after a reload and on another device."""

    judge = models.OneToOneField(Judge, on_delete=models.CASCADE, related_name="pair")
    left = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="+")
    right = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.left} | {self.right}"


class Judgement(models.Model):
    """Which of two was judged the better. Taken back, never deleted."""

    judge = models.ForeignKey(Judge, on_delete=models.CASCADE, related_name="judgements")
    better = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="+")
    worse = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="+")
    seconds = models.PositiveIntegerField()
    """From when the pair was handed out."""
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.better} before {self.worse}"
