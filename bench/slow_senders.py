"""What 500 senders that never end cost everybody else: the time of a page beside them and without them, in one run.

Bounded: loopback, 500 sockets, two rounds of 200 requests.
"""

import socket
import tempfile
import time
import urllib.request
from pathlib import Path

import numpy as np

from tests.e2e.serving import served

SENDERS, REQUESTS = 500, 200


def begun(port: int) -> socket.socket:
    """A request that says it has a thousand bytes, and sends one."""
    sender = socket.create_connection(("127.0.0.1", port), timeout=10)
    lines = [
        "POST /api/v1/sign-in HTTP/1.1",
        "Host: 127.0.0.1",
        "Content-Type: application/json",
        "Content-Length: 1000",
    ]
    sender.sendall("\r\n".join([*lines, "", "{"]).encode())
    return sender


def p95(address: str) -> float:
    spent = []
    for _ in range(REQUESTS):
        start = time.perf_counter()
        with urllib.request.urlopen(f"{address}/api/v1/me", timeout=30) as reply:
            reply.read()
        spent.append(1000 * (time.perf_counter() - start))
    return float(np.quantile(spent, 0.95))


def run() -> None:
    with tempfile.TemporaryDirectory() as folder, served(Path(folder) / "school") as address:
        port = int(address.rsplit(":", 1)[1])
        p95(address)
        alone = p95(address)
        senders = [begun(port) for _ in range(SENDERS)]
        beside = p95(address)
        for sender in senders:
            sender.close()
    print(
        f"{SENDERS} senders that never end: p95 of a page {alone:.1f} ms without, {beside:.1f} ms beside them,", end=" "
    )
    print(f"{beside / alone:.2f} times")
