from django.db import models

from versomark.core.editions import Edition as EditionContent
from versomark.core.editions import ExternalAssessment, Layout, one_section
from versomark.school.accounts.models import Teacher
from versomark.school.bank.models import Item


class Test(models.Model):
    """Questions put together, open to change until an edition is frozen from it, and after."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="tests")
    title = models.CharField(max_length=200, blank=True)
    instructions = models.TextField(blank=True, max_length=40000)
    language = models.CharField(max_length=8, blank=True)
    """In which it is written; the school's where it is empty."""
    layout = models.JSONField(default=dict, blank=True)
    """The JSON of `core.editions.Layout`: what stands where. `items` repeats which questions, for the database."""
    described = models.JSONField(null=True, blank=True)
    """The JSON of `core.editions.Described` where the test is given and marked elsewhere; such a test has no layout."""
    archived = models.BooleanField(default=False)
    topic = models.CharField(max_length=120, blank=True)
    summary = models.CharField(max_length=500, blank=True)
    shared_at = models.DateTimeField(null=True, blank=True)
    """Since when colleagues find it on the shelf."""
    items = models.ManyToManyField(Item, through="TestItem", related_name="tests")
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-changed_at"]

    def __str__(self) -> str:
        return self.title or "a test without a title"

    def read(self) -> Layout:
        return Layout.model_validate(self.layout) if self.layout else one_section([])

    def description(self) -> ExternalAssessment | None:
        return None if self.described is None else ExternalAssessment.model_validate(self.described)


class TestItem(models.Model):
    test = models.ForeignKey(Test, on_delete=models.CASCADE, related_name="places")
    item = models.ForeignKey(Item, on_delete=models.PROTECT, related_name="places")
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["test", "item"], name="item_once_per_test")]

    def __str__(self) -> str:
        return f"{self.position} {self.item}"


class Edition(models.Model):
    """A test frozen for use. Never changed after it is made; `content` is the JSON of `core.editions.Edition`."""

    test = models.ForeignKey(Test, on_delete=models.PROTECT, related_name="editions")
    number = models.PositiveSmallIntegerField()
    content = models.JSONField()
    fingerprint = models.CharField(max_length=64)
    label = models.CharField(max_length=40, blank=True)
    """What this edition is for, where it needs saying: before teaching, after teaching."""
    forecast = models.JSONField(null=True)
    """What was foretold of it when it was frozen, as `core.editions.PredictedStatistics`."""
    frozen_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["test", "number"], name="edition_number_once_per_test")]

    def __str__(self) -> str:
        return f"{self.content['title']}, edition {self.number}"

    def read(self) -> EditionContent:
        """The content as a model; read once, since a lesson asks for it at every press."""
        edition_content = _READ.get(self.fingerprint)
        if edition_content is None:
            edition_content = EditionContent.model_validate(self.content)
            if len(_READ) >= MOST_READ:
                _READ.pop(next(iter(_READ)), None)
            _READ[self.fingerprint] = edition_content
        return edition_content


_READ: dict[str, EditionContent] = {}
"""By fingerprint: the same content is the same model, and a model is never changed."""
MOST_READ = 64
