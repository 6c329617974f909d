"""A back-up as a file: one ZIP with the database, every file beside it, the key, and a manifest of what is in it.

A school's database is never copied as a file: what was acknowledged since the last checkpoint stands in a second file
beside it (SQLite's write-ahead log), and a copy of the first alone would lose it. SQLite's online back-up copies both,
while students answer.
"""

import json
import sqlite3
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import closing
from dataclasses import asdict, dataclass, field
from hashlib import file_digest
from pathlib import Path, PurePosixPath
from typing import IO

DATABASE, MANIFEST, FILES = "verso.sqlite3", "manifest.json", "files/"
FORMAT = 1
NOT_KEPT = ("backups", "previews", "paper/maps", "serving.lock", "first-account-code")
"""What is made anew, belongs to a running service, or is a back-up itself."""


DAMAGE = (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError)
"""What unpacking a damaged archive may end in: also a method that nobody has, or a file that is said to be locked."""


class BadBackup(ValueError):
    """A back-up that cannot be relied on; the message says what is wrong with it, in words."""


@dataclass(frozen=True)
class Manifest:
    """What a back-up holds. files: name in the archive -> SHA-256; rows: table -> how many."""

    made_at: str
    reason: str
    version: str
    schools: list[str]
    files: dict[str, str] = field(default_factory=dict)
    rows: dict[str, int] = field(default_factory=dict)
    format: int = FORMAT

    @property
    def students(self) -> int:
        return self.rows.get("classes_student", 0)


def files_of(data: Path) -> Iterator[tuple[Path, str]]:
    """Every file of a school's folder that a back-up has, with its name there."""
    for path in sorted(data.rglob("*")):
        name = path.relative_to(data).as_posix()
        if any(name == skipped or name.startswith(f"{skipped}/") for skipped in NOT_KEPT):
            continue
        is_database = path.parent == data and ".sqlite3" in path.name
        if path.is_file() and not path.is_symlink() and not is_database:
            yield path, name


def copy_database(source: Path, to: Path) -> None:
    """A copy of the database as it stands at one moment, whoever writes to it meanwhile."""
    with closing(sqlite3.connect(source)) as live, closing(sqlite3.connect(to)) as copy:
        live.backup(copy)


def rows_in(database: Path) -> dict[str, int]:
    """Rows of every table. Raises BadBackup where SQLite finds the file damaged."""
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as copy:
            problem = copy.execute("PRAGMA integrity_check").fetchone()[0]
            if problem != "ok":
                raise BadBackup(f"The database in it is damaged: {problem}.")
            loose = copy.execute("PRAGMA foreign_key_check").fetchone()
            if loose:
                raise BadBackup(f"The database in it is not whole: a row of {loose[0]} belongs to one that is gone.")
            tables = copy.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
            names = sorted(name for (name,) in tables)
            return {name: copy.execute(f'SELECT COUNT(*) FROM "{name}"').fetchone()[0] for name in names}
    except sqlite3.DatabaseError as error:
        raise BadBackup(f"The database in it cannot be read: {error}.") from None


def schools_in(database: Path) -> list[str]:
    """Names of the schools, as far as a database of any version has them."""
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as copy:
        try:
            return [name for (name,) in copy.execute("SELECT name FROM accounts_school ORDER BY id")]
        except sqlite3.OperationalError:
            return []


def write(to: IO[bytes], manifest: Manifest, database: Path, data: Path) -> Manifest:
    """The archive, and its manifest with what was written. A file that goes while it is written is left out: whoever
    took it away took away what names it too."""
    sums = dict[str, str]()
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as packed:
        sums[DATABASE] = _put(packed, database, DATABASE)
        for path, name in files_of(data):
            try:
                sums[FILES + name] = _put(packed, path, FILES + name)
            except FileNotFoundError:
                continue
        whole = Manifest(**{**asdict(manifest), "files": sums})
        packed.writestr(MANIFEST, json.dumps(asdict(whole), ensure_ascii=False, indent=1))
    return whole


def _put(packed: zipfile.ZipFile, path: Path, name: str) -> str:
    with path.open("rb") as file:
        digest = file_digest(file, "sha256").hexdigest()
    packed.write(path, name)
    return digest


def read_manifest(path: Path) -> Manifest:
    """What a back-up says of itself. Raises BadBackup for a file that is none."""
    try:
        with zipfile.ZipFile(path) as packed:
            manifest = Manifest(**json.loads(packed.read(MANIFEST)))
    except (OSError, *DAMAGE, KeyError, TypeError, ValueError):
        raise BadBackup(f"{path.name} is no back-up, or it did not arrive whole.") from None
    if manifest.format > FORMAT:
        raise BadBackup(f"{path.name} was made by a newer version ({manifest.version}). Restore it with that one.")
    return manifest


def unpack(path: Path, to: Path) -> Manifest:
    """Everything in a back-up, each file checked against its sum and the database row by row; `to` is an empty folder.

    Raises BadBackup at the first thing that is not as the manifest has it; `to` then holds what came before it.
    """
    manifest = read_manifest(path)
    with zipfile.ZipFile(path) as packed:
        names = set(packed.namelist()) - {MANIFEST}
        if missing := sorted(set(manifest.files) - names):
            raise BadBackup(f"{missing[0]} is not in it, though its list says so.")
        for name in sorted(names):
            inside = PurePosixPath(name.removeprefix(FILES))
            if name not in manifest.files or inside.is_absolute() or ".." in inside.parts:
                raise BadBackup(f"{name} is in it, and not in its list.")
            target = to / inside
            target.parent.mkdir(parents=True, exist_ok=True)
            try:
                with packed.open(name) as source, target.open("xb") as file:
                    while chunk := source.read(1 << 20):
                        file.write(chunk)
            except DAMAGE:
                raise BadBackup(f"{name} is damaged.") from None
            with target.open("rb") as file:
                if file_digest(file, "sha256").hexdigest() != manifest.files[name]:
                    raise BadBackup(f"{name} is not what it was when the back-up was made.")
            target.chmod(0o600)
    if rows_in(to / DATABASE) != manifest.rows:
        raise BadBackup("The database in it does not have the rows that its list names.")
    return manifest
