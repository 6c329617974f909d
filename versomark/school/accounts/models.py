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

    def __str__(self) -> str:
        return self.name


class TeacherManager(BaseUserManager["Teacher"]):
    def create_teacher(self, school: School, name: str, username: str, password: str) -> "Teacher":
        teacher = self.model(school=school, name=name, username=username)
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
    language = models.CharField(max_length=8, blank=True)
    """Of this teacher's pages; the school's where it is empty."""

    objects: ClassVar[TeacherManager] = TeacherManager()

    USERNAME_FIELD = "username"

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
