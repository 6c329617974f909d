"""Whether an installation is well: checks that each say what they saw, as facts; `doctor` and the probes show them."""

import socket
import sqlite3
import stat
from collections.abc import Callable, Iterator
from datetime import timedelta
from pathlib import Path
from typing import Literal, NamedTuple

from django.conf import settings
from django.db import DatabaseError, connection
from django.db.backends.utils import CursorWrapper
from django.db.migrations.executor import MigrationExecutor
from django.utils import timezone

from versomark.school import disk
from versomark.school.accounts.public import School
from versomark.school.responses.public import newest_answer_at
from versomark.school.shared import shared

from . import moving
from .archive import BadBackup, rows_in
from .backups import NIGHTLY, kept_backups

State = Literal["well", "look", "ill"]
LATE_BACKUP = timedelta(hours=36)
CLOCK_APART = timedelta(minutes=2)


class Check(NamedTuple):
    """subject: what was looked at. state: `look` for what works and should be otherwise, `ill` for what does not."""

    subject: str
    state: State
    says: str


def database() -> Check:
    """Answers, and at the level of safety that was promised."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
            if connection.vendor != "sqlite":
                return _postgresql(cursor)
            cursor.execute("PRAGMA journal_mode")
            (mode,) = cursor.fetchone()
    except DatabaseError as error:
        return Check("database", "ill", f"It does not answer: {error}.")
    if mode != "wal":
        return Check("database", "ill", f"Its journal is {mode}; it must be on a disk of this machine, not on a share.")
    return Check("database", "well", "It answers; what is acknowledged is on the disk.")


def _postgresql(cursor: CursorWrapper) -> Check:
    """Its settings by which what is acknowledged is on the disk."""
    cursor.execute("SELECT current_setting('fsync'), current_setting('synchronous_commit'), version()")
    fsync, commit, version = cursor.fetchone()
    name = " ".join(str(version).split()[:2])
    if fsync != "on" or commit == "off":
        return Check("database", "ill", f"{name} acknowledges before it writes: fsync {fsync}, commit {commit}.")
    return Check("database", "well", f"{name} answers; what is acknowledged is on the disk.")


def shared_memory() -> Check:
    """What several processes share; with one nothing is needed."""
    if not settings.REDIS_URL:
        return Check("Redis", "well", "None is named; one process serves.")
    if not shared().answers():
        return Check("Redis", "ill", "It does not answer: nobody is told at once what changes.")
    return Check("Redis", "well", "It answers.")


def database_whole() -> Check:
    """Page by page; takes seconds for a large school."""
    try:
        if connection.vendor == "sqlite":
            rows = sum(rows_in(Path(str(connection.settings_dict["NAME"]))).values())
        else:
            rows = sum(model._base_manager.count() for model in moving.models())
    except (BadBackup, sqlite3.DatabaseError) as error:
        return Check("every page of it", "ill", str(error).replace("in it ", ""))
    return Check("every page of it", "well", f"{rows} rows, each where it belongs.")


def migrations() -> Check:
    executor = MigrationExecutor(connection)
    waiting = executor.migration_plan(executor.loader.graph.leaf_nodes())
    if waiting:
        first = f"{waiting[0][0].app_label}.{waiting[0][0].name}"
        return Check("version", "ill", f"{len(waiting)} steps of the database wait, the first is {first}.")
    return Check("version", "well", "The database is as this version has it.")


def room() -> Check:
    left = disk.left()
    says = f"{left.free_mb} MB of {left.total_mb} MB are free."
    state: dict[disk.State, State] = {"fine": "well", "low": "look", "full": "ill"}
    return Check("disk", state[left.state], says)


def writable() -> Check:
    probe = Path(settings.DATA) / ".probe"
    try:
        probe.write_bytes(b"1")
        probe.unlink()
    except OSError as error:
        return Check("folder", "ill", f"Nothing can be written to {settings.DATA}: {error.strerror}.")
    return Check("folder", "well", f"{settings.DATA} can be written to.")


def private() -> Check:
    """Names and marks are nobody else's on this machine."""
    data = Path(settings.DATA)
    inside = [data, *data.glob("*.sqlite3*"), data / "secret_key"]
    seen = [path for path in inside if path.exists() and path.stat().st_mode & (stat.S_IRWXG | stat.S_IRWXO)]
    if seen:
        return Check("file modes", "look", f"Other accounts of this machine may read {seen[0]}: chmod -R go= {data}")
    return Check("file modes", "well", "Only the account of the service may read the school's files.")


