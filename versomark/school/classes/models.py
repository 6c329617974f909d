from django.db import models

from versomark.school.accounts.models import School, Teacher


class SchoolClass(models.Model):
    owner = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="classes")
    name = models.CharField(max_length=60)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="class_name_once_per_teacher")]

    def __str__(self) -> str:
        return self.name


class Student(models.Model):
    """One person of the school, in any number of its classes."""

    school = models.ForeignKey(School, on_delete=models.PROTECT, related_name="students")
    given_name = models.CharField(max_length=60)
    family_name = models.CharField(max_length=60, blank=True)
    # Kept readable on purpose: a teacher prints it on a slip again when it is lost. It opens one's own seat only.
    pass_phrase = models.CharField(max_length=40)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["school", "pass_phrase"], name="pass_once_per_school")]

    def __str__(self) -> str:
        return self.short_name

    @property
    def full_name(self) -> str:
        return f"{self.given_name} {self.family_name}".strip()

    @property
    def short_name(self) -> str:
        """As it stands on screens: `Wren O.`, and `Bram V.` for de Vries."""
        initial = next((letter for letter in self.family_name if letter.isupper()), self.family_name[:1])
        return f"{self.given_name} {initial}." if initial else self.given_name


class Place(models.Model):
    """A student's place in a class. The desk number stays theirs after they leave; it is not given again."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="places")
    student = models.ForeignKey(Student, on_delete=models.PROTECT, related_name="places")
    desk = models.PositiveSmallIntegerField()
    left = models.BooleanField(default=False)

    class Meta:
        ordering = ["desk"]
        constraints = [
            models.UniqueConstraint(fields=["school_class", "desk"], name="desk_once_per_class"),
            models.UniqueConstraint(fields=["school_class", "student"], name="student_once_per_class"),
        ]

    def __str__(self) -> str:
        return f"{self.desk} {self.student}"
