"""Senders that never end, on a real server: they take no thread, and everybody else is answered. Bounded: 130 sockets
on the loopback, a few seconds."""

import json
import socket
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.e2e.serving import served
from versomark.site.body_limit import MOST_UNFINISHED

SENDERS = 130


@pytest.fixture
def address(tmp_path: Path) -> Iterator[str]:
    with served(tmp_path / "school") as found:
        yield found


def begun(port: int, path: str = "/api/v1/sign-in") -> socket.socket:
    """A request that says it has a thousand bytes, and sends one."""
    sender = socket.create_connection(("127.0.0.1", port), timeout=10)
    lines = [
        f"POST {path} HTTP/1.1",
        f"Host: 127.0.0.1:{port}",
        "Content-Type: application/json",
        "Content-Length: 1000",
    ]
    sender.sendall("\r\n".join([*lines, "", "{"]).encode())
    return sender


def test_unfinished_requests_stop_nobody_and_are_capped_by_address(address: str) -> None:
    port = int(address.rsplit(":", 1)[1])
    senders = [begun(port, ("/api/v1/sign-in", "/api/v1/student/answers")[n % 2]) for n in range(SENDERS)]
    try:
        for _ in range(5):
            with urllib.request.urlopen(f"{address}/api/v1/me", timeout=10) as reply:
                assert json.loads(reply.read())["empty"] is True
        # So many may be on their way from one address; the others are told, and their connection is over.
        refused = 0
        for sender in senders:
            sender.settimeout(0.05)
            try:
                refused += b" 429 " in sender.recv(200)
            except TimeoutError:
                continue
        assert refused == SENDERS - MOST_UNFINISHED
    finally:
        for sender in senders:
            sender.close()
