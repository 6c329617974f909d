import uuid

from django.db import models

from versomark.core.items import ItemContent, read_content
from versomark.school.accounts.models import Teacher


class Skill(models.Model):
    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="skills")
    name = models.CharField(max_length=120)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="skill_name_once_per_teacher")]

    def __str__(self) -> str:
        return self.name


class Item(models.Model):
    """A question of the bank. `content` is the JSON of a model in `versomark.core.items`."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="items")
    content = models.JSONField()
    words = models.TextField(blank=True)
    """Stem and options in one string, for finding it by typing."""
    skills = models.ManyToManyField(Skill, related_name="items", blank=True)
    revision = models.PositiveIntegerField(default=1)
    archived = models.BooleanField(default=False)
    made_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed_at"]

    def __str__(self) -> str:
        return self.read().stem[:60] or "an empty question"

    def read(self) -> ItemContent:
        return read_content(self.content)
