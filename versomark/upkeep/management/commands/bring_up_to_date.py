"""Brings the database to this version, with a back-up of how it was; says so, and does nothing where it is there."""

from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from versomark.site.postgresql.base import MIGRATION
from versomark.upkeep.archive import BadBackup
from versomark.upkeep.backups import BEFORE_MIGRATION, dump_before_migration, make_backup, take_old_away


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        if connection.vendor != "postgresql":
            self._bring()
            return
        # Of several processes that start at once one changes the tables, and the others find them changed.
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_advisory_lock(%s)", [MIGRATION])
            try:
                self._bring()
            finally:
                cursor.execute("SELECT pg_advisory_unlock(%s)", [MIGRATION])

    def _bring(self) -> None:
        executor = MigrationExecutor(connection)
        plan = executor.migration_plan(executor.loader.graph.leaf_nodes())
        if not plan:
            return
        aside = ""
        # A folder without a school has nothing to lose.
        if executor.loader.applied_migrations:
            try:
                path = dump_before_migration() if settings.DATABASE_URL else make_backup(BEFORE_MIGRATION)[0]
            except (BadBackup, OSError) as error:
                raise CommandError(f"The database was not changed, since there is no back-up. {error}") from None
            aside = f"How it was is kept in {path}."
            self.stdout.write(f"The database is brought to this version, {len(plan)} steps. {aside}")
        try:
            call_command("migrate", verbosity=0)
        except Exception as error:
            raise CommandError(f"The database could not be brought to this version: {error}. {aside}") from error
        take_old_away()
