"""Where a school's rows stand: Django's settings of a database by its address."""

from pathlib import Path
from typing import Any

import dj_database_url


def settings_of(address: str, folder: Path) -> dict[str, Any]:
    """Of the database at an address; of the folder's own file where it is empty."""
    if address:
        return {
            **dj_database_url.parse(address, engine="versomark.site.postgresql", conn_max_age=None),
            "CONN_HEALTH_CHECKS": True,
        }
    return {
        "ENGINE": "versomark.site.database",
        "NAME": folder / "verso.sqlite3",
        # The threads that serve stay, and so do their connections.
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            # Readers never wait for a writer; a writer takes its lock at the start and others wait, not fail.
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            # FULL: an answer that was acknowledged is on the disk, not in a cache of the operating system.
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA busy_timeout=20000;"
            " PRAGMA foreign_keys=ON; PRAGMA cache_size=-16000;",
        },
        "TEST": {"NAME": folder / "test.sqlite3"},
    }
