"""A practice run: what was made for it, so that all of it can go again."""

from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.classes.models import SchoolClass
from versomark.school.editions.models import Test


class PracticeRun(models.Model):
    """At most one for a teacher. The class says of itself that it is invented; this says what came with it."""

    teacher = models.OneToOneField(Teacher, on_delete=models.CASCADE, related_name="practice_run")
    school_class = models.OneToOneField(SchoolClass, on_delete=models.CASCADE, related_name="practice_run")
    test = models.ForeignKey(Test, null=True, on_delete=models.SET_NULL, related_name="+")
    """The ready-made test that was copied for it."""
    items = models.JSONField(default=list)
    """Ids of the questions that the copy brought into the bank and that were not there before."""
    skills = models.JSONField(default=list)
    """Ids of the skills that came with them."""
    begun_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"practice of {self.teacher}"