def backups() -> Check:
    if not School.objects.filter(is_demo=False).exists():
        return Check("back-ups", "well", "A made-up school needs none.")
    entries = kept_backups()
    if not entries:
        return Check("back-ups", "ill", "There is none. Make one now: ./verso backup")
    last = max((entry.made_at for entry in entries if entry.reason == NIGHTLY), default=None)
    if settings.BACKUP_NIGHTLY and (last is None or timezone.now() - last > LATE_BACKUP):
        return Check(
            "back-ups",
            "look",
            f"The last nightly one is of {last:%d.%m.%Y %H:%M} UTC." if last else "No nightly one yet.",
        )
    here = Path(settings.BACKUPS).stat().st_dev == Path(settings.DATA).stat().st_dev
    says = f"{len(entries)}, the last of {entries[0].made_at:%d.%m.%Y %H:%M} UTC."
    if here:
        return Check(
            "back-ups", "look", f"{says} They lie on the school's own disk; VERSO_BACKUPS names a folder elsewhere."
        )
    return Check("back-ups", "well", says)


def clock() -> Check:
    """An answer from the future means that the clock was set back, and that limits of time are not what they say."""
    newest = newest_answer_at()
    if newest and newest - timezone.now() > CLOCK_APART:
        return Check("clock", "ill", f"The newest answer is of {newest:%d.%m.%Y %H:%M} UTC, which is still to come.")
    return Check("clock", "well", f"{timezone.localtime():%d.%m.%Y %H:%M} ({settings.TIME_ZONE}).")


def mail() -> Check:
    for name, host, port in (("SMTP", settings.EMAIL_HOST, settings.EMAIL_PORT), ("IMAP", settings.IMAP_HOST, 993)):
        if not host:
            continue
        try:
            socket.create_connection((host, port), timeout=5).close()
        except OSError as error:
            return Check("mail", "ill", f"The {name} server {host}:{port} does not answer: {error}.")
    if not settings.EMAIL_HOST:
        return Check("mail", "look", "No mail server is named (VERSO_SMTP_HOST), so letters stay in a folder.")
    return Check("mail", "well", f"{settings.EMAIL_HOST} answers.")


def printing() -> Check:
    try:
        import weasyprint  # noqa: F401
    except OSError as error:
        return Check("printing", "ill", f"Pango is missing, so nothing can be printed: {str(error).splitlines()[0]}")
    return Check("printing", "well", "Papers and reports can be drawn.")


def pages() -> Check:
    if not (settings.WEB / "index.html").exists():
        return Check("pages", "ill", "They are not built: ./verso serve builds them.")
    return Check("pages", "well", "They are built.")


def addresses() -> Check:
    if not settings.ADDRESS:
        return Check("address", "look", "VERSO_ADDRESS is not set, so letters have no link that works from outside.")
    if not settings.ADDRESS.startswith("https://"):
        return Check(
            "address", "look", f"{settings.ADDRESS} is not encrypted; names and passwords can be read on the way."
        )
    return Check("address", "well", settings.ADDRESS)


QUICK: tuple[Callable[[], Check], ...] = (database, shared_memory, migrations, writable, room)
"""What a probe asks every few seconds."""
ALL: tuple[Callable[[], Check], ...] = (
    *QUICK, database_whole, private, backups, clock, mail, printing, pages, addresses,
)  # fmt: skip


def checked(checks: tuple[Callable[[], Check], ...] = ALL) -> Iterator[Check]:
    """Each of them; one that breaks off is a finding too."""
    for check in checks:
        try:
            yield check()
        except Exception as error:
            yield Check(check.__name__, "ill", f"It could not be looked at: {error}")
