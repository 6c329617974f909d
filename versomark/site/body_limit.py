"""How large a request may be, and how long it may take to arrive, judged before anything of it is kept.

Django counts bodies too, but its one limit would have to be the largest that any door needs. Here each door has its
own.
"""

import asyncio
import json
from collections import Counter
from collections.abc import Awaitable, Callable, MutableMapping
from tempfile import SpooledTemporaryFile
from time import monotonic
from typing import IO, Any, Literal

from versomark.school.errors import PROBLEM_TYPE, problem_details

Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
App = Callable[[Message, Receive, Send], Awaitable[None]]

MB = 1024 * 1024
USUAL = 4 * MB
DOORS = {
    "/api/v1/lists/read": 14 * MB,  # 10 MB of a list, as base64
    "/api/v1/items/bring": 70 * MB,  # 50 MB of a package, as base64
    "/api/v1/skills/bring": 28 * MB,
    "/api/v1/pictures": 13 * MB,
    "/api/v1/materials/": 14 * MB,  # 10 MB of a file, as base64
    "/api/v1/cards/": 24 * MB,  # a picture of a class
    "/api/v1/scans": 320 * MB,
    "/api/v1/student/files/": 52 * MB,
}


def limit_of(path: str) -> int:
    if path.startswith("/api/v1/sittings/") and path.endswith("/marking/away/look"):
        return 210 * MB  # the work of a sitting, marked away from the desk
    if path.startswith("/api/v1/sittings/") and path.endswith("/evidence"):
        return 52 * MB
    return next((most for door, most in DOORS.items() if path.startswith(door)), USUAL)


FIRST_WITHIN_SECONDS = 20.0
"""How long a sender may take before anything is asked of their speed."""
LEAST_BYTES_A_SECOND = 4_000
"""What a sender has to keep up after that: far under any phone that still works."""
SILENT_SECONDS = 12.0
MOST_UNFINISHED = 60
"""Bodies that one address may have on their way at a time; a class that hands in photographs has thirty."""
IN_MEMORY = MB
PIECE = 256 * 1024


class BodyLimit:
    """Receives a body whole, within its limits of size and time, before the application sees anything of it.

    A body that is on its way takes no thread, so that those who send slowly, or never end, are in nobody's way; what is
    larger than a megabyte waits on the disk. Refusals are answered in words: 413 too large, 408 too slow, 429 too many
    at once.
    """

    def __init__(self, app: App) -> None:
        self.app = app
        self.unfinished: Counter[str] = Counter()

    async def __call__(self, scope: Message, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return await self.app(scope, receive, send)
        most = limit_of(scope["path"])
        headers = dict(scope["headers"])
        stated = headers.get(b"content-length", b"0")
        if not stated.isdigit() or int(stated) > most:
            return await _refuse(send, 413, _too_large(most))
        if int(stated) == 0 and b"transfer-encoding" not in headers and scope["method"] in ("GET", "HEAD"):
            return await self.app(scope, receive, send)
        address = (scope.get("client") or ("", 0))[0]
        if self.unfinished[address] >= MOST_UNFINISHED:
            return await _refuse(send, 429, "Too much is on its way from your address. Try again in a moment.")
        with SpooledTemporaryFile(max_size=IN_MEMORY) as body:
            self.unfinished[address] += 1
            try:
                refusal = await _receive_whole(receive, body, most)
            finally:
                self.unfinished[address] -= 1
                if not self.unfinished[address]:
                    del self.unfinished[address]
            if refusal == "gone":
                return None  # nothing of it is used, and nobody is there to be answered
            if refusal == "slow":
                return await _refuse(send, 408, "That took too long to arrive. Nothing was changed; send it again.")
            if refusal == "large":
                return await _refuse(send, 413, _too_large(most))
            body.seek(0)
            return await self.app(scope, _from(body, receive), send)


async def _receive_whole(receive: Receive, body: IO[bytes], most: int) -> Literal["gone", "slow", "large"] | None:
    """Write what comes; what is wrong with it, or None where it is whole. What comes is counted, since a stated length
    can be wrong."""
    began, counted = monotonic(), 0
    while True:
        allowed = FIRST_WITHIN_SECONDS + counted / LEAST_BYTES_A_SECOND
        left = min(SILENT_SECONDS, began + allowed - monotonic())
        try:
            message = await asyncio.wait_for(receive(), max(left, 0.001))
        except TimeoutError:
            return "slow"
        if message["type"] == "http.disconnect":
            return "gone"
        piece = message.get("body", b"")
        counted += len(piece)
        if counted > most:
            return "large"
        body.write(piece)
        if not message.get("more_body", False):
            return None


def _from(body: IO[bytes], receive: Receive) -> Receive:
    """The body again, piece by piece; after it whatever else the connection has to say."""
    done = False

    async def again() -> Message:
        nonlocal done
        if done:
            return await receive()
        piece = body.read(PIECE)
        done = len(piece) < PIECE
        return {"type": "http.request", "body": piece, "more_body": not done}

    return again


def _too_large(most: int) -> str:
    return f"That is too large: at most {most // MB} MB can be sent here. Nothing was changed."


async def _refuse(send: Send, status: int, message: str) -> None:
    body = json.dumps(problem_details(status, message)).encode()
    headers = [(b"content-type", PROBLEM_TYPE.encode()), (b"content-length", str(len(body)).encode())]
    # The rest of the body is not read, so the connection cannot be used again.
    await send({"type": "http.response.start", "status": status, "headers": [*headers, (b"connection", b"close")]})
    await send({"type": "http.response.body", "body": body})
