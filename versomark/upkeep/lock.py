"""One service a folder: a second process on one SQLite file would keep its own clock, door and queue of work."""

import fcntl
import os
from pathlib import Path
from typing import IO

NAME = "serving.lock"


class AlreadyServed(RuntimeError):
    """Another process serves this folder; the message says which."""


def hold(data: Path) -> IO[str]:
    """Held for as long as the file that is returned stays open, however the process ends."""
    file = (data / NAME).open("a+")
    try:
        # A record lock, so that processes which this one starts do not hold it on.
        fcntl.lockf(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        file.seek(0)
        number = file.read().strip()
        file.close()
        raise AlreadyServed(
            f"A service runs on this folder already{f' (process {number})' if number else ''}. Stop it, or name another"
            " folder with VERSO_DATA."
        ) from None
    file.truncate(0)
    file.write(str(os.getpid()))
    file.flush()
    return file


def is_served(data: Path) -> bool:
    if not (data / NAME).exists():
        return False
    try:
        hold(data).close()
    except AlreadyServed:
        return True
    return False
