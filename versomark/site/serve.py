"""Serve the product on one port, and say so in one line once it answers."""

import argparse
import asyncio
import os
import resource
import sys
import warnings
from collections import Counter
from contextlib import suppress
from pathlib import Path
from types import FrameType

import uvicorn
from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol
from uvicorn.protocols.websockets.websockets_sansio_impl import WebSocketsSansIOProtocol

HEADERS_WITHIN_SECONDS = 10.0
MOST_CONNECTIONS_FROM_ONE_ADDRESS = int(os.environ.get("VERSO_CONNECTIONS", "1500"))
"""A school behind one address has a socket and a few connections for each of its devices; a proxy has everybody's."""
_connections: Counter[str] = Counter()


def _came(transport: asyncio.BaseTransport) -> tuple[str, bool]:
    """The address of a connection that was made, and whether it has not too many of them."""
    address = str((transport.get_extra_info("peername") or ("",))[0])
    _connections[address] += 1
    return address, _connections[address] <= MOST_CONNECTIONS_FROM_ONE_ADDRESS


def _went(address: str) -> None:
    _connections[address] -= 1
    if _connections[address] <= 0:
        del _connections[address]


class GuardedProtocol(HttpToolsProtocol):
    """uvicorn's, with a deadline for the head of a first request and a cap on the connections of one address."""

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self.address, few = _came(transport)
        if few:
            self.loop.call_later(HEADERS_WITHIN_SECONDS, self.close_without_request)
        else:
            transport.close()

    def close_without_request(self) -> None:
        # A connection that became a socket is another protocol's by now.
        mine = self.transport.get_protocol() is self
        if mine and self.cycle is None and not self.transport.is_closing():
            self.transport.close()

    def handle_websocket_upgrade(self) -> None:
        super().handle_websocket_upgrade()
        if self.transport.get_protocol() is not self:
            _went(self.address)  # the socket counts it

    def connection_lost(self, exc: Exception | None) -> None:
        _went(self.address)
        super().connection_lost(exc)


class GuardedSocket(WebSocketsSansIOProtocol):
    """uvicorn's, under the same cap."""

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        self.address, _ = _came(transport)
        super().connection_made(transport)

    def connection_lost(self, exc: Exception | None) -> None:
        _went(self.address)
        super().connection_lost(exc)


def _allow_many_files() -> None:
    """A connection is a file to the system, and a usual soft limit of 1,024 is soon reached."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = 65_536 if hard == resource.RLIM_INFINITY else min(hard, 65_536)
    if soft < wanted:
        resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, hard))


def _code_of_empty_school() -> str:
    from versomark.school.accounts.first_code import first_code
    from versomark.school.accounts.services import is_empty

    return first_code() if is_empty() else ""


def _keep_private(data: Path) -> None:
    """Names and marks are for the account that serves them, and for no other on this machine."""
    os.umask(0o077)
    for path in (data, *data.glob("*.sqlite3*")):
        with suppress(FileNotFoundError):  # another command that reads it ended just now
            path.chmod(path.stat().st_mode & ~0o077)


class SayingServer(uvicorn.Server):
    """Prints its line when it is listening, not before."""

    line = ""
    pads: tuple[str, int] = ("127.0.0.1", 0)

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        from .probes import stopping

        stopping.set()
        super().handle_exit(sig, frame)

    async def startup(self, sockets: list[object] | None = None) -> None:  # type: ignore[override]
        from versomark.school.room import pad_port

        await super().startup(sockets)  # type: ignore[arg-type]
        code = await asyncio.to_thread(_code_of_empty_school)
        try:
            await pad_port.listen(*self.pads)
        except OSError:
            taken = f"verso: port {self.pads[1]} is in use, so response pads cannot be heard; --pads names another."
            print(taken, file=sys.stderr, flush=True)
        print(self.line, flush=True)
        if code:
            print(f"The first account needs this code: {code}", flush=True)


def main() -> None:
    # WhiteNoise opens its files synchronously; they are small, and Django reads them whole for us.
    warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
    parser = argparse.ArgumentParser(prog="versomark.site.serve")
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=8321)
    parser.add_argument("--pads", type=int, default=8331, help="where receivers of response pads are heard")
    parser.add_argument("--pads-host", default="127.0.0.1")
    parser.add_argument("--line", default="serving")
    options = parser.parse_args()
    # Not at the top: processes that read scans import this module to find out what they are, and need none of it.
    from django.conf import settings
    from django.urls import get_resolver

    from versomark.school.addresses import LISTENS_AT
    from versomark.upkeep import lock

    from . import background
    from .asgi import application

    _keep_private(Path(settings.DATA))
    # Several processes may share a folder of files, but never a file of SQLite.
    lock_held = None
    if not settings.DATABASE_URL:
        try:
            lock_held = lock.hold(Path(settings.DATA))
        except lock.AlreadyServed as error:
            sys.exit(f"verso: {error}")
    os.environ[LISTENS_AT] = f"{options.host}:{options.port}"
    _allow_many_files()
    background.start()
    # What the first request would load: said to serve is what answers at once.
    get_resolver().url_patterns  # noqa: B018
    config = uvicorn.Config(
        application,
        host=options.host,
        port=options.port,
        http=GuardedProtocol,
        ws=GuardedSocket,
        lifespan="off",
        log_level="warning",
        # A student answers every few seconds; a connection for each answer would cost more than the answer.
        timeout_keep_alive=75,
        # A nudge is twenty bytes.
        ws_per_message_deflate=False,
    )
    server = SayingServer(config)
    server.line = options.line
    server.pads = (options.pads_host, options.pads)
    asyncio.run(server.serve())
    if lock_held is not None:
        lock_held.close()


if __name__ == "__main__":
    main()
