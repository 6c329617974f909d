"""A way to the school's server that can be cut: what a browser meets when the network of a school goes."""

import select
import socket
import socketserver
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from urllib.parse import urlsplit


class Wire:
    """Carries bytes from a port of its own to the server's, until it is cut; then nobody answers there."""

    def __init__(self, server: str) -> None:
        self._to = ("127.0.0.1", urlsplit(server).port or 80)
        self._open = set[socket.socket]()
        self._listener: socketserver.ThreadingTCPServer | None = None
        self._port = 0
        self.mend()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self._port}"

    def mend(self) -> None:
        wire = self

        class Carry(socketserver.BaseRequestHandler):
            def handle(self) -> None:
                wire._carry(self.request)

        class Listener(socketserver.ThreadingTCPServer):
            allow_reuse_address, daemon_threads, block_on_close = True, True, False

        self._listener = Listener(("127.0.0.1", self._port), Carry)
        self._port = self._listener.server_address[1]
        threading.Thread(target=self._listener.serve_forever, kwargs={"poll_interval": 0.05}, daemon=True).start()

    def cut(self) -> None:
        if self._listener is not None:
            self._listener.shutdown()
            self._listener.server_close()
            self._listener = None
        for end in list(self._open):
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)

    def _carry(self, near: socket.socket) -> None:
        with suppress(OSError), socket.create_connection(self._to) as far:
            ends = {near: far, far: near}
            self._open.update(ends)
            try:
                while True:
                    for end in select.select(list(ends), [], [])[0]:
                        data = end.recv(65536)
                        if not data:
                            return
                        ends[end].sendall(data)
            finally:
                self._open.difference_update(ends)


@contextmanager
def wire_to(server: str) -> Iterator[Wire]:
    wire = Wire(server)
    try:
        yield wire
    finally:
        wire.cut()
