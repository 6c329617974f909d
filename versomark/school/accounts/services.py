"""Signing in, and the first account of an empty school."""

from django.contrib.auth import authenticate
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpRequest

from versomark.school.problems import NotPossible

from .models import School, Teacher


def is_empty() -> bool:
    return not Teacher.objects.exists()


@transaction.atomic
def make_first_account(school: str, name: str, username: str, password: str) -> Teacher:
    """The account that an empty school starts with. Refused once there is any teacher."""
    if not is_empty():
        raise NotPossible("This school has a teacher already. Sign in, or ask the teacher who set it up.")
    try:
        validate_password(password, Teacher(name=name, username=username))
    except ValidationError as error:
        raise NotPossible(" ".join(error.messages)) from None
    return Teacher.objects.create_teacher(
        School.objects.create(name=school.strip()), name.strip(), username.strip().casefold(), password
    )


def check_password(request: HttpRequest, username: str, password: str) -> Teacher:
    """The teacher with this name and password; NotPossible after a wrong one.

    After too many, django-axes answers in our place, in the words of `lockout.py`.
    """
    teacher = authenticate(request, username=username.strip().casefold(), password=password)
    if isinstance(teacher, Teacher):
        return teacher
    raise NotPossible("That name and password do not belong together.", status=401)
