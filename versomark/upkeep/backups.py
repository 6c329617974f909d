"""Making back-ups, keeping as many as are wanted, and bringing a school back from one."""

import os
import re
import shutil
import subprocess
import tempfile
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import NamedTuple

from django.conf import settings
from django.core.mail import EmailMessage
from django.db import DEFAULT_DB_ALIAS, connection
from django.utils import timezone

import versomark
from versomark.core.language import _, in_language
from versomark.school.accounts.public import Role, School, Teacher, languages
from versomark.school.files import fetch_everything, keep_everything

from . import archive, moving
from .archive import BadBackup, Manifest
from .lock import is_served

NIGHTLY, BY_HAND, BEFORE_MIGRATION = "nightly", "by-hand", "before-migration"
_NAME = re.compile(r"verso-(\d{8}T\d{6}Z)-([a-z-]+)\.zip")
DAYS, WEEKS, MONTHS, MIGRATIONS = 7, 5, 12, 5
"""How many nightly ones are kept: one of each of so many days, weeks and months; and those from before migrations."""
SPARE_BYTES = 200 * 1024**2


def database_bytes() -> int:
    """What the school's database takes on its disk."""
    if connection.vendor == "sqlite":
        path = Path(str(connection.settings_dict["NAME"]))
        return sum(part.stat().st_size for part in path.parent.glob(f"{path.name}*"))
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_database_size(current_database())")
        return int(cursor.fetchone()[0])


def copy_of_database(to: Path) -> None:
    """The school's database as it stands at one moment, whoever writes to it meanwhile, as a file of SQLite."""
    if connection.vendor == "sqlite":
        archive.copy_database(Path(str(connection.settings_dict["NAME"])), to)
        return
    moving.bring_up_to_date(to.parent)
    source = moving.one_moment(connection.settings_dict)
    with moving.opened("source", source) as read, moving.opened("target", moving.sqlite_file(to)) as written:
        moving.copy(read, written)


def dump_before_migration() -> Path:
    """A PostgreSQL of an earlier version, by its own means, since the models of this version cannot read it."""
    name = f"verso-{datetime.now(UTC):%Y%m%dT%H%M%SZ}-{BEFORE_MIGRATION}.dump"
    target = Path(settings.BACKUPS) / name
    target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    partial = target.with_suffix(".making")
    try:
        ran = subprocess.run(
            ["pg_dump", "--format=custom", "--no-owner", f"--file={partial}", settings.DATABASE_URL],
            capture_output=True,
            text=True,
            check=False,
        )
        # Its list can be read only of a dump that is whole up to its last table.
        listed = ran.returncode == 0 and subprocess.run(
            ["pg_restore", "--list", str(partial)], capture_output=True, text=True, check=False
        )
    except FileNotFoundError:
        raise BadBackup("pg_dump is missing. On Debian: apt-get install postgresql-client") from None
    if not listed or listed.returncode:
        raise BadBackup(f"pg_dump says: {ran.stderr.strip()}")
    partial.chmod(0o600)
    partial.rename(target)
    return target


class KeptBackup(NamedTuple):
    path: Path
    made_at: datetime
    reason: str
    size: int


class NoRoom(BadBackup):
    """The disk has no room for a back-up."""


def make_backup(reason: str = BY_HAND, to: Path | None = None) -> tuple[Path, Manifest]:
    """One archive, read back and checked before it gets its name.

    Parameters
    ----------
    to : Path, optional
        A folder, or the file to write; the folder of back-ups where it is left out.

    Raises
    ------
    NoRoom
        Before anything is written, when the disk could not hold it.
    BadBackup
        When what was written could not be read back.
    """
    data = Path(settings.DATA)
    fetch_everything()
    name = f"verso-{datetime.now(UTC):%Y%m%dT%H%M%SZ}-{reason}.zip"
    to = to or Path(settings.BACKUPS)
    target = to if to.suffix == ".zip" else to / name
    target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    wanted = 2 * database_bytes() + sum(path.stat().st_size for path, _ in archive.files_of(data))
    if shutil.disk_usage(target.parent).free < wanted + SPARE_BYTES:
        raise NoRoom(f"A back-up needs about {wanted // 1024**2 + 1} MB, and {target.parent} has less than that free.")
    with tempfile.TemporaryDirectory(dir=target.parent, prefix=".making-") as folder:
        copy, partial, again = Path(folder) / archive.DATABASE, Path(folder) / "archive", Path(folder) / "again"
        copy_of_database(copy)
        begun = Manifest(
            made_at=timezone.now().isoformat(),
            reason=reason,
            version=versomark.__version__,
            schools=archive.schools_in(copy),
            rows=archive.rows_in(copy),
        )
        with partial.open("wb") as file:
            os.fchmod(file.fileno(), 0o600)
            manifest = archive.write(file, begun, copy, data)
            file.flush()
            os.fsync(file.fileno())
        again.mkdir()
        archive.unpack(partial, again)
        partial.rename(target)
    return target, manifest


