from django.db import models

from versomark.school.accounts.models import Teacher
from versomark.school.classes.models import SchoolClass, Student
from versomark.school.delivery.models import Sitting


class Term(models.Model):
    """A marking period of a teacher; sittings fall into it by their day."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="terms")
    name = models.CharField(max_length=40)
    starts = models.DateField()
    ends = models.DateField()
    """The last day of it."""

    class Meta:
        ordering = ["starts"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="term_named_once")]

    def __str__(self) -> str:
        return self.name


class RecordRules(models.Model):
    """How the averages of a class are made and said."""

    school_class = models.OneToOneField(SchoolClass, on_delete=models.CASCADE, related_name="record_rules")
    scale_name = models.CharField(max_length=40, blank=True)
    """Empty for percent alone."""
    scale_steps = models.JSONField(default=list)
    """[[least share, word], …]"""
    missing_is_zero = models.BooleanField(default=False)
    other_weight = models.FloatField(default=1)
    """What sittings of no category weigh."""

    def __str__(self) -> str:
        return f"{self.school_class}: {self.scale_name or 'percent'}"


class Category(models.Model):
    """A kind of sitting of a class, such as homework, with its weight in the averages."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="categories")
    name = models.CharField(max_length=40)
    weight = models.FloatField(default=1)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["school_class", "name"], name="category_named_once")]

    def __str__(self) -> str:
        return self.name


class InRecord(models.Model):
    """What a sitting is in the record of its class; one without counts, in no category."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="in_record")
    category = models.ForeignKey(Category, null=True, blank=True, on_delete=models.SET_NULL, related_name="sittings")
    counts = models.BooleanField(default=True)
    baseline = models.BooleanField(default=False)
    """Whether it is where the class began: growth is measured from it, and it is in no average."""

    def __str__(self) -> str:
        return f"{self.sitting}: {self.category or 'no category'}"


class ManualTermGrade(models.Model):
    """A student's standing in a term, set by a teacher over what is worked out. Only added to, and taken back."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="term_sets")
    term = models.ForeignKey(Term, on_delete=models.CASCADE, related_name="sets")
    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="term_sets")
    share = models.FloatField()
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.student}, {self.term}: {self.share:.0%}"
