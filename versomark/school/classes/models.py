from secrets import token_urlsafe

from django.db import models

from versomark.core import names
from versomark.school.accounts.models import School, Teacher


def new_link() -> str:
    return token_urlsafe(9)


class SchoolClass(models.Model):
    owner = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="classes")
    name = models.CharField(max_length=60)
    archived = models.BooleanField(default=False)
    is_practice = models.BooleanField(default=False, editable=False)
    """Nobody in it is real: what it answers is kept out of the history of questions."""
    link = models.CharField(max_length=40, unique=True, default=new_link)
    """Leads the students of this class to their own page, where their pass lets them in."""
    desks_given = models.PositiveSmallIntegerField(default=0)
    """The highest desk number ever given, which outlives whoever sat there."""

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="class_name_once_per_teacher")]

    def __str__(self) -> str:
        return self.name


class ReadAloud(models.TextChoices):
    AS_THE_TEST_SAYS = "", "as the test says"
    ON = "on", "on"
    OFF = "off", "off"


class Ground(models.TextChoices):
    """The colour behind the text on a student's own screen."""

    PLAIN = "", "plain"
    CREAM = "cream", "cream"
    BLUE = "blue", "pale blue"
    GREEN = "green", "pale green"
    ROSE = "rose", "pale rose"


class Student(models.Model):
    """One person of the school, in any number of its classes, with what they need wherever they are tested."""

    school = models.ForeignKey(School, on_delete=models.PROTECT, related_name="students")
    given_name = models.CharField(max_length=60)
    family_name = models.CharField(max_length=60, blank=True)
    display_name = models.CharField(max_length=200, blank=True, editable=False)
    """The short name that nobody else of the school has; kept by `naming.tell_apart`."""
    # Kept readable on purpose: a teacher prints it on a slip again when it is lost. It opens one's own seat only.
    pass_phrase = models.CharField(max_length=40)
    number = models.CharField(max_length=40, blank=True)
    """The school's own number or identifier, by which a list finds the student again."""
    email = models.EmailField(blank=True)
    guardian_email = models.EmailField(blank=True)
    """Where reports for the parents go."""
    """Where notices and results may be sent."""
    extra_time = models.PositiveSmallIntegerField(default=0)
    """Percent more than the others have."""
    large_print = models.BooleanField(default=False)
    quiet_start = models.BooleanField(default=False)
    break_minutes = models.PositiveSmallIntegerField(default=0)
    """Of breaks they may take by themselves in a test, in which their time stands still."""
    alone_on_page = models.BooleanField(default=False)
    """Whether one question stands on a page, also where a test shows all at once."""
    large_targets = models.BooleanField(default=False)
    """Whether what is pressed is larger and farther apart."""
    ground = models.CharField(max_length=8, choices=Ground, blank=True)
    read_aloud = models.CharField(max_length=3, choices=ReadAloud, blank=True)
    language = models.CharField(max_length=8, blank=True)
    """Of this student's pages, mail and report; the school's where it is empty."""

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["school", "pass_phrase"], name="pass_once_per_school"),
            models.UniqueConstraint(
                fields=["school", "number"], condition=~models.Q(number=""), name="student_number_once_per_school"
            ),
        ]

    def __str__(self) -> str:
        return self.short_name

    @property
    def full_name(self) -> str:
        return names.full_name(self.given_name, self.family_name)

    @property
    def short_name(self) -> str:
        """As it stands on screens: `Wren O.`, with more letters where another student of the school is called so."""
        return self.display_name or names.short_name(self.given_name, self.family_name)


class Enrolment(models.Model):
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


class StudentRequest(models.Model):
    """Somebody asks whoever looks after a student for a place of theirs in a class; see `keeping`."""

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="requests")
    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="+")
    by = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="+")
    asked_at = models.DateTimeField(auto_now=True)
    answer = models.CharField(max_length=8, blank=True)
    """`granted` or `refused`; empty while it waits."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["student", "school_class"], name="student_request_once")]

    def __str__(self) -> str:
        return f"{self.by} asks for {self.student}"


class Group(models.Model):
    """Some students of a class, put together by the teacher or by a finding."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="groups")
    name = models.CharField(max_length=60)
    made_from = models.CharField(max_length=200, blank=True)
    """The finding it came from; empty for a group of the teacher's own."""
    students = models.ManyToManyField(Student, related_name="groups", blank=True)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["school_class", "name"], name="group_name_once_per_class")]

    def __str__(self) -> str:
        return self.name


class Tag(models.Model):
    """A word of the teacher's own for students of any class, which reports can compare."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="tags")
    name = models.CharField(max_length=60)
    students = models.ManyToManyField(Student, related_name="tags", blank=True)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="tag_name_once_per_teacher")]

    def __str__(self) -> str:
        return self.name


class CoTeacher(models.Model):
    """A colleague who shares a class, and what they may do in it."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="co_teachers")
    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="shared_classes")
    may_mark = models.BooleanField(default=False)
    may_run = models.BooleanField(default=False)

    class Meta:
        ordering = ["teacher__name"]
        constraints = [models.UniqueConstraint(fields=["school_class", "teacher"], name="co_teacher_once_per_class")]

    def __str__(self) -> str:
        return f"{self.teacher} in {self.school_class}"
