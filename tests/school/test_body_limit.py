"""Every door says how much it takes, before anything of it is kept."""

import json
from typing import Any

import pytest
from asgiref.testing import ApplicationCommunicator

from versomark.site.asgi import application
from versomark.site.body_limit import DOORS, MB, USUAL, limit_of
from versomark.site.settings import DATA_UPLOAD_MAX_MEMORY_SIZE


async def send(path: str, length: int | None, chunks: list[bytes]) -> tuple[int, dict[str, Any]]:
    headers = [(b"host", b"localhost"), (b"content-type", b"application/json")]
    if length is not None:
        headers.append((b"content-length", str(length).encode()))
    scope = {
        "type": "http", "http_version": "1.1", "method": "POST", "path": path, "raw_path": path.encode(),
        "query_string": b"", "headers": headers, "scheme": "http",
        "server": ("localhost", 80), "client": ("127.0.0.1", 1),
    }  # fmt: skip
    talk = ApplicationCommunicator(application, scope)
    for at, chunk in enumerate(chunks):
        await talk.send_input({"type": "http.request", "body": chunk, "more_body": at < len(chunks) - 1})
    start = await talk.receive_output(5)
    body = await talk.receive_output(5)
    await talk.wait(5)
    return start["status"], json.loads(body["body"] or b"{}")


@pytest.mark.parametrize("path", ["/api/v1/student/join", "/api/v1/sign-in", "/api/v1/items"])
async def test_a_stranger_cannot_send_more_than_a_form_holds(path: str) -> None:
    status, body = await send(path, USUAL + 1, [])
    assert (status, body["detail"]) == (
        413,
        "That is too large: at most 4 MB can be sent here. Nothing was changed.",
    )


@pytest.mark.parametrize("length", [None, 10])
async def test_a_length_that_is_missing_or_wrong_does_not_help(length: int | None) -> None:
    chunks = [b"x" * MB] * 6
    scope_ended = False
    try:
        status, _ = await send("/api/v1/sign-in", length, chunks)
    except TimeoutError:
        scope_ended = True  # the application is told that the sender has gone, and answers nothing
    assert scope_ended or status >= 400


def test_files_have_doors_of_their_own_and_none_is_wider_than_django_reads() -> None:
    assert limit_of("/api/v1/items/bring/look") == 70 * MB
    assert limit_of("/api/v1/student/files/0f") == 52 * MB
    assert limit_of("/api/v1/sittings/7/marking/away/look") == 210 * MB
    assert limit_of("/api/v1/sittings/7/marking/away") == USUAL
    assert limit_of("/api/v1/items") == limit_of("/join") == USUAL
    # Scans come as a form, whose files Django puts on the disk and does not count.
    assert max(most for door, most in DOORS.items() if door != "/api/v1/scans") <= DATA_UPLOAD_MAX_MEMORY_SIZE


async def test_a_body_within_the_limit_arrives() -> None:
    status, body = await send("/api/v1/student/join", None, [b'{"code": ', b'"x"}'])
    assert status in (403, 422)  # no token or no pass: it was read and judged
    assert body


async def test_a_body_that_breaks_off_is_not_used() -> None:
    """The sender goes in the middle: what came so far is no request, though it could be read as one."""
    headers = [(b"host", b"localhost"), (b"content-type", b"application/json"), (b"content-length", b"400")]
    scope = {
        "type": "http", "http_version": "1.1", "method": "POST", "path": "/api/v1/student/join", "raw_path": b"",
        "query_string": b"", "headers": headers, "scheme": "http",
        "server": ("localhost", 80), "client": ("127.0.0.1", 1),
    }  # fmt: skip
    talk = ApplicationCommunicator(application, scope)
    await talk.send_input({"type": "http.request", "body": b'{"code": "a", "pass_phrase": "b"}', "more_body": True})
    await talk.send_input({"type": "http.disconnect"})
    try:
        start = await talk.receive_output(5)
    except (TimeoutError, ConnectionAbortedError):
        return
    assert start["status"] >= 400
