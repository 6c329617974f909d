import uuid

from django.db import models

from versomark.core.items import ItemContent, read_content
from versomark.core.text import plain
from versomark.school.accounts.models import Department, Teacher


class Skill(models.Model):
    """What items test. Skills stand in a tree; one that comes from a published framework keeps its code and id."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="skills")
    name = models.CharField(max_length=120)
    parent = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, blank=True, related_name="children")
    code = models.CharField(max_length=60, blank=True)
    statement = models.TextField(blank=True)
    identifier = models.CharField(max_length=200, blank=True)
    """The framework's own identifier, by which a later import finds the skill again."""
    place = models.PositiveIntegerField(default=0)
    """Among those that stand below the same one; of equal places the name decides."""

    class Meta:
        ordering = ["place", "name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="skill_name_once_per_teacher")]

    def __str__(self) -> str:
        return self.name


class Picture(models.Model):
    """A picture of the bank, made safe and sized when it came in. Its id cannot be guessed and is its address."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="pictures")
    name = models.CharField(max_length=200, blank=True)
    format = models.CharField(max_length=4)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    digest = models.CharField(max_length=64)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "digest"], name="picture_kept_once")]

    def __str__(self) -> str:
        return self.name or str(self.pk)


class Stimulus(models.Model):
    """A passage, picture or table that several items share."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="stimuli")
    title = models.CharField(max_length=200, blank=True)
    body = models.TextField(blank=True)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["title"]
        verbose_name_plural = "stimuli"

    def __str__(self) -> str:
        return self.title or plain(self.body)[:60]


class Item(models.Model):
    """A question of the bank. `content` is the JSON of a model in `versomark.core.items`."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="items")
    shared_with = models.ForeignKey(
        Department, null=True, blank=True, on_delete=models.SET_NULL, related_name="shared_items"
    )
    """Whose members may look at it and take copies."""
    taken_from = models.ForeignKey("self", null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    """The colleague's question that it is a copy of."""
    content = models.JSONField()
    kind = models.CharField(max_length=20, default="", db_index=True)
    ready = models.BooleanField(default=False)
    """Whether nothing is missing in it."""
    words = models.TextField(blank=True)
    """Everything readable of it in one string, for finding it by typing."""
    index_row = models.PositiveBigIntegerField(null=True, blank=True, editable=False, unique=True)
    """Where those words stand in the full-text index, which numbers its rows."""
    skills = models.ManyToManyField(Skill, related_name="items", blank=True)
    keywords = models.JSONField(default=list, blank=True)
    source = models.CharField(max_length=300, blank=True)
    author = models.CharField(max_length=120, blank=True)
    stimulus = models.ForeignKey(Stimulus, on_delete=models.SET_NULL, null=True, blank=True, related_name="items")
    revision = models.PositiveIntegerField(default=1)
    archived = models.BooleanField(default=False)
    made_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    # What its uses say together, kept here so that a filter over the whole bank is one query.
    times_used = models.PositiveIntegerField(default=0)
    difficulty = models.FloatField(null=True, blank=True)
    discrimination = models.FloatField(null=True, blank=True)
    flagged = models.BooleanField(default=False)
    evidence = models.JSONField(default=dict, blank=True)
    """What a forecast needs of the uses of this version: {"students", "classes", "rest_correlation", "reliability",
    "spread"}."""
    standing = models.JSONField(default=list, blank=True)
    """Findings of the latest use of this version, as facts."""

    class Meta:
        ordering = ["-changed_at"]
        # Holds all that finding by typing reads, so that no row of the table is touched before a page is chosen.
        indexes = [
            models.Index(fields=["owner", "archived", "-changed_at", "id", "index_row"], name="bank_newest_first")
        ]

    def __str__(self) -> str:
        return plain(self.read().stem)[:60] or "an empty question"

    def read(self) -> ItemContent:
        return read_content(self.content)


class ItemVersion(models.Model):
    """What an item was when it was last frozen into an edition or put back; only added to."""

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    content = models.JSONField()
    reason = models.CharField(max_length=200)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["item", "number"], name="item_version_once")]

    def __str__(self) -> str:
        return f"version {self.number}"


class ItemUse(models.Model):
    """How an item did on one occasion. Written by whoever analyses a sitting, read beside the item for years."""

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="uses")
    occasion = models.CharField(max_length=40)
    title = models.CharField(max_length=300)
    held_on = models.DateField()
    students = models.PositiveIntegerField()
    version = models.CharField(max_length=40, blank=True)
    """Which version of the item was asked and by which key it was scored; empty where that is not known."""
    difficulty = models.FloatField()
    discrimination = models.FloatField(null=True)
    rest_correlation = models.FloatField(null=True)
    reliability = models.FloatField(null=True)
    """Of the test in which it was."""
    spread = models.FloatField(null=True)
    """Standard deviation of the share of its marks."""
    flags = models.JSONField(default=list)
    """What was found, as facts: `versomark.core.findings.FindingFacts`."""
    notes = models.JSONField(default=list)
    """What its teacher thought of findings that were set aside."""

    class Meta:
        ordering = ["held_on", "pk"]
        constraints = [models.UniqueConstraint(fields=["item", "occasion"], name="item_use_once_per_occasion")]

    def __str__(self) -> str:
        return f"{self.title}: {self.difficulty:.2f}"


class Material(models.Model):
    """Something of the teacher's own that helps with a skill: an explanation, practice, a thing to see or to do."""

    class Kind(models.TextChoices):
        EXPLANATION = "explanation"
        PRACTICE = "practice"
        TO_SEE = "to see"
        TO_DO = "to do"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="materials")
    kind = models.CharField(max_length=12, choices=Kind, default=Kind.EXPLANATION)
    title = models.CharField(max_length=200)
    note = models.TextField(blank=True)
    link = models.URLField(max_length=1000, blank=True)
    file = models.CharField(max_length=200, blank=True)
    """Its name, where a file belongs to it; the file is kept outside everything that is served."""
    skills = models.ManyToManyField(Skill, related_name="materials", blank=True)
    keywords = models.JSONField(default=list)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["title"]

    def __str__(self) -> str:
        return self.title
