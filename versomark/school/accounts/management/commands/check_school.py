"""Whether the data folder holds a school that this version can open; says why not, and changes nothing."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.db.migrations.loader import MigrationLoader


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        loader = MigrationLoader(connection, ignore_no_migrations=True)
        unknown = sorted(
            f"{app}.{name}" for app, name in loader.applied_migrations if (app, name) not in loader.disk_migrations
        )
        if unknown:
            raise CommandError(
                "The school in this folder was made by another version, which this one cannot open "
                f"({len(unknown)} steps are unknown here, the first is {unknown[0]}). Nothing was changed."
            )
