"""A real server on a port of its own with a data folder of its own, and a real Chromium to look at it."""

import fcntl
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator, Mapping
from contextlib import contextmanager, suppress
from functools import cache
from pathlib import Path
from typing import IO

from playwright.sync_api import Browser, sync_playwright

ROOT = Path(__file__).resolve().parents[2]
CHROMIUM = "/usr/bin/chromium"
# What Playwright turns off by itself, since the last list counts; and the pages that Chromium draws for an address bar,
# which nobody sees here, at as much work again for each window as the page that is tested.
_OFF = (
    "AvoidUnnecessaryBeforeUnloadCheckSync", "DestroyProfileOnBrowserClose", "HttpsUpgrades",
    "HttpsFirstBalancedModeAutoEnable", "LensOverlay", "MediaRouter", "PaintHolding", "ThirdPartyStoragePartitioning",
    "OptimizationHints", "NetworkTimeServiceQuerying", "AimEnabled", "PreconnectToSearch",
    "WebUIOmniboxPopup", "WebUIOmniboxAimPopup",
)  # fmt: skip
FLAGS = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # A step ends when it ends, and not when its animation has.
    "--force-prefers-reduced-motion",
    # A microphone that beeps, and nobody who has to allow it.
    "--use-fake-device-for-media-stream",
    "--use-fake-ui-for-media-stream",
    f"--disable-features={','.join(_OFF)}",
]


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def manage(data: Path, *arguments: str) -> None:
    subprocess.run([sys.executable, "manage.py", *arguments], cwd=ROOT, env=environment(data), check=True)


def environment(data: Path) -> dict[str, str]:
    return {**os.environ, "VERSO_DATA": str(data), "DJANGO_SETTINGS_MODULE": "versomark.site.settings"}


class Server:
    """A server that was forked from the warm process of this run: ended and waited for like a subprocess."""

    def __init__(self, pid: int, out: IO[str]) -> None:
        self.pid, self.stdout = pid, out

    def is_running(self) -> bool:
        try:
            os.kill(self.pid, 0)
        except ProcessLookupError:
            return False
        return True

    def terminate(self) -> None:
        if self.is_running():
            os.kill(self.pid, signal.SIGTERM)

    def kill(self) -> None:
        if self.is_running():
            os.kill(self.pid, signal.SIGKILL)

    def wait(self, timeout: float = 20) -> None:
        end = time.monotonic() + timeout
        while self.is_running():
            assert time.monotonic() < end, "the server did not end"
            time.sleep(0.02)


@cache
def _warm() -> subprocess.Popen[str]:
    """The process that servers are forked from, one for each worker; it ends with the worker, whose pipe it reads."""
    process = subprocess.Popen(
        [sys.executable, "-m", "tests.e2e.warm"], cwd=ROOT, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    )
    assert process.stdout is not None
    assert process.stdout.readline().strip() == "warm"
    return process


def start(data: Path, port: int, more: Mapping[str, str] | None = None) -> Server:
    """The server, once it says that it serves. `more` is its environment beside the usual."""
    warm = _warm()
    assert warm.stdin is not None
    assert warm.stdout is not None
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder) / "out"
        os.mkfifo(out)
        arguments = ["--port", str(port), "--pads", "0", "--line", "serving"]
        print(
            json.dumps({"environment": {**environment(data), **(more or {})}, "arguments": arguments, "out": str(out)}),
            file=warm.stdin,
            flush=True,
        )
        server = Server(int(warm.stdout.readline()), out.open(encoding="utf-8"))
    assert server.stdout.readline().strip() == "serving"
    return server


@cache
def _school(demo: bool) -> Path:
    """The demo school as it is loaded, or an empty one: made once for all workers of a run that start from it."""
    run = os.environ.get("PYTEST_XDIST_TESTRUNUID", f"alone-{os.getpid()}")
    together = Path(tempfile.gettempdir()) / f"verso-schools-{run}"
    together.mkdir(exist_ok=True)
    # No worker knows whether another still needs them; those of earlier runs go.
    for earlier in together.parent.glob("verso-schools-*"):
        with suppress(FileNotFoundError):  # another worker tidies up at the same moment
            if earlier.stat().st_mtime < time.time() - 6 * 3600:
                shutil.rmtree(earlier, ignore_errors=True)
    data = together / ("demo" if demo else "empty")
    with (together / f"{data.name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not data.exists():
            fresh = data.with_suffix(".new")
            manage(fresh, *(("load_demo",) if demo else ("migrate", "--verbosity", "0")))
            fresh.rename(data)
    return data


def school_in(data: Path, demo: bool = False) -> None:
    """A school of one's own, in this folder."""
    shutil.copytree(_school(demo), data, dirs_exist_ok=True)


_served: dict[str, Path] = {}


def code_of(address: str) -> str:
    """What was printed where this empty school was started."""
    return (_served[address] / "first-account-code").read_text(encoding="ascii")


@contextmanager
def served(data: Path, demo: bool = False) -> Iterator[str]:
    """The address of a running school: empty, or the demo."""
    school_in(data, demo)
    port = free_port()
    process = start(data, port)
    address = f"http://127.0.0.1:{port}"
    _served[address] = data
    try:
        yield address
    finally:
        process.terminate()
        process.wait(timeout=20)


@contextmanager
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield browser
        browser.close()
