"""What a password has to be."""

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError

from versomark.school.errors import DomainError

from .models import Teacher


def good_password(password: str, teacher: Teacher) -> None:
    """DomainError, in words, for one that is too short or that everybody uses."""
    try:
        validate_password(password, teacher)
    except ValidationError as error:
        raise DomainError(" ".join(error.messages)) from None
