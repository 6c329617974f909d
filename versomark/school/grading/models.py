from uuid import uuid4

from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.delivery.models import Seat, Sitting
from versomark.school.responses.models import Answer


class MarkState(models.TextChoices):
    DRAFT = "draft"
    """Begun; not counted."""
    KEPT = "kept"
    ASIDE = "aside"
    """Given while a colleague gave another one; kept beside it and not counted until a person chooses."""
    PASSED = "passed"
    """Stood beside another one, and a person chose that."""


class MarkingPass(models.TextChoices):
    """Which reading of an answer a mark comes from."""

    FIRST = "first"
    SECOND = "second"
    """Given blind to the first."""
    AGREED = "agreed"
    """Given where the two were too far apart."""
    CHECK = "check"
    """Given to an answer of a shared pile that was agreed on before; counts for nothing but its marker."""


READINGS = (MarkingPass.FIRST, MarkingPass.SECOND, MarkingPass.AGREED)
"""Those from which the mark of an answer comes."""


class Mark(models.Model):
    """What somebody gave an answer. A kept one is never changed: the next one stands in its place, and both are seen
    in the history. A draft is its marker's own and changes until it is kept."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="marks")
    item = models.CharField(max_length=36)
    answer = models.ForeignKey(Answer, on_delete=models.CASCADE, null=True, related_name="+")
    """What it was given for; null where nothing was there to read. When another answer stands, it counts no more."""
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="marks_given")
    at = models.DateTimeField(auto_now=True)
    state = models.CharField(max_length=6, choices=MarkState)
    turn = models.CharField(max_length=6, choices=MarkingPass, default=MarkingPass.FIRST)
    points = models.JSONField(default=dict)
    """By criterion of the rubric."""
    comment = models.TextField(blank=True, max_length=4000)

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["seat", "item"])]

    def __str__(self) -> str:
        return f"{self.seat}, {self.item}: {self.points}"


class CurrentMark(models.Model):
    """Which mark stands for an answer, of each reading: a pointer into the history."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="current_marks")
    item = models.CharField(max_length=36)
    turn = models.CharField(max_length=6, choices=MarkingPass, default=MarkingPass.FIRST)
    mark = models.ForeignKey(Mark, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["seat", "item", "turn"], name="current_mark_once_a_pass")]

    def __str__(self) -> str:
        return str(self.mark)


class MarkChoice(models.Model):
    """Which of two marks that were given at the same time a person chose."""

    mark = models.ForeignKey(Mark, on_delete=models.CASCADE, related_name="chosen")
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.by} chose {self.mark}"


class WaivedItem(models.Model):
    """An item that is not marked in a sitting: out of the total and the analysis, until that is taken back."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="waived")
    item = models.CharField(max_length=36)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    reason = models.CharField(max_length=300, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["sitting", "item"], name="waived_once")]

    def __str__(self) -> str:
        return f"{self.sitting} without {self.item}"


class KeyDecision(models.Model):
    """A key settled after the fact, in one sitting, with the reason. Taken back, never deleted; the last one that is
    not taken back holds."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="settlements")
    item = models.CharField(max_length=36)
    accepted = models.JSONField(default=list)
    """Ids of the answers that earn full marks."""
    everybody = models.BooleanField(default=False)
    weights = models.JSONField(default=dict)
    """By criterion of the rubric, how much it counts beside the others; empty for a question with a key."""
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.sitting}, {self.item}: {self.reason}"


class GroupMark(models.Model):
    """What everybody gets who typed the same to a question that has a key. Taken back, never deleted; of several the
    last one holds."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="same_marks")
    item = models.CharField(max_length=36)
    part = models.CharField(max_length=24, blank=True)
    compared = models.CharField(max_length=400)
    """As `core.items` compares it."""
    share = models.FloatField()
    """Of the part's marks, 0 to 1."""
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["sitting", "item"])]

    def __str__(self) -> str:
        return f"{self.sitting}, {self.item}: “{self.compared}” {self.share:g}"


class SecondMarking(models.Model):
    """Which answers of a sitting are marked a second time, and what becomes of two marks."""

    class Which(models.TextChoices):
        ALL = "all"
        SAMPLE = "sample"
        NEAR = "near"
        """Of students whose total is near a cut."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="second_marking")
    which = models.CharField(max_length=6, choices=Which, default=Which.SAMPLE)
    share = models.PositiveSmallIntegerField(default=20)
    """Of the answers to each question, in percent, where it is a sample."""
    cut = models.FloatField(default=50)
    within = models.FloatField(default=5)
    """Percent of the total, and so many above or below it, where it is near a cut."""
    tolerance = models.FloatField(default=1)
    """By how many marks of a question the two may differ before they have to be agreed on."""
    mean = models.BooleanField(default=False)
    """Whether the mean of two that are near enough counts, rather than the first."""
    seed = models.BigIntegerField()
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"{self.sitting}, second marks: {self.which}"


class HiddenNames(models.Model):
    """A sitting whose answers are marked without names, in an order of chance that is not that of the desks."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="hidden_names")
    seed = models.BigIntegerField()
    shown_at = models.DateTimeField(null=True, blank=True)
    """When they were shown, once and for all."""

    def __str__(self) -> str:
        return f"{self.sitting}, names hidden"


