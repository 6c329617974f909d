"""How large a request may be, judged before anything of it is kept.

Django counts bodies too, but its one limit would have to be the largest that any door needs. Here each door has its
own.
"""

import json
from collections.abc import Awaitable, Callable, MutableMapping
from typing import Any

Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
App = Callable[[Message, Receive, Send], Awaitable[None]]

MB = 1024 * 1024
USUAL = 4 * MB
DOORS = {
    "/api/lists/read": 14 * MB,  # 10 MB of a list, as base64
    "/api/items/bring": 70 * MB,  # 50 MB of a package, as base64
    "/api/skills/bring": 28 * MB,
    "/api/pictures": 13 * MB,
    "/api/materials/": 14 * MB,  # 10 MB of a file, as base64
    "/api/cards/": 24 * MB,  # a picture of a class
    "/api/scans": 320 * MB,
    "/api/student/files/": 52 * MB,
}


def limit_of(path: str) -> int:
    if path.startswith("/api/sittings/") and path.endswith("/marking/away/look"):
        return 210 * MB  # the work of a sitting, marked away from the desk
    return next((most for door, most in DOORS.items() if path.startswith(door)), USUAL)


class BodyLimit:
    """Answers 413, in words, in place of an application that would be given too much."""

    def __init__(self, app: App) -> None:
        self.app = app

    async def __call__(self, scope: Message, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return await self.app(scope, receive, send)
        most = limit_of(scope["path"])
        stated = dict(scope["headers"]).get(b"content-length", b"0")
        if not stated.isdigit() or int(stated) > most:
            return await _too_large(send, most)
        counted, whole = 0, False

        async def counting() -> Message:
            """The length that a request states can be missing or wrong, so what comes is counted as well."""
            nonlocal counted, whole
            message = await receive()
            counted += len(message.get("body", b""))
            broke_off = message["type"] == "http.disconnect" and not whole
            if counted > most or broke_off:
                # To the application it is as if the sender had gone; nothing of it is used.
                raise ConnectionAbortedError("the body did not arrive whole")
            whole = not message.get("more_body", False)
            return message

        return await self.app(scope, counting, send)


async def _too_large(send: Send, most: int) -> None:
    says = f"That is too large: at most {most // MB} MB can be sent here. Nothing was changed."
    body = json.dumps({"says": says, "problems": []}).encode()
    headers = [(b"content-type", b"application/json"), (b"content-length", str(len(body)).encode())]
    # The rest of the body is not read, so the connection cannot be used again.
    await send({"type": "http.response.start", "status": 413, "headers": [*headers, (b"connection", b"close")]})
    await send({"type": "http.response.body", "body": body})
