"""Who is answered by which threads: devices in a row, all else beside them, and a slow sender in nobody's way."""

import asyncio
import threading
from collections.abc import Callable, Iterable
from typing import Any

import pytest
from asgiref.testing import ApplicationCommunicator

from versomark.site.threads import InThreads

Environ = dict[str, Any]
WAIT = 10


class Desk:
    """A WSGI application that says who serves, and lets requests wait until it is told to go on."""

    def __init__(self) -> None:
        self.served: list[tuple[str, str, bytes]] = []
        self.go_on = threading.Event()
        self.inside = threading.Semaphore(0)

    def __call__(self, environ: Environ, start_response: Callable[..., object]) -> Iterable[bytes]:
        path = environ["PATH_INFO"]
        if path.endswith("/slow"):
            self.inside.release()
            assert self.go_on.wait(WAIT)
        body = environ["wsgi.input"].read()
        self.served.append((path, threading.current_thread().name, body))
        start_response("200 OK", [("Content-Type", "text/plain")])
        return [path.encode(), b" ", body]


@pytest.fixture
def desk() -> Desk:
    return Desk()


def asked(app: InThreads, path: str) -> ApplicationCommunicator:
    scope = {
        "type": "http", "http_version": "1.1", "method": "POST", "path": path, "raw_path": path.encode(),
        "query_string": b"", "root_path": "", "scheme": "http", "headers": [(b"host", b"localhost")],
        "server": ("localhost", 80), "client": ("127.0.0.1", 1),
    }  # fmt: skip
    return ApplicationCommunicator(app, scope)


async def sent(app: InThreads, path: str, *pieces: bytes) -> ApplicationCommunicator:
    """A request with a body in these pieces; the last one ends it, unless it is empty."""
    talk = asked(app, path)
    for at, piece in enumerate(pieces):
        more = at < len(pieces) - 1
        if piece or not more:
            await talk.send_input({"type": "http.request", "body": piece, "more_body": more})
    return talk


async def answer(talk: ApplicationCommunicator) -> bytes:
    start = await talk.receive_output(WAIT)
    assert start["status"] == 200
    body = b""
    while True:
        part = await talk.receive_output(WAIT)
        body += part["body"]
        if not part.get("more_body"):
            await talk.wait(WAIT)
            return body


async def test_devices_have_threads_of_their_own_and_bodies_arrive_whole(desk: Desk) -> None:
    app = InThreads(desk, workers=3, for_short=2)
    for path, pieces in (
        ("/api/v1/student/answers", (b"{}",)),
        ("/api/v1/sittings", (b"{}",)),
        ("/api/v1/student/files/x", (b"ab", b"cd", b"ef")),
        ("/api/v1/studentship", (b"",)),
    ):
        said = await answer(await sent(app, path, *pieces))
        assert said == path.encode() + b" " + b"".join(pieces)
    by = {path: name.startswith("short") for path, name, _ in desk.served}
    assert by == {
        "/api/v1/student/answers": True,
        "/api/v1/sittings": False,
        # What arrives in pieces may take as long as its sender likes.
        "/api/v1/student/files/x": False,
        "/api/v1/studentship": False,
    }


async def test_no_number_of_slow_pages_or_senders_keeps_a_device_waiting(desk: Desk) -> None:
    app = InThreads(desk, workers=2, for_short=1)
    slow = [await sent(app, "/api/v1/sittings/1/slow", b"{}") for _ in range(4)]
    half = []
    for _ in range(3):
        talk = asked(app, "/api/v1/student/files/x")
        await talk.send_input({"type": "http.request", "body": b"half", "more_body": True})
        half.append(talk)
    for _ in range(2):  # both other threads are taken now
        assert await asyncio.to_thread(desk.inside.acquire, True, WAIT)
    for n in range(5):
        said = await answer(await sent(app, "/api/v1/student/answers", f"{n}".encode()))
        assert said == f"/api/v1/student/answers {n}".encode()
    assert [path for path, _, _ in desk.served] == ["/api/v1/student/answers"] * 5
    desk.go_on.set()
    for talk in half:
        await talk.send_input({"type": "http.request", "body": b" and half", "more_body": False})
    assert [await answer(talk) for talk in half] == [b"/api/v1/student/files/x half and half"] * 3
    for talk in slow:
        assert await answer(talk) == b"/api/v1/sittings/1/slow {}"
    assert len(desk.served) == 12
