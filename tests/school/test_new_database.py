"""A new school's tables are made at once; a school that grew through every version has the same."""

import os
import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
STEP_BY_STEP = """
import django
django.setup()
from django.core.management import call_command
from django.core.management.commands.migrate import Command
call_command(Command(), verbosity=0, skip_checks=True)
"""


ENDED_HALF_WAY = """
import os
import django
django.setup()
from django.core.management import call_command
from django.db.migrations.recorder import MigrationRecorder
MigrationRecorder.record_applied = lambda *step: os._exit(9)
call_command("migrate", verbosity=0, skip_checks=True)
"""


def made(folder: Path, *arguments: str) -> Path:
    environment = {**os.environ, "VERSO_DATA": str(folder), "DATABASE_URL": ""}
    subprocess.run([sys.executable, *arguments], cwd=ROOT, env=environment, check=True, timeout=240)
    return folder / "verso.sqlite3"


def parts(definition: str) -> list[str]:
    """The columns and constraints of a table, whose order depends on when they came."""
    inner, depth, found = definition[definition.index("(") + 1 : definition.rindex(")")], 0, [""]
    for letter in inner:
        depth += (letter == "(") - (letter == ")")
        if letter == "," and not depth:
            found.append("")
        else:
            found[-1] += letter
    return sorted(part.strip() for part in found)


def schema(path: Path) -> dict[str, object]:
    with sqlite3.connect(path) as file:
        rows = file.execute("SELECT type, name, sql FROM sqlite_master WHERE sql IS NOT NULL").fetchall()
    return {f"{kind} {name}": parts(sql) if kind == "table" else sql for kind, name, sql in rows}


def steps(path: Path) -> set[tuple[str, str]]:
    with sqlite3.connect(path) as file:
        return set(file.execute("SELECT app, name FROM django_migrations"))


def test_at_once_is_as_step_by_step(tmp_path: Path) -> None:
    at_once = made(tmp_path / "at once", "manage.py", "migrate", "--verbosity", "0")
    grown = made(tmp_path / "grown", "-c", STEP_BY_STEP)
    assert schema(at_once) == schema(grown)
    assert steps(at_once) == steps(grown)
    assert len(steps(grown)) > 50


def test_ended_half_way_it_is_as_if_it_had_not_begun(tmp_path: Path) -> None:
    with pytest.raises(subprocess.CalledProcessError):
        made(tmp_path, "-c", ENDED_HALF_WAY)
    assert set(schema(tmp_path / "verso.sqlite3")) == {"table django_migrations", "table sqlite_sequence"}
    assert len(steps(made(tmp_path, "manage.py", "migrate", "--verbosity", "0", "--skip-checks"))) > 50
