"""Brings a school back from a back-up. Everything in it is checked first; what stood in the folder is put aside."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from versomark.upkeep.archive import BadBackup
from versomark.upkeep.backups import restore_backup


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("archive", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            manifest, aside = restore_backup(options["archive"], Path(settings.DATA))
        except (BadBackup, OSError) as error:
            raise CommandError(str(error)) from None
        self.stdout.write(
            f"{', '.join(manifest.schools) or 'An empty school'} as of {manifest.made_at[:16].replace('T', ' ')} UTC, "
            f"made by version {manifest.version}: {manifest.students} students, {sum(manifest.rows.values())} rows."
        )
        if aside:
            self.stdout.write(f"What stood in the folder is now in {aside}; take it away when you are sure.")
