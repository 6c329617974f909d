from typing import ClassVar

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.db import models

from versomark.core.language import ENGLISH


class School(models.Model):
    name = models.CharField(max_length=120)
    is_demo = models.BooleanField(default=False)
    """Whether it is made up, so that scans and students may be simulated in it."""
    language = models.CharField(max_length=8, default=ENGLISH)
    """Of its pages, letters and papers, where nobody says otherwise."""
    keep_years = models.PositiveSmallIntegerField(default=0)
    """For how long names of students are kept after their last test; 0 until somebody takes them away."""

    def __str__(self) -> str:
        return self.name


class Role(models.TextChoices):
    TEACHER = "teacher"
    ADMIN = "admin"
    """Looks after accounts, the security log and what is kept of students; sees no class because of it."""


class TeacherManager(BaseUserManager["Teacher"]):
    def create_teacher(
        self, school: School, name: str, username: str, password: str, role: str = Role.TEACHER
    ) -> "Teacher":
        teacher = self.model(school=school, name=name, username=username, role=role)
        teacher.set_password(password)
        teacher.save(using=self._db)
        return teacher


class Teacher(AbstractBaseUser):
    """Someone who signs in to build, give and mark tests."""

    school = models.ForeignKey(School, on_delete=models.PROTECT, related_name="teachers")
    name = models.CharField(max_length=80)
    username = models.CharField(max_length=60, unique=True)
    email = models.EmailField(blank=True)
    """Where answers to scans go, and from where scans are taken."""
    is_active = models.BooleanField(default=True)
    role = models.CharField(max_length=8, choices=Role.choices, default=Role.TEACHER)
    second_factor = models.CharField(max_length=64, blank=True)
    """The secret that an authenticator shares (RFC 6238); empty for none."""
    second_factor_step = models.PositiveBigIntegerField(default=0)
    """The step of time whose figures were used last: none are taken twice."""
    language = models.CharField(max_length=8, blank=True)
    """Of this teacher's pages; the school's where it is empty."""

    objects: ClassVar[TeacherManager] = TeacherManager()

    USERNAME_FIELD = "username"

    @property
    def is_admin(self) -> bool:
        return self.role == Role.ADMIN

    def __str__(self) -> str:
        return self.name


class Department(models.Model):
    """Colleagues who teach the same, and share questions."""

    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="departments")
    name = models.CharField(max_length=80)
    members = models.ManyToManyField(Teacher, related_name="departments", blank=True)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["school", "name"], name="department_name_once_per_school")]

    def __str__(self) -> str:
        return self.name


class Delivery(models.Model):
    """A change that was carried out under a key of its sender's, with what was answered; see `deliveries`."""

    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="+")
    key = models.UUIDField()
    status = models.PositiveSmallIntegerField()
    answer = models.TextField(blank=True)
    received_at = models.DateTimeField(auto_now_add=True, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["teacher", "key"], name="delivery_once")]

    def __str__(self) -> str:
        return str(self.key)


class CodeKind(models.TextChoices):
    INVITATION = "invite"
    RECOVERY = "recover"
    SPARE = "spare"
    """In place of a second factor that is lost."""


class OneTimeCode(models.Model):
    """A code that lets somebody in once. Kept as a digest, so that whoever reads the database has no code."""

    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="codes")
    kind = models.CharField(max_length=8, choices=CodeKind.choices)
    digest = models.CharField(max_length=64, db_index=True)
    expires_at = models.DateTimeField(null=True)
    used_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.kind} for {self.teacher}"


class SignedIn(models.Model):
    """A browser that is signed in, so that its teacher sees it and can end it."""

    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="sign_ins")
    session_key = models.CharField(max_length=40, unique=True)
    device = models.CharField(max_length=80, blank=True)
    """Browser and system, as far as the browser says."""
    is_shared = models.BooleanField(default=False)
    """A device that others use too: it is signed out soon."""
    began_at = models.DateTimeField(auto_now_add=True)
    seen_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-seen_at"]

    def __str__(self) -> str:
        return f"{self.teacher} on {self.device}"


class Passkey(models.Model):
    """A key of the Web Authentication standard, whose other half is on a teacher's device."""

    teacher = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="passkeys")
    credential = models.CharField(max_length=1400, unique=True)
    """Its number, which the device made; base64url."""
    key = models.TextField()
    """Its public half and what comes with it (attested credential data), base64url."""
    uses = models.PositiveBigIntegerField(default=0)
    """As the device counts them; 0 where it does not."""
    device = models.CharField(max_length=80, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    used_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["made_at"]

    def __str__(self) -> str:
        return f"{self.teacher} on {self.device}"


class SecurityEvent(models.Model):
    """Something that somebody may have to account for later. Only added to; nothing in the product changes a row."""

    school = models.ForeignKey(School, null=True, on_delete=models.PROTECT, related_name="+")
    """None for what happened before anybody was known: a name that nobody has."""
    at = models.DateTimeField(auto_now_add=True, db_index=True)
    kind = models.CharField(max_length=24)
    """See `security_log.Kind`."""
    actor = models.ForeignKey(Teacher, null=True, on_delete=models.PROTECT, related_name="+")
    subject = models.CharField(max_length=60, blank=True)
    """Of whom or what, by kind and number: `teacher 4`, `class 3`."""
    detail = models.CharField(max_length=120, blank=True)
    """A code or a route, never a sentence."""

    class Meta:
        indexes = [models.Index(fields=["school", "-id"])]

    def __str__(self) -> str:
        return f"{self.kind} {self.subject}"
