"""Makes a back-up of the school in VERSO_DATA, whoever is working in it, and reads it back."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from versomark.upkeep.archive import BadBackup
from versomark.upkeep.backups import BY_HAND, make_backup


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--to", type=Path, help="a folder, or a file that ends in .zip")
        parser.add_argument("--reason", default=BY_HAND)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            path, manifest = make_backup(options["reason"], options["to"])
        except (BadBackup, OSError) as error:
            raise CommandError(f"There is no back-up. {error}") from None
        rows = sum(manifest.rows.values())
        size = path.stat().st_size / 1024**2
        self.stdout.write(
            f"{path}\n{', '.join(manifest.schools) or 'An empty school'}: {manifest.students} students, {rows} rows,"
            f" {len(manifest.files)} files, {size:.1f} MB; read back and checked. Keep a copy on another machine."
        )
