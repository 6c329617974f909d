"""A whole database from one kind to another: every row of every table, in one moment of the source, and compared.

A back-up of a school on PostgreSQL is made with it too: the archive holds the school as a file of SQLite whatever it
came from, so that one kind of archive is checked, kept and brought back, on either database.
"""

import os
import subprocess
import sys
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from itertools import islice, zip_longest
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.core.management.color import no_style
from django.db import connections, transaction
from django.db.models import Field, GeneratedField, Model
from django.db.models.sql import InsertQuery

from versomark.school.bank.public import index_everything

from .archive import BadBackup

AT_ONCE = 1_000
"""Rows that are read and written together."""


class NotTheSame(BadBackup):
    """A database could not be made the same as another; the message says where it ended."""


def sqlite_file(path: Path) -> dict[str, Any]:
    """Settings of a database in this file, which need not be there yet."""
    return {"ENGINE": "django.db.backends.sqlite3", "NAME": str(path)}


def one_moment(known: dict[str, Any]) -> dict[str, Any]:
    """Settings by which a PostgreSQL is read as it stands at one moment, holding nobody up."""
    from psycopg import IsolationLevel

    options = {**known.get("OPTIONS", {}), "isolation_level": IsolationLevel.REPEATABLE_READ}
    return {**known, "ENGINE": "django.db.backends.postgresql", "OPTIONS": options, "CONN_MAX_AGE": 0}


@contextmanager
def opened(alias: str, database: dict[str, Any]) -> Iterator[str]:
    """A database beside the school's own, under a name of its own for as long as the block lasts."""
    known = connections.settings
    known[alias] = connections.configure_settings({"default": dict(database)})["default"]
    try:
        yield alias
    finally:
        connections[alias].close()
        del connections[alias]
        del known[alias]


def models() -> list[type[Model]]:
    """Of every table that a model describes, those that tie two others together among them."""
    return [
        model
        for model in apps.get_models(include_auto_created=True)
        if model._meta.managed and not model._meta.proxy
    ]  # fmt: skip


def _fields(model: type[Model]) -> list[Field[Any, Any]]:
    return [field for field in model._meta.local_concrete_fields if not isinstance(field, GeneratedField)]


def _rows(model: type[Model], alias: str) -> Iterator[tuple[Any, ...]]:
    names = [field.attname for field in _fields(model)]
    rows = model._base_manager.using(alias).order_by("pk").values_list(*names)
    return rows.iterator(chunk_size=AT_ONCE)


def bring_up_to_date(folder: Path, address: str = "") -> None:
    """Give the database of an address, or else the file in a folder, the tables of this version.

    In a process of its own, whose one database it is: steps that change rows would change those of the school that is
    open here.
    """
    environment = {**os.environ, "VERSO_DATA": str(folder), "DATABASE_URL": address}
    ran = subprocess.run(
        [sys.executable, "-m", "django", "migrate", "--verbosity", "0", "--skip-checks"],
        env=environment, cwd=settings.ROOT, capture_output=True, text=True, check=False,
    )  # fmt: skip
    if ran.returncode:
        raise NotTheSame(f"The tables could not be made: {(ran.stderr.strip().splitlines() or ['?'])[-1]}")


def is_empty(alias: str) -> bool:
    """Whether it holds no school, whatever tables it has."""
    tables = set(connections[alias].introspection.table_names())
    school = apps.get_model("accounts", "School")
    return school._meta.db_table not in tables or not school._base_manager.using(alias).exists()


def others_in(alias: str) -> int:
    """Sessions of others on a PostgreSQL; on SQLite the lock of the folder tells."""
    if connections[alias].vendor != "postgresql":
        return 0
    with connections[alias].cursor() as cursor:
        cursor.execute(
            "SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid()"
        )
        return int(cursor.fetchone()[0])


def copy(source: str, target: str) -> dict[str, int]:
    """Every row of one database into another that has the tables of this version; what stands there goes.

    Parameters
    ----------
    source, target : str
        Names by which Django knows the databases.

    Returns
    -------
    dict
        Table -> rows.

    Raises
    ------
    NotTheSame
        When a row that was written does not read back as it was. Then nothing was changed.
    """
    rows: dict[str, int] = {}
    with transaction.atomic(using=source), transaction.atomic(using=target):
        for model in reversed(models()):
            model._base_manager.using(target)._raw_delete(target)
        for model in models():
            rows[model._meta.db_table] = _copy_table(model, source, target)
        for statement in connections[target].ops.sequence_reset_sql(no_style(), models()):
            with connections[target].cursor() as cursor:
                cursor.execute(statement)
        index_everything(target)
        compare(source, target)
    return rows


def _copy_table(model: type[Model], source: str, target: str) -> int:
    fields, rows, copied = _fields(model), _rows(model, source), 0
    most = connections[target].ops.bulk_batch_size(fields, range(AT_ONCE))
    while batch := list(islice(rows, min(AT_ONCE, most))):
        query = InsertQuery(model)
        objects = [model(**dict(zip((field.attname for field in fields), row, strict=True))) for row in batch]
        # Raw: as it was read, without the times that a model would put in as it is saved.
        query.insert_values(fields, objects, raw=True)
        query.get_compiler(using=target).execute_sql()
        copied += len(batch)
    return copied


def compare(source: str, target: str, of: Sequence[type[Model]] | None = None) -> int:
    """Read both databases through, row beside row; returns how many rows each has. Raises NotTheSame."""
    compared = 0
    for model in of or models():
        for before, after in zip_longest(_rows(model, source), _rows(model, target)):
            if before != after:
                row = (before or after or ("?",))[0]
                raise NotTheSame(f"Row {row} of {model._meta.db_table} is not the same in both.")
            compared += 1
    return compared
