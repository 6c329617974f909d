"""What the apps' `api.py` share: the signed-in teacher of a request, and small schemas."""

from typing import cast

from django.http import HttpRequest
from ninja import Schema

from versomark.school.accounts.models import Teacher


class Problem(Schema):
    """The body of every refusal."""

    says: str
    problems: list[str] = []


class Done(Schema):
    done: bool = True


def teacher_of(request: HttpRequest) -> Teacher:
    """The teacher behind a request that the API has let through."""
    return cast(Teacher, request.user)
