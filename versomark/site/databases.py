"""Where a school's rows and files stand: Django's settings of a database and of an object store by their addresses."""

import os
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

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


def object_store(address: str, endpoint: str) -> dict[str, Any]:
    """Of a store that speaks S3: `s3://bucket/below`, at its endpoint or, where that is empty, at Amazon's."""
    return {
        "BACKEND": "storages.backends.s3.S3Storage",
        "OPTIONS": {
            "bucket_name": urlsplit(address).netloc,
            "location": urlsplit(address).path.strip("/"),
            "endpoint_url": endpoint or None,
            "region_name": os.environ.get("AWS_REGION", "us-east-1"),
            "addressing_style": "path",
            "file_overwrite": True,
        },
    }