def kept_backups() -> list[KeptBackup]:
    """Those in the folder of back-ups, newest first."""
    entries = []
    for path in Path(settings.BACKUPS).glob("verso-*.zip"):
        if match := _NAME.fullmatch(path.name):
            made_at = datetime.strptime(match[1], "%Y%m%dT%H%M%SZ").replace(tzinfo=UTC)
            entries.append(KeptBackup(path, made_at, match[2], path.stat().st_size))
    return sorted(entries, key=lambda entry: entry.made_at, reverse=True)


def not_wanted(entries: Sequence[KeptBackup]) -> list[KeptBackup]:
    """Which of these may go: of the nightly ones the newest of each day, week and month is kept, of those from before
    migrations the latest few. What was made by hand stays until a hand takes it away."""
    nightly = sorted((entry for entry in entries if entry.reason == NIGHTLY), key=lambda entry: entry.made_at)[::-1]
    wanted = set[Path]()
    for most, period in ((DAYS, "%Y-%j"), (WEEKS, "%G-%V"), (MONTHS, "%Y-%m")):
        newest: dict[str, KeptBackup] = {}
        for entry in nightly:
            newest.setdefault(f"{entry.made_at:{period}}", entry)
        wanted |= {entry.path for entry in list(newest.values())[:most]}
    migrations = sorted(
        (entry for entry in entries if entry.reason == BEFORE_MIGRATION), key=lambda entry: entry.made_at
    )
    return [entry for entry in nightly if entry.path not in wanted] + migrations[:-MIGRATIONS]


def take_old_away() -> list[Path]:
    """Back-ups that are wanted no more; returns which they were."""
    gone = [entry.path for entry in not_wanted(kept_backups())]
    for path in gone:
        path.unlink(missing_ok=True)
    return gone


def nightly_is_due(now: datetime) -> bool:
    """Whether none was made since the last time that it was the hour for it, by the school's own clock."""
    local = timezone.localtime(now)
    since = local.replace(hour=settings.BACKUP_HOUR, minute=0, second=0, microsecond=0)
    if since > local:
        return False
    last = next((entry for entry in kept_backups() if entry.reason == NIGHTLY), None)
    return last is None or last.made_at < since


def back_up_tonight() -> Path | None:
    """The nightly one, if it is due; a made-up school and an empty one have nothing to lose."""
    if not settings.BACKUP_NIGHTLY or not School.objects.filter(is_demo=False).exists():
        return None
    if not nightly_is_due(timezone.now()):
        return None
    path, _manifest = make_backup(NIGHTLY)
    take_old_away()
    return path


def tell_administrators(problem: str) -> int:
    """By mail, that tonight’s back-up was not made and why; how many were told. Nobody without a mail server."""
    if not settings.EMAIL_HOST:
        return 0
    admins = Teacher.objects.filter(role=Role.ADMIN, is_active=True, school__is_demo=False).exclude(email="")
    for admin in admins.select_related("school"):
        with in_language(languages.of_teacher(admin)):
            subject = _("The back-up of last night was not made")
            body = _(
                "{name},\n\nthe back-up of {school} was not made: {problem}\n\nIt is tried again every ten minutes.\n",
                name=admin.name,
                school=admin.school.name,
                problem=problem,
            )
            EmailMessage(subject, body, to=[admin.email]).send()
    return len(admins)


def restore_backup(path: Path, data: Path) -> tuple[Manifest, Path | None]:
    """The school of a back-up into a folder. What stood there is put aside, whole, beside it; returns where it went.

    Raises
    ------
    BadBackup
        When the archive is not whole, or a service runs on that folder. Then nothing was changed.
    """
    if is_served(data):
        raise BadBackup("The service is running on that folder. Stop it first; nothing was changed.")
    if settings.DATABASE_URL and not moving.is_empty(DEFAULT_DB_ALIAS):
        raise BadBackup("The database that DATABASE_URL names holds a school. Name an empty one; nothing was changed.")
    data.parent.mkdir(parents=True, exist_ok=True)
    fresh = Path(tempfile.mkdtemp(dir=data.parent, prefix=f".{data.name}-restoring-"))
    try:
        manifest = archive.unpack(path, fresh)
        if settings.DATABASE_URL:
            _into_database(fresh / archive.DATABASE)
    except BadBackup:
        shutil.rmtree(fresh, ignore_errors=True)
        raise
    aside: Path | None = None
    # A command makes an empty folder and a key before it knows what for.
    if data.exists() and {path.name for path in data.iterdir()} <= {"secret_key"}:
        shutil.rmtree(data)
    if data.exists():
        aside = data.with_name(f"{data.name}.before-{datetime.now(UTC):%Y%m%dT%H%M%SZ}")
        backups = data / "backups"
        data.rename(aside)
        if (aside / "backups").exists():  # they are of this school still
            (aside / "backups").rename(fresh / backups.name)
    fresh.rename(data)
    keep_everything(path for path, _name in archive.files_of(data))
    return manifest, aside


def _into_database(file: Path) -> None:
    """The rows of a back-up into the empty database of DATABASE_URL, by way of this version; the file goes."""
    moving.bring_up_to_date(file.parent)
    moving.bring_up_to_date(file.parent, settings.DATABASE_URL)
    with moving.opened("source", moving.sqlite_file(file)) as read:
        moving.copy(read, DEFAULT_DB_ALIAS)
    file.unlink()
