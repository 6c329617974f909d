"""What the apps' `api.py` share: the signed-in teacher of a request, files both ways, and small schemas."""

from base64 import b64decode
from binascii import Error as NotBase64
from collections.abc import Iterable
from pathlib import Path
from typing import cast

from django.http import FileResponse, HttpRequest, HttpResponse, JsonResponse
from ninja import Schema
from pydantic import BaseModel

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.errors import PROBLEM_TYPE, Detail, DomainError, NotFound, problem_details
from versomark.school.files import here


class ProblemError(Schema):
    detail: str
    pointer: str = ""
    """Where in what was sent, as RFC 6901 has it; empty where it is about no one place."""


class Problem(Schema):
    """The body of every refusal: problem details as RFC 9457 has them."""

    type: str
    title: str
    status: int
    detail: str
    """What is said to the person."""
    code: str
    params: dict[str, str | float] = {}
    """What `detail` says, as facts: its numbers and names by what they are."""
    errors: list[ProblemError] = []


class Done(Schema):
    done: bool = True


def refusal(status: int, message: str, errors: Iterable[Detail] = (), code: str = "") -> JsonResponse:
    """A refusal as a response, from wherever it is said."""
    return JsonResponse(problem_details(status, message, errors, code), status=status, content_type=PROBLEM_TYPE)


def teacher_of(request: HttpRequest) -> Teacher:
    """The teacher behind a request that the API has let through."""
    return cast(Teacher, request.user)


def file_in(data: str) -> bytes:
    """A file that came as base64."""
    try:
        return b64decode(data, validate=True)
    except (NotBase64, ValueError):
        raise DomainError(_("The file did not arrive whole. Choose it again."), status=422) from None


def json_out(page: BaseModel, cookies: HttpResponse | None = None) -> HttpResponse:
    """A page that was built by its model, written by pydantic itself. Ninja would read it into a model again, make a
    dictionary of it and write that with Python; for what hundreds ask for at once that is most of the time."""
    sent = HttpResponse(page.model_dump_json(by_alias=True), content_type="application/json; charset=utf-8")
    if cookies is not None:
        sent.cookies = cookies.cookies
    return sent


def attachment(file: tuple[Path, str] | None) -> FileResponse:
    """A file that somebody else made, and its name: to be saved, never shown by the browser as if it were a page of
    ours."""
    if file is None or not here(file[0]):
        raise NotFound(_("file"))
    path, name = file
    response = FileResponse(path.open("rb"), as_attachment=True, filename=name, content_type="application/octet-stream")
    response["X-Content-Type-Options"] = "nosniff"
    return response


def file_out(data: bytes, type: str, name: str) -> HttpResponse:
    """A file to save."""
    response = HttpResponse(data, content_type=type)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
