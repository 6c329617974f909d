"""What markers say: comments that are used again, and words on all of a student's work."""

import re

from django.db import models

from versomark.school.accounts.models import Department, Teacher
from versomark.school.bank.models import Material
from versomark.school.delivery.models import Seat


class OwnComment(models.Model):
    """A comment that a marker used on a question, offered again."""

    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="own_comments")
    item = models.CharField(max_length=36, blank=True)
    """Empty for every question."""
    department = models.ForeignKey(Department, null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    """Whose members are offered it too."""
    text = models.CharField(max_length=400)
    criterion = models.CharField(max_length=36, blank=True)
    points = models.FloatField(null=True, blank=True)
    """The level of the question's rubric with which it is offered; empty and null for any."""
    material = models.ForeignKey(Material, null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    follow_up = models.CharField(max_length=400, blank=True)
    """What its student is given to go on with: something of the teacher's, and a question to try next."""
    used = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["-used", "text"]
        constraints = [models.UniqueConstraint(fields=["teacher", "item", "text"], name="own_comment_once")]

    def __str__(self) -> str:
        return self.text

    def stands_in(self, comment: str) -> bool:
        """Whether a mark says it, as it is or with its places filled."""
        places = self.places
        lines = [line.strip() for line in comment.splitlines()]
        return any(places.fullmatch(line) if places else line == self.text for line in lines)

    @property
    def places(self) -> re.Pattern[str] | None:
        """What a text made of it looks like, where it has places for a name, a mark or a criterion."""
        parts = re.split(r"\{(?:name|mark|criterion)\}", self.text)
        return re.compile(".*".join(map(re.escape, parts)), re.DOTALL) if len(parts) > 1 else None


class OverallComment(models.Model):
    """What a marker says to a student about all of their work. The last one stands; the earlier ones are kept."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="overall_comments")
    text = models.TextField(blank=True, max_length=4000)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.text