class Bookmark(models.Model):
    """Where a marker was in a sitting, to go on there days later."""

    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="+")
    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="+")
    item = models.CharField(max_length=36)
    number = models.PositiveSmallIntegerField()
    by_student = models.BooleanField(default=False)
    """Through all answers of a student, rather than through one question of all."""
    order = models.CharField(max_length=8, default="number")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["teacher", "sitting"], name="bookmark_once")]

    def __str__(self) -> str:
        return f"{self.teacher} in {self.sitting}"


class ExcludedStudent(models.Model):
    """A student whose answers are left out of the statistics of a sitting, until that is taken back; their own result
    stays."""

    seat = models.OneToOneField(Seat, on_delete=models.CASCADE, related_name="out_of_figures")
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.seat}: {self.reason}"


class Remark(models.Model):
    """What a marker put on an answer: a highlight, a note, a sign or a stroke of a pen. Moved or reworded, it is taken
    back and another one stands in its place; it is never deleted."""

    key = models.UUIDField(unique=True, default=uuid4, editable=False)
    """By what it is known to the browser that made it, also before it has arrived."""
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="remarks")
    item = models.CharField(max_length=36)
    answer = models.ForeignKey(Answer, on_delete=models.CASCADE, null=True, related_name="+")
    """The answer it is on; when another one stands, it is seen no more."""
    turn = models.CharField(max_length=6, choices=MarkingPass, default=MarkingPass.FIRST)
    place = models.JSONField()
    """The JSON of a `core.ink.Place`."""
    text = models.CharField(max_length=1000, blank=True)
    """Empty for a highlight, a sign or a stroke alone."""
    criterion = models.CharField(max_length=36, blank=True)
    """Of the rubric, where it belongs to one."""
    replaces = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, related_name="+")
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["seat", "item"])]

    def __str__(self) -> str:
        return self.text or "highlighted"


class Stamp(models.Model):
    """Words that a teacher stamps on answers."""

    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="+")
    words = models.CharField(max_length=40)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["teacher", "words"], name="stamp_once")]

    def __str__(self) -> str:
        return self.words


class AwayUpload(models.Model):
    """Work that came back from away, kept aside until its teacher has looked at what it would do."""

    id = models.UUIDField(primary_key=True, default=uuid4, editable=False)
    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="away_uploads")
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    put_in_at = models.DateTimeField(null=True, blank=True)

    def __str__(self) -> str:
        return f"{self.sitting}, {self.at:%Y-%m-%d %H:%M}"


class ReturnedFile(models.Model):
    """A student's file with their marker's remarks in it. Kept outside everything that is served."""

    id = models.UUIDField(primary_key=True, default=uuid4, editable=False)
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="returned_files")
    item = models.CharField(max_length=36)
    answer = models.ForeignKey(Answer, on_delete=models.CASCADE, null=True, related_name="+")
    name = models.CharField(max_length=120)
    bytes = models.PositiveIntegerField()
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["at", "name"]

    def __str__(self) -> str:
        return self.name


class Lateness(models.Model):
    """What handing in late costs in a sitting: the fields of `core.scoring.LateRule`."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="lateness")
    due = models.DateTimeField()
    grace_minutes = models.PositiveIntegerField(default=0)
    per_day = models.FloatField()
    most = models.FloatField(default=100)

    def __str__(self) -> str:
        return f"{self.per_day:g}% of the marks a day"


class ManualTotal(models.Model):
    """A total that a teacher set in place of what was worked out, with the reason. Taken back, never deleted; the last
    one that is not taken back stands."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="totals_set")
    total = models.FloatField()
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.total:g}: {self.reason}"


class Release(models.Model):
    """That students may see their results, and how much of them. Taken back, never deleted; of those that hold for a
    student the last one says how much."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="releases")
    seat = models.ForeignKey(Seat, null=True, on_delete=models.CASCADE, related_name="releases")
    """Null for all of the sitting."""
    marks = models.BooleanField(default=True)
    """With marks, rather than in words only."""
    answers = models.BooleanField(default=False)
    """With the right answers, and why they are right."""
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.sitting}: {'all' if self.seat is None else self.seat}"


# Django looks for models here.
from .models_comments import OverallComment, OwnComment  # noqa: E402
from .models_piles import (  # noqa: E402
    AgreedAnswer,
    HiddenNumber,
    LookAgain,
    Pile,
    PileHold,
    PileMarker,
    PileNames,
    PileNumber,
    PileSitting,
    SeverityAdjustment,
)
from .models_rubrics import MarkQuestion, QuestionWindow, RubricRevision  # noqa: E402

__all__ = [
    "READINGS",
    "AgreedAnswer",
    "AwayUpload",
    "Bookmark",
    "CurrentMark",
    "ExcludedStudent",
    "GroupMark",
    "HiddenNames",
    "HiddenNumber",
    "KeyDecision",
    "Lateness",
    "LookAgain",
    "ManualTotal",
    "Mark",
    "MarkChoice",
    "MarkQuestion",
    "MarkState",
    "MarkingPass",
    "OverallComment",
    "OwnComment",
    "Pile",
    "PileHold",
    "PileMarker",
    "PileNames",
    "PileNumber",
    "PileSitting",
    "QuestionWindow",
    "Release",
    "Remark",
    "ReturnedFile",
    "RubricRevision",
    "SecondMarking",
    "SeverityAdjustment",
    "Stamp",
    "WaivedItem",
]
