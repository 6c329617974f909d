"""PostgreSQL and Redis for tests and benches: Debian's programs on sockets of their own, started, used and ended.

`python -m tests.servers COMMAND…` runs a command with `DATABASE_URL` naming such a PostgreSQL.
"""

import os
import pwd
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from glob import glob
from pathlib import Path

# A cluster that lives for minutes and is thrown away need not survive a power cut; what does is told apart by `safe`.
FAST = ("fsync=off", "synchronous_commit=off", "full_page_writes=off")
SETTINGS = ("max_connections=200", "listen_addresses=", "shared_buffers=256MB", "max_pred_locks_per_transaction=256")


def programs() -> Path:
    """Where Debian puts the newest PostgreSQL; the commands on the path are not all of them."""
    folders = sorted(glob("/usr/lib/postgresql/*/bin"), key=lambda path: int(Path(path).parent.name))
    if not folders:
        raise SystemExit("PostgreSQL is needed. On Debian: apt-get install postgresql")
    return Path(folders[-1])


def _as_owner() -> list[str]:
    """PostgreSQL does not run as root."""
    return ["setpriv", "--reuid=postgres", "--regid=postgres", "--clear-groups"] if os.geteuid() == 0 else []


@contextmanager
def postgres(safe: bool = False) -> Iterator[str]:
    """The address of an empty database of a new cluster. `safe` writes through to the disk, as a school's own does."""
    folder = Path(tempfile.mkdtemp(prefix="verso-postgres-"))
    own = _as_owner()
    if own:
        owner = pwd.getpwnam("postgres")
        os.chown(folder, owner.pw_uid, owner.pw_gid)
    data, bin_ = folder / "data", programs()
    made = [*own, str(bin_ / "initdb"), "--auth=trust", "--username=verso", "--encoding=UTF8", "--locale=C.UTF-8"]
    subprocess.run([*made, "--no-sync", str(data)], check=True, stdout=subprocess.DEVNULL, cwd=folder)
    options = [part for setting in (*SETTINGS, *(() if safe else FAST)) for part in ("-c", setting)]
    server = subprocess.Popen(
        [*own, str(bin_ / "postgres"), "-D", str(data), "-k", str(folder), *options],
        cwd=folder,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    try:
        _wait(lambda: subprocess.run(
            [str(bin_ / "pg_isready"), "-q", "-h", str(folder), "-U", "verso", "-d", "postgres"], check=False
        ).returncode == 0)  # fmt: skip
        subprocess.run([str(bin_ / "createdb"), "-h", str(folder), "-U", "verso", "verso"], check=True)
        yield f"postgresql://verso@/verso?host={folder}"
    finally:
        server.send_signal(signal.SIGINT)  # at once, whoever is connected
        server.wait(timeout=30)
        shutil.rmtree(folder, ignore_errors=True)


@contextmanager
def redis() -> Iterator[str]:
    """The address of an empty Redis that keeps nothing on the disk."""
    with tempfile.TemporaryDirectory(prefix="verso-redis-") as folder:
        address = str(Path(folder) / "redis.sock")
        server = subprocess.Popen(
            ["redis-server", "--port", "0", "--unixsocket", address, "--save", "", "--dir", folder],
            stdout=subprocess.DEVNULL,
        )
        try:
            _wait(lambda: _answers(address))
            yield f"unix://{address}"
        finally:
            server.terminate()
            server.wait(timeout=30)


def _answers(address: str) -> bool:
    with socket.socket(socket.AF_UNIX) as probe:
        return probe.connect_ex(address) == 0


def _wait(ready: Callable[[], bool]) -> None:
    end = time.monotonic() + 60
    while not ready():
        if time.monotonic() > end:
            raise TimeoutError("the server did not start")
        time.sleep(0.05)


if __name__ == "__main__":
    with postgres() as database:
        environment = {**os.environ, "DATABASE_URL": database}
        sys.exit(subprocess.run(sys.argv[1:], env=environment, check=False).returncode)
