"""Takes the school to another database: from the folder's own file to a PostgreSQL, or back. Every row is compared."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import DEFAULT_DB_ALIAS, DatabaseError

from versomark.site.databases import settings_of
from versomark.upkeep import moving
from versomark.upkeep.archive import DATABASE
from versomark.upkeep.lock import is_served


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("to", help="postgresql://…, or the word sqlite for a file in the school's folder")

    def handle(self, *args: Any, **options: Any) -> None:
        to, data = options["to"], Path(settings.DATA)
        if is_served(data):
            raise CommandError("The service is running on this folder. Stop it first; nothing was changed.")
        if to == "sqlite":
            self._to_file(data / DATABASE)
        elif to.startswith(("postgresql://", "postgres://")):
            self._to_postgresql(to)
        else:
            raise CommandError("Name where to: postgresql://…, or sqlite.")

    def _to_file(self, path: Path) -> None:
        if not settings.DATABASE_URL:
            raise CommandError("The school is in the file of its folder already: DATABASE_URL names no other.")
        if path.exists():
            raise CommandError(f"{path} is there already. Put it aside first; nothing was changed.")
        try:
            rows = self._copy(moving.sqlite_file(path), "")
        except BaseException:
            path.unlink(missing_ok=True)
            raise
        path.chmod(0o600)
        self.stdout.write(f"{rows} rows, each read back and compared, are in {path}. Start without DATABASE_URL now.")

    def _to_postgresql(self, address: str) -> None:
        if address == settings.DATABASE_URL:
            raise CommandError("That is where the school is already.")
        rows = self._copy(settings_of(address, Path(settings.DATA)), address)
        self.stdout.write(
            f"{rows} rows, each read back and compared, are there. Start with DATABASE_URL naming it from now on; the"
            " folder with its files stays in use, and the file of the database in it is the way back."
        )

    def _copy(self, to: dict[str, Any], address: str) -> int:
        here = settings.DATABASES[DEFAULT_DB_ALIAS]
        source = moving.one_moment(here) if settings.DATABASE_URL else moving.sqlite_file(Path(here["NAME"]))
        try:
            with moving.opened("source", source) as read, moving.opened("target", to) as written:
                if moving.others_in(read):
                    raise CommandError("Somebody is connected to the database. Stop the service first.")
                if not moving.is_empty(written):
                    raise CommandError("There is a school in that database. Name an empty one; nothing was changed.")
                moving.bring_up_to_date(Path(settings.DATA), address)
                return sum(moving.copy(read, written).values())
        except (DatabaseError, moving.NotTheSame) as error:
            raise CommandError(f"The school stays where it is. {error}") from None
