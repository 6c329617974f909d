"""What the apps' `api.py` share: the signed-in teacher of a request, files both ways, and small schemas."""

import re
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

PLAYED = {
    ".mp3": "audio/mpeg",
    ".m4a": "audio/mp4",
    ".ogg": "audio/ogg",
    ".wav": "audio/wav",
    ".weba": "audio/webm",
    ".mp4": "video/mp4",
    ".mov": "video/quicktime",
    ".webm": "video/webm",
    ".png": "image/png",
    ".jpg": "image/jpeg",
    ".jpeg": "image/jpeg",
    ".webp": "image/webp",
}
"""What a browser may show by itself; none of it can run."""
MOST_AT_ONCE = 4 * 1024 * 1024


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


def played(request: HttpRequest, file: tuple[Path, str]) -> HttpResponse | FileResponse:
    """Sound, a film or a picture that the browser itself shows, never as a page; a player may ask for a part of it
    (RFC 9110, section 14), without which some browsers play nothing."""
    path, name = file
    if not here(path):
        raise NotFound(_("file"))
    kind = PLAYED.get(Path(name).suffix.casefold(), "application/octet-stream")
    size, asked = path.stat().st_size, _part(request.headers.get("Range", ""), path.stat().st_size)
    response: HttpResponse | FileResponse
    if asked is None:
        response = FileResponse(path.open("rb"), content_type=kind)
    else:
        first, last = asked
        with path.open("rb") as source:
            source.seek(first)
            response = HttpResponse(source.read(last - first + 1), content_type=kind, status=206)
        response["Content-Range"] = f"bytes {first}-{last}/{size}"
    response["Accept-Ranges"] = "bytes"
    response["X-Content-Type-Options"] = "nosniff"
    response["Content-Disposition"] = "inline"
    return response


def _part(wanted: str, size: int) -> tuple[int, int] | None:
    """The first and last byte that are asked for; None for the whole, which may always be sent instead."""
    matched = re.fullmatch(r"bytes=(\d*)-(\d*)", wanted)
    if matched is None or size == 0:
        return None
    start, end = matched.groups()
    if start:
        first, last = int(start), min(int(end or size - 1), size - 1)
    elif end:
        first, last = max(0, size - int(end)), size - 1
    else:
        return None
    return (first, min(last, first + MOST_AT_ONCE - 1)) if first <= last else None


def file_out(data: bytes, type: str, name: str) -> HttpResponse:
    """A file to save."""
    response = HttpResponse(data, content_type=type)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
